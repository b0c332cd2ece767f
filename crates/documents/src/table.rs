//! Reading CSV of any reasonable shape: comma, semicolon or tab; UTF-8 with or without an observation, UTF-16, Windows-1252.

use unicode_normalization::UnicodeNormalization;

use crate::csv_out::unguarded;

/// The largest file read, in bytes.
pub const LARGEST: usize = 8 * 1024 * 1024;
/// The most rows read.
pub const MAX_TABLE_ROWS: usize = 20_000;
/// The most columns read.
pub const MAX_TABLE_COLUMNS: usize = 200;
/// The most cells read, those left empty among them.
pub const MAX_TABLE_CELLS: usize = 500_000;
/// The longest line read, in bytes: every column with its longest cell.
const LONGEST_LINE: usize = MAX_TABLE_COLUMNS * (LONGEST_CELL + 1);
/// The longest cell read, in bytes.
pub const LONGEST_CELL: usize = 1_000;

/// A table: the first row is its headings.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Table {
    /// The headings, spaces trimmed; empty ones are kept.
    pub headings: Vec<String>,
    /// The rows below, each as long as the headings; rows with nothing in them are left out.
    pub rows: Vec<TableRow>,
}

/// A row of a table.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TableRow {
    /// The line of the file it begins on, from 1.
    pub line: usize,
    /// Its cells, spaces trimmed.
    pub cells: Vec<String>,
}

/// Why a file cannot be read as a table.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum TableError {
    /// Nothing in it.
    #[error("The file is empty. Save it again from the spreadsheet as CSV.")]
    Empty,
    /// Not text at all.
    #[error("This is not a text file but {0}. In the spreadsheet choose Save as, CSV.")]
    NotText(&'static str),
    /// More bytes than [`LARGEST`].
    #[error("The file is larger than {} MB. Export only the children's rows and columns.", LARGEST / 1024 / 1024)]
    TooLarge,
    /// More rows than [`MAX_TABLE_ROWS`].
    #[error("The file has more than {MAX_TABLE_ROWS} rows. Export only the children of this class.")]
    TooManyRows,
    /// More columns than [`MAX_TABLE_COLUMNS`].
    #[error("The file has more than {MAX_TABLE_COLUMNS} columns. Export only those that matter.")]
    TooManyColumns,
    /// More rows times columns than [`MAX_TABLE_CELLS`].
    #[error("The file has more than {MAX_TABLE_CELLS} cells. Export only the rows and columns that matter.")]
    TooManyCells,
    /// A cell longer than [`LONGEST_CELL`].
    #[error("Line {line} has a cell longer than {LONGEST_CELL} characters. Shorten it; nothing was changed.")]
    LongCell {
        /// The line, from 1.
        line: u64,
    },
    /// The CSV itself is broken.
    #[error("Line {line} cannot be read: {reason}. Everything before it is fine.")]
    Broken {
        /// The line, from 1.
        line: u64,
        /// What is wrong.
        reason: String,
    },
}

