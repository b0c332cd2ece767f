//! The class's calendar: on which days it meets, and how many meetings lie behind a moment.
//!
//! Everything that comes due in Bright Row is counted in meetings, not in days: a holiday makes nothing overdue.

#[cfg(feature = "zones")]
use std::collections::BTreeSet;

use chrono::{DateTime, NaiveDate, Utc};
#[cfg(feature = "zones")]
use chrono::{Datelike, Days, Weekday};
use serde::{Deserialize, Serialize};

use crate::progress::local_time::LocalTime;

/// The longest calendar accepted, in days.
pub const MAX_CALENDAR_DAYS: u64 = 800;

/// Why a calendar cannot be.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum CalendarError {
    /// The last day lies before the first.
    #[error("the last day is before the first day")]
    EndsBeforeItStarts,
    /// More days than [`MAX_CALENDAR_DAYS`].
    #[error("a calendar covers at most {MAX_CALENDAR_DAYS} days")]
    TooLong,
    /// No weekday is chosen, or every one of them is a day off.
    #[error("no meeting is left: choose at least one weekday that is not off")]
    NoMeeting,
}

/// The meetings of a class, in order, and the local time by which a day begins.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct MeetingCalendar {
    local: LocalTime,
    meetings: Vec<NaiveDate>,
}

impl MeetingCalendar {
    /// Every `weekdays` day from `first` to `last`, both included, without the `days_off`.
    ///
    /// # Errors
    /// [`CalendarError`] when nothing is left or the span is impossible.
    #[cfg(feature = "zones")]
    pub fn new(
        time_zone: chrono_tz::Tz,
        first: NaiveDate,
        last: NaiveDate,
        weekdays: &[Weekday],
        days_off: &BTreeSet<NaiveDate>,
    ) -> Result<Self, CalendarError> {
        if last < first {
            return Err(CalendarError::EndsBeforeItStarts);
        }
        if first.checked_add_days(Days::new(MAX_CALENDAR_DAYS)).is_none_or(|limit| last > limit) {
            return Err(CalendarError::TooLong);
        }
        let meetings: Vec<_> = first
            .iter_days()
            .take_while(|day| *day <= last)
            .filter(|day| weekdays.contains(&day.weekday()) && !days_off.contains(day))
            .collect();
        if meetings.is_empty() {
            return Err(CalendarError::NoMeeting);
        }
        Ok(Self { local: LocalTime::of(time_zone, first, last), meetings })
    }

    /// How many meetings the whole calendar holds.
    #[must_use]
    pub fn total(&self) -> u32 {
        count(self.meetings.len())
    }

    /// The calendar day of a moment, in the class's time zone.
    #[must_use]
    pub fn day_of(&self, moment: DateTime<Utc>) -> NaiveDate {
        self.local.day_of(moment)
    }

    /// The moment at which a day begins where the class meets.
    #[must_use]
    pub fn begins(&self, day: NaiveDate) -> DateTime<Utc> {
        self.local.begins(day)
    }

    /// The number of the meeting a day belongs to: meetings up to and including that day, 0 before the first.
    ///
    /// A day between two meetings belongs to the earlier one.
    #[must_use]
    pub fn meeting_on(&self, day: NaiveDate) -> u32 {
        count(self.meetings.partition_point(|meeting| *meeting <= day))
    }

    /// [`Self::meeting_on`] for a moment.
    #[must_use]
    pub fn meeting_at(&self, moment: DateTime<Utc>) -> u32 {
        self.meeting_on(self.day_of(moment))
    }

    /// Whether the class meets on that day.
    #[must_use]
    pub fn meets_on(&self, day: NaiveDate) -> bool {
        self.meetings.binary_search(&day).is_ok()
    }

    /// Whether a day lies between the first meeting and the last.
    #[must_use]
    pub fn spans(&self, day: NaiveDate) -> bool {
        self.meetings.first().is_some_and(|first| *first <= day)
            && self.meetings.last().is_some_and(|last| day <= *last)
    }

    /// The first meeting on or after a day.
    #[must_use]
    pub fn next_from(&self, day: NaiveDate) -> Option<NaiveDate> {
        self.meetings.get(self.meetings.partition_point(|meeting| *meeting < day)).copied()
    }

