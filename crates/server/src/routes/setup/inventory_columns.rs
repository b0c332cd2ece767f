//! The columns of an inventory's file: what their headings mean, and a row read by them.

use std::collections::BTreeMap;

use bright_row_core::day::Day;
use bright_row_core::setup::matching::Condition;
use bright_row_core::setup::names::instrument_of;
use bright_row_core::setup::size_as_date::size_of_date;
use bright_row_documents::table::{Table, TableRow};
use bright_row_store::instruments::assets::Asset;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::error::{ApiError, FieldError};
use crate::extract::fields::Fields;
use crate::routes::setup::instrument_views::AssetBody;
use crate::routes::setup::instruments::AssetChecks;

/// The headings of a file of ours, those first without which no instrument can be read.
pub(super) const HEADINGS: [&str; 12] = [
    "Tag",
    "Kind",
    "Size",
    "String length mm",
    "String height mm",
    "Condition",
    "Note",
    "Since",
    "Bow",
    "Support",
    "Pin anchor",
    "Case",
];

/// The headings of other files that mean the same.
const ALSO: [(&str, &[&str]); 9] = [
    (
        "Tag",
        &[
            "asset",
            "asset tag",
            "asset number",
            "barcode",
            "id",
            "instrument id",
            "inventory number",
            "label",
            "number",
        ],
    ),
    ("Kind", &["instrument", "instrument type", "type"]),
    ("Size", &["instrument size"]),
    (
        "String length mm",
        &["length mm", "string length", "string length (mm)", "string mm", "vibrating length", "vibrating length mm"],
    ),
    ("String height mm", &["string height", "string height (mm)"]),
    ("Condition", &["state"]),
    ("Note", &["condition note", "notes", "remarks"]),
    ("Support", &["shoulder rest"]),
    ("Pin anchor", &["endpin anchor", "pin stop"]),
];

/// What stands for a column that is left out, among what is remembered.
const NOTHING: &str = "nothing";

/// What a heading is taken for: as in an earlier file, otherwise as headings usually mean; `None` for what is left out.
pub(super) fn meaning(heading: &str, remembered: &BTreeMap<String, String>) -> Option<&'static str> {
    match remembered.get(&heading.to_lowercase()) {
        Some(known) if known == NOTHING => None,
        Some(known) => HEADINGS.into_iter().find(|name| name == known).or_else(|| usual(heading)),
        None => usual(heading),
    }
}

/// A column of the file.
#[skip_serializing_none]
#[derive(Clone, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct InventoryColumn {
    heading: String,
    /// What it is taken for, by its heading in a file of ours; absent for what is left out.
    means: Option<&'static str>,
    /// The first cell below that is not empty.
    example: String,
}

/// The columns of an inventory by their headings.
pub(super) struct Columns(BTreeMap<&'static str, usize>);

impl Columns {
    /// As the director says, otherwise as it was said of an earlier file, otherwise as headings usually mean; each meaning is one
    /// column's.
    pub(super) fn of(
        headings: &[String],
        said: &BTreeMap<String, Option<&'static str>>,
        remembered: &BTreeMap<String, String>,
    ) -> Self {
        let mut columns = BTreeMap::new();
        for (index, heading) in headings.iter().enumerate() {
            if let Some(Some(means)) = said.get(heading) {
                columns.insert(*means, index);
            }
        }
        for (index, heading) in headings.iter().enumerate().filter(|(_, heading)| !said.contains_key(*heading)) {
            if let Some(means) = meaning(heading, remembered) {
                columns.entry(means).or_insert(index);
            }
        }
        Self(columns)
    }

    /// What every heading of the file is taken for, in small letters, to be remembered.
    pub(super) fn meant(&self, headings: &[String]) -> BTreeMap<String, String> {
        let of =
            |index: usize| self.0.iter().find(|(_, column)| **column == index).map_or(NOTHING, |(means, _)| *means);
        let named = headings.iter().enumerate().map(|(index, heading)| (heading.to_lowercase(), of(index).to_owned()));
        named.collect()
    }

    /// What is still to be said before a row can be read.
    pub(super) fn needs(&self) -> Option<String> {
        let missing: Vec<&str> = HEADINGS[..3].iter().copied().filter(|name| !self.0.contains_key(name)).collect();
        (!missing.is_empty()).then(|| format!("Say which column holds: {}.", missing.join(", ")))
    }

    /// Every column of a table with what it is taken for.
    pub(super) fn views(&self, table: &Table) -> Vec<InventoryColumn> {
        let means = |index: usize| self.0.iter().find(|(_, column)| **column == index).map(|(means, _)| *means);
        let example = |index: usize| {
            let cells = table.rows.iter().map(|row| &row.cells[index]);
            cells.into_iter().find(|cell| !cell.is_empty()).cloned().unwrap_or_default()
        };
        let view = |(index, heading): (usize, &String)| InventoryColumn {
            heading: heading.clone(),
            means: means(index),
            example: example(index).chars().take(60).collect(),
        };
        table.headings.iter().enumerate().map(view).collect()
    }

    pub(super) fn cell<'a>(&self, row: &'a TableRow, name: &str) -> &'a str {
        self.0.get(name).map_or("", |index| row.cells[*index].as_str())
    }

    /// The instrument of a row; columns that the file does not have keep what is known.
    /// Puts into `read_as` what was read otherwise than it stands there.
    pub(super) fn read(
        &self,
        row: &TableRow,
        checks: &AssetChecks<'_>,
        (before, read_as): (Option<&Asset>, &mut Option<String>),
    ) -> Result<Asset, String> {
        let kind = self.cell(row, "Kind");
        let instrument =
            instrument_of(kind).ok_or_else(|| format!("“{kind}” is none of violin, viola, cello and bass."))?;
        let text = |name: &'static str, known: fn(&Asset) -> String| match self.0.get(name) {
            Some(index) => row.cells[*index].clone(),
            None => before.map(known).unwrap_or_default(),
        };
        let flag = |name: &'static str, known: fn(&Asset) -> bool| {
            yes_or_no(name, self.cell(row, name)).map(|flag| flag.unwrap_or_else(|| before.is_none_or(known)))
        };
        let facts = &checks.facts[&instrument];
        let mut size = self.cell(row, "Size").to_owned();
        // A spreadsheet takes 3/4 for a day.
        let was = size_of_date(&size).filter(|was| facts.size(&size).is_none() && facts.size(was).is_some());
        if let Some(was) = was {
            *read_as = Some(format!("Size {size} is read as {was}."));
            size = was;
        }
        let length = text("String length mm", |asset| written_mm(asset.string_length_mm));
        let height = text("String height mm", |asset| written_mm(asset.string_height_mm));
        let body = AssetBody {
            tag: self.cell(row, "Tag").to_owned(),
            instrument,
            size,
            string_length_mm: length_mm(&length)?,
            string_height_mm: length_mm(&height)?,
            condition: condition(&text("Condition", |asset| asset.condition.word().to_owned()))?,
            condition_note: text("Note", |asset| asset.condition_note.clone()),
            condition_since: day(&text("Since", |asset| asset.condition_since.to_string()))?,
            bow: flag("Bow", |asset| asset.bow)?,
            support: text("Support", |asset| asset.support.clone()),
            pin_anchor: text("Pin anchor", |asset| asset.pin_anchor.clone()),
            case: flag("Case", |asset| asset.case)?,
        };
        let id = before.map_or_else(|| Uuid::now_v7().into(), |before| before.id);
        let mut fields = Fields::default();
        let asset = checks.read(id, &body, &mut fields);
        let faults = fields.faults();
        if faults.is_empty() {
            return Ok(asset);
        }
        Err(faults.into_iter().map(|fault| fault.detail).collect::<Vec<_>>().join(" "))
    }
}

