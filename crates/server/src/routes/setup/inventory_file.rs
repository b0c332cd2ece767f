//! The inventory as a file: out, and in again by the tags, first as a preview.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::AssetId;
use bright_row_core::day::Day;
use bright_row_core::setup::matching::Condition;
use bright_row_core::setup::names::instrument_of;
use bright_row_core::setup::size_as_date::size_of_date;
use bright_row_documents::table::{self, Table, TableError, TableFile, TableRow};
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans::Loan;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::auth::guard::{Director, Member};
use crate::digest::digest;
use crate::error::answers::{ForDirectorsImporting, ForMembers};
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::fields::Fields;
use crate::extract::files::{Download, Upload};
use crate::routes::setup::file_letters::{self, LettersView};
use crate::routes::setup::instrument_views::AssetBody;
use crate::routes::setup::instruments::AssetChecks;
use crate::routes::setup::roster_preview::RowOutcome;
use crate::state::App;
use crate::use_cases::store_instruments::store_instruments;

const HEADINGS: [&str; 12] = [
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

/// How to read the file, and whether the director has agreed.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct HowToRead {
    /// What headings mean, where it is not what they usually do: `{"String mm":"String length mm"}`; null leaves a column out.
    mapping: Option<String>,
    /// How the file's letters are to be read, where the preview shows that it is doubtful: `western`, `cyrillic` ...
    letters: Option<String>,
    /// The digest of the preview that the director agreed to; absent for a preview.
    digest: Option<String>,
    /// The id that the page gave this import when the file was chosen: the same sent again is not one more.
    import: Option<Uuid>,
}

/// The inventory as a file that imports again to the same inventory.
#[utoipa::path(get, path = "/api/classes/{class}/instruments.csv", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = String, content_type = "text/csv"),
        ForMembers,
    ))]
pub async fn instruments_csv(State(app): State<App>, member: Member) -> Result<Download, ApiError> {
    let assets = assets::all(&app.db, member.class.key.program).await?;
    let yes = |flag: bool| if flag { "yes".to_owned() } else { "no".to_owned() };
    let mut rows = vec![HEADINGS.map(str::to_owned).to_vec()];
    rows.extend(assets.into_iter().map(|asset| {
        vec![
            asset.tag,
            asset.instrument.name().to_owned(),
            asset.size,
            written_mm(asset.string_length_mm),
            written_mm(asset.string_height_mm),
            asset.condition.word().to_owned(),
            asset.condition_note,
            asset.condition_since.to_string(),
            yes(asset.bow),
            asset.support,
            asset.pin_anchor,
            yes(asset.case),
        ]
    }));
    Ok(Download::csv("instruments", &rows))
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

/// What an import of instruments would do, or did.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct InventoryPreview {
    /// Every column of the file with what it is taken for.
    columns: Vec<InventoryColumn>,
    /// The ways in which the file's letters could be read, with words of it, the way taken first; empty for a file that says how it
    /// is written.
    letters: Vec<LettersView>,
    /// What is still to be said before anything can be imported.
    needs: Option<String>,
    /// In the order of the file.
    rows: Vec<AssetRow>,
    new: usize,
    changed: usize,
    same: usize,
    refused: usize,
    /// Stands for exactly this; send it to agree.
    digest: String,
    /// It is stored.
    done: bool,
}

/// A row with its action.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AssetRow {
    line: usize,
    tag: String,
    action: RowOutcome,
    /// Why it is refused.
    reason: Option<String>,
    /// What was read otherwise than it stands in the file.
    read_as: Option<String>,
}

/// Shows what each row of a file would become, or, with the digest of that, imports it, all or nothing; directors only.
/// Instruments are found again by their tags.
#[utoipa::path(post, path = "/api/classes/{class}/instruments/import", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), HowToRead),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 200, body = InventoryPreview),
        ForDirectorsImporting,
    ))]
pub async fn import_instruments(
    State(app): State<App>,
    Director(member): Director,
    Query(how): Query<HowToRead>,
    Upload(bytes): Upload,
) -> Result<Json<InventoryPreview>, ApiError> {
    let said = said_columns(how.mapping.as_deref())?;
    let letters = file_letters::asked(how.letters.as_deref())?;
    let is_heading = |cell: &str| usual(cell).is_some();
    let read = move || table::read_file(&bytes, table::How { letters, is_heading: &is_heading });
    let fault = |error: TableError| ApiError::Invalid(vec![FieldError::new("file", error.to_string())]);
    let TableFile { table, samples, .. } = app.readers.read(read).await?.map_err(fault)?;
    let columns = Columns::of(&table.headings, &said);
    let missing: Vec<&str> = HEADINGS[..3].iter().copied().filter(|name| !columns.0.contains_key(name)).collect();
    let needs = (!missing.is_empty()).then(|| format!("Say which column holds: {}.", missing.join(", ")));
    let shown = columns.views(&table);
    let mut letters = file_letters::views(samples);
    let checks = AssetChecks { facts: &app.content.instruments, today: member.class.calendar.day_of(app.now()) };
    let preview = store_instruments(&app, &member, how.import, |known, lent, done| {
        let rows = if needs.is_none() { table.rows.as_slice() } else { &[] };
        let (rows, keep) = row_actions(rows, &columns, &checks, known, lent);
        let mut preview = InventoryPreview::new(rows, &keep);
        (preview.columns, preview.letters, preview.needs) = (shown, std::mem::take(&mut letters), needs);
        preview.done = done;
        let Some(agreed) = how.digest.filter(|_| !done) else { return Ok((preview, None)) };
        if agreed != preview.digest {
            return Err(ApiError::Conflict(
                "The store room or the file changed since you looked. Look at the preview again; nothing was stored.",
            ));
        }
        preview.done = true;
        Ok((preview, Some(keep)))
    });
    Ok(Json(preview.await?))
}

