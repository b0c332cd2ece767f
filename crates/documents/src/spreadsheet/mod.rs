//! The first sheet of a spreadsheet file (`.xlsx`, `.ods`) as rows of text.
//!
//! A small file may claim to be a large sheet: what is unpacked and what is read are both bounded, and cells are taken one by one.

mod ods;
mod rows;

use std::io::{BufReader, Cursor, Read, Seek};

use calamine::{Data, DataRef, Reader, Xlsx};

use crate::reading::Reading;
use crate::table::{Bounds, Record, TableError};

use rows::Rows;

/// Where a spreadsheet of Office Open XML has its sheets' names, and one of `OpenDocument` its sheets.
const XLSX: &str = "xl/workbook.xml";
const ODS: &str = "content.xml";

/// What is in the file, unpacked, is at most so many times as large as the file may be.
const UNPACKED: u64 = 8;

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
pub(crate) fn rows(bytes: &[u8], bounds: Bounds, reading: &Reading) -> Result<Vec<Record>, TableError> {
    // Unpacked twice: to see how much it is, and to read it.
    reading.begin(2 * u64::try_from(bytes.len()).unwrap_or(u64::MAX / 2));
    let file = || reading.watch(Cursor::new(bytes));
    unpacks_within_bounds(file(), bounds)?;
    if has(bytes, ODS) {
        let mut zip = zip::ZipArchive::new(file()).map_err(|_| broken())?;
        let content = zip.by_name(ODS).map_err(|_| broken())?;
        return ods::rows(BufReader::new(content), bounds);
    }
    let mut book: Xlsx<_> = Xlsx::new(BufReader::new(file())).map_err(|_| broken())?;
    for sheet in book.sheet_names() {
        let rows = of_sheet(&mut book, &sheet, bounds)?;
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
fn unpacks_within_bounds(file: impl Read + Seek, bounds: Bounds) -> Result<(), TableError> {
    let mut zip = zip::ZipArchive::new(file).map_err(|_| broken())?;
    let mut left = UNPACKED * u64::try_from(bounds.bytes).unwrap_or(u64::MAX / UNPACKED);
    for index in 0..zip.len() {
        let file = zip.by_index(index).map_err(|_| broken())?;
        left -= std::io::copy(&mut file.take(left), &mut std::io::sink()).map_err(|_| broken())?;
        if left == 0 {
            return Err(TableError::TooLarge(bounds));
        }
    }
    Ok(())
}

fn of_sheet<R: Read + Seek>(book: &mut Xlsx<R>, sheet: &str, bounds: Bounds) -> Result<Vec<Record>, TableError> {
    let mut cells = book.worksheet_cells_reader(sheet).map_err(|_| broken())?;
    let mut rows = Rows::new(bounds);
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
