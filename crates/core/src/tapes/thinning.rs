//! In which order markers go again, and when the next one may.

use crate::craft::instrument::Instrument;
use crate::tapes::assessment::MarkerAssessment;
use crate::tapes::finger::{Finger, Spot};
use crate::tapes::marker_set::MarkerSet;
use crate::tapes::record::Presence;

/// The order in which markers are taken away: what is laid beyond the plain fingers first, the markers that the hand is built
/// from last, the thumb pad after all of them.
#[must_use]
pub const fn thinning_order(instrument: Instrument) -> &'static [Spot] {
    use Finger::{Four, High3, Low1, Low2, One, Stretched2, Stretched4, Three, Two};
    const fn f(finger: Finger) -> Spot {
        Spot::Finger(finger)
    }
    match instrument {
        Instrument::Violin | Instrument::Viola => {
            const HIGH: [Spot; 7] = [f(Low1), f(Low2), f(High3), f(Two), f(Four), f(One), f(Three)];
            &HIGH
        }
        Instrument::Cello => {
            const CELLO: [Spot; 8] =
                [f(Low1), f(Stretched2), f(Stretched4), f(Two), f(Three), f(One), f(Four), Spot::Thumb];
            &CELLO
        }
        Instrument::Bass => {
            const BASS: [Spot; 4] = [f(Two), f(Four), f(One), Spot::Thumb];
            &BASS
        }
    }
}

/// What is still wanting before a marker may go.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NotYet {
    /// Landing in tune with eyes away was not seen in two looks at different meetings.
    Landing,
    /// The last ear check was not true.
    Ear,
    /// No marker is on.
    Nothing,
}

/// The next marker to take away.
///
/// Ready when landing in tune (frame.land) was seen at Alone or better in two looks at different meetings, and every marker
/// that is on was last heard true.
///
/// # Errors
/// [`NotYet`] says what is wanting.
pub fn next_to_go(set: &MarkerSet, assessment: &MarkerAssessment, landed_in_looks: u32) -> Result<Spot, NotYet> {
    let on = |spot: Spot| assessment.spots.iter().any(|status| status.spot == spot && status.presence == Presence::On);
    let next = thinning_order(set.instrument).iter().copied().find(|spot| on(*spot)).ok_or(NotYet::Nothing)?;
    let mut sounding = assessment.spots.iter().filter(|status| status.spot.sounds() && status.presence == Presence::On);
    if landed_in_looks < LANDED_LOOKS {
        Err(NotYet::Landing)
    } else if !sounding.all(|status| status.proved) {
        Err(NotYet::Ear)
    } else {
        Ok(next)
    }
}

/// Looks at landing in tune, at different meetings, before a marker may go.
pub const LANDED_LOOKS: u32 = 2;
