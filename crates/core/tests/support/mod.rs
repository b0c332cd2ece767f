//! Builders shared by the core's tests: the shipped content, a plain calendar, observations with defaults.
#![allow(dead_code, clippy::missing_panics_doc, missing_docs)]

pub mod story;

use std::collections::BTreeSet;
use std::path::Path;
use std::sync::LazyLock;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::loader::{self, Content, Source};
use bright_row_core::progress::calendar::MeetingCalendar;
use bright_row_core::progress::observation::{Observation, Observed, Says, Via};
use chrono::{DateTime, Days, NaiveDate, Utc, Weekday};
use uuid::Uuid;

/// The content that ships with the application.
pub fn content() -> Content {
    static SHIPPED: LazyLock<Content> = LazyLock::new(|| {
        let files = content_files();
        let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
        loader::read(&sources).expect("the shipped content has no fault")
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
    let others =
        ["approach.toml", "home.toml", "instruments.toml", "lessons.toml", "symptoms.toml", "slips.toml", "tunes.toml"]
            .map(str::to_owned);
    let drills = ["bow", "frame", "hold"].map(|strand| format!("drills/{strand}.toml"));
    let drawings = ["bow", "drills", "frame", "hold", "options", "slips"].map(|what| format!("drawings/{what}.toml"));
    strands.into_iter().chain(drills).chain(drawings).chain(others).map(read).collect()
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

/// An observation by a visit at meeting `meeting`; further observations get later ids.
pub fn observation(number: u32, meeting: u32, target: &str, seen: Observed) -> Observation {
    let moment = at(meeting, number % 60);
    Observation {
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

pub fn level(level: Level) -> Observed {
    Observed::Level { level, slips: BTreeSet::new() }
}

/// Each named checkpoint at a level, at meeting 1; a stage stands for all its required checkpoints.
pub fn looks(levels: &[(&str, Level)]) -> Vec<Observation> {
    let checklist = checklist();
    let each = levels.iter().flat_map(|(id, seen)| {
        let of_stage = checklist.stage(id).map(|stage| checklist.checkpoints_of(&stage.id));
        let required = of_stage.into_iter().flatten().filter(|checkpoint| checkpoint.required);
        let ids: Vec<String> = required.map(|checkpoint| checkpoint.id.to_string()).collect();
        let ids = if ids.is_empty() { vec![(*id).to_owned()] } else { ids };
        ids.into_iter().map(|id| (id, *seen))
    });
    (0..).zip(each).map(|(number, (id, seen))| observation(number, 1, &id, level(seen))).collect()
}

pub fn with_slip(level: Level, slip: &str) -> Observed {
    Observed::Level { level, slips: [SlipId::new(slip)].into() }
}

pub fn holds() -> Observed {
    Observed::Holds { except: BTreeSet::new() }
}

pub fn holds_except(checkpoint: &str) -> Observed {
    Observed::Holds { except: [CheckpointId::new(checkpoint)].into() }
}

pub fn saying(says: Says, observation: Observation) -> Observation {
    Observation { says: Some(says), ..observation }
}

pub fn scanned(observation: Observation) -> Observation {
    Observation { via: Via::Scan, ..observation }
}

/// Random numbers that are the same in every run.
pub fn chance(seed: u64) -> impl FnMut() -> f64 {
    let mut state = seed;
    move || {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        f64::from(u32::try_from(state >> 32).expect("the upper half")) / f64::from(u32::MAX).next_up()
    }
}
