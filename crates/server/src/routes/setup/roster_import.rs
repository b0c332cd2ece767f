//! Importing a roster: first what each row would become, then, once the director agrees to just that, all of it.

use bright_row_core::setup::names;
use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::names::{FullName, instrument_of};
use bright_row_core::setup::roster::{ImportPlan, MAX_CHILDREN, RosterEntry, RosterField, RosterRow, RowAction};
use bright_row_core::{ChildId, ImportId};
use bright_row_documents::bundle;
use bright_row_documents::table::{self, Table};
use bright_row_store::children::Child;
use bright_row_store::children::imports;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};

use crate::error::answers::ForDirectorsImporting;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::{Upload, digest};
use crate::routes::setup::roster_columns::{Means, meanings, read_row};

use crate::auth::guard::Director;
use crate::state::App;
use crate::use_cases::import_roster::{RosterFile, import_roster};

/// How to read the file, and whether the director has agreed.
#[derive(Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct HowToRead {
    /// What headings mean, where it is not what they usually do: `{"Kid":"name"}`.
    mapping: Option<String>,
    /// Only rows of these groups: `["Year 4 strings"]`; all where it is absent.
    groups: Option<String>,
    /// For rows without an instrument.
    #[param(inline)]
    instrument: Option<Instrument>,
    /// Keep names as they stand in the file instead of a first name and a letter.
    #[serde(default)]
    keep_names: bool,
    /// The digest of the preview that the director agreed to; absent for a preview.
    digest: Option<String>,
}

/// What an import would do, or did.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Preview {
    /// The columns with what they mean; empty for a bundle, whose columns are known.
    columns: Vec<ColumnView>,
    /// The groups of the file, by name.
    groups: Vec<GroupView>,
    /// What is still to be said before anything can be imported.
    needs: Option<String>,
    /// In the order of the file.
    rows: Vec<RowView>,
    /// Children to add.
    new: usize,
    /// Children to change.
    changed: usize,
    /// Children just as they are.
    same: usize,
    /// Rows left alone.
    refused: usize,
    /// Names of children of the class that the file does not name: they stay as they are.
    untouched: Vec<String>,
    /// Stands for exactly this; send it to agree.
    digest: String,
    /// The import, once it is done.
    import: Option<ImportId>,
}

/// A column of the file.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ColumnView {
    heading: String,
    means: Means,
    /// The first cell below that is not empty.
    example: String,
}

/// A group of the file.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct GroupView {
    name: String,
    rows: usize,
    chosen: bool,
}

/// What becomes of a row.
#[derive(Clone, Copy, Serialize, ToSchema, PartialEq, Eq)]
#[serde(rename_all = "camelCase")]
pub enum RowOutcome {
    /// A child is added.
    New,
    /// A child is changed.
    Changed,
    /// Nothing to do.
    Same,
    /// Left alone.
    Refused,
}

/// A row with its action.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RowView {
    /// The line in the file.
    line: usize,
    name: String,
    action: RowOutcome,
    /// The instrument it will have.
    instrument: Option<Instrument>,
    /// Why it is refused, or what changes, in words.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schema(required = false)]
    words: String,
}

/// A file read into rows.
struct FileContents {
    columns: Vec<ColumnView>,
    groups: Vec<(String, usize)>,
    needs: Option<String>,
    rows: Vec<(String, RosterRow)>,
    meant: BTreeMap<String, String>,
}

/// Shows what each row of a file would become, or, with the digest of that, imports it, all or nothing; directors only.
///
/// Takes CSV of any reasonable shape, or a `OneRoster` CSV bundle as a zip.
#[utoipa::path(post, path = "/api/classes/{class}/roster/import", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), HowToRead),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 200, body = Preview),
        ForDirectorsImporting,
    ))]
