//! Tables in and out: any reasonable shape is read, nothing runs in a spreadsheet, and no bytes make the readers fall.

use std::collections::BTreeSet;
use std::io::Write;

use bright_row_documents::bundle::{self, Bundle, BundleError, Student};
use bright_row_documents::csv_out::write;
use bright_row_documents::reading::Reading;
use bright_row_documents::table::{Bounds, How, LARGEST, Table, TableError, read, read_file};
use bright_row_documents::xlsx::{self, Cell, Sheet};
use proptest::prelude::*;
use zip::write::SimpleFileOptions;

fn cells(table: &Table) -> Vec<Vec<String>> {
    table.rows.iter().map(|row| row.cells.clone()).collect()
}

fn utf16(text: &str, observation: bool, little: bool) -> Vec<u8> {
    let begin = if observation { "\u{feff}" } else { "" };
    let units = begin.encode_utf16().chain(text.encode_utf16());
    units.flat_map(|unit| if little { unit.to_le_bytes() } else { unit.to_be_bytes() }).collect()
}

#[test]
fn every_usual_way_of_saving_a_table_reads_the_same() {
    let text = "Name,Instrument\r\nZoë Å.,viola\r\n";
    let windows = [&b"Name,Instrument\r\nZo\xeb \xc5.,viola\r\n"[..]].concat();
    let ways: Vec<Vec<u8>> = vec![
        text.into(),
        format!("\u{feff}{text}").into(),
        text.replace(',', ";").into(),
        text.replace(',', "\t").into(),
        text.replace("\r\n", "\n").into(),
        text.replace("Zoë Å.", "\"Zoë Å.\"").into(),
        utf16(text, true, true),
        utf16(text, true, false),
        utf16(text, false, true),
        windows,
    ];
    for (index, bytes) in ways.iter().enumerate() {
        let table = read(bytes).unwrap_or_else(|error| panic!("way {index}: {error}"));
        assert_eq!(table.headings, ["Name", "Instrument"], "way {index}");
        assert_eq!(cells(&table), [["Zoë Å.", "viola"]], "way {index}");
    }
}

#[test]
fn a_row_keeps_the_line_it_begins_on() {
    let table = read(b"Name;Note\r\nAda;\"two\r\nlines\"\r\n\r\n;;\r\nBen;x\r\n").expect("a table");
    assert_eq!(table.rows.iter().map(|row| row.line).collect::<Vec<_>>(), [2, 6]);
    assert_eq!(table.rows[0].cells[1], "two\nlines");
}

#[test]
fn short_and_long_rows_become_as_long_as_the_headings() {
    let table = read(b"A,B,C\n1\n1,2,3,4,5\n").expect("a table");
    assert_eq!(cells(&table), [["1", "", ""], ["1", "2", "3"]]);
}

#[test]
fn what_is_no_table_is_told_with_what_to_do() {
    let lines = |bytes: &[u8]| read(bytes).expect_err("no table").to_string();
    let wide = "x,".repeat(300);
    let long = format!("Name\n{}", "Ada\n".repeat(20_001));
    let all = [
        lines(b""),
        lines(b"PK\x03\x04rest"),
        lines(b"%PDF-1.7"),
        lines(b"Name\nAda\x00\n"),
        lines(wide.as_bytes()),
        lines(long.as_bytes()),
        lines(&vec![b'a'; LARGEST + 1]),
    ];
    insta::assert_snapshot!(all.join("\n"), @r"
    The file is empty. Save it again from the spreadsheet as CSV.
    This is not a text file but a zip or a spreadsheet. In the spreadsheet choose Save as, CSV.
    This is not a text file but a PDF. In the spreadsheet choose Save as, CSV.
    This is not a text file but something with null bytes in it. In the spreadsheet choose Save as, CSV.
    The file has more than 200 columns. Export only those that matter.
    The file has more than 20000 rows. Export only the children of this class.
    The file is larger than 8 MB. Export only the children's rows and columns.
    ");
}

#[test]
fn no_cell_that_leaves_runs_in_a_spreadsheet() {
    for run in ["=1+1", "+cmd", "-2+3", "@sum(a1)", "\t=1", " =HYPERLINK(\"x\")", "'=1"] {
        let written = String::from_utf8(write(&[vec![run.to_owned()]])).expect("text");
        let first = written.trim_start_matches('"').chars().next().expect("a cell");
        assert_eq!(first, '\'', "{run}: {written}");
    }
    assert_eq!(write(&[vec!["-3.5".to_owned(), "O'Dowd".to_owned()]]), b"-3.5,O'Dowd\r\n");
    // Where semicolons divide cells, what follows one in a cell is a cell of its own.
    let written = String::from_utf8(write(&[vec!["Ada;=1+1;-2; @x;fine".to_owned()]])).expect("text");
    assert_eq!(written, "Ada;'=1+1;-2;' @x;fine\r\n");
    assert_eq!(
        read(format!("Name,Note\r\n{}", written.replace("Ada", "Ada,x")).as_bytes()).expect("a table").rows[0].cells[1],
        "x;=1+1;-2; @x;fine"
    );
}

fn zipped(files: &[(&str, &str)]) -> Vec<u8> {
    let mut writer = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, text) in files {
        writer.start_file(*name, SimpleFileOptions::default()).expect("a file");
        writer.write_all(text.as_bytes()).expect("written");
    }
    writer.finish().expect("a zip").into_inner()
}

