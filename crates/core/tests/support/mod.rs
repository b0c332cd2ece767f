//! Builders shared by the core's tests: the shipped content, a plain calendar, marks with defaults.
#![allow(dead_code, clippy::missing_panics_doc, missing_docs)]

pub mod story;

use std::collections::BTreeSet;
use std::path::Path;
use std::sync::LazyLock;

use bright_row_core::approach::Choices;
use bright_row_core::calendar::MeetingCalendar;
use bright_row_core::checklist::{Checklist, CheckpointId, SlipId};
use bright_row_core::content::{self, Content, Source};
use bright_row_core::mark::{Level, Mark, Says, Seen, Target, Via};
use chrono::{DateTime, Days, NaiveDate, Utc, Weekday};
use uuid::Uuid;

/// The content that ships with the application.
pub fn content() -> Content {
    static SHIPPED: LazyLock<Content> = LazyLock::new(|| {
        let files = content_files();
        let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
        content::read(&sources).expect("the shipped content has no fault")
    });
    SHIPPED.clone()
}

/// The checklist with every default.
pub fn checklist() -> Checklist {
    static STANDARD: LazyLock<Checklist> = LazyLock::new(|| content().standard());
    STANDARD.clone()
}

/// Choices by key and option.
pub fn choosing(choices: &[(&str, &str)]) -> Choices {
    choices.iter().map(|(key, option)| ((*key).to_owned(), (*option).to_owned())).collect()
}

pub fn content_files() -> Vec<(String, String)> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../content");
    let read = |path: String| {
        let text = std::fs::read_to_string(root.join(&path)).expect("a readable content file");
        (path, text)
    };
    let strands = ["hold", "bow", "frame", "tape"].map(|strand| format!("checklist/{strand}.toml"));
    let others = ["approach.toml", "instruments.toml", "lessons.toml", "signs.toml", "slips.toml", "tunes.toml"]
        .map(str::to_owned);
    strands.into_iter().chain(others).map(read).collect()
}

const FIRST_DAY: &str = "2026-01-05";

/// Sixty meetings, one every Monday from 5 January 2026 on.
pub fn calendar() -> MeetingCalendar {
    let first: NaiveDate = FIRST_DAY.parse().expect("a date");
    let last = first + Days::new(7 * 60 - 1);
    MeetingCalendar::new(chrono_tz::UTC, first, last, &[Weekday::Mon], &BTreeSet::new()).expect("a calendar")
}

/// A moment in meeting `number`, from 1, `minute` minutes into it.
pub fn at(number: u32, minute: u32) -> DateTime<Utc> {
    let first: NaiveDate = FIRST_DAY.parse().expect("a date");
    let day = first + Days::new(7 * (u64::from(number) - 1));
    day.and_hms_opt(9 + minute / 60, minute % 60, 0).expect("a time of day").and_utc()
}

/// A mark by a visit at meeting `meeting`; further marks get later ids.
pub fn mark(number: u32, meeting: u32, target: &str, seen: Seen) -> Mark {
    let moment = at(meeting, number % 60);
    Mark {
        id: Uuid::from_u128(u128::from(number) + 1).into(),
        child: Uuid::from_u128(7).into(),
        target: Target::from_id(target),
        seen,
        says: None,
        note: None,
        via: Via::Visit,
        observed_at: moment,
        recorded_at: moment,
        observer: Uuid::from_u128(1).into(),
        round: None,
    }
}

pub fn level(level: Level) -> Seen {
    Seen::Level { level, slips: BTreeSet::new() }
}

/// Each named checkpoint at a level, at meeting 1; a stage stands for all its required checkpoints.
pub fn looks(levels: &[(&str, Level)]) -> Vec<Mark> {
    let checklist = checklist();
    let each = levels.iter().flat_map(|(id, seen)| {
        let of_stage = checklist.stage(id).map(|stage| checklist.checkpoints_of(&stage.id));
        let required = of_stage.into_iter().flatten().filter(|checkpoint| checkpoint.required);
        let ids: Vec<String> = required.map(|checkpoint| checkpoint.id.to_string()).collect();
        let ids = if ids.is_empty() { vec![(*id).to_owned()] } else { ids };
        ids.into_iter().map(|id| (id, *seen))
    });
    (0..).zip(each).map(|(number, (id, seen))| mark(number, 1, &id, level(seen))).collect()
}

pub fn with_slip(level: Level, slip: &str) -> Seen {
    Seen::Level { level, slips: [SlipId::new(slip)].into() }
}

pub fn holds() -> Seen {
    Seen::Holds { except: BTreeSet::new() }
}

pub fn holds_except(checkpoint: &str) -> Seen {
    Seen::Holds { except: [CheckpointId::new(checkpoint)].into() }
}

pub fn saying(says: Says, mark: Mark) -> Mark {
    Mark { says: Some(says), ..mark }
}

pub fn scanned(mark: Mark) -> Mark {
    Mark { via: Via::Scan, ..mark }
}
