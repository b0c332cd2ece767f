//! Open strings to tune by, at the A4 of the class.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::tapes::layout::open_hz;
use bright_row_core::tapes::marker_set::MarkerSet;
use serde::Serialize;
use utoipa::ToSchema;

use crate::use_cases::snapshot::ClassSnapshot;

/// An open string.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct OpenStringView {
    note: String,
    hz: f64,
}

/// The strings of an instrument, low to high.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TuningView {
    instrument: Instrument,
    strings: Vec<OpenStringView>,
}

pub(super) fn open_strings(set: &MarkerSet) -> Vec<OpenStringView> {
    let open = |string: usize| OpenStringView {
        note: set.facts.strings[string].note.clone(),
        hz: open_hz(&set.facts, string, &set.settings),
    };
    (0..set.facts.strings.len()).map(open).collect()
}

/// The strings of all four.
pub(crate) fn tuning(snapshot: &ClassSnapshot<'_>) -> Vec<TuningView> {
    let of = |instrument| TuningView { instrument, strings: open_strings(snapshot.set_of(instrument)) };
    Instrument::ALL.map(of).into()
}
