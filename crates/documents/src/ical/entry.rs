//! One entry of a calendar: on which days it lies, in the class's time zone.

use chrono::{Days, NaiveDate, NaiveDateTime, NaiveTime, TimeDelta, Timelike};
use chrono_tz::Tz;
use icalendar::parser::read_components;
use icalendar::{CalendarComponent, CalendarDateTime, Component, DatePerhapsTime, Event, Property};

/// A moment as an entry has it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Moment {
    /// A whole day.
    Day(NaiveDate),
    /// A time on the clock of the entry's own zone, and of the class's.
    Time {
        /// As it is written.
        own: NaiveDateTime,
        /// In the class's zone.
        here: NaiveDateTime,
    },
}

impl Moment {
    fn of(property: &Property, zone: Tz) -> Option<Self> {
        Some(match DatePerhapsTime::from_property(property)? {
            DatePerhapsTime::Date(day) => Self::Day(day),
            DatePerhapsTime::DateTime(CalendarDateTime::Utc(moment)) => {
                Self::Time { own: moment.naive_utc(), here: moment.with_timezone(&zone).naive_local() }
            }
            DatePerhapsTime::DateTime(CalendarDateTime::Floating(own)) => Self::Time { own, here: own },
            // A zone with a name of its maker's own is taken for the school's.
            DatePerhapsTime::DateTime(CalendarDateTime::WithTimezone { date_time: own, tzid }) => {
                let named = tzid.trim_matches('"').parse::<Tz>().ok();
                let moment = named.and_then(|named| own.and_local_timezone(named).earliest());
                Self::Time { own, here: moment.map_or(own, |moment| moment.with_timezone(&zone).naive_local()) }
            }
        })
    }

    /// The day it lies on, in its own zone or in the class's.
    pub(super) fn day(self, by_own: bool) -> NaiveDate {
        match self {
            Self::Day(day) => day,
            Self::Time { own, here } => if by_own { own } else { here }.date(),
        }
    }
}

/// An entry that lies on whole days.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct WholeDays {
    /// Its first day, the first time.
    pub first: NaiveDate,
    /// How many days it takes each time, at least one.
    pub days: u64,
    /// Its days are those of its own clock and not of the class's.
    pub by_own: bool,
    /// How it repeats (RFC 5545, 3.3.10); `None`: not.
    pub rule: Option<String>,
    /// First days beside those of the rule.
    pub also: Vec<NaiveDate>,
    /// First days that are taken out.
    pub not: Vec<NaiveDate>,
}

/// What an entry is.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Kind {
    /// It lies on whole days.
    Whole(WholeDays),
    /// It has a time of day.
    Timed,
    /// When it begins cannot be read.
    Unreadable,
}

/// An entry as it was read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Read {
    /// What it is called.
    pub name: String,
    /// Its id, with which others speak of it.
    pub uid: String,
    /// It does not take place.
    pub cancelled: bool,
    /// It stands in place of the one of its id that would begin then.
    pub instead_of: Option<Moment>,
    /// What it is.
    pub kind: Kind,
}

/// What of an entry says when it is and what it is called; the rest may be written as it likes.
const READ: [&str; 12] = [
    "BEGIN",
    "END",
    "UID",
    "SUMMARY",
    "STATUS",
    "DTSTART",
    "DTEND",
    "DURATION",
    "RRULE",
    "RDATE",
    "EXDATE",
    "RECURRENCE-ID",
];

/// Reads an entry's lines; what cannot be read is [`Kind::Unreadable`] with whatever name it has.
pub fn read(block: &str, zone: Tz) -> Read {
    // A line without a colon would end the packaged parser; it says nothing.
    let is_read = |line: &str| line.contains(':') && READ.contains(&line.split([':', ';']).next().unwrap_or_default());
    let lines: String = block.split_inclusive('\n').filter(|line| is_read(line)).collect();
    let read = read_components(&lines).ok().and_then(|components| components.into_iter().next());
    match read.map(CalendarComponent::from) {
        Some(CalendarComponent::Event(event)) => of_event(&event, zone),
        _ => unreadable(&lines),
    }
}

fn unreadable(lines: &str) -> Read {
    let name = lines.lines().find_map(|line| line.strip_prefix("SUMMARY").and_then(|rest| rest.split_once(':')));
    Read {
        name: named(name.map(|(_, name)| name)),
        uid: String::new(),
        cancelled: false,
        instead_of: None,
        kind: Kind::Unreadable,
    }
}

