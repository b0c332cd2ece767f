//! Reading tables of any reasonable shape: CSV between whose cells stand commas, semicolons, tabs or bars, in any letters, with or
//! without titles above its headings; or a sheet of a spreadsheet.

use std::borrow::Cow;

use unicode_normalization::UnicodeNormalization;

use crate::csv_out::unguarded;
use crate::letters::{self, Letters, Written};
use crate::reading::Reading;
use crate::spreadsheet;

/// The largest file read, in bytes, but for those of a district.
pub const LARGEST: usize = Bounds::USUAL.bytes;
/// The most columns read.
pub const MAX_TABLE_COLUMNS: usize = 200;
/// The longest line read, in bytes: every column with its longest cell.
pub(crate) const LONGEST_LINE: usize = MAX_TABLE_COLUMNS * (LONGEST_CELL + 1);
/// The longest cell read, in bytes.
pub const LONGEST_CELL: usize = 1_000;

/// How much of a file is read at most.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Bounds {
    /// Its bytes, as it is sent.
    pub bytes: usize,
    /// Its rows.
    pub rows: usize,
    /// Its cells, those left empty among them.
    pub cells: usize,
}

impl Bounds {
    /// A file of one school.
    pub const USUAL: Self = Self { bytes: 8 * 1024 * 1024, rows: 20_000, cells: 500_000 };
    /// A roster of a whole district.
    pub const DISTRICT: Self = Self { bytes: 32 * 1024 * 1024, rows: 200_000, cells: 2_000_000 };

    /// The limit of bytes in MB, for people.
    #[must_use]
    pub const fn mb(self) -> usize {
        self.bytes / 1024 / 1024
    }
}

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
    /// More than [`Bounds::bytes`].
    #[error("The file is larger than {} MB. Export only the children's rows and columns.", .0.mb())]
    TooLarge(Bounds),
    /// More than [`Bounds::rows`].
    #[error("The file has more than {} rows. Export only the children of this class.", .0.rows)]
    TooManyRows(Bounds),
    /// More columns than [`MAX_TABLE_COLUMNS`].
    #[error("The file has more than {MAX_TABLE_COLUMNS} columns. Export only those that matter.")]
    TooManyColumns,
    /// More rows times columns than [`Bounds::cells`].
    #[error("The file has more than {} cells. Export only the rows and columns that matter.", .0.cells)]
    TooManyCells(Bounds),
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

/// How a file is to be read.
#[derive(Clone, Copy)]
pub struct How<'a> {
    /// How its letters are written, as somebody said who knows them; `None`: as they most likely are.
    pub letters: Option<Letters>,
    /// Whether a cell is a heading that is understood: what stands above the first row with two of them is a title.
    pub is_heading: &'a dyn Fn(&str) -> bool,
    /// How much is read.
    pub bounds: Bounds,
    /// Who waits for it.
    pub reading: &'a Reading,
}

/// A table, and how its letters were read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TableFile {
    /// The table.
    pub table: Table,
    /// Words in each way in which the letters could be read, the way taken first; empty where nothing is doubtful.
    pub samples: Vec<(Letters, String)>,
}

/// Reads a table whose first row has the headings.
///
/// # Errors
/// [`TableError`], each with what to do.
pub fn read(bytes: &[u8]) -> Result<Table, TableError> {
    let reading = Reading::default();
    let how = How { letters: None, is_heading: &|_| false, bounds: Bounds::USUAL, reading: &reading };
    read_file(bytes, how).map(|file| file.table)
}

/// Reads a file: CSV, or the first sheet of a spreadsheet that has something on it.
///
/// # Errors
/// [`TableError`], each with what to do.
pub fn read_file(bytes: &[u8], how: How<'_>) -> Result<TableFile, TableError> {
    if bytes.len() > how.bounds.bytes {
        return Err(TableError::TooLarge(how.bounds));
    }
    if spreadsheet::is_one(bytes) {
        let table = assembled(spreadsheet::rows(bytes, how.bounds, how.reading)?.into_iter().map(Ok), how)?;
        return Ok(TableFile { table, samples: Vec::new() });
    }
    let read = text(bytes, how.letters)?;
    // A line is counted at its end whether that is one character or two.
    let text = if read.text.contains("\r\n") { read.text.replace("\r\n", "\n") } else { read.text };
    if text.trim().is_empty() {
        return Err(TableError::Empty);
    }
    if let Some(line) = text.split('\n').position(|line| line.len() > LONGEST_LINE) {
        return Err(TableError::LongCell { line: u64::try_from(line + 1).unwrap_or(u64::MAX) });
    }
    let (said, text) = said_delimiter(&text);
    how.reading.begin(u64::try_from(text.len()).unwrap_or(u64::MAX));
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(said.unwrap_or_else(|| delimiter(&text)))
        .flexible(true)
        .has_headers(false)
        .from_reader(how.reading.watch(text.as_bytes()));
    let records = reader.records().map(|record| {
        let record = record.map_err(|error| TableError::Broken {
            line: error.position().map_or(1, csv::Position::line),
            reason: "it is no text in the expected form".to_owned(),
        })?;
        let line = record.position().map_or(1, csv::Position::line);
        if record.iter().any(|cell| cell.len() > LONGEST_CELL) {
            return Err(TableError::LongCell { line });
        }
        let cells = record.iter().take(MAX_TABLE_COLUMNS + 1).map(|cell| plain(&unguarded(cell.trim())));
        Ok((usize::try_from(line).unwrap_or(usize::MAX), cells.collect()))
    });
    let table = assembled(records, how)?;
    Ok(TableFile { table, samples: read.samples })
}

