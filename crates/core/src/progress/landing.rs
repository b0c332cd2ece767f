//! How often a child was found landing in tune with eyes away.

use crate::progress::calendar::MeetingCalendar;
use crate::progress::observation::Observation;

/// The looks in a row, at different meetings, that found `frame.land` at Alone or better, up to now.
#[must_use]
pub fn landed_looks(observations: &[Observation], calendar: &MeetingCalendar) -> u32 {
    use crate::craft::level::Level;
    use crate::progress::observation::{Observed, in_force};
    let mut looks = 0;
    let mut last = None;
    for observation in in_force(observations) {
        let landed = match &observation.seen {
            Observed::Level { level, .. } if observation.target.id() == LANDING => *level >= Level::Alone,
            // A look at its stage vouches for what stood there already.
            Observed::Holds { except } if observation.target.id() == LANDING_STAGE && looks > 0 => {
                if except.iter().any(|checkpoint| checkpoint.as_str() == LANDING) {
                    continue;
                }
                true
            }
            _ => continue,
        };
        let meeting = calendar.meeting_at(observation.observed_at);
        if !landed {
            (looks, last) = (0, None);
        } else if last != Some(meeting) {
            (looks, last) = (looks + 1, Some(meeting));
        }
    }
    looks
}

/// The checkpoint of landing in tune with eyes away.
pub const LANDING: &str = "frame.land";
/// Its stage.
pub const LANDING_STAGE: &str = "frame.4";