/// Reads a table.
///
/// # Errors
/// [`TableError`], each with what to do.
pub fn read(bytes: &[u8]) -> Result<Table, TableError> {
    if bytes.len() > LARGEST {
        return Err(TableError::TooLarge);
    }
    // A line is counted at its end whether that is one character or two.
    let text = text(bytes)?.replace("\r\n", "\n");
    if text.trim().is_empty() {
        return Err(TableError::Empty);
    }
    if let Some(line) = text.split('\n').position(|line| line.len() > LONGEST_LINE) {
        return Err(TableError::LongCell { line: u64::try_from(line + 1).unwrap_or(u64::MAX) });
    }
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(delimiter(&text))
        .flexible(true)
        .has_headers(false)
        .from_reader(text.as_bytes());
    let mut headings: Option<Vec<String>> = None;
    let mut rows = Vec::new();
    for record in reader.records() {
        let record = record.map_err(|error| TableError::Broken {
            line: error.position().map_or(1, csv::Position::line),
            reason: "it is no text in the expected form".to_owned(),
        })?;
        let line = record.position().map_or(1, csv::Position::line);
        if record.iter().any(|cell| cell.len() > LONGEST_CELL) {
            return Err(TableError::LongCell { line });
        }
        let columns = match &headings {
            None if record.len() > MAX_TABLE_COLUMNS => return Err(TableError::TooManyColumns),
            None => record.len(),
            Some(headings) => headings.len(),
        };
        let mut cells: Vec<String> = record.iter().take(columns).map(|cell| plain(&unguarded(cell.trim()))).collect();
        if cells.iter().all(String::is_empty) {
            continue;
        }
        match &headings {
            None => headings = Some(cells),
            Some(_) if rows.len() == MAX_TABLE_ROWS => return Err(TableError::TooManyRows),
            Some(headings) if (rows.len() + 1) * headings.len() > MAX_TABLE_CELLS => {
                return Err(TableError::TooManyCells);
            }
            Some(headings) => {
                cells.resize(headings.len(), String::new());
                rows.push(TableRow { line: usize::try_from(line).unwrap_or(usize::MAX), cells });
            }
        }
    }
    Ok(Table { headings: headings.ok_or(TableError::Empty)?, rows })
}

/// A cell's text: accents composed (Unicode's form C), without the characters that have no width and no meaning of their own, so that
/// the same name is the same text however it was typed.
fn plain(cell: &str) -> String {
    let unseen = |letter: &char| matches!(letter, '\u{200b}' | '\u{2060}' | '\u{feff}' | '\u{ad}');
    let kept: String = cell.nfc().filter(|letter| !unseen(letter)).collect();
    kept.trim().to_owned()
}

/// The text of a file, whatever it was saved as.
fn text(bytes: &[u8]) -> Result<String, TableError> {
    for (magic, what) in [
        (&b"PK\x03\x04"[..], "a zip or a spreadsheet"),
        (&b"\xd0\xcf\x11\xe0"[..], "a spreadsheet of an older kind"),
        (&b"%PDF"[..], "a PDF"),
    ] {
        if bytes.starts_with(magic) {
            return Err(TableError::NotText(what));
        }
    }
    if let Some((encoding, observation)) = encoding_rs::Encoding::for_bom(bytes) {
        return Ok(encoding.decode_without_bom_handling(&bytes[observation..]).0.into_owned());
    }
    // UTF-16 without an observation: every other byte of its first part is zero.
    let head = &bytes[..bytes.len().min(64)];
    let zeros = |odd: usize| head.iter().skip(odd).step_by(2).filter(|byte| **byte == 0).count();
    if head.len() >= 4 && zeros(1) * 4 > head.len() {
        return Ok(encoding_rs::UTF_16LE.decode_without_bom_handling(bytes).0.into_owned());
    }
    if head.len() >= 4 && zeros(0) * 4 > head.len() {
        return Ok(encoding_rs::UTF_16BE.decode_without_bom_handling(bytes).0.into_owned());
    }
    if let Ok(text) = std::str::from_utf8(bytes) {
        if text.contains('\0') {
            return Err(TableError::NotText("something with null bytes in it"));
        }
        return Ok(text.to_owned());
    }
    if bytes.contains(&0) {
        return Err(TableError::NotText("something with null bytes in it"));
    }
    Ok(encoding_rs::WINDOWS_1252.decode_without_bom_handling(bytes).0.into_owned())
}

/// The delimiter that divides the first line into most cells, outside quotes; a comma where none does.
fn delimiter(text: &str) -> u8 {
    let first = text.lines().find(|line| !line.trim().is_empty()).unwrap_or_default();
    let count = |delimiter: char| {
        let mut quoted = false;
        first
            .chars()
            .filter(|c| {
                quoted ^= *c == '"';
                !quoted && *c == delimiter
            })
            .count()
    };
    [(b',', ','), (b';', ';'), (b'\t', '\t')]
        .into_iter()
        .max_by_key(|(byte, delimiter)| (count(*delimiter), *byte == b','))
        .map_or(b',', |(byte, _)| byte)
}
