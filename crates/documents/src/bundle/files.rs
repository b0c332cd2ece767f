//! The tables in a zip.

use std::collections::BTreeMap;
use std::io::{Cursor, Read};

use super::BundleError;
use crate::table::{self, LARGEST, Table};

/// The most files in a bundle.
pub(super) const MAX_FILES: usize = 100;
/// The files that a roster has.
const WANTED: [&str; 5] = ["users.csv", "classes.csv", "enrollments.csv", "academicsessions.csv", "manifest.csv"];

/// The tables of a zip by file name in small letters, folders left out; only the CSV files a roster has are read.
pub(super) fn open(bytes: &[u8]) -> Result<BTreeMap<String, Table>, BundleError> {
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|_| BundleError::Broken)?;
    if archive.len() > MAX_FILES {
        return Err(BundleError::TooLarge);
    }
    let mut tables = BTreeMap::new();
    for index in 0..archive.len() {
        let mut file = archive.by_index(index).map_err(|error| match error {
            zip::result::ZipError::UnsupportedArchive(_) => BundleError::Locked("A file".to_owned()),
            _ => BundleError::Broken,
        })?;
        let name = file.name().map_err(|_| BundleError::Broken)?;
        let name = name.rsplit(['/', '\\']).next().unwrap_or_default().to_lowercase();
        if !WANTED.contains(&name.as_str()) {
            continue;
        }
        if tables.contains_key(&name) {
            return Err(BundleError::Twice(name));
        }
        // What a zip says of its size may be untrue: reading stops where too much comes out.
        let mut text = Vec::new();
        let limit = u64::try_from(LARGEST).unwrap_or(u64::MAX) + 1;
        file.by_ref().take(limit).read_to_end(&mut text).map_err(|_| BundleError::Broken)?;
        if text.len() > LARGEST {
            return Err(BundleError::TooLarge);
        }
        let table = table::read(&text).map_err(|cause| BundleError::Table { file: name.clone(), cause })?;
        tables.insert(name, table);
    }
    Ok(tables)
}

/// A table of a bundle, by the names of its columns.
#[derive(Clone, Copy)]
pub(super) struct Rows<'a>(&'a Table);

/// A row of it.
#[derive(Clone, Copy)]
pub(super) struct Row<'a> {
    pub(super) line: usize,
    table: &'a Table,
    cells: &'a [String],
}

impl<'a> Rows<'a> {
    /// A table that must have some columns.
    ///
    /// # Errors
    /// The first column that is not there.
    pub(super) fn new(table: &'a Table, wanted: &[&'static str]) -> Result<Self, &'static str> {
        let has = |name: &str| table.headings.iter().any(|heading| heading.eq_ignore_ascii_case(name));
        wanted.iter().find(|name| !has(name)).map_or(Ok(Self(table)), |missing| Err(*missing))
    }

    pub(super) fn rows(self) -> impl Iterator<Item = Row<'a>> {
        self.0.rows.iter().map(move |row| Row { line: row.line, table: self.0, cells: &row.cells })
    }
}

impl<'a> Row<'a> {
    /// The cell below a heading, whatever the case of its letters; empty where there is no such column.
    pub(super) fn cell(&self, name: &str) -> &'a str {
        let column = self.table.headings.iter().position(|heading| heading.eq_ignore_ascii_case(name));
        column.and_then(|index| self.cells.get(index)).map_or("", String::as_str)
    }

    /// The first of several cells that is not empty.
    pub(super) fn first_of(&self, names: &[&str]) -> &'a str {
        names.iter().map(|name| self.cell(name)).find(|cell| !cell.is_empty()).unwrap_or_default()
    }

    /// It is taken out of the office's system.
    pub(super) fn is_gone(&self) -> bool {
        self.cell("status").eq_ignore_ascii_case("tobedeleted")
    }
}
