//! The tables in a zip, shown row by row: of a district they are far larger than what is kept of them.

use std::cell::Cell;
use std::collections::BTreeMap;
use std::io::{BufReader, Cursor, Error, Read, Result as IoResult};

use encoding_rs_io::DecodeReaderBytesBuilder;

use super::BundleError;
use crate::csv_out::unguarded;
use crate::letters::{self, Letters};
use crate::reading::{Reading, Watched};
use crate::table::{Bounds, LONGEST_CELL, LONGEST_LINE, TableError, delimiter, plain};

/// The most files in a bundle.
pub(super) const MAX_FILES: usize = 100;
/// The most bytes of a file, unpacked.
pub(super) const LARGEST_FILE: u64 = 256 * 1024 * 1024;
/// The most rows of a file: two hundred thousand students with ten classes each.
const MOST_ROWS: Bounds = Bounds { rows: 2_000_000, ..Bounds::DISTRICT };
/// The files that a roster has.
const WANTED: [&str; 5] = ["users.csv", "classes.csv", "enrollments.csv", "academicsessions.csv", "manifest.csv"];
/// So many of a file's first bytes say how it is written.
const HEAD: u64 = 1024 * 1024;
/// So many of them say what stands between its cells.
const FIRST_LINES: usize = 64 * 1024;

/// The files of a bundle that a roster has.
pub(super) struct Files<'a> {
    archive: zip::ZipArchive<Watched<'a, Cursor<&'a [u8]>>>,
    /// Where each is, by its name in small letters, folders left out.
    places: BTreeMap<String, usize>,
}

impl<'a> Files<'a> {
    pub(super) fn open(bytes: &'a [u8], reading: &'a Reading) -> Result<Self, BundleError> {
        reading.begin(u64::try_from(bytes.len()).unwrap_or(u64::MAX));
        let mut archive = zip::ZipArchive::new(reading.watch(Cursor::new(bytes))).map_err(|_| BundleError::Broken)?;
        if archive.len() > MAX_FILES {
            return Err(BundleError::TooLarge);
        }
        let mut places = BTreeMap::new();
        for index in 0..archive.len() {
            let file = archive.by_index(index).map_err(|error| match error {
                zip::result::ZipError::UnsupportedArchive(_) => BundleError::Locked("A file".to_owned()),
                _ => BundleError::Broken,
            })?;
            let name = file.name().map_err(|_| BundleError::Broken)?;
            let name = name.rsplit(['/', '\\']).next().unwrap_or_default().to_lowercase();
            if !WANTED.contains(&name.as_str()) {
                continue;
            }
            if places.contains_key(&name) {
                return Err(BundleError::Twice(name));
            }
            places.insert(name, index);
        }
        Ok(Self { archive, places })
    }

    /// Whether there is such a file.
    pub(super) fn has(&self, file: &str) -> bool {
        self.places.contains_key(file)
    }

