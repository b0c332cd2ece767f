//! Observations on their way in: what can be becomes an observation, everything else is refused with its reason.
#![allow(missing_docs)]

mod support;

use bright_row_core::craft::id::CheckpointId;
use bright_row_core::progress::likely_slips::LikelySlips;
use bright_row_core::progress::new_observation::{
    MAX_CLOCK_AHEAD, MAX_NOTE_LENGTH, NewObservation, ObservationFault as Fault,
};
use bright_row_core::progress::observation::{Observation, Observed, Via};
use bright_row_core::{AccountId, craft::instrument::Instrument};
use chrono::{DateTime, Duration, Utc};
use proptest::prelude::*;
use serde_json::{Value, json};
use std::collections::BTreeMap;
use support::{checklist, content};
use uuid::Uuid;

fn now() -> DateTime<Utc> {
    "2026-11-03T14:00:00Z".parse().expect("a moment")
}

/// A look at a checkpoint as a device sends it, with some fields otherwise.
fn sent(change: &Value) -> NewObservation {
    let mut body = json!({
        "id": Uuid::from_u128(1), "child": Uuid::from_u128(2), "target": "hold.tall", "level": 3, "observedAt": now(),
    });
    for (field, value) in change.as_object().expect("fields") {
        body[field] = value.clone();
    }
    serde_json::from_value(body).expect("a body that can be read")
}

fn check(change: &Value) -> Result<Observation, Fault> {
    sent(change).check(&checklist(), AccountId::from(Uuid::from_u128(3)), now())
}

#[test]
fn a_look_becomes_an_observation_of_the_one_who_sent_it() {
    let seen = check(&json!({ "note": "  New shoes \n" })).expect("it can be");
    assert_eq!((seen.note.as_deref(), seen.via, seen.recorded_at), (Some("New shoes"), Via::Visit, now()));
    assert!(matches!(&seen.seen, Observed::Level { level, slips } if level.number() == 3 && slips.is_empty()));
    assert_eq!(check(&json!({ "note": " \t " })).expect("it can be").note, None, "an empty note is none");
    let stage = check(&json!({ "target": "hold.2", "level": null, "except": [] })).expect("a stage");
    assert!(matches!(stage.seen, Observed::Holds { .. }));
    let undo = check(&json!({ "level": null, "retracts": Uuid::from_u128(9) })).expect("an undo");
    assert!(matches!(undo.seen, Observed::Retracts(_)));
}

#[test]
fn what_cannot_be_is_refused_with_its_reason() {
    let cases = [
        (json!({ "target": "hold.none" }), Fault::Target("hold.none".to_owned())),
        (json!({ "target": "" }), Fault::Target(String::new())),
        (json!({ "level": null }), Fault::NoLevel),
        (json!({ "note": "x".repeat(MAX_NOTE_LENGTH + 1) }), Fault::LongNote),
        (json!({ "note": "a\u{0}b" }), Fault::UnstorableNote),
        (json!({ "observedAt": now() + MAX_CLOCK_AHEAD + Duration::seconds(1) }), Fault::Future),
        (json!({ "retracts": Uuid::from_u128(9) }), Fault::UndoWithMore),
        (json!({ "except": ["hold.size"] }), Fault::CheckpointWithExceptions),
        (json!({ "target": "hold.2" }), Fault::StageWithLevel),
        (
            json!({ "target": "hold.2", "level": null, "except": ["bow.thumb"] }),
            Fault::Exception("bow.thumb".to_owned()),
        ),
        (json!({ "slips": ["none"] }), Fault::Slip("none".to_owned(), CheckpointId::new("hold.tall"))),
    ];
    for (change, fault) in cases {
        assert_eq!(check(&change), Err(fault), "{change}");
    }
    assert!(matches!(check(&json!({ "level": 5 })), Err(Fault::Level(_))));
    let tapes = checklist();
    let tape =
        tapes.checkpoints().iter().find(|checkpoint| checkpoint.id.as_str().starts_with("tape.")).expect("tapes");
    for level in [1, 2, 4] {
        assert_eq!(check(&json!({ "target": tape.id, "level": level })), Err(Fault::TapeLevel));
    }
}

proptest! {
    #[test]
    fn any_text_for_a_target_a_slip_or_a_note_is_taken_or_refused_and_never_breaks(
        target in ".{0,40}", slip in ".{0,40}", note in any::<String>(), level in any::<u8>(),
    ) {
        let change = json!({ "target": target, "slips": [slip], "note": note, "level": level });
        if let Ok(seen) = check(&change) {
            prop_assert!(seen.note.is_none_or(|note| note.chars().count() <= MAX_NOTE_LENGTH && !note.contains('\0')));
        }
    }
}

#[test]
fn a_slip_that_the_class_often_has_stands_before_one_that_nobody_has() {
    let (checklist, content) = (checklist(), content());
    let violin = Instrument::Violin;
    let of = |checkpoint: &CheckpointId, likely: &LikelySlips| -> Vec<String> {
        let slips = likely.at(&checklist, &content.causes, violin, &BTreeMap::new(), checkpoint);
        slips.into_iter().map(|slip| slip.id.to_string()).collect()
    };
    let ids = checklist.checkpoints().iter().map(|checkpoint| checkpoint.id.clone());
    let several = ids.filter(|id| of(id, &LikelySlips::default()).len() > 1).collect::<Vec<_>>();
    assert!(!several.is_empty(), "some checkpoint has more than one slip");
    for checkpoint in several {
        let usual = of(&checkpoint, &LikelySlips::default());
        let last = usual.last().expect("more than one").clone();
        let ticked = check(&json!({ "target": checkpoint, "level": 1, "slips": [last] })).expect("it can be");
        let calendar = support::calendar();
        let rhythm = bright_row_core::progress::rhythm::Rhythm::default();
        let standings = bright_row_core::progress::standing::standings(&checklist, &[ticked], &calendar, &rhythm);
        let likely = LikelySlips::of_class([(violin, &standings), (Instrument::Bass, &standings)]);
        assert_eq!(of(&checkpoint, &likely)[0], last, "{checkpoint}");
    }
}
