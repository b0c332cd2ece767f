//! Observations in whatever order they arrive: after each what is kept is what all of them together come to.
#![allow(missing_docs)]

mod support;

use std::collections::BTreeSet;
use std::sync::{Arc, Mutex};

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::{CheckpointId, SlipId, StageId, Target};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::loader::Content;
use bright_row_core::progress::observation::{Observation, Observed, Via};
use bright_row_store::children::membership;
use bright_row_store::classes::{self, Class, ClassKey};
use bright_row_store::locks::{Hold, hold};
use bright_row_store::observations::renewing::{self, Checklists};
use bright_row_store::observations::{self, Outcome, Part, Refusal, standings};
use bright_row_store::{ConnectionTrait, DatabaseTransaction, TransactionTrait};
use chrono::Duration;
use sea_orm::Statement;
use support::school::{School, checklist, content, new_class, now, school};
use tokio::runtime::Handle;
use uuid::Uuid;

/// Numbers that are the same in every run of a seed.
struct Numbers(u64);

impl Numbers {
    fn below(&mut self, limit: u64) -> u64 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % limit
    }
}

/// Two stages with some of their checkpoints.
const STAGES: [(&str, [&str; 3]); 2] =
    [("hold.1", ["hold.size", "hold.support", "hold.nails"]), ("bow.1", ["bow.pluck", "bow.loose", "bow.shape"])];

fn made_up(school: &School, numbers: &mut Numbers, day: u64, earlier: &[Observation]) -> Observation {
    let mut number = |limit| numbers.below(limit);
    let (stage, checkpoints) = STAGES[usize::try_from(number(2)).expect("small")];
    let checkpoint = checkpoints[usize::try_from(number(3)).expect("small")];
    let child = school.children[usize::try_from(number(2)).expect("small")];
    let level = Level::try_from(u8::try_from(number(5)).expect("small")).expect("a level");
    // Mostly after everything else; now and then before it, or at the very moment of another.
    let at = match number(6) {
        0 => now() - Duration::days(90 - i64::try_from(number(80)).expect("small")),
        1 if !earlier.is_empty() => {
            earlier[usize::try_from(number(u64::try_from(earlier.len()).expect("small"))).expect("small")].observed_at
        }
        _ => now() - Duration::days(90) + Duration::hours(i64::try_from(day * 26).expect("small")),
    };
    let slips = if number(4) == 0 { BTreeSet::from([SlipId::new("hold.raise.low")]) } else { BTreeSet::new() };
    let via = if number(5) == 0 { Via::Scan } else { Via::Visit };
    let look = Observation { observed_at: at, via, ..school.look(child, checkpoint, 0, 0) };
    match number(8) {
        0 => Observation {
            target: Target::Stage(StageId::new(stage)),
            seen: Observed::Holds { except: BTreeSet::from([CheckpointId::new(checkpoint)]) },
            ..look
        },
        1 if !earlier.is_empty() => {
            let back = &earlier[usize::try_from(number(u64::try_from(earlier.len()).expect("small"))).expect("small")];
            Observation { child: back.child, target: back.target.clone(), seen: Observed::Retracts(back.id), ..look }
        }
        _ => Observation { seen: Observed::Level { level, slips }, ..look },
    }
}

#[tokio::test]
async fn what_is_kept_goes_on_and_is_what_everything_together_comes_to() {
    let checklist = checklist();
    for seed in 0..2 {
        let school = school().await;
        let mut numbers = Numbers(seed);
        let mut all: Vec<Observation> = Vec::new();
        let mut held_back: Vec<Observation> = Vec::new();
        for day in 0..30 {
            let next = made_up(&school, &mut numbers, day, &all);
            all.push(next.clone());
            // Some arrive later than their undo.
            if numbers.below(7) == 0 {
                held_back.push(next);
                continue;
            }
            let mut together = vec![next];
            if numbers.below(3) == 0 {
                together.append(&mut held_back);
            }
            school.add(&together).await;
            let kept = standings::kept_of_class(&school.db, school.class.key).await.expect("what is kept");
            let rebuilt = renewing::rebuild(&school.db, &school.class, &checklist).await.expect("a rebuild");
            assert_eq!(kept, rebuilt, "seed {seed}, day {day}: {together:?}");
        }
    }
}

/// The content that ships, and something that happens once, while the rules say how children stand.
struct Meanwhile<F> {
    content: Content,
    happens: Mutex<Option<F>>,
}

impl<F: FnOnce() + Send> Checklists for Meanwhile<F> {
    fn of_class(&self, class: &Class) -> Arc<Checklist> {
        self.content.of_class(class)
    }

    fn took(&self, _time: std::time::Duration) {
        if let Some(happens) = self.happens.lock().expect("whole").take() {
            happens();
        }
    }
}

/// Adds an observation, and before it is written something else happens; answers what became of it.
async fn added_while(
    school: &School,
    observation: &Observation,
    happens: impl Future<Output = ()> + Send,
) -> Option<Vec<Outcome>> {
    let here = Handle::current();
    let meanwhile = Meanwhile {
        content: content(),
        happens: Mutex::new(Some(|| tokio::task::block_in_place(|| here.block_on(happens)))),
    };
    let part = Part { class: school.class.key, observations: std::slice::from_ref(observation), let_in: None };
    let added = observations::add_parts(&school.db, school.class.key.program, &meanwhile, &[part]).await;
    assert!(meanwhile.happens.into_inner().expect("whole").is_none(), "nothing happened meanwhile");
    added.expect("the database answers").outcomes.remove(0)
}