pub async fn take_roster_file(
    State(app): State<App>,
    Director(member): Director,
    Query(how): Query<HowToRead>,
    Upload(bytes): Upload,
) -> Result<Json<Preview>, ApiError> {
    let remembered = imports::headings(&app.db, member.class.key.program).await?;
    let groups: Option<BTreeSet<String>> = json_of(how.groups.as_deref(), "groups")?;
    let contents = read(&bytes, &how, &remembered)?;
    let chosen = |group: &str| groups.as_ref().is_none_or(|groups| groups.contains(group));
    let rows = contents.rows.iter().filter(|(group, _)| chosen(group)).map(|(_, row)| row.clone()).collect();
    let file = RosterFile { rows, meant: contents.meant, keep_names: how.keep_names };
    let (mut preview, import) = import_roster(&app, &member, &file, |plan, known| {
        let mut preview = view(plan, known, &file.rows);
        let groups = contents.groups.into_iter();
        preview.groups = groups.map(|(name, rows)| GroupView { chosen: chosen(&name), name, rows }).collect();
        preview.columns = contents.columns;
        preview.needs = contents.needs.or_else(|| too_many(known.len() + preview.new));
        let agreed = preview.agreed(how.digest.as_deref())?;
        Ok((preview, agreed))
    })
    .await?;
    preview.import = import;
    Ok(Json(preview))
}

impl Preview {
    /// Whether `digest` agrees to exactly this.
    fn agreed(&self, digest: Option<&str>) -> Result<bool, ApiError> {
        let Some(digest) = digest else { return Ok(false) };
        if let Some(needs) = &self.needs {
            return Err(ApiError::Invalid(vec![FieldError::new("file", needs)]));
        }
        if digest != self.digest {
            return Err(ApiError::Conflict(
                "The roster or the file changed since you looked. Look at the preview again; nothing was stored.",
            ));
        }
        Ok(true)
    }
}

fn too_many(children: usize) -> Option<String> {
    (children > MAX_CHILDREN).then(|| {
        format!(
            "The class would have {children} children; {MAX_CHILDREN} is the most. Choose the groups that belong to it, or export fewer rows."
        )
    })
}

fn json_of<T: serde::de::DeserializeOwned>(text: Option<&str>, field: &str) -> Result<Option<T>, ApiError> {
    let read = text.map(serde_json::from_str).transpose();
    read.map_err(|error| ApiError::Invalid(vec![FieldError::new(field, format!("It cannot be read: {error}."))]))
}

fn file_error(error: impl std::fmt::Display) -> ApiError {
    ApiError::Invalid(vec![FieldError::new("file", error.to_string())])
}

fn read(bytes: &[u8], how: &HowToRead, remembered: &BTreeMap<String, String>) -> Result<FileContents, ApiError> {
    if bundle::is_zip(bytes) {
        return Ok(of_bundle(bundle::students(bytes).map_err(file_error)?, how));
    }
    let table = table::read(bytes).map_err(file_error)?;
    let said: BTreeMap<String, Means> = json_of(how.mapping.as_deref(), "mapping")?.unwrap_or_default();
    Ok(of_table(&table, &said, remembered, how))
}

fn of_bundle(students: Vec<bundle::Student>, how: &HowToRead) -> FileContents {
    let fallback = how.instrument;
    let rows: Vec<(String, RosterRow)> = students
        .into_iter()
        .map(|student| {
            let instrument = instrument_of(&student.class).or(fallback).ok_or_else(String::new);
            let row = RosterRow {
                line: student.line,
                name: FullName::Parts { given: student.given, family: student.family },
                instrument,
                grade: Some(student.grade),
                number: Some(student.number),
                near_front: None,
                near_aisle: None,
            };
            (student.class, row)
        })
        .collect();
    FileContents { columns: Vec::new(), groups: groups_of(&rows), needs: None, rows, meant: BTreeMap::new() }
}

fn groups_of(rows: &[(String, RosterRow)]) -> Vec<(String, usize)> {
    let mut groups: BTreeMap<&String, usize> = BTreeMap::new();
    for (group, _) in rows.iter().filter(|(group, _)| !group.is_empty()) {
        *groups.entry(group).or_default() += 1;
    }
    groups.into_iter().map(|(group, rows)| (group.clone(), rows)).collect()
}