/// What a bundle says on a day of autumn.
fn of(bytes: &[u8]) -> Result<Bundle, BundleError> {
    bundle::read(bytes, "2026-11-03".parse().expect("a date"), None, &Reading::default())
}

/// Number, name and class of each student.
fn students_of(bundle: &Bundle) -> Vec<String> {
    let student =
        |student: &Student| format!("{} {} {}: {}", student.number, student.given, student.family, student.class);
    bundle.students.iter().map(student).collect()
}

const USERS: &str = "sourcedId,status,orgSourcedIds,role,username,givenName,familyName,grades,preferredFirstName\n\
u1,active,o1,student,ada,Adelaide,King,04,Ada\nu2,active,o1,student,ben,Ben,Otis,\"04,05\",\n\
u3,tobedeleted,o1,student,cy,Cy,Pine,04,\nu4,active,o1,teacher,lin,Ms,Lin,,\n";
const CLASSES: &str = "sourcedId,status,title\nc1,active,Beginning Violin\nc2,active,Beginning Cello\n";
const ENROLLMENTS: &str = "sourcedId,status,classSourcedId,userSourcedId,role\n\
e1,active,c1,u1,student\ne2,active,c2,u2,student\ne3,active,c1,u3,student\ne4,active,c1,u4,teacher\n\
e5,tobedeleted,c2,u1,student\n";

#[test]
fn a_bundle_tells_its_students_by_class_and_leaves_out_who_is_gone() {
    let whole = zipped(&[("users.csv", USERS), ("Export/classes.csv", CLASSES), ("enrollments.csv", ENROLLMENTS)]);
    let students = of(&whole).expect("students").students;
    let lines: Vec<String> = students
        .iter()
        .map(|Student { line, number, given, family, grade, class }| {
            format!("{line} {number} {given} {family}, {grade}, {class}")
        })
        .collect();
    assert_eq!(lines, ["2 u1 Ada King, 04, Beginning Violin", "3 u2 Ben Otis, 04, Beginning Cello"]);
}

#[test]
fn version_1_2_whose_users_have_no_role_is_read_by_the_enrolments() {
    let users = USERS.replace(",role,", ",enabledUser,").replace("student,", "true,").replace("teacher,", "true,");
    let whole = zipped(&[("users.csv", &users), ("classes.csv", CLASSES), ("enrollments.csv", ENROLLMENTS)]);
    assert_eq!(of(&whole).expect("students").students.len(), 2);
}

#[test]
fn sections_of_one_title_are_told_apart_by_code_and_term() {
    let classes = "sourcedId,title,classCode,termSourcedIds\nc1,Strings,6-1,t1\nc2,strings,6-2,t1\nc3,Strings,6-1,t2\n\
                   c4,Choir,1,t1\nc5,Band,,\nc6,Band,,\n";
    let terms = "sourcedId,title\nt1,Autumn\nt2,Spring\n";
    let enrolments = ["classSourcedId,userSourcedId,role".to_owned()].into_iter();
    let enrolments =
        enrolments.chain((1..=6).map(|class| format!("c{class},u1,student"))).collect::<Vec<_>>().join("\n");
    let whole = zipped(&[
        ("users.csv", USERS),
        ("classes.csv", classes),
        ("enrollments.csv", &enrolments),
        ("academicSessions.csv", terms),
    ]);
    let classes: Vec<String> =
        of(&whole).expect("students").students.into_iter().map(|student| student.class).collect();
    assert_eq!(
        classes,
        ["Strings, 6-1, Autumn", "strings, 6-2", "Strings, 6-1, Spring", "Choir", "Band, c5", "Band, c6"]
    );
}

