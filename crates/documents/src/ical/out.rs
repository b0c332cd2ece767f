//! Meetings and what is due as an iCalendar file.

use chrono::{Days, NaiveDate};
use icalendar::{Calendar, Component, Event, EventLike};

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
        // How often a calendar that subscribes asks anew (RFC 7986, 5.7, and what was there before it).
        ("REFRESH-INTERVAL;VALUE=DURATION", "PT6H"),
        ("X-PUBLISHED-TTL", "PT6H"),
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
    use crate::ical::{Span, days_off};

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
        let span = Span { first: day, last: day, zone: chrono_tz::UTC };
        let read = days_off(written.as_bytes(), &span).expect("it is read back");
        assert_eq!(read.days.into_iter().collect::<Vec<_>>(), [(day, "Meeting".to_owned())]);
    }
}
