//! Facts about a child's instrument, its markers and its bow that speak for or against a cause.

use std::cmp::Ordering;

use chrono::{DateTime, Utc};

use crate::craft::level::Level;
use crate::craft::symptoms::Fact;
use crate::progress::rhythm::Recheck;
use crate::progress::standing::Standing;
use crate::progress::tape_status::TapeStatus;
use crate::tapes::status::{TapeState, TapeTrouble};

/// The checkpoint at which hair, rosin and stick are looked at.
pub const BOW_CARE: &str = "bow.care";

/// What the markers' status says: trouble, a recheck that is due, that they are proved, or that there are none.
pub fn facts_of_tapes(status: TapeStatus) -> impl Iterator<Item = Fact> {
    let trouble = status.trouble.map(|trouble| match trouble {
        TapeTrouble::Drifted => Fact::Drifted,
        TapeTrouble::LooseOrMissing => Fact::Missing,
        TapeTrouble::WrongInstrument => Fact::WrongInstrument,
    });
    let due = status.recheck.is_some_and(Recheck::is_due).then_some(Fact::RecheckDue);
    let proved = matches!(status.state, TapeState::Heard | TapeState::Holding | TapeState::Thinning);
    let stands = (proved && trouble.is_none() && due.is_none()).then_some(Fact::TapesProved);
    let laid = proved || status.state == TapeState::Placed;
    let none = (!laid && trouble.is_none()).then_some(Fact::NoMarkers);
    trouble.into_iter().chain(due).chain(stands).chain(none)
}

/// What the inventory and the child's measures say: how the size stands to the one proposed, where one is, whether the instrument
/// is out for repair, and whether its strings were measured well above the usual height. One that is merely not new says nothing.
pub fn facts_of_instrument(
    size: Option<Ordering>,
    out_for_repair: bool,
    strings_high: bool,
) -> impl Iterator<Item = Fact> {
    let size = size.and_then(|size| match size {
        Ordering::Greater => Some(Fact::TooBig),
        Ordering::Equal => Some(Fact::SizeFits),
        Ordering::Less => None,
    });
    let repair = out_for_repair.then_some(Fact::NeedsRepair);
    size.into_iter().chain(repair).chain(strings_high.then_some(Fact::StringsHigh))
}

/// What the looks at [`BOW_CARE`] say: in order, and looked at since `recently`.
#[must_use]
pub fn fact_of_bow(care: Option<&Standing>, recently: DateTime<Utc>) -> Option<Fact> {
    let cared = care.is_some_and(|care| care.level >= Level::Alone && care.looked_at >= recently);
    cared.then_some(Fact::BowCaredFor)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::tapes::status::TapeState;

    fn status(trouble: Option<TapeTrouble>, recheck: Option<Recheck>) -> Vec<Fact> {
        of(TapeState::Holding, trouble, recheck)
    }

    fn of(state: TapeState, trouble: Option<TapeTrouble>, recheck: Option<Recheck>) -> Vec<Fact> {
        facts_of_tapes(TapeStatus { state, trouble, recheck }).collect()
    }

    #[test]
    fn trouble_and_a_due_recheck_are_facts_and_fresh_markers_are_none() {
        assert_eq!(status(None, Some(Recheck::Fresh(3))), [Fact::TapesProved]);
        assert_eq!(of(TapeState::Placed, None, None), []);
        assert_eq!(status(None, Some(Recheck::Overdue(2))), [Fact::RecheckDue]);
        assert_eq!(status(Some(TapeTrouble::Drifted), Some(Recheck::Due)), [Fact::Drifted, Fact::RecheckDue]);
        assert_eq!(status(Some(TapeTrouble::LooseOrMissing), None), [Fact::Missing]);
        for state in [TapeState::NotMeasured, TapeState::ReadyToPlace, TapeState::Bare, TapeState::NoneByChoice] {
            assert_eq!(of(state, None, None), [Fact::NoMarkers], "{state:?}");
        }
        assert_eq!(of(TapeState::NotMeasured, Some(TapeTrouble::WrongInstrument), None), [Fact::WrongInstrument]);
    }

    #[test]
    fn a_size_that_fits_speaks_against_and_a_small_one_says_nothing() {
        let facts = |size, out| facts_of_instrument(size, out, false).collect::<Vec<_>>();
        assert_eq!(facts(None, false), []);
        assert_eq!(facts(Some(Ordering::Less), false), []);
        assert_eq!(facts(Some(Ordering::Equal), false), [Fact::SizeFits]);
        assert_eq!(facts(Some(Ordering::Greater), true), [Fact::TooBig, Fact::NeedsRepair]);
        assert_eq!(facts_of_instrument(None, false, true).collect::<Vec<_>>(), [Fact::StringsHigh]);
    }
}