#[test]
fn who_is_disabled_and_whose_time_is_over_is_left_out_and_counted() {
    let users = "sourcedId,enabledUser,identifier,userIds,givenName,familyName,preferredGivenName\n\
                 u1,true,4711,,Adelaide,King,Ada\nu2,false,4712,,Ben,Otis,\nu3,true,,{Student number:4713},Cy,Pine,\n\
                 u4,true,,,Dee,Moss,\n";
    let enrolments = "classSourcedId,userSourcedId,role,endDate\nc1,u1,student,2027-06-30\nc1,u2,student,\n\
                      c2,u2,student,\nc1,u3,student,2026-11-03\nc2,u4,student,2026-11-02\nc1,u4,student,soon\n";
    let whole = zipped(&[("users.csv", users), ("classes.csv", CLASSES), ("enrollments.csv", enrolments)]);
    let bundle = of(&whole).expect("students");
    assert_eq!(
        students_of(&bundle),
        ["4711 Ada King: Beginning Violin", "4713 Cy Pine: Beginning Violin", "u4 Dee Moss: Beginning Violin"]
    );
    assert_eq!((bundle.disabled, bundle.ended), (1, 1));
}

#[test]
fn a_bundle_of_changes_wants_no_classes_and_says_who_leaves() {
    let manifest = ("manifest.csv", "propertyName,value\nfile.users,delta\nfile.classes,absent\n");
    let users = "sourcedId,status,role,identifier,givenName,familyName\nu1,active,student,4711,Ada,King\n\
                 u2,tobedeleted,student,4712,Ben,Otis\nu3,active,teacher,,Ms,Lin\n";
    let bundle = of(&zipped(&[manifest, ("users.csv", users)])).expect("changes");
    assert_eq!(students_of(&bundle), ["4711 Ada King: "]);
    assert_eq!(bundle.leaving.into_iter().collect::<Vec<_>>(), ["4712", "u2"]);
    let enrolments = "classSourcedId,userSourcedId,role\nc9,u1,student\nc9,u3,student\nc9,u7,student\n";
    let with = of(&zipped(&[manifest, ("users.csv", users), ("enrollments.csv", enrolments)])).expect("changes");
    assert_eq!(students_of(&with), ["4711 Ada King: c9"]);
    assert_eq!(of(&zipped(&[("users.csv", users)])), Err(BundleError::Missing("classes.csv")));
}

#[test]
fn only_students_of_the_classes_chosen_are_read_and_all_classes_are_counted() {
    // The enrolments first: the order in the zip means nothing.
    let whole = zipped(&[("enrollments.csv", ENROLLMENTS), ("users.csv", USERS), ("classes.csv", CLASSES)]);
    let chosen = ["Beginning Cello".to_owned()].into();
    let read = |chosen| bundle::read(&whole, "2026-11-03".parse().expect("a date"), chosen, &Reading::default());
    let bundle = read(Some(&chosen)).expect("students");
    assert_eq!((students_of(&bundle), bundle.total), (vec!["u2 Ben Otis: Beginning Cello".to_owned()], 1));
    let classes: Vec<(String, usize)> = bundle.classes.into_iter().collect();
    assert_eq!(classes, [("Beginning Cello".to_owned(), 1), ("Beginning Violin".to_owned(), 1)]);
    assert_eq!(read(Some(&BTreeSet::new())).expect("students").students, []);
}

#[test]
fn a_bundle_that_an_office_saved_with_semicolons_is_read() {
    let semicolons = |text: &str| text.replace("\"04,05\"", "04").replace(',', ";");
    let files = [("users.csv", USERS), ("classes.csv", CLASSES), ("enrollments.csv", ENROLLMENTS)];
    let saved = files.map(|(name, text)| (name, semicolons(text)));
    let whole = zipped(&saved.each_ref().map(|(name, text)| (*name, text.as_str())));
    assert_eq!(
        students_of(&of(&whole).expect("students")),
        ["u1 Ada King: Beginning Violin", "u2 Ben Otis: Beginning Cello"]
    );
}

