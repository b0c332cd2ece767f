//! iCalendar (RFC 5545): days off that come in, meetings and what is due that go out. All of it whole days: a class meets
//! on a day, when in it is the school's business.

use std::collections::BTreeMap;

use bright_row_core::day::Day;
use chrono::{Days, NaiveDate};
use icalendar::{Calendar, CalendarComponent, CalendarDateTime, Component, DatePerhapsTime, Event, EventLike};

/// The longest holiday that is taken as one, in days.
const MAX_DAYS_OF_EVENT: u64 = 120;
/// The largest calendar read, in bytes.
pub const LARGEST_CALENDAR: usize = 1024 * 1024;
/// The longest line, in bytes, with those that go on it.
const LONGEST_LINE: usize = 8 * 1024;
/// The most entries read.
const MAX_ENTRIES: usize = 5_000;
/// How deep parts of a calendar may lie in each other: an alarm in an event in a calendar is three.
const MAX_DEPTH: usize = 8;

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

/// Looks at how parts begin and end before anything is parsed: the parser calls itself for each part within another.
///
/// # Errors
/// [`NotACalendar`] for a text that is too large, has too many parts or lies too deep.
fn check_shape(text: &str) -> Result<(), NotACalendar> {
    let not = |why: String| Err(NotACalendar(why));
    if text.len() > LARGEST_CALENDAR {
        return not(format!("it is larger than {} MB", LARGEST_CALENDAR / 1024 / 1024));
    }
    // A line that begins with a space goes on the one before.
    let unfolded: String = text.replace("\r\n", "\n").replace("\n ", "").replace("\n\t", "");
    let (mut depth, mut parts) = (0_usize, 0_usize);
    for line in unfolded.split(['\n', '\r']) {
        if line.len() > LONGEST_LINE {
            return not(format!("it has a line longer than {LONGEST_LINE} characters"));
        }
        let word = line.trim_start().split([':', ';']).next().unwrap_or_default().trim_end();
        if word.eq_ignore_ascii_case("BEGIN") {
            (depth, parts) = (depth + 1, parts + 1);
        } else if word.eq_ignore_ascii_case("END") {
            depth = depth.saturating_sub(1);
        }
        if depth > MAX_DEPTH {
            return not(format!("its parts lie more than {MAX_DEPTH} deep in each other"));
        }
        if parts > MAX_ENTRIES {
            return not(format!("it has more than {MAX_ENTRIES} entries"));
        }
    }
    Ok(())
}

/// The whole days that a calendar names.
///
/// # Errors
/// [`NotACalendar`] with what could not be read.
pub fn days_off(text: &str) -> Result<DaysOff, NotACalendar> {
    let text = text.trim_start_matches('\u{feff}');
    check_shape(text)?;
    let calendar: Calendar = text
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
        if Day::try_from(first).is_err() {
            continue;
        }
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

/// A value of the type TEXT (RFC 5545, 3.3.11): the packaged writer escapes only those of properties that it knows.
fn text(value: &str) -> String {
    value.replace('\\', r"\\").replace(',', r"\,").replace(';', r"\;").replace(['\n', '\r'], " ")
}

/// A calendar of whole days, as calendars subscribe to it. It names no child: calendars travel.
#[must_use]
pub fn calendar(name: &str, entries: &[Entry], stamp: chrono::DateTime<chrono::Utc>) -> String {
    // Each property once: strict readers refuse a second PRODID.
    let mut calendar = Calendar::empty();
    let name = text(name);
    for (key, value) in [
        ("VERSION", "2.0"),
        ("PRODID", "-//Bright Row//EN"),
        ("CALSCALE", "GREGORIAN"),
        ("NAME", &name),
        ("X-WR-CALNAME", &name),
    ] {
        calendar.append_property((key, value));
    }
    for entry in entries {
        let mut event = Event::new();
        // A lesson does not fill the day: whoever has it stays free.
        event.append_property(("TRANSP", "TRANSPARENT"));
        event.uid(&entry.uid).timestamp(stamp).starts(entry.day).ends(entry.day + Days::new(1)).summary(&entry.summary);
        if !entry.description.is_empty() {
            event.description(&entry.description);
        }
        calendar.push(event.done());
    }
    calendar.done().to_string()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_property_stands_once_and_a_name_stays_a_name() {
        let day: NaiveDate = "2026-11-30".parse().expect("a date");
        let stamp = day.and_time(chrono::NaiveTime::MIN).and_utc();
        let entry = Entry { uid: "a@b".to_owned(), day, summary: "Meeting".to_owned(), description: String::new() };
        let written = calendar("Strings, second; year\\ \r\nEND:VCALENDAR", &[entry], stamp);
        for once in ["PRODID", "VERSION", "NAME", "X-WR-CALNAME", "END:VCALENDAR", "TRANSP"] {
            assert_eq!(written.lines().filter(|line| line.starts_with(once)).count(), 1, "{once}: {written}");
        }
        let named = r"NAME:Strings\, second\; year\\   END:VCALENDAR";
        assert!(written.lines().any(|line| line == named), "{written}");
        let read = days_off(&written).expect("it is read back");
        assert_eq!(read.days.into_iter().collect::<Vec<_>>(), [(day, "Meeting".to_owned())]);
    }
}
