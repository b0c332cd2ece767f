//! Spreadsheets of `OpenDocument` as offices save them.

use std::io::{Cursor, Write};

use bright_row_documents::table::{Bounds, TableError, read};

fn ods(rows: &str) -> Vec<u8> {
    let content = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?><office:document-content><office:body><office:spreadsheet>\
         <table:table table:name=\"Empty\"><table:table-row table:number-rows-repeated=\"1048576\"><table:table-cell \
         table:number-columns-repeated=\"16384\"/></table:table-row></table:table>\
         <table:table table:name=\"Class\"><table:table-column/>{rows}</table:table></office:spreadsheet></office:body>\
         </office:document-content>"
    );
    let mut zip = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for (name, text) in
        [("mimetype", "application/vnd.oasis.opendocument.spreadsheet"), ("content.xml", content.as_str())]
    {
        zip.start_file(name, zip::write::SimpleFileOptions::default()).expect("a file begins");
        zip.write_all(text.as_bytes()).expect("bytes are written");
    }
    zip.finish().expect("a zip").into_inner()
}

fn cell(kind: &str, words: &str) -> String {
    format!("<table:table-cell {kind}><text:p>{words}</text:p></table:table-cell>")
}

fn row(cells: &[String]) -> String {
    format!("<table:table-row>{}</table:table-row>", cells.concat())
}

const WORDS: &str = "office:value-type=\"string\"";

#[test]
fn cells_are_what_they_hold_not_what_they_look_like() {
    let headings = row(&["Name", "Grade", "Born", "Front", "Note"].map(|name| cell(WORDS, name)));
    let child = row(&[
        cell(WORDS, "Zoe\u{308} &amp; <text:span>M&#252;ller</text:span><text:s/>III"),
        cell("office:value-type=\"float\" office:value=\"5\"", "5,00"),
        cell("office:value-type=\"date\" office:date-value=\"2026-01-02T00:00:00\"", "1/2"),
        cell("office:value-type=\"boolean\" office:boolean-value=\"true\"", "WAHR"),
        format!(
            "<table:table-cell {WORDS}><office:annotation><text:p>said by the office</text:p></office:annotation>\
             <text:p>first</text:p><text:p>second<text:line-break/>third</text:p></table:table-cell>"
        ),
    ]);
    let gap = "<table:table-row table:number-rows-repeated=\"2\"><table:table-cell/></table:table-row>";
    let twice = format!(
        "<table:table-row table:number-rows-repeated=\"2\"><table:table-cell table:number-columns-repeated=\"2\" \
         {WORDS}><text:p>x</text:p></table:table-cell><table:covered-table-cell/>{}</table:table-row>",
        cell("office:value-type=\"float\" office:value=\"1.5\"", "1.5")
    );
    let table = read(&ods(&format!("{headings}{child}{gap}{twice}"))).expect("a table");
    assert_eq!(table.headings, ["Name", "Grade", "Born", "Front", "Note"]);
    let rows: Vec<(usize, String)> = table.rows.iter().map(|row| (row.line, row.cells.join("|"))).collect();
    assert_eq!(
        rows,
        [
            (2, "Zoë & Müller III|5|2026-01-02|yes|first second third".to_owned()),
            (5, "x|x||1.5|".to_owned()),
            (6, "x|x||1.5|".to_owned()),
        ]
    );
}

#[test]
fn a_sheet_beyond_the_bounds_or_cut_off_is_refused_in_words() {
    let x = |repeated: &str| format!("<table:table-row {repeated}>{}</table:table-row>", cell(WORDS, "x"));
    let error = |rows: &str| read(&ods(rows)).expect_err("it is refused");
    assert_eq!(error(&x("table:number-rows-repeated=\"1000000\"")), TableError::TooManyRows(Bounds::USUAL));
    let wide = format!(
        "<table:table-row>{}</table:table-row>",
        cell(&format!("table:number-columns-repeated=\"300\" {WORDS}"), "x")
    );
    assert_eq!(error(&wide), TableError::TooManyColumns);
    assert_eq!(error(&row(&[cell(WORDS, &"x".repeat(1_001))])), TableError::LongCell { line: 1 });
    assert_eq!(error(""), TableError::Empty);
    assert!(matches!(error("<table:table-row><table:table-cell>"), TableError::NotText(_)));
}
