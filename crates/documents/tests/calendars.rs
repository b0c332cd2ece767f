//! Calendars in and out.

use bright_row_documents::ical::{DaysOff, Entry, Span, Why, calendar, days_off};
use chrono::{Days, NaiveDate};
use proptest::prelude::*;

fn day(text: &str) -> NaiveDate {
    text.parse().expect("a date")
}

/// A school year in a zone an hour or two before Greenwich.
fn year() -> Span {
    Span { first: day("2026-09-01"), last: day("2027-06-30"), zone: chrono_tz::Europe::Vienna }
}

/// What a calendar of these entries says, a line a day, then what was left out.
fn said(entries: &str) -> Vec<String> {
    said_of(
        format!("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//A school//EN\r\n{entries}END:VCALENDAR\r\n").as_bytes(),
    )
}

fn said_of(file: &[u8]) -> Vec<String> {
    let found = days_off(file, &year()).expect("a calendar");
    let days = found.days.iter().map(|(day, name)| format!("{day} {name}"));
    let left = found.left_out.iter().map(|left| format!("{:?}: {}", left.why, left.name));
    days.chain(left).collect()
}

/// An entry of these lines.
fn event(lines: &[&str]) -> String {
    format!("BEGIN:VEVENT\r\nSUMMARY:Off\r\n{}\r\nEND:VEVENT\r\n", lines.join("\r\n"))
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
    insta::assert_snapshot!(said_of(SCHOOL.as_bytes()).join("\n"));
}

/// Sixty files in the manner of three makers: folded lines and a zone's rules, small letters and bare line feeds, UTF-16 or bare
/// carriage returns.
#[test]
fn files_of_three_makers_say_the_same_days() {
    let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/calendars");
    let mut by_case: std::collections::BTreeMap<String, Vec<Vec<String>>> = std::collections::BTreeMap::new();
    for file in std::fs::read_dir(folder).expect("the folder") {
        let path = file.expect("a file").path();
        let name = path.file_stem().expect("a name").to_string_lossy().into_owned();
        let (_, case) = name.split_once('-').expect("maker and case");
        by_case.entry(case.to_owned()).or_default().push(said_of(&std::fs::read(&path).expect("bytes")));
    }
    let mut all = String::new();
    for (case, said) in by_case {
        assert!(said.len() == 3 && said.iter().all(|one| *one == said[0]), "{case}: {said:?}");
        all += &format!("{case}\n  {}\n", said[0].join("\n  "));
    }
    insta::assert_snapshot!(all);
}

#[test]
fn whole_days_are_recognised_however_they_are_written() {
    for lines in [
        &["DTSTART;VALUE=DATE:20261204"][..],
        &["DTSTART:20261204"],
        &["DTSTART;VALUE=DATE:20261204", "DTEND;VALUE=DATE:20261204"],
        &["DTSTART;VALUE=DATE:20261204", "DURATION:P1D"],
        &["X-MADE;=;:by hand", "ATTENDEE;CN=\"A: B\";;:x", "DTSTART;VALUE=DATE:20261204"],
        &["dtstart;value=date:20261204", "duration:p1d"],
        &["DTSTART:20261204T000000", "DTEND:20261205T000000"],
        &["DTSTART:20261204T000000", "DTEND:20261204T235900"],
        &["DTSTART:20261204T000000", "DURATION:PT24H"],
        // Midnights of the school, written in Greenwich time, and those of Greenwich.
        &["DTSTART:20261203T230000Z", "DTEND:20261204T230000Z"],
        &["DTSTART:20261204T000000Z", "DTEND:20261205T000000Z"],
        &["DTSTART;TZID=Europe/Vienna:20261204T000000", "DTEND;TZID=Europe/Vienna:20261204T235959"],
        // A zone under a name of its maker's own, and one elsewhere.
        &["DTSTART;TZID=\"School time\":20261204T000000", "DTEND;TZID=\"School time\":20261205T000000"],
        &["DTSTART;TZID=Asia/Tokyo:20261204T000000", "DTEND;TZID=Asia/Tokyo:20261205T000000"],
    ] {
        assert_eq!(said(&event(lines)), ["2026-12-04 Off"], "{lines:?}");
    }
    for lines in [
        &["DTSTART:20261204T080000", "DTEND:20261204T120000"][..],
        &["DTSTART:20261204T000000"],
        &["DTSTART:20261204T000000", "DTEND:20261204T120000"],
        &["DTSTART:20261204T000000", "DTEND:20261203T000000"],
    ] {
        assert_eq!(said(&event(lines)), ["Timed: Off"], "{lines:?}");
    }
}

