//! Stored JSON: what this build writes is what the files hold, every file is read, and what cannot be read is refused.
#![allow(missing_docs)]

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Debug;

use bright_row_core::craft::drills::{Drill, DrillLevel, DrillStep};
use bright_row_core::craft::edits::{Edits, OwnCheckpoint, Rewording};
use bright_row_core::craft::family_wording::Language;
use bright_row_core::craft::home::HomePhrase;
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::lessons::home::{HomeAgreement, HomeSettings, Sitting};
use bright_row_core::lessons::plan::{LessonPartKind, LessonPlan, PlannedBlock};
use bright_row_core::round::detail::RoundDetail;
use bright_row_core::setup::roster::RosterEntry;
use bright_row_core::tapes::finger::{Finger, Spot};
use bright_row_core::tapes::log::{Heard, Proof, TapeWork};
use bright_row_core::tapes::record::{Presence, SpotRecord, TapeRecord};
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_store::StoreError;
use bright_row_store::versioned::{Stored, read, write};
use serde_json::{Value, json};

/// What stands in a file of `tests/stored`.
fn stored(name: &str) -> Value {
    let path = format!("{}/tests/stored/{name}.json", env!("CARGO_MANIFEST_DIR"));
    serde_json::from_str(&std::fs::read_to_string(path).expect("a file")).expect("JSON")
}

/// The file of the present version holds what this build writes, and reads back.
fn is_stored<T: Stored + PartialEq + Debug>(name: &str, document: &T) {
    let file = stored(&format!("{name}.{}", T::VERSION));
    assert_eq!(file, write(document), "{name}");
    assert_eq!(&read::<T>(file).expect("what was written is read"), document, "{name}");
}

#[test]
fn every_document_is_stored_as_its_file_says() {
    let own = OwnCheckpoint {
        stage: StageId::new("bow.1"),
        name: "Rosin away".to_owned(),
        seconds: 5,
        required: false,
        far: true,
        play: false,
        wording: BTreeMap::new(),
        figure: None,
    };
    let cue = Rewording { cue: Some("Curved like a banana".to_owned()), ..Rewording::default() };
    let step = DrillStep {
        beats: 8,
        repeats: 2,
        load: true,
        quiet: false,
        only: BTreeSet::new(),
        say: vec!["rain".to_owned(), "driz-zle".to_owned()],
        text: [(Instrument::Cello, "Tap it on open D".to_owned())].into(),
    };
    let rain = Drill {
        id: "own-rain".to_owned(),
        name: "Rain on open D".to_owned(),
        strand: Strand::Bow,
        instruments: [Instrument::Cello].into(),
        after: Some(StageId::new("bow.3")),
        with: None,
        prefer: None,
        aim: "I hear the rain".to_owned(),
        tempo: 72,
        rounds: 2,
        levels: vec![DrillLevel::Joined],
        steps: vec![step],
    };
    is_stored(
        "edits",
        &Edits {
            off: [CheckpointId::new("bow.pencil")].into(),
            reworded: [(CheckpointId::new("bow.thumb"), [(Instrument::Cello, cue)].into())].into(),
            own: [(CheckpointId::new("bow.own-rosin-away"), own)].into(),
            drills_off: ["statue".to_owned()].into(),
            drills: [(rain.id.clone(), rain)].into(),
            phrases: [(
                Language::parse("es-MX").expect("a language"),
                [(HomePhrase::Heading, "En casa esta semana".to_owned())].into(),
            )]
            .into(),
            turns_on: [("bow-way".to_owned(), chrono::NaiveDate::from_ymd_opt(2026, 10, 5).expect("a day"))].into(),
        },
    );
}

#[test]
fn what_is_set_and_noted_is_stored_as_its_file_says() {
    is_stored(
        "home-settings",
        &HomeSettings { days: [1, 3, 6].into(), minutes: 12, taps: 15, sitting: Sitting::Moments },
    );
    is_stored(
        "home-agreement",
        &HomeAgreement {
            days: Some([2, 6].into()),
            minutes: Some(6),
            large: true,
            language: Language::parse("es-MX").ok(),
        },
    );
    is_stored("marker-settings", &MarkerSettings { offset_mm: 1.5, ..MarkerSettings::default() });
    is_stored(
        "tape-work",
        &TapeWork::Heard {
            finger: Finger::parse("low2").expect("a finger"),
            proof: Proof::Tuner,
            heard: Heard::Cents(-14.0),
            microphone: false,
        },
    );
    let spot = SpotRecord { presence: Presence::On, edge_mm: Some(35.5), ..SpotRecord::default() };
    is_stored(
        "tape-record",
        &TapeRecord {
            length_mm: Some(327.0),
            spots: [(Spot::Finger(Finger::parse("1").expect("a finger")), spot)].into(),
            ..TapeRecord::default()
        },
    );
    is_stored(
        "roster-entry",
        &RosterEntry {
            name: "Ada K.".to_owned(),
            instrument: Instrument::Viola,
            grade: "4".to_owned(),
            number: "0012".to_owned(),
            near_front: true,
            near_aisle: false,
        },
    );
    let block = |kind, minutes| PlannedBlock { kind, minutes, drill: None, line: String::new() };
    let drill = PlannedBlock { drill: Some("mirror-hold".to_owned()), ..block(LessonPartKind::Drill, 6) };
    let book = PlannedBlock { line: "Page 12".to_owned(), ..block(LessonPartKind::Book, 10) };
    is_stored(
        "lesson",
        &LessonPlan {
            blocks: vec![block(LessonPartKind::SetUp, 8), drill, book],
            aims: vec!["I find my place".to_owned()],
        },
    );
    is_stored("round-detail", &RoundDetail { minutes: Some(12), strand: Some(Strand::Bow), ..RoundDetail::default() });
}

#[test]
fn a_version_of_a_newer_build_is_refused_and_so_is_what_is_no_document() {
    let good = stored("lesson.1");
    let mut newer = good.clone();
    newer["version"] = json!(2);
    let mut without = good.clone();
    without.as_object_mut().expect("an object").remove("version");
    let mut other = good;
    other["data"] = json!({ "blocks": "many" });
    for document in [newer, without, other, json!(null), json!([]), json!("lesson"), json!({ "version": 1 })] {
        let refused = read::<LessonPlan>(document.clone());
        assert!(matches!(refused, Err(StoreError::Unreadable { what: "lesson", .. })), "{document}: {refused:?}");
    }
}