    /// The date of meeting `number`, counted from 1.
    #[must_use]
    pub fn date_of(&self, number: u32) -> Option<NaiveDate> {
        let index = usize::try_from(number).ok()?.checked_sub(1)?;
        self.meetings.get(index).copied()
    }
}

fn count(meetings: usize) -> u32 {
    u32::try_from(meetings).expect("a calendar is at most MAX_CALENDAR_DAYS long")
}

#[cfg(test)]
mod tests {
    use chrono_tz::Tz;

    use super::*;
    use proptest::prelude::*;

    fn day(text: &str) -> NaiveDate {
        text.parse().expect("a date")
    }

    fn autumn(days_off: &[&str]) -> MeetingCalendar {
        MeetingCalendar::new(
            chrono_tz::Europe::Dublin,
            day("2026-09-01"),
            day("2026-12-18"),
            &[Weekday::Tue, Weekday::Thu],
            &days_off.iter().map(|d| day(d)).collect(),
        )
        .expect("a calendar")
    }

    #[test]
    fn meetings_are_the_chosen_weekdays_without_the_days_off() {
        let calendar = autumn(&["2026-09-03"]);
        assert_eq!(calendar.date_of(1), Some(day("2026-09-01")));
        assert_eq!(calendar.date_of(2), Some(day("2026-09-08")));
        assert_eq!(calendar.total(), 31);
        assert_eq!(calendar.date_of(32), None);
        assert_eq!(calendar.date_of(0), None);
    }

    #[test]
    fn a_day_between_two_meetings_belongs_to_the_earlier_one() {
        let calendar = autumn(&[]);
        assert_eq!(calendar.meeting_on(day("2026-08-31")), 0);
        assert_eq!(calendar.meeting_on(day("2026-09-01")), 1);
        assert_eq!(calendar.meeting_on(day("2026-09-02")), 1);
        assert_eq!(calendar.meeting_on(day("2026-09-03")), 2);
        assert_eq!(calendar.next_from(day("2026-09-02")), Some(day("2026-09-03")));
        assert!(calendar.meets_on(day("2026-09-03")) && !calendar.meets_on(day("2026-09-02")));
    }

    #[test]
    fn a_day_begins_at_midnight_where_the_class_is() {
        let calendar = autumn(&[]);
        let late_on_monday: DateTime<Utc> = "2026-09-07T22:59:00Z".parse().expect("a moment");
        let early_on_tuesday: DateTime<Utc> = "2026-09-07T23:01:00Z".parse().expect("a moment");
        assert_eq!(calendar.meeting_at(late_on_monday), 2);
        assert_eq!(calendar.meeting_at(early_on_tuesday), 3);
    }

    #[test]
    fn an_impossible_calendar_is_refused_with_its_reason() {
        let make = |first, last, weekdays: &[Weekday]| {
            MeetingCalendar::new(Tz::UTC, day(first), day(last), weekdays, &BTreeSet::new())
        };
        assert_eq!(make("2026-09-02", "2026-09-01", &[Weekday::Mon]), Err(CalendarError::EndsBeforeItStarts));
        assert_eq!(make("2026-09-01", "2036-09-01", &[Weekday::Mon]), Err(CalendarError::TooLong));
        assert_eq!(make("2026-09-01", "2026-12-01", &[]), Err(CalendarError::NoMeeting));
    }

    proptest! {
        #[test]
        fn every_meeting_is_found_again_by_its_number(weekday in 0u8..7, span in 7u64..MAX_CALENDAR_DAYS) {
            let first = day("2026-08-30");
            let weekday = Weekday::try_from(weekday).expect("0 to 6");
            let calendar = MeetingCalendar::new(
                Tz::UTC, first, first + Days::new(span), &[weekday], &BTreeSet::new(),
            ).expect("at least one week");
            for number in 1..=calendar.total() {
                let date = calendar.date_of(number).expect("in range");
                prop_assert_eq!(calendar.meeting_on(date), number);
                prop_assert_eq!(calendar.next_from(date), Some(date));
            }
        }
    }
}
