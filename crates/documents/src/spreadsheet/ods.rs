//! Sheets of `OpenDocument` (`.ods`, OASIS ODF 1.3, part 3), read piece by piece: a cell may claim to be repeated a million times.

use std::io::BufRead;

use quick_xml::events::{BytesStart, Event};
use quick_xml::{Reader, XmlVersion};

use super::broken;
use super::rows::Rows;
use crate::table::{Bounds, LONGEST_CELL, MAX_TABLE_COLUMNS, Record, TableError};

/// The rows of the first sheet that has something on it.
pub(super) fn rows(content: impl BufRead, bounds: Bounds) -> Result<Vec<Record>, TableError> {
    let mut reader = Reader::from_reader(content);
    let mut buffer = Vec::new();
    loop {
        buffer.clear();
        match reader.read_event_into(&mut buffer).map_err(|_| broken())? {
            Event::Start(tag) if tag.name().as_ref() == "table:table" => {
                let rows = sheet(&mut reader, bounds)?;
                if !rows.is_empty() {
                    return Ok(rows);
                }
            }
            Event::Eof => return Err(TableError::Empty),
            _ => {}
        }
    }
}

/// The rows of the sheet that has begun, to its end.
fn sheet<R: BufRead>(reader: &mut Reader<R>, bounds: Bounds) -> Result<Vec<Record>, TableError> {
    let mut rows = Rows::new(bounds);
    let mut at = 0_usize;
    let mut buffer = Vec::new();
    loop {
        buffer.clear();
        match reader.read_event_into(&mut buffer).map_err(|_| broken())? {
            Event::Start(tag) if tag.name().as_ref() == "table:table-row" => {
                let again = times(&tag, "table:number-rows-repeated");
                let cells = row(reader)?;
                if cells.is_empty() {
                    at = at.saturating_add(again);
                } else {
                    for _ in 0..again {
                        for (column, many, text) in &cells {
                            for column in *column..column.saturating_add(*many) {
                                rows.put(at, column, text)?;
                            }
                        }
                        at = at.saturating_add(1);
                    }
                }
            }
            Event::Empty(tag) if tag.name().as_ref() == "table:table-row" => {
                at = at.saturating_add(times(&tag, "table:number-rows-repeated"));
            }
            Event::End(tag) if tag.name().as_ref() == "table:table" => return Ok(rows.finish()),
            Event::Eof => return Err(broken()),
            _ => {}
        }
    }
}

/// The cells of the row that has begun, those with something in them: the column, how often it is repeated, and what it says.
fn row<R: BufRead>(reader: &mut Reader<R>) -> Result<Vec<(usize, usize, String)>, TableError> {
    let is_cell = |name: &str| matches!(name, "table:table-cell" | "table:covered-table-cell");
    let mut cells = Vec::new();
    let mut column = 0_usize;
    let mut buffer = Vec::new();
    loop {
        buffer.clear();
        match reader.read_event_into(&mut buffer).map_err(|_| broken())? {
            Event::Start(tag) if is_cell(tag.name().as_ref()) => {
                let again = times(&tag, "table:number-columns-repeated");
                let said = value(&tag);
                let text = words(reader, tag.name().as_ref())?;
                let text = said.unwrap_or(text);
                if !text.trim().is_empty() {
                    if column >= MAX_TABLE_COLUMNS {
                        return Err(TableError::TooManyColumns);
                    }
                    cells.push((column, again, text));
                }
                column = column.saturating_add(again);
            }
            Event::Empty(tag) if is_cell(tag.name().as_ref()) => {
                let again = times(&tag, "table:number-columns-repeated");
                cells.extend(value(&tag).map(|said| (column, again, said)));
                column = column.saturating_add(again);
            }
            Event::End(tag) if tag.name().as_ref() == "table:table-row" => return Ok(cells),
            Event::Eof => return Err(broken()),
            _ => {}
        }
    }
}

fn attribute(tag: &BytesStart<'_>, name: &str) -> Option<String> {
    let found = tag.try_get_attribute(name).ok().flatten()?;
    found.normalized_value(XmlVersion::Implicit1_0).ok().map(std::borrow::Cow::into_owned)
}

fn times(tag: &BytesStart<'_>, name: &str) -> usize {
    attribute(tag, name).and_then(|many| many.parse().ok()).unwrap_or(1).max(1)
}

/// What a cell holds beside its words: a day as `2026-09-01`, a number without its look, nothing for words.
fn value(tag: &BytesStart<'_>) -> Option<String> {
    match attribute(tag, "office:value-type")?.as_str() {
        "date" => attribute(tag, "office:date-value").map(|day| day.chars().take(10).collect()),
        "float" | "percentage" | "currency" => {
            let number: f64 = attribute(tag, "office:value")?.parse().ok()?;
            number.is_finite().then(|| number.to_string())
        }
        "boolean" => Some(if attribute(tag, "office:boolean-value")? == "true" { "yes" } else { "no" }.to_owned()),
        _ => None,
    }
}

/// The words of the cell that has begun, to its end; paragraphs are divided by spaces, notes left out.
fn words<R: BufRead>(reader: &mut Reader<R>, cell: &str) -> Result<String, TableError> {
    let mut text = String::new();
    let (mut depth, mut notes) = (0_usize, 0_usize);
    let mut buffer = Vec::new();
    loop {
        buffer.clear();
        let event = reader.read_event_into(&mut buffer).map_err(|_| broken())?;
        // Longer than any cell that is read: the rest is passed over, and the cell refused by its length.
        let full = text.len() > LONGEST_CELL;
        match event {
            Event::Start(tag) => match tag.name().as_ref() {
                "office:annotation" => notes += 1,
                name if name == cell => depth += 1,
                "text:p" if notes == 0 && !text.is_empty() && !full => text.push(' '),
                _ => {}
            },
            Event::Empty(tag) if notes == 0 && !full => match tag.name().as_ref() {
                "text:s" => text.extend(std::iter::repeat_n(' ', times(&tag, "text:c").min(LONGEST_CELL))),
                "text:line-break" | "text:tab" => text.push(' '),
                _ => {}
            },
            Event::Text(part) if notes == 0 && !full => {
                text.push_str(&part.xml10_content());
            }
            Event::GeneralRef(part) if notes == 0 && !full => match part.resolve_char_ref() {
                Ok(Some(letter)) => text.push(letter),
                _ => {
                    text.push_str(quick_xml::escape::resolve_predefined_entity(&part).ok_or_else(broken)?);
                }
            },
            Event::CData(part) if notes == 0 && !full => text.push_str(&part.xml10_content()),
            Event::End(tag) => match tag.name().as_ref() {
                "office:annotation" => notes = notes.saturating_sub(1),
                name if name == cell && depth == 0 => return Ok(text),
                name if name == cell => depth -= 1,
                _ => {}
            },
            Event::Eof => return Err(broken()),
            _ => {}
        }
    }
}
