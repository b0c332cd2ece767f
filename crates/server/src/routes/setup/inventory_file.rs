//! The inventory as a file: out, and in again by the tags, first as a preview.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::AssetId;
use bright_row_documents::reading::Reading;
use bright_row_documents::table::{self, Bounds, TableError, TableFile, TableRow};
use bright_row_store::headings::{self, FileKind};
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
use crate::extract::files::{Download, Upload};
use crate::routes::setup::file_letters::{self, LettersView};
use crate::routes::setup::instruments::AssetChecks;
use crate::routes::setup::inventory_columns::{Columns, HEADINGS, InventoryColumn, meaning, said_columns, written_mm};
use crate::routes::setup::roster_preview::RowOutcome;
use crate::state::App;
use crate::use_cases::store_instruments::store_instruments;

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
    Ok(Download::csv("instruments", &instrument_rows(&app, &member).await?))
}

/// The same as a workbook; read in again it is the same too.
#[utoipa::path(get, path = "/api/classes/{class}/instruments.xlsx", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
        ForMembers,
    ))]
pub async fn instruments_xlsx(State(app): State<App>, member: Member) -> Result<Download, ApiError> {
    Download::workbook("instruments", "Instruments", instrument_rows(&app, &member).await?)
}

/// The same rows for every kind of file, the headings first.
async fn instrument_rows(app: &App, member: &Member) -> Result<Vec<Vec<String>>, ApiError> {
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
    Ok(rows)
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
    let remembered = headings::of_program(&app.db, member.class.key.program, FileKind::Inventory).await?;
    let recalled = remembered.clone();
    let letters = file_letters::asked(how.letters.as_deref())?;
    let read = move || {
        let is_heading = |cell: &str| meaning(cell, &recalled).is_some();
        let reading = Reading::default();
        let how = table::How { letters, is_heading: &is_heading, bounds: Bounds::USUAL, reading: &reading };
        table::read_file(&bytes, how)
    };
    let fault = |error: TableError| ApiError::Invalid(vec![FieldError::new("file", error.to_string())]);
    let TableFile { table, samples } = app.readers.read(read).await?.map_err(fault)?;
    let columns = Columns::of(&table.headings, &said, &remembered);
    let meant = columns.meant(&table.headings);
    let needs = columns.needs();
    let shown = columns.views(&table);
    let mut letters = file_letters::views(samples);
    let checks = AssetChecks { facts: &app.content.instruments, today: member.class.calendar.day_of(app.now()) };
    let preview = store_instruments(&app, &member, how.import, &meant, |known, lent, done| {
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
        if let Some(needs) = &preview.needs {
            return Err(ApiError::Invalid(vec![FieldError::new("mapping", needs.clone())]));
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