/// What a heading usually means.
pub(super) fn usual(heading: &str) -> Option<&'static str> {
    let plain = heading.to_lowercase().replace(['_', '-'], " ");
    let own = HEADINGS.iter().find(|own| own.eq_ignore_ascii_case(plain.trim())).copied();
    own.or_else(|| ALSO.iter().find(|(_, words)| words.contains(&plain.trim())).map(|(means, _)| *means))
}

/// What the director says that columns hold.
pub(super) fn said_columns(mapping: Option<&str>) -> Result<BTreeMap<String, Option<&'static str>>, ApiError> {
    let fault = |words: String| ApiError::Invalid(vec![FieldError::new("mapping", words)]);
    let read: BTreeMap<String, Option<String>> = mapping
        .map_or(Ok(BTreeMap::new()), serde_json::from_str)
        .map_err(|error| fault(format!("It cannot be read: {error}.")))?;
    let known = |(heading, means): (String, Option<String>)| match means {
        None => Ok((heading, None)),
        Some(means) => match HEADINGS.iter().find(|own| **own == means) {
            Some(own) => Ok((heading, Some(*own))),
            None => Err(fault(format!("“{means}” is none of {}.", HEADINGS.join(", ")))),
        },
    };
    read.into_iter().map(known).collect()
}

/// `None` for an empty cell.
fn yes_or_no(name: &str, cell: &str) -> Result<Option<bool>, String> {
    match cell.to_lowercase().as_str() {
        "yes" | "y" | "true" | "1" | "x" => Ok(Some(true)),
        "no" | "n" | "false" | "0" => Ok(Some(false)),
        "" => Ok(None),
        other => Err(format!("{name} is yes or no, not “{other}”.")),
    }
}

/// Empty for what was not measured.
pub(super) fn written_mm(mm: Option<f64>) -> String {
    mm.map(|mm| mm.to_string()).unwrap_or_default()
}

/// `None` for an empty cell; a comma is a decimal point.
fn length_mm(cell: &str) -> Result<Option<f64>, String> {
    match cell.replace(',', ".").as_str() {
        "" => Ok(None),
        number => number.parse().map(Some).map_err(|_| format!("“{number}” is no length in millimetres.")),
    }
}

/// Good for an empty cell.
fn condition(cell: &str) -> Result<Condition, String> {
    match cell.to_lowercase().as_str() {
        "" => Ok(Condition::Good),
        word => Condition::parse(word).ok_or_else(|| format!("A condition is good, fair or repair, not “{word}”.")),
    }
}

/// `None` for an empty cell.
fn day(cell: &str) -> Result<Option<Day>, String> {
    match cell {
        "" => Ok(None),
        day => day.parse().map(Some).map_err(|_| format!("“{day}” is no date: write 2026-09-01.")),
    }
}
