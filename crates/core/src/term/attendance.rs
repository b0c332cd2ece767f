//! Who was there at which meeting, as far as rounds and looks tell it.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};

use crate::progress::calendar::MeetingCalendar;
use crate::progress::observation::Via;
use crate::round::event::RoundEventKind;
use crate::worded::worded;

worded! {
    /// Whether a child was at a meeting.
    Attendance {
        /// It was looked at, or said to be there.
        Here = "here",
        /// It was marked as not here, and nothing after that says otherwise.
        Away = "away",
    }
}

impl Attendance {
    /// What an event of a round tells of the children it is about.
    #[must_use]
    pub const fn of_event(kind: RoundEventKind) -> Option<Self> {
        match kind {
            RoundEventKind::Absent => Some(Self::Away),
            RoundEventKind::Present | RoundEventKind::Visited => Some(Self::Here),
            _ => None,
        }
    }

    /// What a look tells: who is looked at in the room is in it.
    #[must_use]
    pub const fn of_look(via: Via) -> Option<Self> {
        match via {
            Via::Visit | Via::Scan => Some(Self::Here),
            _ => None,
        }
    }
}

/// Of one child what is known by the number of the meeting, from 1: the last that was said on that day counts. What was said on a day
/// without a meeting tells nothing, and a meeting of which nothing was said is not there.
#[must_use]
pub fn by_meeting(
    signs: impl IntoIterator<Item = (DateTime<Utc>, Attendance)>,
    calendar: &MeetingCalendar,
) -> BTreeMap<u32, Attendance> {
    let mut last: BTreeMap<u32, (DateTime<Utc>, Attendance)> = BTreeMap::new();
    for (at, sign) in signs {
        let day = calendar.day_of(at);
        if calendar.meets_on(day) {
            let known = last.entry(calendar.meeting_on(day)).or_insert((at, sign));
            // Of two things said at one moment the look counts, whichever was read first.
            if (at, sign == Attendance::Here) >= (known.0, known.1 == Attendance::Here) {
                *known = (at, sign);
            }
        }
    }
    last.into_iter().map(|(meeting, (_, sign))| (meeting, sign)).collect()
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use chrono::Weekday;
    use proptest::prelude::*;

    use super::*;

    fn mondays() -> MeetingCalendar {
        let day = |text: &str| text.parse().expect("a date");
        MeetingCalendar::new(
            chrono_tz::Europe::Vienna,
            day("2026-11-02"),
            day("2026-12-21"),
            &[Weekday::Mon],
            &BTreeSet::from([day("2026-11-16")]),
        )
        .expect("a calendar")
    }

    fn at(text: &str) -> DateTime<Utc> {
        text.parse().expect("a moment")
    }

    #[test]
    fn the_last_that_was_said_at_a_meeting_counts() {
        use Attendance::{Away, Here};
        let signs = [
            (at("2026-11-02T09:10:00Z"), Away),
            (at("2026-11-02T09:30:00Z"), Here),
            (at("2026-11-09T09:30:00Z"), Here),
            (at("2026-11-09T09:10:00Z"), Away),
            (at("2026-11-23T09:10:00Z"), Away),
            // A day off, a Tuesday, and an evening that is another day already where the class meets.
            (at("2026-11-16T09:10:00Z"), Here),
            (at("2026-11-03T09:10:00Z"), Away),
            (at("2026-11-30T23:30:00Z"), Here),
        ];
        assert_eq!(by_meeting(signs, &mondays()), BTreeMap::from([(1, Here), (2, Here), (3, Away)]));
        assert_eq!(Attendance::of_event(RoundEventKind::Skipped), None);
        assert_eq!(Attendance::of_look(Via::Scan), Some(Here));
    }

    proptest! {
        #[test]
        fn the_order_of_what_was_said_changes_nothing(said in prop::collection::vec((0..70_000_i64, any::<bool>()), 0..40), turn in 0..40_usize) {
            let begins = at("2026-11-01T00:00:00Z");
            let sign = |(minutes, here): (i64, bool)| {
                (begins + chrono::TimeDelta::minutes(minutes), if here { Attendance::Here } else { Attendance::Away })
            };
            let mut turned = said.clone();
            turned.rotate_left(turn % said.len().max(1));
            let all = |said: Vec<(i64, bool)>| by_meeting(said.into_iter().map(sign), &mondays());
            prop_assert_eq!(all(said), all(turned));
        }
    }
}