#[test]
fn what_repeats_takes_place_on_each_of_its_days_and_on_no_other() {
    for (lines, days) in [
        (&["DTSTART;VALUE=DATE:20201215", "RRULE:FREQ=YEARLY"][..], &["2026-12-15"][..]),
        (&["DTSTART;VALUE=DATE:20261204", "RRULE:FREQ=WEEKLY;COUNT=3"], &["2026-12-04", "2026-12-11", "2026-12-18"]),
        (&["DTSTART;VALUE=DATE:20261204", "RRULE:FREQ=WEEKLY;UNTIL=20261211"], &["2026-12-04", "2026-12-11"]),
        (&["DTSTART;VALUE=DATE:20261204", "rrule:freq=weekly;until=20261210T230000Z"], &["2026-12-04", "2026-12-11"]),
        // The first time of all is taken out, and one in the middle.
        (
            &["DTSTART;VALUE=DATE:20261204", "RRULE:FREQ=WEEKLY;COUNT=3", "EXDATE;VALUE=DATE:20261204,20261211"],
            &["2026-12-18"],
        ),
        (
            &["DTSTART;VALUE=DATE:20261204", "RRULE:FREQ=WEEKLY;COUNT=3", "EXDATE:20261204", "EXDATE:20261218"],
            &["2026-12-11"],
        ),
        (
            &["DTSTART;VALUE=DATE:20261204", "RDATE;VALUE=DATE:20261207,20270111"],
            &["2026-12-04", "2026-12-07", "2027-01-11"],
        ),
        (&["DTSTART;VALUE=DATE:20261204", "RDATE;VALUE=PERIOD:20261207T000000/P1D"], &["2026-12-04", "2026-12-07"]),
        (&["DTSTART;VALUE=DATE:20250401", "RRULE:FREQ=MONTHLY;BYDAY=-1FR;BYMONTH=12"], &["2026-12-25"]),
        // Three days each time, the last of them after the class's last day.
        (&["DTSTART;VALUE=DATE:20260629", "DURATION:P3D", "RRULE:FREQ=YEARLY"], &["2027-06-29", "2027-06-30"]),
        (
            &["DTSTART:20261204T000000Z", "DURATION:P1D", "RRULE:FREQ=DAILY;COUNT=2", "EXDATE:20261205T000000Z"],
            &["2026-12-04"],
        ),
    ] {
        let wanted: Vec<String> = days.iter().map(|day| format!("{day} Off")).collect();
        assert_eq!(said(&event(lines)), wanted, "{lines:?}");
    }
    for rule in ["FREQ=FORTNIGHTLY", "FREQ=SECONDLY", "FREQ=DAILY;BYHOUR=1,2", "FREQ=DAILY;INTERVAL=0;UNTIL=soon"] {
        let lines = ["DTSTART;VALUE=DATE:20261204", &format!("RRULE:{rule}")];
        assert_eq!(said(&event(&lines)), ["2026-12-04 Off", "Rule: Off"], "{rule}");
    }
}

#[test]
fn one_time_of_what_repeats_is_moved_or_called_off() {
    let weekly = event(&["UID:1", "DTSTART;VALUE=DATE:20261204", "RRULE:FREQ=WEEKLY;COUNT=3"]);
    let moved = event(&["UID:1", "RECURRENCE-ID;VALUE=DATE:20261211", "DTSTART;VALUE=DATE:20261214"]);
    assert_eq!(said(&format!("{weekly}{moved}")), ["2026-12-04 Off", "2026-12-14 Off", "2026-12-18 Off"]);
    let off = event(&["UID:1", "RECURRENCE-ID;VALUE=DATE:20261211", "DTSTART;VALUE=DATE:20261211", "STATUS:cancelled"]);
    assert_eq!(said(&format!("{off}{weekly}")), ["2026-12-04 Off", "2026-12-18 Off", "Cancelled: Off"]);
}

#[test]
fn a_day_of_greenwich_is_moved_by_its_own_clock_also_far_in_the_west() {
    let daily = event(&["UID:1", "DTSTART:20261201T000000Z", "DURATION:P1D", "RRULE:FREQ=DAILY;COUNT=3"]);
    let off = event(&["UID:1", "RECURRENCE-ID:20261202T000000Z", "DTSTART:20261202T000000Z", "STATUS:CANCELLED"]);
    let file = format!("BEGIN:VCALENDAR\r\n{daily}{off}END:VCALENDAR\r\n");
    let west = Span { zone: chrono_tz::America::Los_Angeles, ..year() };
    let days: Vec<NaiveDate> = days_off(file.as_bytes(), &west).expect("a calendar").days.into_keys().collect();
    assert_eq!(days, [day("2026-12-01"), day("2026-12-03")]);
}

#[test]
fn midnights_are_those_of_the_zone_that_a_calendar_says_it_is_of() {
    let entry = event(&["DTSTART:20261203T150000Z", "DTEND:20261204T150000Z"]);
    assert_eq!(said(&entry), ["Timed: Off"]);
    assert_eq!(said(&format!("X-WR-TIMEZONE:Asia/Tokyo\r\n{entry}")), ["2026-12-04 Off"]);
}