#[test]
fn of_more_students_than_a_list_can_have_only_the_classes_are_told() {
    let many = format!("classSourcedId,userSourcedId,role\n{}", "c1,u1,student\n".repeat(5_001));
    let whole = zipped(&[("users.csv", USERS), ("classes.csv", CLASSES), ("enrollments.csv", &many)]);
    let bundle = of(&whole).expect("classes");
    assert_eq!((bundle.students.len(), bundle.total), (0, 5_001));
    assert_eq!(bundle.classes.into_iter().collect::<Vec<_>>(), [("Beginning Violin".to_owned(), 5_001)]);
    let users = (0..5_001).map(|number| format!("s{number},Ada,King")).collect::<Vec<_>>().join("\n");
    let changes = [
        ("manifest.csv", "propertyName,value\nfile.users,delta\n"),
        ("users.csv", &*format!("sourcedId,givenName,familyName\n{users}")),
    ];
    assert_eq!(of(&zipped(&changes)), Err(BundleError::TooMany(5_000, "students")));
}

#[test]
fn names_in_a_bundle_are_right_however_they_were_saved() {
    let users = "sourcedId,givenName,familyName\nu1,Zoë,Müller\n";
    let latin: Vec<u8> = users.chars().map(|letter| u8::try_from(u32::from(letter)).expect("Latin")).collect();
    let twice: String = users.bytes().map(char::from).collect();
    for (what, bytes) in [
        ("UTF-8", users.as_bytes().to_vec()),
        ("with a mark", [b"\xef\xbb\xbf", users.as_bytes()].concat()),
        ("UTF-16", utf16(users, true, true)),
        ("UTF-16 without a mark", utf16(users, false, false)),
        ("Western", latin),
        ("saved twice", twice.into_bytes()),
    ] {
        let mut writer = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
        let enrolments = b"classSourcedId,userSourcedId,role\nc1,u1,student\n".to_vec();
        for (name, bytes) in
            [("users.csv", bytes), ("classes.csv", CLASSES.as_bytes().to_vec()), ("enrollments.csv", enrolments)]
        {
            writer.start_file(name, SimpleFileOptions::default()).expect("a file");
            writer.write_all(&bytes).expect("written");
        }
        let whole = writer.finish().expect("a zip").into_inner();
        assert_eq!(students_of(&of(&whole).expect(what)), ["u1 Zoë Müller: Beginning Violin"], "{what}");
    }
}

#[test]
fn a_file_that_is_stopped_is_not_read_on() {
    let whole = zipped(&[("users.csv", USERS), ("classes.csv", CLASSES), ("enrollments.csv", ENROLLMENTS)]);
    let book = book(&["Name", "Instrument"], &[&["Ada", "violin"]]);
    let day = "2026-11-03".parse().expect("a date");
    let read_all = |reading: &Reading| {
        let how = || How { letters: None, is_heading: &|_| false, bounds: Bounds::USUAL, reading };
        [
            bundle::read(&whole, day, None, reading).is_ok(),
            read_file(b"Name,Instrument\nAda,violin\n", how()).is_ok(),
            read_file(&book, how()).is_ok(),
        ]
    };
    let reading = Reading::default();
    assert_eq!(read_all(&reading), [true; 3]);
    assert!(reading.share() > 0.9, "{}", reading.share());
    reading.stop();
    assert_eq!(read_all(&reading), [false; 3]);
}

#[test]
fn a_broken_bundle_is_told_with_what_to_do() {
    let whole = zipped(&[("users.csv", USERS), ("classes.csv", CLASSES), ("enrollments.csv", ENROLLMENTS)]);
    assert_eq!(of(&whole[..whole.len() / 2]), Err(BundleError::Broken));
    assert_eq!(of(&zipped(&[("users.csv", USERS)])), Err(BundleError::Missing("classes.csv")));
    let no_title =
        zipped(&[("users.csv", USERS), ("classes.csv", "sourcedId\nc1\n"), ("enrollments.csv", ENROLLMENTS)]);
    assert_eq!(of(&no_title), Err(BundleError::Column { file: "classes.csv", column: "title" }));
}

#[test]
fn a_zip_that_unpacks_to_far_more_than_a_roster_is_not_unpacked() {
    let bomb =
        zipped(&[("users.csv", &"0".repeat(LARGEST * 3)), ("classes.csv", CLASSES), ("enrollments.csv", ENROLLMENTS)]);
    assert!(bomb.len() < LARGEST / 50);
    let cause = TableError::LongCell { line: 1 };
    assert_eq!(of(&bomb), Err(BundleError::Table { file: "users.csv".to_owned(), cause }));
}

