//! Calendars in and out.

use bright_row_documents::ical::{DaysOff, Entry, calendar, days_off};
use chrono::{Days, NaiveDate};
use proptest::prelude::*;

fn day(text: &str) -> NaiveDate {
    text.parse().expect("a date")
}

const SCHOOL: &str = "BEGIN:VCALENDAR\r
VERSION:2.0\r
PRODID:-//A school//EN\r
BEGIN:VEVENT\r
UID:1\r
SUMMARY:Autumn break\r
DTSTART;VALUE=DATE:20261026\r
DTEND;VALUE=DATE:20261031\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:2\r
SUMMARY:Staff day\\, no\r
 \x20lessons\r
DTSTART;VALUE=DATE:20261204\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:3\r
SUMMARY:Parents' evening\r
DTSTART:20261203T180000Z\r
DTEND:20261203T200000Z\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:4\r
SUMMARY:Founders' day\r
DTSTART;VALUE=DATE:20261215\r
RRULE:FREQ=YEARLY\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:5\r
SUMMARY:Election\r
DTSTART:20261216T000000\r
DTEND:20261217T000000\r
END:VEVENT\r
END:VCALENDAR\r
";

#[test]
fn whole_days_are_taken_with_their_names_and_the_rest_is_told() {
    let found = days_off(SCHOOL).expect("a calendar");
    let days: Vec<_> = found.days.iter().map(|(day, name)| format!("{day} {name}")).collect();
    insta::assert_snapshot!(days.join("\n"));
    assert_eq!(found.timed, ["Parents' evening"]);
    assert_eq!(found.repeating, ["Founders' day"]);
}

#[test]
fn what_is_no_calendar_says_so() {
    assert!(days_off("Name,Instrument\nAda K.,violin\n").is_err());
    assert_eq!(days_off("BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n"), Ok(DaysOff::default()));
}

#[test]
fn meetings_leave_as_whole_days_under_lasting_ids() {
    let entry = Entry {
        uid: "meeting-20@bright-row".to_owned(),
        day: day("2026-11-24"),
        summary: "Tuesday strings, meeting 20".to_owned(),
        description: "Due: 4 in Hold, 2 in Tapes; more".to_owned(),
    };
    let stamp = "2026-11-23T10:00:00Z".parse().expect("a moment");
    insta::assert_snapshot!(calendar("Tuesday strings", &[entry], stamp).replace('\r', ""));
}

proptest! {
    #[test]
    fn what_leaves_comes_in_again(days in prop::collection::btree_set(0_u64..400, 0..30)) {
        let first = day("2026-09-01");
        let entries: Vec<Entry> = days.iter().map(|ahead| Entry {
            uid: format!("{ahead}@bright-row"),
            day: first + Days::new(*ahead),
            summary: format!("Day; {ahead}, or so"),
            description: String::new(),
        }).collect();
        let text = calendar("A class", &entries, "2026-11-23T10:00:00Z".parse().expect("a moment"));
        let found = days_off(&text).expect("a calendar");
        let lines: Vec<_> = found.days.into_iter().collect();
        let wanted: Vec<_> = entries.into_iter().map(|entry| (entry.day, entry.summary)).collect();
        prop_assert_eq!(lines, wanted);
    }

    #[test]
    fn no_text_makes_it_stumble(text in "(BEGIN:VEVENT|DTSTART|;VALUE=DATE|:2026|\\r\\n|END|[ -~\u{e9}]){0,40}") {
        let _ = days_off(&text);
        let _ = days_off(&format!("BEGIN:VCALENDAR\r\n{text}\r\nEND:VCALENDAR\r\n"));
    }
}
