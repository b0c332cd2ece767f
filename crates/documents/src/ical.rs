//! iCalendar (RFC 5545): days off that come in, meetings and what is due that go out. All of it whole days: a class meets
//! on a day, when in it is the school's business.

use std::collections::BTreeMap;

use chrono::{Days, NaiveDate};
use icalendar::{Calendar, CalendarComponent, CalendarDateTime, Component, DatePerhapsTime, Event, EventLike};

/// The longest holiday that is taken as one, in days.
const MAX_DAYS_OF_EVENT: u64 = 120;

/// What a calendar says of days off.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct DaysOff {
    /// Each day with the first name it was given.
    pub days: BTreeMap<NaiveDate, String>,
    /// Names of entries with a time of day: the class may meet all the same.
    pub timed: Vec<String>,
    /// Names of entries that repeat: only their first time is taken.
    pub repeating: Vec<String>,
}

/// A text that is no calendar.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("this is not an iCalendar file: {0}")]
pub struct NotACalendar(String);

/// The whole days that a calendar names.
///
/// # Errors
/// [`NotACalendar`] with what could not be read.
pub fn days_off(text: &str) -> Result<DaysOff, NotACalendar> {
    let calendar: Calendar = text
        .trim_start_matches('\u{feff}')
        .parse()
        .map_err(|error: String| NotACalendar(error.lines().next().unwrap_or("it cannot be read").to_owned()))?;
    let mut found = DaysOff::default();
    let events = calendar.components.iter().filter_map(CalendarComponent::as_event);
    for event in events {
        let name = event.get_summary().unwrap_or("day off").trim().to_owned();
        let Some(start) = event.get_start() else { continue };
        let first = match start {
            DatePerhapsTime::Date(day) => day,
            DatePerhapsTime::DateTime(moment) if is_whole_day(event, &moment) => date_of(&moment),
            DatePerhapsTime::DateTime(_) => {
                found.timed.push(name);
                continue;
            }
        };
        if event.property_value("RRULE").is_some() {
            found.repeating.push(name.clone());
        }
        // The end is the first day that is not part of it any more.
        let end = match event.get_end() {
            Some(DatePerhapsTime::Date(day)) => day,
            Some(DatePerhapsTime::DateTime(moment)) => date_of(&moment),
            None => first + Days::new(1),
        };
        let last = end.max(first + Days::new(1)).min(first + Days::new(MAX_DAYS_OF_EVENT));
        for day in first.iter_days().take_while(|day| *day < last) {
            found.days.entry(day).or_insert_with(|| name.clone());
        }
    }
    Ok(found)
}

fn date_of(moment: &CalendarDateTime) -> NaiveDate {
    match moment {
        CalendarDateTime::Floating(moment) => moment.date(),
        CalendarDateTime::Utc(moment) => moment.date_naive(),
        CalendarDateTime::WithTimezone { date_time, .. } => date_time.date(),
    }
}

/// Some programs write a whole day from midnight to midnight.
fn is_whole_day(event: &Event, start: &CalendarDateTime) -> bool {
    let midnight = |moment: &CalendarDateTime| match moment {
        CalendarDateTime::Floating(moment) => moment.time() == chrono::NaiveTime::MIN,
        CalendarDateTime::Utc(moment) => moment.time() == chrono::NaiveTime::MIN,
        CalendarDateTime::WithTimezone { date_time, .. } => date_time.time() == chrono::NaiveTime::MIN,
    };
    let Some(DatePerhapsTime::DateTime(end)) = event.get_end() else { return false };
    midnight(start) && midnight(&end) && date_of(&end) > date_of(start)
}

/// A day of the class.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Entry {
    /// The same for the same entry, so that reading it again replaces it.
    pub uid: String,
    /// Which day.
    pub day: NaiveDate,
    /// One line.
    pub summary: String,
    /// More; empty for nothing.
    pub description: String,
}

/// A calendar of whole days, as calendars subscribe to it. It names no child: calendars travel.
#[must_use]
pub fn calendar(name: &str, entries: &[Entry], stamp: chrono::DateTime<chrono::Utc>) -> String {
    let mut calendar = Calendar::new();
    calendar.name(name).append_property(("PRODID", "-//Bright Row//EN"));
    for entry in entries {
        let mut event = Event::new();
        event.uid(&entry.uid).timestamp(stamp).starts(entry.day).ends(entry.day + Days::new(1)).summary(&entry.summary);
        if !entry.description.is_empty() {
            event.description(&entry.description);
        }
        calendar.push(event.done());
    }
    calendar.done().to_string()
}
