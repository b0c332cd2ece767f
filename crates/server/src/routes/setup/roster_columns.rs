//! The columns of a roster's file: what their headings mean, and a row read by them.

use std::collections::BTreeMap;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::names::{FullName, instrument_of};
use bright_row_core::setup::roster_row::RosterRow;
use bright_row_documents::table;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a column holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum Means {
    /// The whole name.
    Name,
    /// The first name.
    Given,
    /// The family's name.
    Family,
    /// The instrument.
    Instrument,
    /// The grade.
    Grade,
    /// The office's number.
    Number,
    /// The class or group the row belongs to.
    Group,
    /// A wish for row 1.
    NearFront,
    /// A wish for a row's end.
    NearAisle,
    /// The child itself, as a roster that was taken out here has it.
    Own,
    /// Nothing that is kept.
    Nothing,
}

/// Headings as offices write them.
const USUAL: [(Means, &[&str]); 10] = [
    (
        Means::Name,
        &["name", "student", "student name", "child", "child name", "pupil", "pupil name", "full name", "learner"],
    ),
    (
        Means::Given,
        &[
            "first name",
            "firstname",
            "given name",
            "givenname",
            "first",
            "forename",
            "preferred name",
            "preferred first name",
        ],
    ),
    (Means::Family, &["last name", "lastname", "family name", "familyname", "surname", "last"]),
    (Means::Instrument, &["instrument", "part", "plays"]),
    (Means::Grade, &["grade", "grades", "grade level", "year", "year group", "form"]),
    (
        Means::Number,
        &[
            "school number",
            "number",
            "id",
            "student id",
            "studentid",
            "student number",
            "sourcedid",
            "pupil number",
            "pupil id",
        ],
    ),
    (Means::Group, &["class", "group", "course", "ensemble", "section", "homeroom"]),
    (Means::NearFront, &["near the front", "near front", "front"]),
    (Means::NearAisle, &["near an aisle", "near aisle", "aisle"]),
    (Means::Own, &["bright row id"]),
];

fn usual(heading: &str) -> Option<Means> {
    let plain = heading.to_lowercase().replace(['_', '-'], " ");
    USUAL.iter().find(|(_, words)| words.contains(&plain.trim())).map(|(means, _)| *means)
}

/// What a heading meant in the last import.
fn recall(heading: &str, remembered: &BTreeMap<String, String>) -> Option<Means> {
    let known = remembered.get(&heading.to_lowercase())?;
    serde_json::from_value(serde_json::Value::String(known.clone())).ok()
}

/// Whether a cell is a heading that means something: titles stand above the row of these.
pub(crate) fn is_heading(cell: &str, remembered: &BTreeMap<String, String>) -> bool {
    recall(cell, remembered).or_else(|| usual(cell)).is_some()
}

/// What each heading means: as the director says, as the last import had it, as offices usually write it.
///
/// Each meaning is given once, to the first heading that has it.
pub(crate) fn meanings(
    headings: &[String],
    said: &BTreeMap<String, Means>,
    remembered: &BTreeMap<String, String>,
) -> Vec<Means> {
    let mut given: Vec<Means> = said.values().copied().filter(|means| *means != Means::Nothing).collect();
    let recall = |heading: &str| recall(heading, remembered);
    let mut meaning = |heading: &String| {
        if let Some(means) = said.get(heading) {
            return *means;
        }
        let means: Means = recall(heading).or_else(|| usual(heading)).unwrap_or(Means::Nothing);
        if means == Means::Nothing || given.contains(&means) {
            return Means::Nothing;
        }
        given.push(means);
        means
    };
    headings.iter().map(&mut meaning).collect()
}

pub(crate) fn read_row(
    row: &table::TableRow,
    column: &impl Fn(Means) -> Option<usize>,
    fallback: Option<Instrument>,
) -> RosterRow {
    let cell = |means: Means| column(means).map(|index| row.cells[index].clone());
    let group = cell(Means::Group).unwrap_or_default();
    let name = match (cell(Means::Given), cell(Means::Name)) {
        (Some(given), _) => FullName::Parts { given, family: cell(Means::Family).unwrap_or_default() },
        (None, name) => FullName::Whole(name.unwrap_or_default()),
    };
    let text = cell(Means::Instrument).unwrap_or_default();
    let instrument = if text.is_empty() {
        instrument_of(&group).or(fallback).ok_or_else(String::new)
    } else {
        instrument_of(&text).ok_or(text)
    };
    let flag = |text: String| match text.to_lowercase().as_str() {
        "yes" | "y" | "true" | "1" | "x" => Some(true),
        "no" | "n" | "false" | "0" | "" => Some(false),
        _ => None,
    };
    RosterRow {
        line: row.line,
        own: cell(Means::Own).and_then(|id| id.parse::<uuid::Uuid>().ok()).map(Into::into),
        name,
        instrument,
        grade: cell(Means::Grade),
        number: cell(Means::Number),
        near_front: cell(Means::NearFront).and_then(flag),
        near_aisle: cell(Means::NearAisle).and_then(flag),
    }
}