proptest! {
    #[test]
    fn what_was_written_is_read_back(
        headings in proptest::collection::vec("[A-Za-z]{1,8}", 2..5),
        rows in proptest::collection::vec(proptest::collection::vec("[ -~åéß;\t\n]{0,12}", 4), 0..6),
    ) {
        let wanted: Vec<Vec<String>> = rows
            .iter()
            .map(|row| row.iter().take(headings.len()).map(|cell| cell.trim().to_owned()).collect::<Vec<_>>())
            // An apostrophe before what looks like a formula is how such a formula leaves: they cannot be distinguished.
            .filter(|row: &Vec<String>| row.iter().any(|cell| !cell.is_empty()) && row.iter().all(|cell| !cell.split(';').any(|part| part.starts_with('\''))))
            .map(|mut row| { row.resize(headings.len(), String::new()); row })
            .collect();
        let all: Vec<Vec<String>> = std::iter::once(headings.clone()).chain(wanted.clone()).collect();
        let table = read(&write(&all)).expect("a table");
        prop_assert_eq!(table.headings.len(), headings.len());
        prop_assert_eq!(cells(&table), wanted);
    }

    #[test]
    fn no_bytes_make_the_table_reader_fall(bytes in proptest::collection::vec(any::<u8>(), 0..400)) {
        if let Ok(table) = read(&bytes) {
            prop_assert!(table.rows.iter().all(|row| row.cells.len() == table.headings.len()));
        }
    }

    #[test]
    fn no_damage_to_a_spreadsheet_makes_its_reader_fall(places in proptest::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..20), cut in any::<prop::sample::Index>()) {
        let mut whole = book(&["Name"], &[&["Ada"]]);
        for (place, byte) in places {
            let at = place.index(whole.len());
            whole[at] = byte;
        }
        let _ = read(&whole);
        let _ = read(&whole[..cut.index(whole.len())]);
    }

    #[test]
    fn no_damage_to_a_bundle_makes_its_reader_fall(places in proptest::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..20), cut in any::<prop::sample::Index>()) {
        let mut whole = zipped(&[("users.csv", USERS), ("classes.csv", CLASSES), ("enrollments.csv", ENROLLMENTS)]);
        for (place, byte) in places {
            let at = place.index(whole.len());
            whole[at] = byte;
        }
        let _ = of(&whole);
        let _ = of(&whole[..cut.index(whole.len())]);
    }
}

#[test]
fn an_empty_file_of_any_encoding_is_empty() {
    for bytes in [&b"\xef\xbb\xbf"[..], b"\xff\xfe", b" \r\n ", b",,\n"] {
        assert_eq!(read(bytes), Err(TableError::Empty), "{bytes:?}");
    }
}

#[test]
fn the_same_name_is_the_same_text_however_it_was_typed() {
    let composed = read("Name\nZoë Nguyễn\n".as_bytes()).expect("a table");
    let apart = read("Name\nZoe\u{308} Nguye\u{302}\u{303}n\n".as_bytes()).expect("a table");
    let unseen = read("\u{feff}Name\n\u{200b}Zoë\u{2060} Nguyễn\u{200b}\n".as_bytes()).expect("a table");
    assert_eq!((cells(&apart), cells(&unseen)), (cells(&composed), cells(&composed)));
    // Letters that join or do not are letters.
    let persian = read("Name\nمی\u{200c}نا\n".as_bytes()).expect("a table");
    assert_eq!(cells(&persian), [["می\u{200c}نا".to_owned()]]);
}

/// With headings that a roster's reader understands.
fn read_roster(bytes: &[u8]) -> Result<Table, TableError> {
    let is_heading = |cell: &str| ["name", "instrument", "grade"].contains(&cell.to_lowercase().as_str());
    let reading = Reading::default();
    let how = How { letters: None, is_heading: &is_heading, bounds: Bounds::USUAL, reading: &reading };
    read_file(bytes, how).map(|file| file.table)
}

#[test]
fn titles_above_the_headings_are_passed_over_and_lines_stay_those_of_the_file() {
    let text = "Strings, autumn 2026\n\nMs Lin;;\nName;Instrument;Grade\nBell, Ada;violin;4\nBoot, Ben;cello;\n";
    let table = read_roster(text.as_bytes()).expect("a table");
    assert_eq!(table.headings, ["Name", "Instrument", "Grade"]);
    assert_eq!(cells(&table), [["Bell, Ada", "violin", "4"], ["Boot, Ben", "cello", ""]]);
    assert_eq!(table.rows.iter().map(|row| row.line).collect::<Vec<_>>(), [5, 6]);
    // Where no row is understood, the first has the headings: nobody is lost.
    assert_eq!(read_roster(b"Kid,Plays\nAda,violin\n").expect("a table").rows.len(), 1);
}

