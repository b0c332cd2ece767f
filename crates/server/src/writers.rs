//! Where observations are written: what arrives while a commit is under way is gathered and goes into the next one.
//!
//! A commit takes a write to the disk, whatever is in it. A program has at most one transaction of observations under way in this
//! process; nobody waits for others to come, and nothing waits while nothing comes. Each request is answered by itself, and only
//! once its own observations are on disk.

use std::collections::{BTreeMap, BTreeSet, VecDeque};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use bright_row_core::progress::observation::Observation;
use bright_row_core::{ObservationId, ProgramId};
use bright_row_store::classes::ClassKey;
use bright_row_store::live::Topic;
use bright_row_store::observations::renewing::Checklists;
use bright_row_store::observations::{self, Outcome, Part};
use bright_row_store::{DatabaseConnection, StoreError};
use tokio::sync::oneshot;

use crate::error::ApiError;
use crate::live::Live;

/// The most observations in one transaction, but for a single request that has more.
const MOST_AT_ONCE: usize = 500;

/// Where observations are written, and who hears of it.
#[derive(Clone, Debug)]
pub struct Written<C> {
    /// The pool of connections.
    pub db: DatabaseConnection,
    /// How classes read the checklist.
    pub checklists: C,
    /// Open pages.
    pub live: Live,
}

/// Observations of a request that wait for their turn.
#[derive(Debug)]
struct Waiting {
    class: ClassKey,
    observations: Vec<Observation>,
    answer: oneshot::Sender<Result<Vec<Outcome>, StoreError>>,
}

/// The requests of a program.
#[derive(Debug, Default)]
struct Queue {
    /// How many are in the transaction that is under way.
    writing: usize,
    /// Those that wait for it to end.
    waiting: VecDeque<Waiting>,
}

type Queues = BTreeMap<ProgramId, Queue>;

/// Writes observations. A program that is here has a transaction under way.
#[derive(Clone, Debug, Default)]
pub struct WritersDesk(Arc<Mutex<Queues>>);

impl WritersDesk {
    fn queues(&self) -> MutexGuard<'_, Queues> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Adds observations to a class, brings the standings that follow up to date, and tells the pages of every class in which
    /// somebody stands otherwise; answers what became of each.
    ///
    /// # Errors
    /// [`ApiError::Store`]; then none of them is stored. Others that were written with them are not concerned.
    pub async fn add(
        &self,
        to: &Written<impl Checklists + Clone + Send + 'static>,
        class: ClassKey,
        observations: Vec<Observation>,
    ) -> Result<Vec<Outcome>, ApiError> {
        let (answer, answered) = oneshot::channel();
        let waiting = Waiting { class, observations, answer };
        let begins = {
            let mut queues = self.queues();
            let begins = !queues.contains_key(&class.program);
            queues.entry(class.program).or_default().waiting.push_back(waiting);
            begins
        };
        if begins {
            // A task of its own: whoever sent the first of them may go away.
            tokio::spawn(self.clone().write(to.clone(), class.program));
        }
        let written = answered.await.map_err(|_| ApiError::Internal("a writer of observations fell".to_owned()))?;
        Ok(written?)
    }

    /// How many requests of a program are not answered yet.
    #[must_use]
    pub fn open(&self, program: ProgramId) -> usize {
        self.queues().get(&program).map_or(0, |queue| queue.writing + queue.waiting.len())
    }

    /// Writes what waits until nothing does.
    async fn write(self, to: Written<impl Checklists>, program: ProgramId) {
        let _end = End { desk: &self, program };
        while let Some(turn) = self.next_turn(program) {
            let parts: Vec<Part<'_>> =
                turn.iter().map(|one| Part { class: one.class, observations: &one.observations }).collect();
            let outcomes = match to.add(program, &parts).await {
                Ok(outcomes) => outcomes.into_iter().map(Ok).collect(),
                Err(error) if parts.len() == 1 || error.is_the_databases() => vec![Err(error); parts.len()],
                // One of them may be at fault: each for itself.
                Err(_) => {
                    let mut each = Vec::new();
                    for part in &parts {
                        each.push(to.add(program, std::slice::from_ref(part)).await.map(|mut one| one.remove(0)));
                    }
                    each
                }
            };
            for (one, outcome) in turn.into_iter().zip(outcomes) {
                // Nobody may wait any more.
                let _ = one.answer.send(outcome);
            }
        }
    }

    /// What is written next; `None`, and the program has no writer any more, where nothing waits.
    fn next_turn(&self, program: ProgramId) -> Option<Vec<Waiting>> {
        let mut queues = self.queues();
        let queue = queues.get_mut(&program)?;
        queue.writing = 0;
        if queue.waiting.is_empty() {
            queues.remove(&program);
            return None;
        }
        let mut turn: Vec<Waiting> = Vec::new();
        let mut ids: BTreeSet<ObservationId> = BTreeSet::new();
        let mut many = 0;
        while let Some(next) = queue.waiting.front() {
            let more = many + next.observations.len();
            // The same id in two requests: the second hears what became of the first.
            let again = next.observations.iter().any(|observation| ids.contains(&observation.id));
            if !turn.is_empty() && (again || more > MOST_AT_ONCE) {
                break;
            }
            many = more;
            ids.extend(next.observations.iter().map(|observation| observation.id));
            turn.extend(queue.waiting.pop_front());
        }
        queue.writing = turn.len();
        Some(turn)
    }
}

/// A writer that fell leaves its program to the next one; those who wait hear that it fell.
struct End<'a> {
    desk: &'a WritersDesk,
    program: ProgramId,
}

impl Drop for End<'_> {
    fn drop(&mut self) {
        if std::thread::panicking() {
            self.desk.queues().remove(&self.program);
        }
    }
}

impl<C: Checklists> Written<C> {
    async fn add(&self, program: ProgramId, parts: &[Part<'_>]) -> Result<Vec<Vec<Outcome>>, StoreError> {
        let added = observations::add_parts(&self.db, program, &self.checklists, parts).await?;
        for class in added.changed {
            self.live.changed(class, Topic::Observations);
        }
        Ok(added.outcomes)
    }
}
