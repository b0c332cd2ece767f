//! Importing a roster: first what each row would become, then, once the director agrees to just that, all of it.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::ImportId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::names::{FullName, instrument_of};
use bright_row_core::setup::roster_row::RosterRow;
use bright_row_documents::table::{self, Table};
use bright_row_documents::{bundle, spreadsheet};
use bright_row_store::headings::{self, FileKind};
use chrono::NaiveDate;
use serde::Deserialize;
use utoipa::IntoParams;

use crate::error::answers::ForDirectorsImporting;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::Upload;
use crate::routes::setup::file_letters::{self, LettersView};
use crate::routes::setup::roster_columns::{Means, is_heading, meanings, read_row};

use super::roster_preview::{ColumnView, GroupView, Preview, too_many, view};
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
    /// How the file's letters are to be read, where the preview shows that it is doubtful: `western`, `cyrillic` ...
    letters: Option<String>,
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
    /// The id that the page gave this import when the file was chosen: the same sent again is not one more.
    import: Option<ImportId>,
}

/// A file read into rows.
struct FileContents {
    letters: Vec<LettersView>,
    columns: Vec<ColumnView>,
    groups: Vec<(String, usize)>,
    needs: Option<String>,
    rows: Vec<(String, RosterRow)>,
    meant: BTreeMap<String, String>,
    office: OfficeSays,
}

/// What an office's export says beside its rows.
#[derive(Default)]
struct OfficeSays {
    disabled: usize,
    ended: usize,
    /// The numbers of those who are taken out.
    leaving: BTreeSet<String>,
}

/// Shows what each row of a file would become, or, with the digest of that, imports it, all or nothing; directors only.
///
/// Takes CSV of any reasonable shape, a spreadsheet (.xlsx, .ods), or a `OneRoster` CSV bundle as a zip.
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
    let remembered = headings::of_program(&app.db, member.class.key.program, FileKind::Roster).await?;
    let groups: Option<BTreeSet<String>> = json_of(how.groups.as_deref(), "groups")?;
    let today = member.class.calendar.day_of(app.now());
    let (contents, how) = app
        .readers
        .read(move || {
            let contents = read(&bytes, &how, &remembered, today);
            (contents, how)
        })
        .await?;
    let contents = contents?;
    let chosen = |group: &str| groups.as_ref().is_none_or(|groups| groups.contains(group));
    let rows = contents.rows.iter().filter(|(group, _)| chosen(group)).map(|(_, row)| row.clone()).collect();
    let file = RosterFile { rows, meant: contents.meant, keep_names: how.keep_names, import: how.import };
    let (mut preview, import) = import_roster(&app, &member, &file, |plan, known, there| {
        let mut preview = view(plan, known, &file.rows);
        let groups = contents.groups.into_iter();
        preview.groups = groups.map(|(name, rows)| GroupView { chosen: chosen(&name), name, rows }).collect();
        preview.columns = contents.columns;
        preview.letters = contents.letters;
        preview.say_of_office(known, contents.office.disabled, contents.office.ended, &contents.office.leaving);
        preview.needs = contents.needs.or_else(|| too_many(known.len() + preview.new));
        let agreed = !there && preview.agreed(how.digest.as_deref())?;
        Ok((preview, agreed))
    })
    .await?;
    preview.import = import;
    Ok(Json(preview))
}

fn json_of<T: serde::de::DeserializeOwned>(text: Option<&str>, field: &str) -> Result<Option<T>, ApiError> {
    let read = text.map(serde_json::from_str).transpose();
    read.map_err(|error| ApiError::Invalid(vec![FieldError::new(field, format!("It cannot be read: {error}."))]))
}

fn file_error(error: impl std::fmt::Display) -> ApiError {
    ApiError::Invalid(vec![FieldError::new("file", error.to_string())])
}

fn read(
    bytes: &[u8],
    how: &HowToRead,
    remembered: &BTreeMap<String, String>,
    today: NaiveDate,
) -> Result<FileContents, ApiError> {
    if bundle::is_zip(bytes) && !spreadsheet::is_one(bytes) {
        return Ok(of_bundle(bundle::read(bytes, today).map_err(file_error)?, how));
    }
    let is_heading = |cell: &str| is_heading(cell, remembered);
    let reading = table::How { letters: file_letters::asked(how.letters.as_deref())?, is_heading: &is_heading };
    let file = table::read_file(bytes, reading).map_err(file_error)?;
    let said: BTreeMap<String, Means> = json_of(how.mapping.as_deref(), "mapping")?.unwrap_or_default();
    Ok(FileContents { letters: file_letters::views(file.samples), ..of_table(&file.table, &said, remembered, how) })
}

fn of_bundle(bundle: bundle::Bundle, how: &HowToRead) -> FileContents {
    let fallback = how.instrument;
    let rows: Vec<(String, RosterRow)> = bundle
        .students
        .into_iter()
        .map(|student| {
            let instrument = instrument_of(&student.class).or(fallback).ok_or_else(String::new);
            let row = RosterRow {
                own: None,
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
    FileContents {
        letters: Vec::new(),
        columns: Vec::new(),
        groups: groups_of(&rows),
        needs: None,
        rows,
        meant: BTreeMap::new(),
        office: OfficeSays { disabled: bundle.disabled, ended: bundle.ended, leaving: bundle.leaving },
    }
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
    FileContents {
        letters: Vec::new(),
        columns: columns.collect(),
        groups: groups_of(&rows),
        needs,
        meant: meant.collect(),
        rows,
        office: OfficeSays::default(),
    }
}
