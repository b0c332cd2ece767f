//! Files as somebody would send them to end or starve the process: no bytes make a reader fall, take more memory than a stated
//! budget, or keep it for long.

use std::fmt::Write as _;
use std::io::Write;
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use bright_row_documents::bundle;
use bright_row_documents::ical::{Span, days_off};
use bright_row_documents::reading::Reading;
use bright_row_documents::table::{Bounds, How, LARGEST, TableError, read, read_file};
use bright_row_documents::tune;
use peak_alloc::PeakAlloc;
use proptest::prelude::*;
use zip::write::SimpleFileOptions;

#[global_allocator]
static MEMORY: PeakAlloc = PeakAlloc;
/// Held from before a test puts its files together until it is done with them: the memory counted is everybody's, and files of one
/// test must not count as what a reader took in another.
static TURN: Mutex<()> = Mutex::new(());

fn turn() -> MutexGuard<'static, ()> {
    TURN.lock().unwrap_or_else(PoisonError::into_inner)
}

/// What a reader may take beside the file itself, in MB: a table of half a million cells, and what a calendar's parser keeps.
const BUDGET_MB: f32 = 400.0;
/// Far longer than any of them needs, also without optimisation beside other tests.
const LONGEST: Duration = Duration::from_secs(20);

fn year() -> Span {
    let day = |text: &str| text.parse().expect("a date");
    Span { first: day("2026-09-01"), last: day("2027-06-30"), zone: chrono_tz::Europe::Vienna }
}

/// Every reader of a file, on these bytes, in a test that has its turn.
fn read_by_all(_turn: &MutexGuard<'_, ()>, bytes: &[u8], what: &str) {
    let readers: [(&str, &dyn Fn()); 4] = [
        ("table", &|| drop(read(bytes))),
        ("bundle", &|| drop(bundle::read(bytes, year().first, None, &Reading::default()))),
        ("calendar", &|| drop(days_off(bytes, &year()))),
        ("tune", &|| drop(tune::read(bytes))),
    ];
    for (reader, call) in readers {
        MEMORY.reset_peak_usage();
        let (before, begun) = (MEMORY.current_usage_as_mb(), Instant::now());
        call();
        let (taken, time) = (MEMORY.peak_usage_as_mb() - before, begun.elapsed());
        assert!(taken < BUDGET_MB, "{reader} took {taken} MB for {what}");
        assert!(time < LONGEST, "{reader} took {time:?} for {what}");
    }
}

fn zipped(files: &[(&str, Vec<u8>)]) -> Vec<u8> {
    let mut zip = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, bytes) in files {
        zip.start_file(*name, SimpleFileOptions::default()).expect("a file begins");
        zip.write_all(bytes).expect("bytes are written");
    }
    zip.finish().expect("a zip").into_inner()
}

/// The bytes with one name of a file put in the place of another of the same length: a writer of zips refuses the same twice.
fn renamed(bytes: &[u8], from: &str, to: &str) -> Vec<u8> {
    assert_eq!(from.len(), to.len());
    let mut bytes = bytes.to_vec();
    for at in 0..bytes.len() - from.len() {
        if bytes[at..].starts_with(from.as_bytes()) {
            bytes[at..at + to.len()].copy_from_slice(to.as_bytes());
        }
    }
    bytes
}