async fn assert_kept_follows(school: &School) {
    let class = classes::one(&school.db, school.class.key).await.expect("the class");
    let kept = standings::kept_of_class(&school.db, class.key).await.expect("what is kept");
    let rebuilt = renewing::rebuild(&school.db, &class, &checklist()).await.expect("a rebuild");
    assert_eq!(kept, rebuilt);
}

/// In how many transactions observations were stored.
async fn transactions(school: &School) -> usize {
    let rows = "select distinct xmin::text from observation";
    let rows = school.db.query_all_raw(Statement::from_string(school.db.get_database_backend(), rows)).await;
    rows.expect("an answer").len()
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn what_comes_between_reading_and_writing_is_never_written_over() {
    let school = school().await;
    let [ada, ben] = school.children;
    school.add(&[school.look(ada, "hold.size", 3, 20), school.look(ben, "hold.size", 3, 20)]).await;
    // Somebody else saw the same later, and was written first.
    let (seen, later) = (school.look(ada, "hold.size", 1, 9), school.look(ada, "hold.size", 4, 2));
    let outcomes = added_while(&school, &seen, async { drop(school.add(std::slice::from_ref(&later)).await) }).await;
    assert_eq!(outcomes, Some(vec![Outcome::Stored]));
    assert_kept_follows(&school).await;
    // The same observation came by another way.
    let twice = school.look(ada, "hold.size", 2, 1);
    let outcomes = added_while(&school, &twice, async { drop(school.add(std::slice::from_ref(&twice)).await) }).await;
    assert_eq!(outcomes, Some(vec![Outcome::Known]));
    assert_kept_follows(&school).await;
    // Another one of its id is there, of another child.
    let mut other = school.look(ben, "hold.size", 2, 1);
    let look = school.look(ada, "hold.support", 2, 1);
    other.id = look.id;
    let outcomes = added_while(&school, &look, async { drop(school.add(std::slice::from_ref(&other)).await) }).await;
    assert_eq!(outcomes, Some(vec![Outcome::Refused(Refusal::IdTaken)]));
    assert_kept_follows(&school).await;
    // The child left for another class.
    let key = ClassKey { program: school.class.key.program, class: Uuid::now_v7().into() };
    let moves = async {
        let tx = school.db.begin().await.expect("a transaction");
        hold(&tx, key.program, Hold::Alone).await.expect("alone");
        classes::add(&tx, &new_class(key, "Wednesday strings")).await.expect("a class");
        membership::move_to(&tx, school.class.key, ada, key.class).await.expect("moved");
        tx.commit().await.expect("kept");
    };
    let outcomes = added_while(&school, &school.look(ada, "hold.nails", 2, 0), moves).await;
    assert_eq!(outcomes, Some(vec![Outcome::Refused(Refusal::NotInClass)]));
}

/// Returns once a statement of this database waits for a lock.
async fn until_waiting(held: &DatabaseTransaction) {
    const SQL: &str = "select from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'";
    loop {
        // A transaction of its own is shown what was so at its first look.
        held.execute_unprepared("select pg_stat_clear_snapshot()").await.expect("a fresh look");
        if held
            .query_one_raw(Statement::from_string(held.get_database_backend(), SQL))
            .await
            .expect("an answer")
            .is_some()
        {
            return;
        }
        tokio::task::yield_now().await;
    }
}

#[tokio::test]
async fn who_is_held_by_somebody_else_is_waited_for_and_what_that_one_writes_counts() {
    let school = school().await;
    let [ada, ben] = school.children;
    let held = school.db.begin().await.expect("a transaction");
    let later = school.look(ada, "hold.size", 4, 1);
    // Adds while it holds the child, and has not finished.
    observations::add(&held, school.class.key, &content(), std::slice::from_ref(&later)).await.expect("added");
    let earlier = school.look(ada, "hold.size", 2, 5);
    let seen = school.add(std::slice::from_ref(&earlier));
    let finishes = async {
        // Nobody else's child waits.
        until_waiting(&held).await;
        school.add(&[school.look(ben, "hold.size", 3, 1)]).await;
        held.commit().await.expect("kept");
    };
    let (outcomes, ()) = tokio::join!(seen, finishes);
    assert_eq!(outcomes, [Outcome::Stored]);
    assert_kept_follows(&school).await;
}

#[tokio::test]
async fn what_is_newest_takes_two_statements_and_what_is_not_is_added_all_the_same() {
    let mut school = school().await;
    let [ada, ben] = school.children;
    let sent = Arc::new(Mutex::new(Vec::new()));
    let hears = Arc::clone(&sent);
    school.db.set_metric_callback(move |info| hears.lock().expect("whole").push(info.statement.sql.clone()));
    let statements = async |observations: &[Observation]| {
        sent.lock().expect("whole").clear();
        assert_eq!(school.add(observations).await, vec![Outcome::Stored; observations.len()]);
        // The class is read once more, which a server has kept.
        sent.lock().expect("whole").len() - 1
    };
    let (first, second) = (school.look(ada, "hold.size", 3, 9), school.look(ada, "hold.size", 2, 8));
    assert_eq!(statements(&[first, school.look(ben, "bow.pluck", 3, 9)]).await, 2);
    assert_eq!(statements(&[second.clone(), school.look(ada, "bow.pluck", 1, 8)]).await, 2);
    assert_eq!(transactions(&school).await, 2);
    assert!(statements(&[school.look(ada, "hold.size", 1, 10)]).await > 2, "it comes late");
    let undo = Observation { seen: Observed::Retracts(second.id), ..school.look(ada, "hold.size", 0, 7) };
    assert!(statements(&[undo]).await > 2, "it takes back");
    assert!(statements(&[school.look(ada, "tape.placed", 3, 6)]).await > 2, "tapes go with the instrument");
    assert_kept_follows(&school).await;
}
