//! When a class, or a section of it, reached the stages.

use crate::craft::id::StageId;
use crate::craft::instrument::Instrument;
use crate::round::milestones::are_most;
use crate::term::growth::Growth;

/// How many of some children reached a stage, and when.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StageReached {
    /// Which section they are; `None` for the whole class.
    pub section: Option<Instrument>,
    /// Children who ever reached it.
    pub there: usize,
    /// All of these children.
    pub of: usize,
    /// The meeting at which the first of them did.
    pub first: Option<u32>,
    /// The meeting by which four of five had.
    pub most: Option<u32>,
}

/// How a stage was reached by the whole class and by each section that has somebody, in their order. A section are those who play
/// its instrument now.
#[must_use]
pub fn reached(growths: &[(Instrument, Growth)], stage: &StageId) -> Vec<StageReached> {
    let of = |section: Option<Instrument>| {
        let these = || growths.iter().filter(move |(plays, _)| section.is_none_or(|section| section == *plays));
        let all = these().count();
        let mut meetings: Vec<u32> = these().filter_map(|(_, growth)| growth.reached.get(stage).copied()).collect();
        meetings.sort_unstable();
        let enough = (1..=meetings.len()).find(|there| are_most(*there, all));
        StageReached {
            section,
            there: meetings.len(),
            of: all,
            first: meetings.first().copied(),
            most: enough.and_then(|there| meetings.get(there - 1).copied()),
        }
    };
    let sections = Instrument::ALL.into_iter().map(Some);
    [None].into_iter().chain(sections).map(of).filter(|found| found.of > 0).collect()
}