fn of_table(
    table: &Table,
    said: &BTreeMap<String, Means>,
    remembered: &BTreeMap<String, String>,
    how: &HowToRead,
) -> FileContents {
    let means: Vec<Means> = meanings(&table.headings, said, remembered);
    let column = |wanted: Means| means.iter().position(|means| *means == wanted);
    let example = |index: usize| {
        table.rows.iter().map(|row| &row.cells[index]).find(|cell| !cell.is_empty()).cloned().unwrap_or_default()
    };
    let columns = table.headings.iter().zip(&means).enumerate().map(|(index, (heading, means))| ColumnView {
        heading: heading.clone(),
        means: *means,
        example: example(index).chars().take(60).collect(),
    });
    let named = column(Means::Name).is_some() || column(Means::Given).is_some();
    let needs = (!named).then(|| "Say which column holds the children's names.".to_owned());
    let fallback = how.instrument;
    let rows: Vec<(String, RosterRow)> =
        if named { table.rows.iter().map(|row| read_row(row, &column, fallback)).collect() } else { Vec::new() };
    let written = |means: Means| serde_json::to_value(means).ok()?.as_str().map(str::to_owned);
    let meant = table.headings.iter().zip(&means).filter(|(heading, _)| !heading.is_empty());
    let meant = meant.filter_map(|(heading, means)| Some((heading.to_lowercase(), written(*means)?)));
    FileContents { columns: columns.collect(), groups: groups_of(&rows), needs, meant: meant.collect(), rows }
}

fn view(plan: &ImportPlan, known: &[Child], rows: &[RosterRow]) -> Preview {
    let by_id: BTreeMap<ChildId, &Child> = known.iter().map(|child| (child.id, child)).collect();
    let row = |((line, action), row): (&(usize, RowAction), &RosterRow)| {
        let (given, family) = row.name.split();
        let (action, name, instrument, words) = match action {
            RowAction::New(entry) => (RowOutcome::New, entry.name.clone(), Some(entry.instrument), String::new()),
            RowAction::Changed { id, entry, fields } => {
                let before = by_id.get(id).map(|child| child.entry());
                let words = before.map(|before| changes(&before, entry, fields)).unwrap_or_default();
                (RowOutcome::Changed, entry.name.clone(), Some(entry.instrument), words)
            }
            RowAction::Same(id) => {
                let child = by_id.get(id);
                let name = child.map(|child| child.name.clone()).unwrap_or_default();
                (RowOutcome::Same, name, child.map(|child| child.playing.now), String::new())
            }
            RowAction::Refused(reason) => {
                let name: String = names::short_name(&given, &family, 1).chars().take(60).collect();
                (RowOutcome::Refused, name, None, reason.clone())
            }
        };
        RowView { line: *line, name, action, instrument, words }
    };
    let count = |is: fn(&RowAction) -> bool| plan.rows.iter().filter(|(_, action)| is(action)).count();
    let untouched = plan.untouched.iter().filter_map(|id| by_id.get(id)).map(|child| child.name.clone());
    Preview {
        columns: Vec::new(),
        groups: Vec::new(),
        needs: None,
        rows: plan.rows.iter().zip(rows).map(row).collect(),
        new: count(|action| matches!(action, RowAction::New(_))),
        changed: count(|action| matches!(action, RowAction::Changed { .. })),
        same: count(|action| matches!(action, RowAction::Same(_))),
        refused: count(|action| matches!(action, RowAction::Refused(_))),
        untouched: untouched.collect(),
        digest: digest(&format!("{plan:?}")),
        import: None,
    }
}

fn changes(before: &RosterEntry, after: &RosterEntry, fields: &[RosterField]) -> String {
    let yes = |flag: bool| if flag { "yes" } else { "no" };
    let words = fields.iter().map(|field| match field {
        RosterField::Name => format!("name {} to {}", before.name, after.name),
        RosterField::Instrument => format!("{} to {}", before.instrument.name(), after.instrument.name()),
        RosterField::Grade => format!("grade {} to {}", or_none(&before.grade), or_none(&after.grade)),
        RosterField::Number => format!("number {} to {}", or_none(&before.number), or_none(&after.number)),
        RosterField::NearFront => format!("near the front: {}", yes(after.near_front)),
        RosterField::NearAisle => format!("near an aisle: {}", yes(after.near_aisle)),
    });
    words.collect::<Vec<_>>().join(", ")
}

fn or_none(text: &str) -> &str {
    if text.is_empty() { "none" } else { text }
}
