//! Fills a migrated database with what `./bench` measures: the demo's accounts and a class of 60 with 40,000 observations.
//! Prints the class's id and then the children's, a line each.

use std::collections::BTreeSet;

use bright_row::{content, demo};
use bright_row_core::ChildId;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::level::Level;
use bright_row_core::progress::observation::{Observation, Observed, Via};
use bright_row_core::setup::rows::Seat;
use bright_row_store::children::{self, Child};
use bright_row_store::database::connect;
use bright_row_store::{accounts, classes, observations};
use chrono::{Duration, Utc};
use uuid::Uuid;

const CHILDREN: u8 = 60;
const MARKS: usize = 40_000;
const BATCH: usize = 500;

#[tokio::main]
async fn main() {
    let url = std::env::var("DATABASE_URL").expect("DATABASE_URL");
    let db = connect(&url).await.expect("the database answers");
    let content = content::embedded();
    let checklist = &content.standard();
    demo::load(&db, &content, Utc::now()).await.expect("the demo loads");
    let director = accounts::by_email(&db, "director@demo.example").await.expect("an answer").expect("the director");
    let class = classes::all_for_account(&db, director.id, Utc::now()).await.expect("an answer").remove(0).class;
    // The demo's 36 children and 24 more, behind them.
    let more: Vec<Child> = (36..CHILDREN)
        .map(|number| {
            let joined_on = Utc::now().date_naive() - Duration::days(56);
            let child = Child::new(Uuid::now_v7().into(), format!("Extra {number}"), Instrument::Cello, joined_on);
            Child { seat: Some(Seat { row: 6 + number % 3, number: 1 + number / 3 }), ..child }
        })
        .collect();
    children::add(&db, class.key, &more).await.expect("more children");
    let ids: Vec<ChildId> =
        children::of_class(&db, class.key).await.expect("children").iter().map(|child| child.id).collect();
    let targets: Vec<&str> =
        checklist.checkpoints().iter().map(|c| c.id.as_str()).filter(|id| !id.starts_with("tape")).collect();
    let begin = Utc::now() - Duration::days(56);
    let all: Vec<Observation> = (0..MARKS)
        .map(|number| {
            let observed_at = begin + Duration::minutes(i64::try_from(number * 2).expect("small"));
            Observation {
                id: Uuid::now_v7().into(),
                child: ids[number % ids.len()],
                target: Target::from_id(targets[(number / ids.len()) % targets.len()]),
                seen: Observed::Level { level: Level::ALL[(number / 7) % 5], slips: BTreeSet::new() },
                says: None,
                note: None,
                via: Via::Visit,
                observed_at,
                recorded_at: observed_at,
                observer: director.id,
                round: None,
            }
        })
        .collect();
    for batch in all.chunks(BATCH) {
        observations::add(&db, class.key, &content, batch).await.expect("observations");
    }
    println!("{}", class.key.class);
    for id in ids {
        println!("{id}");
    }
}
