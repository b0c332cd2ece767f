//! Builders shared by the core's tests: the shipped content, a plain calendar, marks with defaults.
#![allow(dead_code, clippy::missing_panics_doc, missing_docs)]

use std::collections::BTreeSet;
use std::path::Path;
use std::sync::LazyLock;

use bright_row_core::calendar::MeetingCalendar;
use bright_row_core::checklist::{CheckpointId, SlipId};
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

pub fn content_files() -> Vec<(String, String)> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../content");
    let read = |path: String| {
        let text = std::fs::read_to_string(root.join(&path)).expect("a readable content file");
        (path, text)
    };
    let strands = ["hold", "bow", "frame", "tape"].map(|strand| format!("checklist/{strand}.toml"));
    let others = ["approach.toml", "instruments.toml", "slips.toml"].map(str::to_owned);
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