/// A row of a file: the line it begins on, from 1, and its cells.
pub(crate) type Record = (usize, Vec<String>);

/// So many rows may stand above the headings.
const MOST_TITLES: usize = 20;

/// The headings and the rows below them.
fn assembled(records: impl Iterator<Item = Result<Record, TableError>>, how: How<'_>) -> Result<Table, TableError> {
    let is_filled = |record: &Result<Record, TableError>| {
        record.as_ref().map_or(true, |(_, cells)| cells.iter().any(|cell| !cell.is_empty()))
    };
    let mut records = records.filter(is_filled);
    let first: Vec<Record> = records.by_ref().take(MOST_TITLES).collect::<Result<_, _>>()?;
    let understood = |(_, cells): &Record| cells.iter().filter(|cell| (how.is_heading)(cell)).count();
    let titles = first.iter().position(|record| understood(record) >= 2).unwrap_or_default();
    let mut all = first.into_iter().skip(titles).map(Ok).chain(records);
    let (_, headings) = all.next().ok_or(TableError::Empty)??;
    if headings.len() > MAX_TABLE_COLUMNS {
        return Err(TableError::TooManyColumns);
    }
    let mut rows = Vec::new();
    for record in all {
        let (line, mut cells) = record?;
        cells.resize(headings.len(), String::new());
        if cells.iter().all(String::is_empty) {
            continue;
        }
        if rows.len() == how.bounds.rows {
            return Err(TableError::TooManyRows(how.bounds));
        }
        if (rows.len() + 1) * headings.len() > how.bounds.cells {
            return Err(TableError::TooManyCells(how.bounds));
        }
        rows.push(TableRow { line, cells });
    }
    Ok(Table { headings, rows })
}

/// A cell's text: accents composed (Unicode's form C), without the characters that have no width and no meaning of their own, so that
/// the same name is the same text however it was typed.
pub(crate) fn plain(cell: &str) -> String {
    if cell.is_ascii() {
        return cell.trim().to_owned();
    }
    let unseen = |letter: &char| matches!(letter, '\u{200b}' | '\u{2060}' | '\u{feff}' | '\u{ad}');
    let kept: String = cell.nfc().filter(|letter| !unseen(letter)).collect();
    kept.trim().to_owned()
}

/// The text of a file, whatever it was saved as.
fn text(bytes: &[u8], asked: Option<Letters>) -> Result<Written, TableError> {
    for (magic, what) in [
        (&b"PK\x03\x04"[..], "a zip or a spreadsheet"),
        (&b"\xd0\xcf\x11\xe0"[..], "a spreadsheet of an older kind"),
        (&b"%PDF"[..], "a PDF"),
    ] {
        if bytes.starts_with(magic) {
            return Err(TableError::NotText(what));
        }
    }
    let read = letters::read(bytes, asked).filter(|read| !read.text.contains('\0'));
    read.ok_or(TableError::NotText("something with null bytes in it"))
}

/// What can stand between cells; of two that divide alike, the first.
const DELIMITERS: [char; 4] = [',', ';', '\t', '|'];

/// The delimiter that a first line such as `sep=;` names, and the text with that line left empty.
fn said_delimiter(text: &str) -> (Option<u8>, Cow<'_, str>) {
    let first = text.split('\n').next().unwrap_or_default();
    let said = first.get(..4).filter(|key| key.eq_ignore_ascii_case("sep=")).and_then(|_| first.get(4..));
    let mut letters = said.unwrap_or_default().chars();
    match (letters.next(), letters.as_str().trim()) {
        (Some(delimiter), "") if DELIMITERS.contains(&delimiter) => {
            (u8::try_from(delimiter).ok(), Cow::Owned(text[first.len()..].to_owned()))
        }
        _ => (None, Cow::Borrowed(text)),
    }
}

/// So many lines say what stands between cells.
const LINES_LOOKED_AT: usize = 20;

/// The delimiter that divides most of the first lines into the same number of cells, outside quotes; a comma where none does.
pub(crate) fn delimiter(text: &str) -> u8 {
    // How often each stands in each line; a line goes on while a quotation does.
    let mut lines = vec![[0; DELIMITERS.len()]];
    let mut quoted = false;
    for letter in text.chars() {
        quoted ^= letter == '"';
        if letter == '\n' && !quoted {
            if lines.len() == LINES_LOOKED_AT {
                break;
            }
            lines.push([0; DELIMITERS.len()]);
        } else if !quoted
            && let Some(at) = DELIMITERS.iter().position(|delimiter| *delimiter == letter)
            && let Some(line) = lines.last_mut()
        {
            line[at] += 1;
        }
    }
    let alike = |at: usize| {
        let counts: Vec<usize> = lines.iter().map(|line| line[at]).filter(|count| *count > 0).collect();
        let same = |many: &usize| counts.iter().filter(|count| *count == many).count();
        counts.iter().map(|many| (same(many), *many)).max().unwrap_or_default()
    };
    let best = (0..DELIMITERS.len()).rev().max_by_key(|at| alike(*at)).unwrap_or_default();
    u8::try_from(DELIMITERS[best]).unwrap_or(b',')
}
