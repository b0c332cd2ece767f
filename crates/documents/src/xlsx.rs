//! Workbooks for spreadsheets: tables of text, numbers and days, without a formula.

use chrono::{Datelike, NaiveDate};
use rust_xlsxwriter::{ExcelDateTime, Format, Workbook, Worksheet, XlsxError};

/// What stands in a cell.
#[derive(Clone, Debug, PartialEq)]
pub enum Cell {
    /// Words; never read as a formula, whatever they begin with.
    Text(String),
    /// A number.
    Number(f64),
    /// A day.
    Day(NaiveDate),
    /// Nothing.
    Empty,
}

impl Cell {
    /// The cell as words: a number without needless places, a day as `2026-11-30`.
    #[must_use]
    pub fn words(&self) -> String {
        match self {
            Self::Text(text) => text.clone(),
            Self::Number(number) => number.to_string(),
            Self::Day(day) => day.to_string(),
            Self::Empty => String::new(),
        }
    }
}

/// One table of a workbook.
#[derive(Clone, Debug, PartialEq)]
pub struct Sheet {
    /// Its name, at most 31 characters, none of `[]:*?/\`.
    pub name: String,
    /// The row above all.
    pub headings: Vec<String>,
    /// The others.
    pub rows: Vec<Vec<Cell>>,
}

/// The longest text of a cell that spreadsheets read, in characters.
const MAX_TEXT: usize = 32_767;
/// No column is wider than so many letters.
const WIDEST: u16 = 40;

/// The sheets as an Office Open XML workbook (`.xlsx`, ECMA-376): headings stay in sight, columns are as wide as their words.
///
/// # Errors
/// [`XlsxError`] for a sheet's name that cannot be, or more rows than a sheet has.
pub fn write(sheets: &[Sheet]) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let (bold, day) = (Format::new().set_bold(), Format::new().set_num_format("yyyy-mm-dd"));
    for sheet in sheets {
        let page = book.add_worksheet().set_name(&sheet.name)?;
        page.set_freeze_panes(1, 1)?;
        for (column, heading) in (0..).zip(&sheet.headings) {
            page.write_string_with_format(0, column, cut(heading), &bold)?;
            let cells = sheet.rows.iter().filter_map(|row| row.get(usize::from(column)));
            let longest = cells.map(|cell| cell.words().chars().count()).chain([heading.chars().count()]).max();
            let width = u16::try_from(longest.unwrap_or_default()).unwrap_or(WIDEST).clamp(6, WIDEST);
            page.set_column_width(column, f64::from(width) + 1.0)?;
        }
        for (row, cells) in (1..).zip(&sheet.rows) {
            for (column, cell) in (0..).zip(cells) {
                put(page, (row, column), cell, &day)?;
            }
        }
    }
    book.save_to_buffer()
}

fn put(page: &mut Worksheet, (row, column): (u32, u16), cell: &Cell, day: &Format) -> Result<(), XlsxError> {
    match cell {
        Cell::Text(text) => page.write_string(row, column, cut(text)).map(drop),
        Cell::Number(number) => page.write_number(row, column, *number).map(drop),
        Cell::Day(date) => {
            let parts = u16::try_from(date.year()).ok().zip(u8::try_from(date.month()).ok());
            let parts = parts.zip(u8::try_from(date.day()).ok());
            // Years that spreadsheets do not know stay as words.
            match parts.and_then(|((year, month), day)| ExcelDateTime::from_ymd(year, month, day).ok()) {
                Some(date) => page.write_datetime_with_format(row, column, &date, day).map(drop),
                None => page.write_string(row, column, date.to_string()).map(drop),
            }
        }
        Cell::Empty => Ok(()),
    }
}

fn cut(text: &str) -> String {
    text.chars().take(MAX_TEXT).collect()
}

#[cfg(test)]
mod tests {
    use std::io::Cursor;

    use calamine::{Data, Reader, Xlsx};

    use super::*;

    #[test]
    fn another_reader_finds_words_numbers_and_days_and_no_formula() {
        let day: NaiveDate = "2026-11-30".parse().expect("a date");
        let hostile = "=HYPERLINK(\"http://x\";\"y\")";
        let row = vec![
            Cell::Text(hostile.to_owned()),
            Cell::Number(1.5),
            Cell::Day(day),
            Cell::Empty,
            Cell::Text("Ærø 小\u{1}".to_owned()),
        ];
        let sheet = Sheet {
            name: "Class".to_owned(),
            headings: ["Name", "Visits", "Since", "", "Other"].map(str::to_owned).to_vec(),
            rows: vec![row],
        };
        let bytes = write(&[sheet]).expect("a workbook");
        let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).expect("it opens");
        let read = book.worksheet_range("Class").expect("the sheet");
        assert_eq!(read.get((0, 0)), Some(&Data::String("Name".to_owned())));
        assert_eq!(read.get((1, 0)), Some(&Data::String(hostile.to_owned())));
        assert_eq!(read.get((1, 1)), Some(&Data::Float(1.5)));
        let Some(Data::DateTime(found)) = read.get((1, 2)) else { panic!("{:?}", read.get((1, 2))) };
        assert_eq!(found.as_datetime().expect("a moment").date(), day);
        assert!(read.get((1, 4)).is_some_and(|cell| cell.to_string().starts_with("Ærø 小")));
        assert_eq!(book.worksheet_formula("Class").expect("no formulas").used_cells().count(), 0);
    }

    #[test]
    fn what_no_spreadsheet_takes_is_cut_or_refused() {
        let long = Sheet {
            name: "a".to_owned(),
            headings: vec!["x".repeat(40_000)],
            rows: vec![vec![Cell::Text("y".repeat(40_000))]],
        };
        assert!(write(&[long]).is_ok());
        assert!(write(&[Sheet { name: "a/b".to_owned(), headings: Vec::new(), rows: Vec::new() }]).is_err());
        let old = Cell::Day("0044-03-15".parse().expect("a date"));
        assert!(write(&[Sheet { name: "a".to_owned(), headings: Vec::new(), rows: vec![vec![old]] }]).is_ok());
    }
}
