//! A small school in a database of its own.
#![allow(dead_code, missing_docs)]

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::id::{CheckpointId, Target};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::level::Level;
use bright_row_core::craft::loader::{self, Content, Source};
use bright_row_core::progress::observation::{Observation, Observed, Via};
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::role::Role;
use bright_row_core::setup::matching::Condition;
use bright_row_core::{AccountId, AssetId, ChildId};
use bright_row_store::DatabaseConnection;
use bright_row_store::accounts::{self, Account, Credentials, Made};
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, Class, ClassKey, NewClass, RoundSettings};
use bright_row_store::database::connect;
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans;
use bright_row_store::observations::{self, Outcome, Part};
use chrono::{DateTime, Duration, NaiveDate, Utc, Weekday};
use uuid::Uuid;

/// The content that ships.
pub fn content() -> Content {
    fn gather(folder: &std::path::Path, root: &std::path::Path, files: &mut Vec<(String, String)>) {
        for entry in std::fs::read_dir(folder).expect("the content") {
            let path = entry.expect("an entry").path();
            if path.is_dir() {
                gather(&path, root, files);
            } else if path.extension().is_some_and(|end| end == "toml") {
                let name = path.strip_prefix(root).expect("below").to_string_lossy().into_owned();
                files.push((name, std::fs::read_to_string(&path).expect("a text")));
            }
        }
    }
    let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../content");
    let mut files = Vec::new();
    gather(&root, &root, &mut files);
    let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
    loader::read(&sources).expect("the content that ships has no fault")
}

/// The checklist of a class that chose and changed nothing.
pub fn checklist() -> Checklist {
    content().checklist(&BTreeMap::new(), &Edits::default())
}

pub fn now() -> DateTime<Utc> {
    "2026-11-03T14:00:00Z".parse().expect("a moment")
}

/// A program with a director and a class of two violins.
pub struct School {
    pub db: DatabaseConnection,
    pub class: Class,
    pub director: AccountId,
    pub children: [ChildId; 2],
}

fn day(text: &str) -> NaiveDate {
    text.parse().expect("a date")
}

/// A class that meets on Tuesdays and Thursdays.
pub fn new_class(key: ClassKey, name: &str) -> NewClass {
    NewClass {
        key,
        name: name.to_owned(),
        time_zone: chrono_tz::Europe::Dublin,
        first_day: day("2026-09-01"),
        last_day: day("2027-06-18"),
        weekdays: vec![Weekday::Tue, Weekday::Thu],
        days_off: Vec::new(),
        rhythm: Rhythm::default(),
        round: RoundSettings::default(),
    }
}

pub async fn school() -> School {
    let db = connect(&super::database().await).await.expect("the database answers");
    let key = ClassKey { program: Uuid::now_v7().into(), class: Uuid::now_v7().into() };
    accounts::add_program(&db, key.program, "Test strings").await.expect("a program");
    let director = Account {
        id: Uuid::now_v7().into(),
        display_name: "The director".to_owned(),
        comes_back: Some(Credentials { email: "director@one.example".to_owned(), password_hash: "none".to_owned() }),
        demo: false,
    };
    accounts::add(&db, &director).await.expect("an account");
    accounts::join(&db, key.program, director.id, Role::Owner).await.expect("a membership");
    classes::add(&db, &new_class(key, "Tuesday strings")).await.expect("a class");
    let children = [Uuid::now_v7(), Uuid::now_v7()].map(ChildId::from);
    let named = children.iter().zip(["Ada K.", "Ben O."]);
    let named = named.map(|(id, name)| Child::new(*id, name.to_owned(), Instrument::Violin, day("2026-09-01")));
    children::add(&db, key, &named.collect::<Vec<_>>()).await.expect("children");
    let class =
        classes::for_account(&db, director.id, key.class, now()).await.expect("an answer").expect("the class").class;
    School { db, class: Arc::unwrap_or_clone(class), director: director.id, children }
}

impl School {
    pub fn look(&self, child: ChildId, target: &str, level: u8, days_ago: i64) -> Observation {
        Observation {
            id: Uuid::now_v7().into(),
            child,
            target: Target::Checkpoint(CheckpointId::new(target)),
            seen: Observed::Level { level: Level::try_from(level).expect("a level"), slips: BTreeSet::new() },
            says: None,
            note: None,
            via: Via::Visit,
            observed_at: now() - Duration::days(days_ago),
            recorded_at: now(),
            observer: self.director,
            round: None,
        }
    }

    pub async fn add(&self, observations: &[Observation]) -> Vec<Outcome> {
        let part = Part { class: self.class.key, observations, let_in: None };
        let added = observations::add_parts(&self.db, self.class.key.program, &content(), &[part]).await;
        added.expect("the database answers").outcomes.pop().flatten().expect("nobody has to be let in")
    }

    pub async fn instrument(&self, tag: &str) -> AssetId {
        let id = AssetId::from(Uuid::now_v7());
        let asset = Asset {
            string_height_mm: None,
            id,
            tag: tag.to_owned(),
            instrument: Instrument::Violin,
            size: "4/4".to_owned(),
            string_length_mm: None,
            condition: Condition::Good,
            condition_note: String::new(),
            condition_since: "2026-09-01".parse().expect("a date"),
            bow: true,
            support: String::new(),
            pin_anchor: String::new(),
            case: true,
        };
        let made = Made { by: self.director, at: now() };
        assets::keep(&self.db, self.class.key.program, &[asset], made).await.expect("kept");
        id
    }

    pub async fn has(&self, child: ChildId) -> Option<AssetId> {
        let lent = loans::lent(&self.db, self.class.key.program).await.expect("an answer");
        lent.into_values().find(|loan| loan.child == child).map(|loan| loan.asset)
    }
}