/// So long may a name be, in characters.
const LONGEST_NAME: usize = 80;

fn named(summary: Option<&str>) -> String {
    let name: String = summary.unwrap_or_default().trim().chars().take(LONGEST_NAME).collect();
    if name.is_empty() { "day off".to_owned() } else { name }
}

fn of_event(event: &Event, zone: Tz) -> Read {
    let start = event.properties().get("DTSTART").and_then(|property| Moment::of(property, zone));
    let kind = match start {
        None => Kind::Unreadable,
        Some(start) => length(event, start, zone).map_or(Kind::Timed, |(by_own, days)| {
            Kind::Whole(WholeDays {
                first: start.day(by_own),
                days,
                by_own,
                rule: event.property_value("RRULE").map(ToOwned::to_owned),
                also: days_of(event, "RDATE", zone, by_own),
                not: days_of(event, "EXDATE", zone, by_own),
            })
        }),
    };
    let instead_of = event.properties().get("RECURRENCE-ID").and_then(|property| Moment::of(property, zone));
    Read {
        name: named(event.get_summary()),
        uid: event.property_value("UID").unwrap_or_default().trim().to_owned(),
        cancelled: event.property_value("STATUS") == Some("CANCELLED"),
        instead_of,
        kind,
    }
}

/// Whether days are counted by the entry's own clock, and how many whole days it takes; `None` where it has a time of day.
fn length(event: &Event, start: Moment, zone: Tz) -> Option<(bool, u64)> {
    let end = event.properties().get("DTEND").and_then(|property| Moment::of(property, zone));
    let lasts = event.property_value("DURATION").and_then(duration);
    let one = |days: i64| u64::try_from(days.max(1)).unwrap_or(1);
    match (start, end) {
        (Moment::Day(first), Some(end)) => Some((false, one((end.day(false) - first).num_days()))),
        (Moment::Day(_), None) => Some((false, one(lasts.map_or(1, |lasts| lasts.num_days())))),
        (Moment::Time { own, here }, end) => {
            let end_of = |start: NaiveDateTime, by_own: bool| match end {
                Some(Moment::Time { own, here }) => Some(if by_own { own } else { here }),
                Some(Moment::Day(day)) => Some(day.and_time(NaiveTime::MIN)),
                None => start.checked_add_signed(lasts?),
            };
            // Midnights of the school first; some programs write whole days as midnights of Greenwich.
            [(false, here), (true, own)]
                .into_iter()
                .find_map(|(by_own, start)| Some((by_own, whole_days(start, end_of(start, by_own)?)?)))
        }
    }
}

/// How many days lie between two midnights; the last minute of a day counts as the midnight after it.
fn whole_days(start: NaiveDateTime, end: NaiveDateTime) -> Option<u64> {
    let late = end.time().hour() == 23 && end.time().minute() == 59;
    let end = if late { end.date().checked_add_days(Days::new(1))?.and_time(NaiveTime::MIN) } else { end };
    let midnights = start.time() == NaiveTime::MIN && end.time() == NaiveTime::MIN;
    u64::try_from((end - start).num_days()).ok().filter(|days| midnights && *days > 0)
}

/// How long something lasts (RFC 5545, 3.3.6), such as `P1W` or `P1DT12H`.
fn duration(text: &str) -> Option<TimeDelta> {
    let duration: std::time::Duration = text.trim().trim_start_matches('+').parse::<iso8601::Duration>().ok()?.into();
    TimeDelta::from_std(duration).ok()
}

/// The first days that properties of a name list, in one or more of them.
fn days_of(event: &Event, name: &str, zone: Tz, by_own: bool) -> Vec<NaiveDate> {
    let single = event.properties().get(name);
    let properties = single.into_iter().chain(event.multi_properties().get(name).into_iter().flatten());
    let each = properties.flat_map(|property| {
        // A period's beginning is what counts: how long it is, the entry says.
        let values = property.value().split(',').map(|value| value.split('/').next().unwrap_or_default().trim());
        values.filter_map(|value| {
            let mut one = Property::new(name, value);
            if let Some(tzid) = property.params().get("TZID") {
                one.add_parameter("TZID", tzid.value());
            }
            Some(Moment::of(&one.done(), zone)?.day(by_own))
        })
    });
    each.collect()
}