#[test]
fn what_stands_between_cells_is_said_by_the_file_or_by_most_of_its_lines() {
    for text in [
        "sep=;\r\nName;Instrument\r\nBell, Ada;violin\r\n",
        "SEP=|\nName|Instrument\nBell, Ada|violin\n",
        "Name|Instrument\nBell, Ada|violin\nBoot, Ben|cello\n",
        "Name\tInstrument\nBell, Ada\tviolin\n",
    ] {
        let table = read_roster(text.as_bytes()).expect("a table");
        assert_eq!(table.headings, ["Name", "Instrument"], "{text}");
        assert_eq!(table.rows[0].cells, ["Bell, Ada", "violin"], "{text}");
    }
    let said = read_roster(b"sep=;\nName;Instrument\nAda;violin\n").expect("a table");
    assert_eq!(said.rows[0].line, 3, "the line that names it counts");
}

#[test]
fn a_spreadsheet_is_read_as_its_first_sheet_with_something_on_it() {
    let file = book(&["Strings this year"], &[&["Name", "Instrument"], &["Nguyễn An", "viola"], &["Ada K.", "cello"]]);
    let table = read_roster(&file).expect("a table");
    assert_eq!((table.headings, table.rows.len()), (vec!["Name".to_owned(), "Instrument".to_owned()], 2));
    assert_eq!((table.rows[0].line, table.rows[0].cells[0].as_str()), (3, "Nguyễn An"));
}

/// A spreadsheet as other programs write one.
fn book(headings: &[&str], rows: &[&[&str]]) -> Vec<u8> {
    let cells = |row: &&[&str]| row.iter().map(|cell| Cell::Text((*cell).to_owned())).collect();
    let headings = headings.iter().map(|heading| (*heading).to_owned()).collect();
    xlsx::write(&[Sheet { name: "A".to_owned(), headings, rows: rows.iter().map(cells).collect() }])
        .expect("a spreadsheet")
}

/// A spreadsheet with this sheet in it.
fn sheet(rows: &str) -> Vec<u8> {
    const NAMESPACE: &str = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    zipped(&[
        (
            "[Content_Types].xml",
            "<?xml version=\"1.0\"?><Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"/>",
        ),
        (
            "_rels/.rels",
            "<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship Id=\"r1\" Type=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument\" Target=\"xl/workbook.xml\"/></Relationships>",
        ),
        (
            "xl/workbook.xml",
            &format!(
                "<workbook xmlns=\"{NAMESPACE}\" xmlns:r=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships\"><sheets><sheet name=\"A\" sheetId=\"1\" r:id=\"r1\"/></sheets></workbook>"
            ),
        ),
        (
            "xl/_rels/workbook.xml.rels",
            "<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship Id=\"r1\" Type=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet\" Target=\"worksheets/sheet1.xml\"/></Relationships>",
        ),
        (
            "xl/worksheets/sheet1.xml",
            &format!("<worksheet xmlns=\"{NAMESPACE}\"><sheetData>{rows}</sheetData></worksheet>"),
        ),
    ])
}

#[test]
fn a_small_spreadsheet_that_claims_to_be_large_is_not_believed() {
    let cell = |at: &str, text: &str| format!("<c r=\"{at}\" t=\"inlineStr\"><is><t>{text}</t></is></c>");
    let row = |number: u32, cells: &str| format!("<row r=\"{number}\">{cells}</row>");
    let table =
        read(&sheet(&(row(1, &cell("A1", "Name")) + &row(1_048_576, &cell("A1048576", "Ada"))))).expect("a table");
    assert_eq!((table.rows[0].line, table.rows[0].cells[0].as_str()), (1_048_576, "Ada"));
    assert_eq!(read(&sheet(&row(1, &cell("XFD1", "Name")))), Err(TableError::TooManyColumns));
    let bomb = sheet(&row(1, &cell("A1", &"a".repeat(70_000_000))));
    assert!(bomb.len() < LARGEST / 50);
    assert_eq!(read(&bomb), Err(TableError::TooLarge(Bounds::USUAL)));
    assert_eq!(read(&sheet("")), Err(TableError::Empty));
}
