//! What an instrument's markers need next.

use serde::{Deserialize, Serialize};

use crate::tapes::status::{TapeState, TapeTrouble};

/// What an instrument's markers need next, the most pressing first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum MarkerNeed {
    /// It came in the place of another: look at it.
    LookAtIt,
    /// Markers came off or are coming off.
    LayAgain,
    /// Markers drifted.
    MoveMarkers,
    /// Looked at again.
    Recheck,
    /// Laid, not proved.
    Hear,
    /// Measured, not laid.
    Place,
    /// Not measured.
    Measure,
    /// Ready to lose a marker.
    Thin,
    /// Nothing now.
    Nothing,
}

impl MarkerNeed {
    /// What markers in this state need: trouble first, then what the set still waits for, then a recheck that is `due`, then
    /// thinning where a marker `may_go`.
    #[must_use]
    pub const fn of(state: TapeState, trouble: Option<TapeTrouble>, due: bool, may_go: bool) -> Self {
        match (trouble, state) {
            (_, TapeState::NoneByChoice) => Self::Nothing,
            (Some(TapeTrouble::WrongInstrument), _) => Self::LookAtIt,
            (Some(TapeTrouble::LooseOrMissing), _) => Self::LayAgain,
            (Some(TapeTrouble::Drifted), _) => Self::MoveMarkers,
            (None, TapeState::NotMeasured) => Self::Measure,
            (None, TapeState::ReadyToPlace) => Self::Place,
            (None, TapeState::Placed) => Self::Hear,
            _ if due => Self::Recheck,
            (None, TapeState::Holding | TapeState::Thinning) if may_go => Self::Thin,
            (None, _) => Self::Nothing,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn trouble_comes_before_everything_and_a_class_without_markers_needs_nothing() {
        for state in [TapeState::Placed, TapeState::Holding, TapeState::Thinning] {
            assert_eq!(MarkerNeed::of(state, Some(TapeTrouble::Drifted), true, true), MarkerNeed::MoveMarkers);
            assert_eq!(MarkerNeed::of(state, Some(TapeTrouble::LooseOrMissing), true, true), MarkerNeed::LayAgain);
            assert_eq!(MarkerNeed::of(state, Some(TapeTrouble::WrongInstrument), true, true), MarkerNeed::LookAtIt);
        }
        for trouble in [None, Some(TapeTrouble::Drifted)] {
            assert_eq!(MarkerNeed::of(TapeState::NoneByChoice, trouble, true, true), MarkerNeed::Nothing);
        }
    }

    #[test]
    fn a_set_is_measured_laid_heard_and_then_looked_at_when_it_is_due() {
        let need = |state, due, may_go| MarkerNeed::of(state, None, due, may_go);
        assert_eq!(need(TapeState::NotMeasured, true, true), MarkerNeed::Measure);
        assert_eq!(need(TapeState::ReadyToPlace, true, true), MarkerNeed::Place);
        assert_eq!(need(TapeState::Placed, true, true), MarkerNeed::Hear);
        assert_eq!(need(TapeState::Heard, true, false), MarkerNeed::Recheck);
        assert_eq!(need(TapeState::Holding, true, true), MarkerNeed::Recheck, "a recheck comes before thinning");
        assert_eq!(need(TapeState::Holding, false, true), MarkerNeed::Thin);
        assert_eq!(need(TapeState::Heard, false, true), MarkerNeed::Nothing, "not before it held once");
        assert_eq!(need(TapeState::Bare, false, true), MarkerNeed::Nothing);
    }
}