    /// Shows every row of a file that has these columns; none where it is not there.
    ///
    /// # Errors
    /// [`BundleError`]; rows before it were shown.
    pub(super) fn each(
        &mut self,
        file: &'static str,
        wanted: &[&'static str],
        mut show: impl FnMut(&Row<'_>),
    ) -> Result<(), BundleError> {
        let Some(index) = self.places.get(file) else { return Ok(()) };
        let entry = self.archive.by_index(*index).map_err(|_| BundleError::Broken)?;
        // What a zip says of its size may be untrue: reading stops where too much comes out.
        let mut entry = entry.take(LARGEST_FILE);
        let cause = |cause: TableError| BundleError::Table { file: file.to_owned(), cause };
        let mut head = Vec::new();
        entry.by_ref().take(HEAD).read_to_end(&mut head).map_err(|_| BundleError::Broken)?;
        let (encoding, twice) = letters::of_head(&head);
        let divides = delimiter(&encoding.decode_with_bom_removal(&head[..head.len().min(FIRST_LINES)]).0);
        let decoded = DecodeReaderBytesBuilder::new()
            .encoding(Some(encoding))
            .strip_bom(true)
            .build(head.as_slice().chain(entry.by_ref()));
        let since = Cell::new(0);
        let mut reader = csv::ReaderBuilder::new()
            .delimiter(divides)
            .flexible(true)
            .has_headers(false)
            .from_reader(BufReader::new(Bounded { inner: decoded, since: &since }));
        let mut record = csv::StringRecord::new();
        let mut headings: Vec<String> = Vec::new();
        let mut rows = 0;
        loop {
            let line = reader.position().line();
            match reader.read_record(&mut record) {
                Ok(true) => since.set(0),
                Ok(false) => break,
                Err(_) if since.get() > LONGEST_LINE => return Err(cause(TableError::LongCell { line })),
                Err(_) => return Err(BundleError::Broken),
            }
            let line = record.position().map_or(line, csv::Position::line);
            if record.iter().any(|cell| cell.len() > LONGEST_CELL) {
                return Err(cause(TableError::LongCell { line }));
            }
            if record.iter().all(|cell| cell.trim().is_empty()) {
                continue;
            }
            if headings.is_empty() {
                headings = record.iter().map(plain).collect();
                let has = |name: &str| headings.iter().any(|heading| heading.eq_ignore_ascii_case(name));
                if let Some(column) = wanted.iter().find(|name| !has(name)) {
                    return Err(BundleError::Column { file, column });
                }
                continue;
            }
            rows += 1;
            if rows > MOST_ROWS.rows {
                return Err(cause(TableError::TooManyRows(MOST_ROWS)));
            }
            let line = usize::try_from(line).unwrap_or(usize::MAX);
            show(&Row { line, headings: &headings, record: &record, twice });
        }
        if headings.is_empty() {
            return Err(cause(TableError::Empty));
        }
        if entry.limit() == 0 { Err(BundleError::TooLarge) } else { Ok(()) }
    }
}

/// Fails where no row ends for too long: a quotation that is never closed would be read as one cell.
struct Bounded<'a, R> {
    inner: R,
    since: &'a Cell<usize>,
}

impl<R: Read> Read for Bounded<'_, R> {
    fn read(&mut self, buffer: &mut [u8]) -> IoResult<usize> {
        if self.since.get() > LONGEST_LINE {
            return Err(Error::other("a row without an end"));
        }
        let bytes = self.inner.read(buffer)?;
        self.since.set(self.since.get() + bytes);
        Ok(bytes)
    }
}

/// A row of a table, by the names of its columns.
pub(super) struct Row<'a> {
    pub(super) line: usize,
    headings: &'a [String],
    record: &'a csv::StringRecord,
    twice: bool,
}

impl Row<'_> {
    /// The cell below a heading, whatever the case of its letters; empty where there is no such column.
    pub(super) fn cell(&self, name: &str) -> String {
        let text = self.text(name);
        if text.is_ascii() {
            return unguarded(text);
        }
        let mended = self.twice.then(|| Letters::Twice.text(text.as_bytes())).flatten();
        plain(&unguarded(mended.as_deref().unwrap_or(text)))
    }

    /// Whether the cell below a heading says just this word, whatever the case of its letters.
    pub(super) fn says(&self, name: &str, word: &str) -> bool {
        self.text(name).eq_ignore_ascii_case(word)
    }

    /// The cell as it stands in the file.
    fn text(&self, name: &str) -> &str {
        let column = self.headings.iter().position(|heading| heading.eq_ignore_ascii_case(name));
        column.and_then(|index| self.record.get(index)).unwrap_or_default().trim()
    }

    /// The first of several cells that is not empty.
    pub(super) fn first_of(&self, names: &[&str]) -> String {
        names.iter().map(|name| self.cell(name)).find(|cell| !cell.is_empty()).unwrap_or_default()
    }

    /// It is taken out of the office's system.
    pub(super) fn is_gone(&self) -> bool {
        self.says("status", "tobedeleted")
    }
}
