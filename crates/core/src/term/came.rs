//! What a forecast said, and what came.

use crate::craft::id::StageId;
use crate::craft::instrument::Instrument;
use crate::round::bands::Band;
use crate::term::growth::Growth;
use crate::term::stages::reached;
use crate::worded::worded;

worded! {
    /// What came beside what a forecast said.
    Fit {
        /// Before the days that it named.
        Earlier = "earlier",
        /// Within them.
        Within = "within",
        /// After them, or not yet although they are over.
        Later = "later",
        /// Not yet, and the days that it named are not over.
        Open = "open",
    }
}

/// The meeting by which most of the class, or of a section, had reached a stage; `None` where they have not.
///
/// Whoever was there when the forecast was made counts: `growths` are theirs. A section are those who played its instrument at
/// meeting `from`.
#[must_use]
pub fn most_reached(growths: &[&Growth], stage: &StageId, section: Option<Instrument>, from: u32) -> Option<u32> {
    let played = |growth: &Growth| {
        let then = growth.then.get(usize::try_from(from).ok()?.checked_sub(1)?)?;
        then.as_ref().map(|then| then.instrument)
    };
    let these = growths.iter().filter_map(|growth| Some((played(growth)?, (*growth).clone())));
    let these: Vec<(Instrument, Growth)> = these.collect();
    let found = reached(&these, stage).into_iter().find(|found| found.section == section);
    found?.most
}

/// What came beside what was said. `said` names the meetings between which eight of ten runs lie, `came` when it came, `now` the
/// present meeting.
#[must_use]
pub fn fit(said: Band<Option<u32>>, came: Option<u32>, now: u32) -> Fit {
    let over = |last: u32, at: u32| at > last;
    match (came, said.low, said.high) {
        (Some(came), Some(low), _) if came < low => Fit::Earlier,
        // Nobody came to it in nine of ten runs before the calendar's end.
        (Some(_), None, _) => Fit::Earlier,
        (Some(came), _, Some(high)) if over(high, came) => Fit::Later,
        (Some(_), _, _) => Fit::Within,
        (None, _, Some(high)) if over(high, now) => Fit::Later,
        (None, _, _) => Fit::Open,
    }
}
