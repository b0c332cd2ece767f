//! The inventory as a file: out, and in again by the tags, first as a preview.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::AssetId;
use bright_row_core::day::Day;
use bright_row_core::setup::matching::Condition;
use bright_row_core::setup::names::instrument_of;
use bright_row_documents::table::{self, TableRow};
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans::Loan;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::guard::{Director, Member};
use crate::digest::digest;
use crate::error::answers::{ForDirectorsImporting, ForMembers};
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::fields::Fields;
use crate::extract::files::{Agreement, Download, Upload};
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

/// What an import of instruments would do, or did.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct InventoryPreview {
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
}

/// Shows what each row of a file would become, or, with the digest of that, imports it, all or nothing; directors only.
/// Instruments are found again by their tags.
#[utoipa::path(post, path = "/api/classes/{class}/instruments/import", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), Agreement),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 200, body = InventoryPreview),
        ForDirectorsImporting,
    ))]
pub async fn import_instruments(
    State(app): State<App>,
    Director(member): Director,
    Query(agreement): Query<Agreement>,
    Upload(bytes): Upload,
) -> Result<Json<InventoryPreview>, ApiError> {
    let file_fault = |words: String| ApiError::Invalid(vec![FieldError::new("file", words)]);
    let table = app.readers.read(move || table::read(&bytes)).await?.map_err(|error| file_fault(error.to_string()))?;
    let columns = Columns::of(&table.headings);
    if !columns.0.contains_key("Tag") || !columns.0.contains_key("Kind") || !columns.0.contains_key("Size") {
        let wanted =
            format!("The file needs the columns Tag, Kind and Size; it may have {}.", HEADINGS[3..].join(", "));
        return Err(file_fault(wanted));
    }
    let checks = AssetChecks { facts: &app.content.instruments, today: member.class.calendar.day_of(app.now()) };
    let preview = store_instruments(&app, &member, agreement.import, |known, lent, done| {
        let (rows, keep) = row_actions(&table.rows, &columns, &checks, known, lent);
        let mut preview = InventoryPreview::new(rows, &keep);
        preview.done = done;
        let Some(agreed) = agreement.digest.filter(|_| !done) else { return Ok((preview, None)) };
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
        let read = columns.read(row, checks, before).and_then(|asset| {
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
        rows_out.push(AssetRow { line: row.line, tag: columns.cell(row, "Tag").to_owned(), action, reason });
    }
    (rows_out, keep)
}

/// The columns of an inventory by their headings.
struct Columns(BTreeMap<&'static str, usize>);

impl Columns {
    fn of(headings: &[String]) -> Self {
        let place = |name: &&'static str| {
            headings.iter().position(|heading| heading.eq_ignore_ascii_case(name)).map(|index| (*name, index))
        };
        Self(HEADINGS.iter().filter_map(place).collect())
    }

    fn cell<'a>(&self, row: &'a TableRow, name: &str) -> &'a str {
        self.0.get(name).map_or("", |index| row.cells[*index].as_str())
    }

    /// The instrument of a row; columns that the file does not have keep what is known.
    fn read(&self, row: &TableRow, checks: &AssetChecks<'_>, before: Option<&Asset>) -> Result<Asset, String> {
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
        let length = text("String length mm", |asset| written_mm(asset.string_length_mm));
        let height = text("String height mm", |asset| written_mm(asset.string_height_mm));
        let body = AssetBody {
            tag: self.cell(row, "Tag").to_owned(),
            instrument,
            size: self.cell(row, "Size").to_owned(),
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
