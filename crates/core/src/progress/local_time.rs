//! Local time where a class meets, as offsets from universal time: the same on a server that knows every time zone and in a
//! page that knows none.

use chrono::{DateTime, Days, FixedOffset, NaiveDate, NaiveTime, Utc};
use serde::{Deserialize, Serialize};

/// Local time of one place: seconds east of universal time, and when they change.
///
/// It is known for the days of a calendar and a margin around them; before and after, the nearest known offset counts.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct LocalTime {
    /// Seconds east before the first change.
    first: i32,
    /// From when on so many seconds east count, the earliest first.
    changes: Vec<(DateTime<Utc>, i32)>,
}

/// Days before and after a calendar for which local time is known: an observation may be older than the calendar.
#[cfg(feature = "zones")]
const MARGIN: Days = Days::new(800);
/// Offsets are compared once in so many days: no place changes its clocks twice within a week.
#[cfg(feature = "zones")]
const STEP: Days = Days::new(7);

impl LocalTime {
    /// Local time in a time zone from `first` to `last` and [`MARGIN`] days around.
    #[cfg(feature = "zones")]
    #[must_use]
    pub fn of(time_zone: chrono_tz::Tz, first: NaiveDate, last: NaiveDate) -> Self {
        let seconds_east = |moment: DateTime<Utc>| {
            use chrono::{Offset, TimeZone};
            time_zone.offset_from_utc_datetime(&moment.naive_utc()).fix().local_minus_utc()
        };
        let midnight = |day: NaiveDate| day.and_time(NaiveTime::MIN).and_utc();
        let mut known = midnight(first.checked_sub_days(MARGIN).unwrap_or(first));
        let end = midnight(last.checked_add_days(MARGIN).unwrap_or(last));
        let (begin, mut changes) = (seconds_east(known), Vec::new());
        while known < end {
            let Some(next) = known.checked_add_days(STEP) else { break };
            if seconds_east(next) != seconds_east(known) {
                let (mut before, mut after) = (known.timestamp(), next.timestamp());
                while after - before > 1 {
                    let middle = before.midpoint(after);
                    let is_before = DateTime::from_timestamp(middle, 0).map(seconds_east) == Some(seconds_east(known));
                    if is_before { before = middle } else { after = middle }
                }
                changes.extend(DateTime::from_timestamp(after, 0).map(|moment| (moment, seconds_east(next))));
            }
            known = next;
        }
        Self { first: begin, changes }
    }

    fn offset_at(&self, moment: DateTime<Utc>) -> FixedOffset {
        let index = self.changes.partition_point(|(from, _)| *from <= moment);
        let seconds = index.checked_sub(1).map_or(self.first, |last| self.changes[last].1);
        // A page may get anything: what no offset can be counts as universal time.
        FixedOffset::east_opt(seconds).unwrap_or(FixedOffset::east_opt(0).expect("no offset at all"))
    }

    /// The calendar day of a moment.
    #[must_use]
    pub fn day_of(&self, moment: DateTime<Utc>) -> NaiveDate {
        moment.with_timezone(&self.offset_at(moment)).date_naive()
    }

    /// The moment at which a day begins. Where clocks skip midnight, the day counts from midnight of universal time.
    #[must_use]
    pub fn begins(&self, day: NaiveDate) -> DateTime<Utc> {
        let midnight = day.and_time(NaiveTime::MIN).and_utc();
        // The offsets that count the day before and the day after, the one further east first: its midnight comes earlier.
        let around = [midnight - Days::new(1), midnight + Days::new(1)].map(|near| self.offset_at(near));
        let mut moments = around.map(|offset| (midnight - offset, offset));
        moments.sort_by_key(|(moment, _)| *moment);
        let found = moments.into_iter().find(|(moment, offset)| self.offset_at(*moment) == *offset);
        found.map_or(midnight, |(moment, _)| moment)
    }
}

#[cfg(test)]
mod tests {
    use chrono::TimeZone;
    use chrono_tz::Tz;
    use proptest::prelude::*;

    use super::*;

    fn day(text: &str) -> NaiveDate {
        text.parse().expect("a date")
    }

    const ZONES: [Tz; 8] = [
        Tz::Europe__Dublin,
        Tz::America__Sao_Paulo,
        Tz::Africa__Casablanca,
        Tz::Asia__Kathmandu,
        Tz::Pacific__Apia,
        Tz::America__Asuncion,
        Tz::Australia__Lord_Howe,
        Tz::UTC,
    ];

    proptest! {
        #[test]
        fn it_says_what_the_time_zone_says(zone in 0..ZONES.len(), seconds in 0_i64..2 * 366 * 86_400) {
            let (zone, first) = (ZONES[zone], day("2026-01-01"));
            let local = LocalTime::of(zone, first, day("2027-06-30"));
            let moment = first.and_time(NaiveTime::MIN).and_utc() + chrono::TimeDelta::seconds(seconds);
            let date = moment.with_timezone(&zone).date_naive();
            prop_assert_eq!(local.day_of(moment), date);
            let midnight = date.and_time(NaiveTime::MIN);
            let begins = zone.from_local_datetime(&midnight).earliest().map_or(midnight.and_utc(), |at| at.to_utc());
            prop_assert_eq!(local.begins(date), begins);
        }
    }

    #[test]
    fn it_reads_what_it_wrote_and_takes_no_harm_from_an_offset_that_cannot_be() {
        let local = LocalTime::of(Tz::Europe__Dublin, day("2026-09-01"), day("2027-06-30"));
        let text = serde_json::to_string(&local).expect("it can be written");
        assert_eq!(serde_json::from_str::<LocalTime>(&text).expect("it can be read"), local);
        let broken: LocalTime = serde_json::from_str(r#"{"first": 999999999, "changes": []}"#).expect("numbers");
        assert_eq!(broken.day_of("2026-09-01T23:00:00Z".parse().expect("a moment")), day("2026-09-01"));
    }
}
