//! The first sheet of a spreadsheet file (.xlsx) as rows of text.
//!
//! A small file may claim to be a large sheet: what is unpacked and what is read are both bounded, and cells are taken one by one.

use std::io::{Cursor, Read};

use calamine::{Data, DataRef, Reader, Xlsx};

use crate::table::{
    LARGEST, LONGEST_CELL, MAX_TABLE_CELLS, MAX_TABLE_COLUMNS, MAX_TABLE_ROWS, Record, TableError, plain,
};

/// What is in the file, unpacked, at most in bytes.
const LARGEST_UNPACKED: u64 = 64 * 1024 * 1024;

/// Whether a file is a spreadsheet, and no other zip.
#[must_use]
pub fn is_one(bytes: &[u8]) -> bool {
    bytes.starts_with(b"PK\x03\x04")
        && zip::ZipArchive::new(Cursor::new(bytes)).is_ok_and(|zip| zip.index_for_name("xl/workbook.xml").is_some())
}

/// The rows of the first sheet that has something on it, each with its number, from 1.
///
/// # Errors
/// [`TableError`], each with what to do.
pub(crate) fn rows(bytes: &[u8]) -> Result<Vec<Record>, TableError> {
    unpacks_within_bounds(bytes)?;
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(|_| broken())?;
    for sheet in book.sheet_names() {
        let rows = of_sheet(&mut book, &sheet)?;
        if !rows.is_empty() {
            return Ok(rows);
        }
    }
    Err(TableError::Empty)
}

fn broken() -> TableError {
    TableError::NotText("a spreadsheet that cannot be opened")
}

/// What a zip says of its sizes may be untrue: it is unpacked once, and the rest is not where too much comes out.
fn unpacks_within_bounds(bytes: &[u8]) -> Result<(), TableError> {
    let mut zip = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|_| broken())?;
    let mut left = LARGEST_UNPACKED;
    for index in 0..zip.len() {
        let file = zip.by_index(index).map_err(|_| broken())?;
        left -= std::io::copy(&mut file.take(left), &mut std::io::sink()).map_err(|_| broken())?;
        if left == 0 {
            return Err(TableError::TooLarge);
        }
    }
    Ok(())
}

fn of_sheet<R: Read + std::io::Seek>(book: &mut Xlsx<R>, sheet: &str) -> Result<Vec<Record>, TableError> {
    let mut cells = book.worksheet_cells_reader(sheet).map_err(|_| broken())?;
    let mut rows: Vec<Record> = Vec::new();
    let (mut many, mut bytes) = (0, 0);
    while let Some(cell) = cells.next_cell().map_err(|_| broken())? {
        let (row, column) = cell.get_position();
        let text = plain(&written(cell.get_value()));
        if text.is_empty() {
            continue;
        }
        let line = usize::try_from(row).unwrap_or(usize::MAX).saturating_add(1);
        let column = usize::try_from(column).unwrap_or(usize::MAX);
        if column >= MAX_TABLE_COLUMNS {
            return Err(TableError::TooManyColumns);
        }
        if text.len() > LONGEST_CELL {
            return Err(TableError::LongCell { line: u64::from(row) + 1 });
        }
        if rows.last().is_none_or(|(last, _)| *last != line) {
            rows.push((line, Vec::new()));
        }
        many += 1;
        bytes += text.len();
        // Titles and headings are rows too.
        if rows.len() > MAX_TABLE_ROWS + 100 {
            return Err(TableError::TooManyRows);
        }
        if many > MAX_TABLE_CELLS {
            return Err(TableError::TooManyCells);
        }
        if bytes > LARGEST {
            return Err(TableError::TooLarge);
        }
        let (_, cells) = rows.last_mut().expect("a row was begun");
        if cells.len() <= column {
            cells.resize(column + 1, String::new());
        }
        cells[column] = text;
    }
    rows.sort_by_key(|(line, _)| *line);
    Ok(rows)
}

/// A cell as one would write it: a day as `2026-09-01`, a whole number without a point, nothing where there is an error.
fn written(cell: &DataRef<'_>) -> String {
    match Data::from(cell.clone()) {
        Data::Empty | Data::Error(_) => String::new(),
        Data::DateTime(moment) => {
            moment.as_datetime().map_or_else(String::new, |moment| moment.format("%Y-%m-%d").to_string())
        }
        Data::Bool(yes) => if yes { "yes" } else { "no" }.to_owned(),
        other => other.to_string(),
    }
}