#[test]
fn parts_in_parts_of_a_calendar_end_nothing() {
    let turn = turn();
    let nested = |depth: usize, end: &str| {
        format!("BEGIN:VCALENDAR\n{}{}END:VCALENDAR\n", "BEGIN:X\n".repeat(depth), end.repeat(depth))
    };
    let repeating = |rule: &str, first: &str| {
        let entry = format!("BEGIN:VEVENT\nDTSTART;VALUE=DATE:{first}\nRRULE:{rule}\nEND:VEVENT\n");
        format!("BEGIN:VCALENDAR\n{}END:VCALENDAR\n", entry.repeat(4_900))
    };
    let all = |many: usize| (0..many).map(|one| one.to_string()).collect::<Vec<_>>().join(",");
    let within_a_day = format!("FREQ=DAILY;BYHOUR={};BYMINUTE={};BYSECOND={}", all(24), all(60), all(60));
    for (what, text) in [
        ("nested parts", nested(2_000, "END:X\n")),
        ("nested parts without an end", nested(200_000, "")),
        ("folded beginnings", nested(5_000, "END:X\n").replace("BEGIN:X", "BEG\r\n IN:X")),
        ("beginnings in small letters", nested(5_000, "end:x\n").to_lowercase()),
        ("beginnings with parameters", nested(5_000, "").replace("BEGIN:X", "BEGIN;A=1:X")),
        ("ends of other parts", nested(5_000, "").replace("BEGIN:X\n", "BEGIN:X\nEND:Y\n")),
        ("one part after the other", nested(1, "").repeat(100_000)),
        ("rules without a day", repeating("FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30", "19700101")),
        ("rules with a day in four years", repeating("FREQ=DAILY;BYMONTH=2;BYMONTHDAY=29", "19700101")),
        ("rules of every day", repeating("FREQ=DAILY", "19700101")),
        ("rules of every second", repeating("FREQ=SECONDLY", "19700101")),
        ("rules with every second of a day", repeating(&within_a_day, "20260901")),
        ("rules of a place in a year", repeating("FREQ=YEARLY;BYDAY=MO,TU,WE,TH,FR,SA,SU;BYSETPOS=-366", "19700101")),
        ("a line of parameters", format!("BEGIN:VCALENDAR\nX{}:1\nEND:VCALENDAR\n", ";A=1".repeat(200_000))),
        (
            "a far day",
            "BEGIN:VCALENDAR\nBEGIN:VEVENT\nDTSTART;VALUE=DATE:+2621421231\nEND:VEVENT\nEND:VCALENDAR\n".into(),
        ),
        (
            "the last day",
            "BEGIN:VCALENDAR\nBEGIN:VEVENT\nDTSTART;VALUE=DATE:99991231\nEND:VEVENT\nEND:VCALENDAR\n".into(),
        ),
    ] {
        read_by_all(&turn, text.as_bytes(), what);
    }
}

#[test]
fn tables_and_zips_that_are_far_larger_than_they_look_are_refused() {
    let turn = turn();
    let users = "sourcedId,givenName,familyName,role\nu1,";
    let long_cells = |length: usize| format!("{users}{0},{0},student\n", "x".repeat(length)).into_bytes();
    let classes = b"sourcedId,title\nc1,Strings\n".to_vec();
    let enrolments =
        |count: usize| format!("classSourcedId,userSourcedId,role\n{}", "c1,u1,student\n".repeat(count)).into_bytes();
    let many = |length, count| {
        let files = [
            ("users.csv", long_cells(length)),
            ("classes.csv", classes.clone()),
            ("enrollments.csv", enrolments(count)),
        ];
        zipped(&files)
    };
    read_by_all(&turn, &many(900_000, 19_999), "long cells joined many times");
    read_by_all(&turn, &many(900, 19_999), "one student in a class twenty thousand times");
    let words =
        |bytes: &[u8]| bundle::read(bytes, year().first, None, &Reading::default()).expect_err("refused").to_string();
    assert!(words(&many(900_000, 5)).contains("longer than"), "{}", words(&many(900_000, 5)));
    // Classes of one title that name a term of a long title over and over.
    let terms = format!("sourcedId,title\nt,{}\n", "x".repeat(990)).into_bytes();
    let alike =
        format!("sourcedId,title,termSourcedIds\n{}", format!("c,Strings,\"{}t\"\n", "t,".repeat(490)).repeat(7_000));
    let files = [
        ("users.csv", long_cells(9)),
        ("classes.csv", alike.into_bytes()),
        ("enrollments.csv", enrolments(5)),
        ("academicSessions.csv", terms),
    ];
    read_by_all(&turn, &zipped(&files), "classes of many terms");
    let names: Vec<String> = (10..70).map(|number| format!("use{number}.csv")).collect();
    let files: Vec<(&str, Vec<u8>)> = names.iter().map(|name| (name.as_str(), vec![b'\n'; LARGEST])).collect();
    let mut same = zipped(&files);
    for name in &names {
        same = renamed(&same, name, "users.csv");
    }
    read_by_all(&turn, &same, "sixty files of one name");
    read_by_all(&turn, ",".repeat(LARGEST).as_bytes(), "commas");
    read_by_all(
        &turn,
        format!("{}\n{}", "a,".repeat(200), "x\n".repeat(19_999)).as_bytes(),
        "short rows below many headings",
    );
    read_by_all(&turn, "\"".repeat(LARGEST).as_bytes(), "quotes");
    read_by_all(&turn, "a\n".repeat(LARGEST / 2).as_bytes(), "lines");
}

