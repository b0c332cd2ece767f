//! Facts about a child's instrument and its markers that speak for or against a cause.

use crate::craft::symptoms::Fact;
use crate::progress::rhythm::Recheck;
use crate::progress::tape_status::TapeStatus;
use crate::tapes::status::TapeTrouble;

/// What the markers' status says: trouble, and a recheck that is due.
pub fn facts_of_tapes(status: TapeStatus) -> impl Iterator<Item = Fact> {
    let trouble = status.trouble.map(|trouble| match trouble {
        TapeTrouble::Drifted => Fact::Drifted,
        TapeTrouble::LooseOrMissing => Fact::Missing,
        TapeTrouble::WrongInstrument => Fact::WrongInstrument,
    });
    let due = status.recheck.is_some_and(Recheck::is_due).then_some(Fact::RecheckDue);
    trouble.into_iter().chain(due)
}

/// What the inventory and the child's measures say: `too_big` for its measures, and whether it plays well.
pub fn facts_of_instrument(too_big: bool, plays_well: bool) -> impl Iterator<Item = Fact> {
    too_big.then_some(Fact::TooBig).into_iter().chain((!plays_well).then_some(Fact::NeedsRepair))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::tapes::status::TapeState;

    fn status(trouble: Option<TapeTrouble>, recheck: Option<Recheck>) -> Vec<Fact> {
        facts_of_tapes(TapeStatus { state: TapeState::Holding, trouble, recheck }).collect()
    }

    #[test]
    fn trouble_and_a_due_recheck_are_facts_and_fresh_markers_are_none() {
        assert_eq!(status(None, Some(Recheck::Fresh(3))), []);
        assert_eq!(status(None, Some(Recheck::Overdue(2))), [Fact::RecheckDue]);
        assert_eq!(status(Some(TapeTrouble::Drifted), Some(Recheck::Due)), [Fact::Drifted, Fact::RecheckDue]);
        assert_eq!(status(Some(TapeTrouble::LooseOrMissing), None), [Fact::Missing]);
    }

    #[test]
    fn an_instrument_that_fits_and_plays_says_nothing() {
        assert_eq!(facts_of_instrument(false, true).count(), 0);
        assert_eq!(facts_of_instrument(true, false).collect::<Vec<_>>(), [Fact::TooBig, Fact::NeedsRepair]);
    }
}
