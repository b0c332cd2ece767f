//! When somebody was last at a child's chair.

use std::collections::BTreeMap;

use chrono::NaiveDate;

use crate::craft::id::CheckpointId;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::standing::Standing;

/// How long ago somebody was at a child's chair.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Unseen {
    /// Meetings since the last visit, or since joining if there was none.
    pub meetings: u32,
    /// Whether anybody ever was.
    pub visited: bool,
}

impl Unseen {
    /// How long a child with these standings, in the class since `joined_on`, was not visited at meeting `now`. A child that
    /// joined on a meeting day was there for that meeting.
    #[must_use]
    pub fn at(
        now: u32,
        calendar: &MeetingCalendar,
        joined_on: NaiveDate,
        standings: &BTreeMap<CheckpointId, Standing>,
    ) -> Self {
        let visited = standings.values().filter_map(|standing| standing.visited_at).max();
        let before_joining = joined_on.pred_opt().map_or(0, |day| calendar.meeting_on(day));
        let last = visited.map_or(before_joining, |moment| calendar.meeting_at(moment));
        Self { meetings: now.saturating_sub(last), visited: visited.is_some() }
    }
}
