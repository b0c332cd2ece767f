//! The first sheet of a spreadsheet file (`.xlsx`, `.ods`) as rows of text.
//!
//! A small file may claim to be a large sheet: what is unpacked and what is read are both bounded, and cells are taken one by one.

mod ods;
mod rows;

use std::io::{BufReader, Cursor, Read};

use calamine::{Data, DataRef, Reader, Xlsx};

use crate::table::{Record, TableError};

use rows::Rows;

/// Where a spreadsheet of Office Open XML has its sheets' names, and one of `OpenDocument` its sheets.
const XLSX: &str = "xl/workbook.xml";
const ODS: &str = "content.xml";

/// What is in the file, unpacked, at most in bytes.
const LARGEST_UNPACKED: u64 = 64 * 1024 * 1024;

/// Whether a file is a spreadsheet, and no other zip.
#[must_use]
pub fn is_one(bytes: &[u8]) -> bool {
    has(bytes, XLSX) || has(bytes, ODS)
}

fn has(bytes: &[u8], name: &str) -> bool {
    bytes.starts_with(b"PK\x03\x04")
        && zip::ZipArchive::new(Cursor::new(bytes)).is_ok_and(|zip| zip.index_for_name(name).is_some())
}

/// The rows of the first sheet that has something on it, each with its number, from 1.
///
/// # Errors
/// [`TableError`], each with what to do.
pub(crate) fn rows(bytes: &[u8]) -> Result<Vec<Record>, TableError> {
    unpacks_within_bounds(bytes)?;
    if has(bytes, ODS) {
        let mut zip = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|_| broken())?;
        let content = zip.by_name(ODS).map_err(|_| broken())?;
        return ods::rows(BufReader::new(content));
    }
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
    let mut rows = Rows::default();
    while let Some(cell) = cells.next_cell().map_err(|_| broken())? {
        let (row, column) = cell.get_position();
        let place = |at: u32| usize::try_from(at).unwrap_or(usize::MAX);
        rows.put(place(row), place(column), &written(cell.get_value()))?;
    }
    Ok(rows.finish())
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