#[test]
fn nothing_is_left_out_without_a_word() {
    for (lines, why) in [
        (&["DTSTART;VALUE=DATE:20261204", "STATUS:CANCELLED"][..], Why::Cancelled),
        (&["DTSTART;VALUE=DATE:2026-12-04"], Why::Unreadable),
        (&["DTSTART;VALUE=DATE:20261304"], Why::Unreadable),
        (&["DTEND;VALUE=DATE:20261204"], Why::Unreadable),
        (&["DTSTART;VALUE=DATE:20260901", "DTEND;VALUE=DATE:20270701"], Why::Long),
    ] {
        assert_eq!(said(&event(lines)), [format!("{why:?}: Off")], "{lines:?}");
    }
    // At the ends of time there is no day after and no other zone.
    for end in ["+2621421231T235959", "+2621421231T235959Z", "-2621430101T000000Z"] {
        let (start, until) = (format!("DTSTART:{end}"), format!("RRULE:FREQ=DAILY;UNTIL={end}"));
        assert_eq!(said(&event(&[&start, &format!("DTEND:{end}")])), ["Unreadable: Off"], "{end}");
        let first = "DTSTART;VALUE=DATE:20261204";
        let _ = said(&event(&[first, &until, &format!("EXDATE:{end}"), &format!("RECURRENCE-ID:{end}")]));
    }
    for days in ["P95744000D", "P4294967295W", "P95443717DT23H59M"] {
        let _ = said(&event(&["DTSTART:20261204T000000", &format!("DURATION:{days}")]));
    }
    // One that is broken leaves the others as they are.
    let broken = "BEGIN:VEVENT\r\nSUMMARY:Broken\r\nDTSTART;=:;:\r\nno line at all\r\nEND:VEVENT\r\n";
    let whole = event(&["DTSTART;VALUE=DATE:20261204"]);
    assert_eq!(said(&format!("{broken}{whole}")), ["2026-12-04 Off", "Unreadable: Broken"]);
    let both =
        format!("BEGIN:VCALENDAR\r\nMETHOD:CANCEL\r\n{whole}END:VCALENDAR\r\nBEGIN:VCALENDAR\r\n{whole}END:VCALENDAR");
    assert_eq!(said_of(both.as_bytes()), ["2026-12-04 Off", "Cancelled: Off"]);
}

#[test]
fn what_is_no_calendar_says_so() {
    assert!(days_off(b"Name,Instrument\nAda K.,violin\n", &year()).is_err());
    assert_eq!(days_off(b"BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n", &year()), Ok(DaysOff::default()));
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
        let span = Span { last: day("2027-12-31"), ..year() };
        let found = days_off(text.as_bytes(), &span).expect("a calendar");
        let lines: Vec<_> = found.days.into_iter().collect();
        let wanted: Vec<_> = entries.into_iter().map(|entry| (entry.day, entry.summary)).collect();
        prop_assert_eq!(lines, wanted);
    }

    #[test]
    fn weeks_come_as_often_as_they_are_counted(start in 0_u64..250, count in 1_u64..12, every in 1_u64..5, out in 0_u64..12) {
        let first = day("2026-09-01") + Days::new(start);
        let times = (0..count).map(|time| first + Days::new(7 * every * time));
        let without = first + Days::new(7 * every * out);
        let wanted: Vec<String> = times
            .filter(|day| *day != without && *day <= year().last)
            .map(|day| format!("{day} Off"))
            .collect();
        let lines = [
            format!("DTSTART;VALUE=DATE:{}", first.format("%Y%m%d")),
            format!("RRULE:FREQ=WEEKLY;INTERVAL={every};COUNT={count}"),
            format!("EXDATE;VALUE=DATE:{}", without.format("%Y%m%d")),
        ];
        prop_assert_eq!(said(&event(&lines.each_ref().map(String::as_str))), wanted);
    }

    #[test]
    fn no_text_makes_it_stumble(text in "(BEGIN:VEVENT|DTSTART|RRULE:FREQ=|YEARLY;|BY(MONTH|DAY|SETPOS|WEEKNO)=-?[0-9]{1,4};|EXDATE|;VALUE=DATE|:2026|\\r\\n|END|[ -~\u{e9}]){0,40}") {
        let _ = days_off(text.as_bytes(), &year());
        let _ = days_off(format!("BEGIN:VCALENDAR\r\n{text}\r\nEND:VCALENDAR\r\n").as_bytes(), &year());
        let rule = event(&["DTSTART;VALUE=DATE:20261204", &format!("RRULE:FREQ=YEARLY;{text}")]);
        let _ = said(&rule);
    }
}