/// What a roster of a whole district may take beside its file, in MB.
const DISTRICT_BUDGET_MB: f32 = 150.0;

/// A table of two hundred thousand children, and the same as a bundle.
#[test]
fn a_district_is_read_within_its_budget() {
    let turn = turn();
    let mut table = "Student,First name,Grade,Student ID,Class,Teacher,Room\n".to_owned();
    let mut users = "sourcedId,status,enabledUser,role,identifier,givenName,familyName,grades,email\n".to_owned();
    let mut enrolments = "sourcedId,status,classSourcedId,userSourcedId,role,beginDate,endDate\n".to_owned();
    for child in 0..200_000 {
        let class = child / 25;
        writeln!(table, "Familyname{child},Given{child},4,N{child},Beginning Strings {class},T. Eacher,{class}")
            .expect("text");
        let id = format!("6f1c2c2e-0000-4000-8000-{child:012}");
        writeln!(users, "{id},active,true,student,N{child},Given{child},Familyname{child},04,{id}@d.example")
            .expect("text");
        writeln!(enrolments, "e{child},active,c{class},{id},student,2026-09-01,2027-06-30").expect("text");
    }
    let mut classes = "sourcedId,status,title,classCode\n".to_owned();
    for class in 0..8_000 {
        writeln!(classes, "c{class},active,Beginning Strings {class},{class}").expect("text");
    }
    let files = [("users.csv", users), ("classes.csv", classes), ("enrollments.csv", enrolments)];
    let zip = zipped(&files.map(|(name, text)| (name, text.into_bytes())));
    let within = |what: &str, call: &dyn Fn()| {
        MEMORY.reset_peak_usage();
        let before = MEMORY.current_usage_as_mb();
        call();
        let taken = MEMORY.peak_usage_as_mb() - before;
        assert!(taken < DISTRICT_BUDGET_MB, "{what} took {taken} MB");
    };
    within("the table", &|| {
        let reading = Reading::default();
        let how = How { letters: None, is_heading: &|_| false, bounds: Bounds::DISTRICT, reading: &reading };
        assert_eq!(read_file(table.as_bytes(), how).expect("a table").table.rows.len(), 200_000);
    });
    within("the bundle", &|| {
        let chosen = ["Beginning Strings 7".to_owned()].into();
        let bundle = bundle::read(&zip, year().first, Some(&chosen), &Reading::default()).expect("a bundle");
        assert_eq!((bundle.students.len(), bundle.classes.len()), (25, 8_000));
    });
    assert!(matches!(read(table.as_bytes()), Err(TableError::TooLarge(_) | TableError::TooManyRows(_))));
    drop(turn);
}

/// What a file of some kind is put together from.
fn pieces() -> impl Strategy<Value = Vec<u8>> {
    let piece = prop_oneof![
        prop::sample::select(vec![
            "BEGIN:VCALENDAR\n",
            "BEGIN:VEVENT\r\n",
            "END:VEVENT\n",
            "END:VCALENDAR\n",
            "DTSTART;VALUE=DATE:20261026\n",
            "SUMMARY:",
            "\n ",
            "RRULE:",
            ";",
            ",",
            "\"",
            "\t",
            "\r\n",
            "\u{feff}",
            "=1+1",
            "'",
            "\0",
            "PK\u{3}\u{4}",
            "sourcedId,",
        ])
        .prop_map(|text| text.as_bytes().to_vec()),
        prop::collection::vec(any::<u8>(), 0..40),
    ];
    let repeated = (piece, prop_oneof![Just(1_usize), 1..4_000_usize]).prop_map(|(piece, times)| piece.repeat(times));
    prop::collection::vec(repeated, 0..12).prop_map(|pieces| pieces.concat())
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    #[test]
    fn whatever_is_sent_is_read_or_refused_within_the_budget(bytes in pieces()) {
        let turn = turn();
        read_by_all(&turn, &bytes, "pieces of files");
        read_by_all(&turn, &zipped(&[("users.csv", bytes.clone()), ("classes.csv", bytes.clone())]), "pieces in a zip");
        let mut broken = zipped(&[("users.csv", bytes.clone()), ("enrollments.csv", bytes)]);
        let middle = broken.len() / 2;
        broken[middle] ^= 0x55;
        read_by_all(&turn, &broken, "a zip with a wrong byte");
    }
}

