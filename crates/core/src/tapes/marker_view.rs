//! Markers as pages show them: where each goes, what it sounds like, how it is proved, and what was measured comes to.

use serde::Serialize;
use serde_with::skip_serializing_none;

use crate::craft::instrument::InstrumentFacts;
use crate::craft::pitch::note_name;
use crate::tapes::ear_checks::{ear_checks, step_check, stopped_notes};
use crate::tapes::finger::Finger;
use crate::tapes::layout::{MarkerPosition, MeasuredPosition};
use crate::tapes::settings::MarkerSettings;

/// One marker.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct MarkerView {
    /// Whose.
    pub finger: String,
    /// Above the open string.
    pub semitones: u8,
    /// The pitch line, from the nut's edge.
    pub distance_mm: f64,
    /// Where the strip's nut-side edge goes.
    pub edge_mm: f64,
    /// From the pitch line before; the first from the nut.
    pub gap_mm: f64,
    /// How much of the string one cent is here.
    pub mm_per_cent: f64,
    /// What it sounds like on each string, low to high.
    pub notes: Vec<StoppedNote>,
    /// Comparisons with open strings, the nearest first.
    pub ear_checks: Vec<EarCheckView>,
    /// Where no open string can be compared with: from another marker of these.
    pub step_check: Option<StepCheckView>,
    /// What was measured.
    pub measured: Option<MeasuredPosition>,
}

/// A note on a string.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct StoppedNote {
    /// The open string, `D4`.
    pub string: String,
    /// What sounds, `E4`.
    pub note: String,
    /// How high.
    pub hz: f64,
}

/// A comparison with an open string.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct EarCheckView {
    /// The string that is stopped.
    pub string: String,
    /// What sounds.
    pub note: String,
    /// The open string to compare with.
    pub open_string: String,
    /// How the stopped note lies to it: `unison`, `octave above`, `octave below`, `two octaves above` ...
    pub relation: String,
    /// Allowed beside the tolerance.
    pub allow_cents: f64,
}

/// A comparison with a marker that is proved.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct StepCheckView {
    /// From whose.
    pub from_finger: String,
    /// From there; negative for lower.
    pub semitones: i8,
}

/// Markers with what each sounds like and how it is proved.
#[must_use]
pub fn marker_views(
    facts: &InstrumentFacts,
    settings: &MarkerSettings,
    positions: &[MarkerPosition],
) -> Vec<MarkerView> {
    let fingers: Vec<Finger> = positions.iter().map(|position| position.finger).collect();
    let open = |string: usize| facts.strings[string].note.clone();
    let view = |position: &MarkerPosition| {
        let notes = stopped_notes(facts, position.semitones, settings).into_iter().map(|stopped| StoppedNote {
            string: open(stopped.string),
            note: stopped.note(),
            hz: stopped.hz,
        });
        let checks = ear_checks(facts, position.semitones).into_iter().map(|check| EarCheckView {
            string: open(check.string),
            note: note_name(check.midi),
            open_string: open(check.open),
            relation: check.relation.words(),
            allow_cents: check.allows_cents(settings.temperament),
        });
        MarkerView {
            finger: position.finger.id().to_owned(),
            semitones: position.semitones,
            distance_mm: position.distance_mm,
            edge_mm: position.edge_mm,
            gap_mm: position.gap_mm,
            mm_per_cent: position.mm_per_cent,
            notes: notes.collect(),
            ear_checks: checks.collect(),
            step_check: step_check(facts, position.finger, &fingers)
                .map(|step| StepCheckView { from_finger: step.from.id().to_owned(), semitones: step.semitones }),
            measured: position.measured,
        }
    };
    positions.iter().map(view).collect()
}