impl InventoryPreview {
    fn new(rows: Vec<AssetRow>, keep: &[Asset]) -> Self {
        let kept = keep.iter().map(|asset| format!("{:?}", Asset { id: Uuid::nil().into(), ..asset.clone() }));
        let count = |action: RowOutcome| rows.iter().filter(|row| row.action == action).count();
        Self {
            columns: Vec::new(),
            letters: Vec::new(),
            needs: None,
            new: count(RowOutcome::New),
            changed: count(RowOutcome::Changed),
            same: count(RowOutcome::Same),
            refused: count(RowOutcome::Refused),
            digest: digest(&kept.collect::<Vec<_>>().join("\n")),
            done: false,
            rows,
        }
    }
}

/// What each row would become, and the instruments to keep.
fn row_actions(
    rows: &[TableRow],
    columns: &Columns,
    checks: &AssetChecks<'_>,
    known: &[Asset],
    lent: &BTreeMap<AssetId, Loan>,
) -> (Vec<AssetRow>, Vec<Asset>) {
    let by_tag: BTreeMap<String, &Asset> = known.iter().map(|asset| (asset.tag.to_lowercase(), asset)).collect();
    let (mut keep, mut met) = (Vec::new(), BTreeSet::new());
    let mut rows_out = Vec::new();
    for row in rows {
        let before = by_tag.get(&columns.cell(row, "Tag").to_lowercase()).copied();
        let mut read_as = None;
        let read = columns.read(row, checks, (before, &mut read_as)).and_then(|asset| {
            if !met.insert(asset.tag.to_lowercase()) {
                return Err("This tag stands in the file twice: keep one.".to_owned());
            }
            match before {
                Some(before) if before.instrument != asset.instrument && lent.contains_key(&asset.id) => {
                    Err(format!("Somebody has this {}: let it be given back first.", before.instrument.name()))
                }
                _ => Ok(asset),
            }
        });
        let (action, reason) = match read {
            Err(reason) => (RowOutcome::Refused, Some(reason)),
            Ok(asset) if before == Some(&asset) => (RowOutcome::Same, None),
            Ok(asset) => {
                let action = if before.is_some() { RowOutcome::Changed } else { RowOutcome::New };
                keep.push(asset);
                (action, None)
            }
        };
        rows_out.push(AssetRow { line: row.line, tag: columns.cell(row, "Tag").to_owned(), action, reason, read_as });
    }
    (rows_out, keep)
}

/// The columns of an inventory by their headings.
struct Columns(BTreeMap<&'static str, usize>);

impl Columns {
    /// As the director says, and otherwise as headings usually mean; each meaning is one column's.
    fn of(headings: &[String], said: &BTreeMap<String, Option<&'static str>>) -> Self {
        let mut columns = BTreeMap::new();
        for (index, heading) in headings.iter().enumerate() {
            if let Some(Some(means)) = said.get(heading) {
                columns.insert(*means, index);
            }
        }
        for (index, heading) in headings.iter().enumerate().filter(|(_, heading)| !said.contains_key(*heading)) {
            if let Some(means) = usual(heading) {
                columns.entry(means).or_insert(index);
            }
        }
        Self(columns)
    }

    /// Every column of a table with what it is taken for.
    fn views(&self, table: &Table) -> Vec<InventoryColumn> {
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

    fn cell<'a>(&self, row: &'a TableRow, name: &str) -> &'a str {
        self.0.get(name).map_or("", |index| row.cells[*index].as_str())
    }

    /// The instrument of a row; columns that the file does not have keep what is known.
    /// `read_as` is told what was read otherwise than it stands there.
    fn read(
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
fn usual(heading: &str) -> Option<&'static str> {
    let plain = heading.to_lowercase().replace(['_', '-'], " ");
    let own = HEADINGS.iter().find(|own| own.eq_ignore_ascii_case(plain.trim())).copied();
    own.or_else(|| ALSO.iter().find(|(_, words)| words.contains(&plain.trim())).map(|(means, _)| *means))
}

/// What the director says that columns hold.
fn said_columns(mapping: Option<&str>) -> Result<BTreeMap<String, Option<&'static str>>, ApiError> {
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
fn written_mm(mm: Option<f64>) -> String {
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