/// A spreadsheet as `OpenDocument` with this in its only sheet.
fn ods(rows: &str) -> Vec<u8> {
    let head = "<?xml version=\"1.0\"?><office:document-content><office:body><office:spreadsheet><table:table>";
    let content = format!("{head}{rows}</table:table></office:spreadsheet></office:body></office:document-content>");
    zipped(&[("content.xml", content.into_bytes())])
}

#[test]
fn sheets_that_claim_to_be_large_and_scores_that_unfold_are_refused_within_the_budget() {
    let turn = turn();
    let cell = "<table:table-cell table:number-columns-repeated=\"16384\" office:value-type=\"string\"><text:p>x</text:p></table:table-cell>";
    let row = format!("<table:table-row table:number-rows-repeated=\"1048576\">{cell}</table:table-row>");
    read_by_all(&turn, &ods(&row), "a cell that is repeated over the whole sheet");
    let empty = "<table:table-row table:number-rows-repeated=\"18446744073709551615\"/>".repeat(100_000);
    read_by_all(&turn, &ods(&empty), "empty rows beyond counting");
    let narrow = "<table:table-cell><text:p>x</text:p></table:table-cell>";
    let row = format!("<table:table-row>{}</table:table-row>", narrow.repeat(1_000_000));
    read_by_all(&turn, &ods(&row), "a row of a million cells");
    let spaces = "<text:s text:c=\"4000000000\"/>".repeat(100_000);
    let row =
        format!("<table:table-row><table:table-cell><text:p>{spaces}</text:p></table:table-cell></table:table-row>");
    read_by_all(&turn, &ods(&row), "spaces that are repeated");
    read_by_all(&turn, &ods(&"<table:table-row><table:table-cell>".repeat(500_000)), "cells within cells");

    let deep = format!("<score-partwise><part>{}", "<a>".repeat(300_000));
    read_by_all(&turn, deep.as_bytes(), "elements within elements");
    let mut entities = "<!ENTITY a0 \"aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa\">".to_owned();
    for number in 1..60 {
        entities += &format!("<!ENTITY a{number} \"{}\">", format!("&a{};", number - 1).repeat(10));
    }
    let bomb =
        format!("<?xml version=\"1.0\"?><!DOCTYPE s [{entities}]><score-partwise><part>&a59;</part></score-partwise>");
    read_by_all(&turn, bomb.as_bytes(), "entities of entities");
    let inside =
        format!("<!DOCTYPE s [<!ENTITY a \"{}\">]><score-partwise>&a;</score-partwise>", "<b>".repeat(300_000));
    read_by_all(&turn, inside.as_bytes(), "elements within elements in an entity");
    let container = b"<container><rootfiles><rootfile full-path=\"s.xml\"/></rootfiles></container>".to_vec();
    let score = format!("<score-partwise><part>{}</part></score-partwise>", " ".repeat(50_000_000)).into_bytes();
    let packed = zipped(&[("META-INF/container.xml", container.clone()), ("s.xml", score)]);
    read_by_all(&turn, &packed, "a packed score of 50 MB");
    read_by_all(&turn, &zipped(&[("META-INF/container.xml", container)]), "a container without its score");
    for music in ["z", "[", "(", "\"", "^", "D>", "-", "|", "{", "[K:D]", "D/", "D99999999999", "K:D\n"] {
        let abc = format!("X:1\nK:D\n{}", music.repeat(1_900_000 / music.len()));
        read_by_all(&turn, abc.as_bytes(), music);
    }
    let notes = "<note><rest/><duration>1</duration></note>".repeat(45_000);
    let score = format!("<score-partwise><part><measure>{notes}</measure></part></score-partwise>");
    read_by_all(&turn, score.as_bytes(), "as many notes as a file holds");
}
