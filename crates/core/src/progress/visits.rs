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

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use chrono::Weekday;

    use super::*;

    fn calendar() -> MeetingCalendar {
        let day = |text: &str| text.parse().expect("a date");
        let days = [Weekday::Tue, Weekday::Thu];
        let calendar = MeetingCalendar::new(
            chrono_tz::Europe::Dublin,
            day("2026-09-01"),
            day("2026-12-18"),
            &days,
            &BTreeSet::new(),
        );
        calendar.expect("a calendar")
    }

    #[test]
    fn who_was_never_visited_waits_since_joining_and_was_there_on_the_day_it_joined() {
        let calendar = calendar();
        let unseen = |now, joined: &str| Unseen::at(now, &calendar, joined.parse().expect("a date"), &BTreeMap::new());
        // The first meeting is Tuesday, 1 September; the third is Tuesday, 8 September.
        assert_eq!(unseen(3, "2026-09-01"), Unseen { meetings: 3, visited: false });
        assert_eq!(unseen(3, "2026-09-08"), Unseen { meetings: 1, visited: false }, "it was there for that meeting");
        assert_eq!(unseen(3, "2026-09-09"), Unseen { meetings: 0, visited: false });
    }
}
