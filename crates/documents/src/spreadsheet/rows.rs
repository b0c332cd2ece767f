//! The rows of a sheet while it is read, with everything that bounds them.

use crate::table::{Bounds, LONGEST_CELL, MAX_TABLE_COLUMNS, Record, TableError, plain};

/// Rows that have something in them, each with its number, from 1.
pub(super) struct Rows {
    bounds: Bounds,
    begun: Vec<Record>,
    cells: usize,
    bytes: usize,
}

impl Rows {
    pub(super) fn new(bounds: Bounds) -> Self {
        Self { bounds, begun: Vec::new(), cells: 0, bytes: 0 }
    }

    /// Puts a text in its place, row and column from 0; a cell with nothing in it is none.
    pub(super) fn put(&mut self, row: usize, column: usize, text: &str) -> Result<(), TableError> {
        let text = plain(text);
        if text.is_empty() {
            return Ok(());
        }
        let line = row.saturating_add(1);
        if column >= MAX_TABLE_COLUMNS {
            return Err(TableError::TooManyColumns);
        }
        if text.len() > LONGEST_CELL {
            return Err(TableError::LongCell { line: u64::try_from(line).unwrap_or(u64::MAX) });
        }
        if self.begun.last().is_none_or(|(last, _)| *last != line) {
            self.begun.push((line, Vec::new()));
        }
        self.cells += 1;
        self.bytes += text.len();
        // Titles and headings are rows too.
        if self.begun.len() > self.bounds.rows + 100 {
            return Err(TableError::TooManyRows(self.bounds));
        }
        if self.cells > self.bounds.cells {
            return Err(TableError::TooManyCells(self.bounds));
        }
        if self.bytes > self.bounds.bytes {
            return Err(TableError::TooLarge(self.bounds));
        }
        let (_, cells) = self.begun.last_mut().expect("a row was begun");
        if cells.len() <= column {
            cells.resize(column + 1, String::new());
        }
        cells[column] = text;
        Ok(())
    }

    /// In the order of the sheet.
    pub(super) fn finish(mut self) -> Vec<Record> {
        self.begun.sort_by_key(|(line, _)| *line);
        self.begun
    }
}
