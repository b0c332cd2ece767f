//! Work for the database that is done together: what arrives while a turn is under way goes into the next one.
//!
//! A statement costs both sides the same whether it is about one request or about ten. Of each group there is at most one turn under way
//! in this process; nobody waits for others to come, and nothing waits while nothing comes. Each is answered by itself.

use std::collections::{BTreeMap, VecDeque};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use tokio::sync::oneshot;

use crate::error::ApiError;

/// The turn that was to answer ended by a fault of its own.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("what was asked together fell")]
pub struct Fell;

impl From<Fell> for ApiError {
    fn from(fell: Fell) -> Self {
        Self::Internal(fell.to_string())
    }
}

/// A question that waits for its turn.
#[derive(Debug)]
struct Waiting<Q, A> {
    question: Q,
    answer: oneshot::Sender<A>,
}

/// The questions of a group.
#[derive(Debug)]
struct Queue<Q, A> {
    /// How many are in the turn that is under way.
    answering: usize,
    /// Those that wait for it to end.
    waiting: VecDeque<Waiting<Q, A>>,
}

/// Whether a question goes into a turn with those before it.
pub type Fits<Q> = fn(&[&Q], &Q) -> bool;

type Queues<G, Q, A> = BTreeMap<G, Queue<Q, A>>;

/// Answers the questions of groups `G` turn by turn. A group that is here has a turn under way.
#[derive(Debug)]
pub struct Turns<G, Q, A>(Arc<Mutex<Queues<G, Q, A>>>);

impl<G, Q, A> Clone for Turns<G, Q, A> {
    fn clone(&self) -> Self {
        Self(Arc::clone(&self.0))
    }
}

impl<G, Q, A> Default for Turns<G, Q, A> {
    fn default() -> Self {
        Self(Arc::default())
    }
}

impl<G: Copy + Ord + Send + Sync + 'static, Q: Send + 'static, A: Send + 'static> Turns<G, Q, A> {
    fn queues(&self) -> MutexGuard<'_, Queues<G, Q, A>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Asks, and answers what the group's next turn answers. `fits` says whether a question goes into a turn with those before it;
    /// `answer` answers a turn, one answer to each question in order. Where a turn is under way, that one's are used.
    ///
    /// # Errors
    /// [`Fell`].
    pub async fn ask<F: Future<Output = Vec<A>> + Send + 'static>(
        &self,
        group: G,
        question: Q,
        fits: Fits<Q>,
        answer: impl Fn(Arc<[Q]>) -> F + Send + 'static,
    ) -> Result<A, Fell> {
        let (sender, answered) = oneshot::channel();
        let begins = {
            let mut queues = self.queues();
            let begins = !queues.contains_key(&group);
            let queue = queues.entry(group).or_insert_with(|| Queue { answering: 0, waiting: VecDeque::new() });
            queue.waiting.push_back(Waiting { question, answer: sender });
            begins
        };
        if begins {
            // A task of its own: whoever asked first may go away.
            tokio::spawn(self.clone().take_turns(group, fits, answer));
        }
        answered.await.map_err(|_| Fell)
    }

    /// How many questions of a group are not answered yet.
    #[must_use]
    pub fn open(&self, group: G) -> usize {
        self.queues().get(&group).map_or(0, |queue| queue.answering + queue.waiting.len())
    }

    /// Takes turns until nothing waits.
    async fn take_turns<F: Future<Output = Vec<A>> + Send>(
        self,
        group: G,
        fits: Fits<Q>,
        answer: impl Fn(Arc<[Q]>) -> F + Send,
    ) {
        let _end = End { turns: &self, group };
        while let Some(turn) = self.next(group, fits) {
            let (questions, senders): (Vec<Q>, Vec<_>) = turn.into_iter().map(|one| (one.question, one.answer)).unzip();
            for (sender, answer) in senders.into_iter().zip(answer(questions.into()).await) {
                // Nobody may wait any more.
                let _ = sender.send(answer);
            }
        }
    }

    /// What is answered next; `None`, and the group has no turn under way any more, where nothing waits.
    fn next(&self, group: G, fits: Fits<Q>) -> Option<Vec<Waiting<Q, A>>> {
        let mut queues = self.queues();
        let queue = queues.get_mut(&group)?;
        let mut before: Vec<&Q> = Vec::new();
        for next in &queue.waiting {
            if !before.is_empty() && !fits(&before, &next.question) {
                break;
            }
            before.push(&next.question);
        }
        queue.answering = before.len();
        let turn: Vec<Waiting<Q, A>> = queue.waiting.drain(..queue.answering).collect();
        if turn.is_empty() {
            queues.remove(&group);
            return None;
        }
        Some(turn)
    }
}

/// A turn that fell leaves its group to the next question; those who wait hear that it fell.
struct End<'a, G: Ord, Q, A> {
    turns: &'a Turns<G, Q, A>,
    group: G,
}

impl<G: Ord, Q, A> Drop for End<'_, G, Q, A> {
    fn drop(&mut self) {
        if std::thread::panicking() {
            self.turns.0.lock().unwrap_or_else(PoisonError::into_inner).remove(&self.group);
        }
    }
}

#[cfg(test)]
mod tests {
    use tokio::sync::Semaphore;

    use super::*;

    const AT_MOST_THREE: Fits<u32> = |before, _| before.len() < 3;

    /// Each question is answered with itself and all that were answered with it.
    type Together = Turns<u8, u32, (u32, Vec<u32>)>;

    async fn asked(turns: Together, let_go: Arc<Semaphore>, question: u32) -> (u32, Vec<u32>) {
        let answer = move |questions: Arc<[u32]>| {
            let let_go = Arc::clone(&let_go);
            async move {
                let _permit = let_go.acquire().await.expect("never closed");
                assert!(!questions.contains(&13), "unlucky");
                questions.iter().map(|one| (*one, questions.to_vec())).collect()
            }
        };
        turns.ask(1, question, AT_MOST_THREE, answer).await.unwrap_or_default()
    }

    /// What each hears that asks while the first one's turn is under way.
    async fn all(questions: std::ops::Range<u32>) -> Vec<(u32, Vec<u32>)> {
        let (turns, let_go) = (Together::default(), Arc::new(Semaphore::new(0)));
        let mut asking = Vec::new();
        for (before, question) in questions.enumerate() {
            asking.push(tokio::spawn(asked(turns.clone(), Arc::clone(&let_go), question)));
            while turns.open(1) == before {
                tokio::task::yield_now().await;
            }
        }
        let_go.add_permits(1);
        let answers =
            futures::future::join_all(asking).await.into_iter().map(|answer| answer.expect("an answer")).collect();
        assert_eq!(turns.open(1), 0);
        answers
    }

    #[tokio::test]
    async fn what_comes_during_a_turn_goes_into_the_next_ones_as_far_as_it_fits() {
        let answers = all(0..6).await;
        assert!(answers.iter().zip(0..).all(|((to, _), question)| *to == question), "{answers:?}");
        assert_eq!(answers[0].1, [0]);
        assert_eq!(answers[1].1, [1, 2, 3]);
        assert_eq!(answers[5].1, [4, 5]);
    }

    #[tokio::test]
    async fn a_turn_that_falls_answers_nobody_and_the_next_question_begins_anew() {
        let (turns, let_go) = (Together::default(), Arc::new(Semaphore::new(9)));
        assert_eq!(asked(turns.clone(), Arc::clone(&let_go), 13).await, (0, vec![]));
        assert_eq!(asked(turns, let_go, 14).await, (14, vec![14]));
    }
}
