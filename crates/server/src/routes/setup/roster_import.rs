//! Importing a roster: first what each row would become, then, once the director agrees to just that, all of it.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::response::Response;
use bright_row_core::ImportId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::names::{FullName, instrument_of};
use bright_row_core::setup::roster_row::RosterRow;
use bright_row_documents::bundle::{self, Bundle, MAX_STUDENTS, Student};
use bright_row_documents::reading::Reading;
use bright_row_documents::spreadsheet;
use bright_row_documents::table::{self, Bounds, Table, TableRow};
use bright_row_store::headings::{self, FileKind};
use chrono::NaiveDate;
use serde::Deserialize;
use utoipa::IntoParams;

use crate::error::answers::ForDirectorsImporting;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::LargeUpload;
use crate::extract::progress::{WantsLines, answer_with_progress};
use crate::routes::setup::file_letters::{self, LettersView};
use crate::routes::setup::roster_columns::{Means, is_heading, meanings, read_row};

use super::roster_preview::{ColumnView, GroupView, Preview, too_many, view};
use crate::auth::guard::{Director, Member};
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
    /// Every group of the file with its rows.
    groups: BTreeMap<String, usize>,
    needs: Option<String>,
    /// Those of the groups chosen; none where they are more than [`MAX_STUDENTS`].
    rows: Vec<RosterRow>,
    /// How many there are in the groups chosen.
    total: usize,
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
/// Takes CSV of any reasonable shape, a spreadsheet (.xlsx, .ods), or a `OneRoster` CSV bundle as a zip: up to 32 MB and 200,000
/// children of a whole district, of whose groups or classes some are chosen. Who accepts `application/x-ndjson` gets what is shown
/// as lines: `{"read":0.43}` while the file is read, at last `{"status":200,"answer":...}` with what is answered otherwise. Going
/// away stops the reading.
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
    WantsLines(lines): WantsLines,
    LargeUpload(bytes, place): LargeUpload,
) -> Response {
    let reading = Arc::new(Reading::default());
    // What is done is answered by its status, for the notes of what people do; only looking takes its time before that.
    let lines = WantsLines(lines && how.digest.is_none());
    let work = preview_or_import(app, member, how, bytes, reading.clone());
    // On the heap: what waits for a file is large.
    Box::pin(answer_with_progress(lines, reading, async move {
        let _place = place;
        work.await
    }))
    .await
}

async fn preview_or_import(
    app: App,
    member: Member,
    how: HowToRead,
    bytes: Bytes,
    reading: Arc<Reading>,
) -> Result<Json<Preview>, ApiError> {
    let remembered = headings::of_program(&app.db, member.class.key.program, FileKind::Roster).await?;
    let groups: Option<BTreeSet<String>> = json_of(how.groups.as_deref(), "groups")?;
    let today = member.class.calendar.day_of(app.now());
    let work = move || {
        let by = By { remembered: &remembered, today, chosen: groups.as_ref(), reading: &reading };
        let contents = read(&bytes, &how, by);
        (contents, how, groups)
    };
    let (contents, how, groups) = app.readers.read(work).await?;
    let FileContents { letters, columns, groups: found, needs, rows, total, meant, office } = contents?;
    let is_shown = total == rows.len();
    let chosen = |group: &str| groups.as_ref().map_or(is_shown, |groups| groups.contains(group));
    let needs = needs.or_else(|| (!is_shown).then(|| choose(total, found.len())));
    let file = RosterFile { rows, meant, keep_names: how.keep_names, import: how.import };
    let (mut preview, import) = import_roster(&app, &member, &file, |plan, known, there| {
        let mut preview = view(plan, known, &file.rows);
        if !is_shown {
            preview.untouched.clear();
        }
        let groups = found.into_iter();
        preview.groups = groups.map(|(name, rows)| GroupView { chosen: chosen(&name), name, rows }).collect();
        (preview.columns, preview.letters) = (columns, letters);
        preview.say_of_office(known, office.disabled, office.ended, &office.leaving);
        preview.needs = needs.or_else(|| too_many(known.len() + preview.new));
        let agreed = !there && preview.agreed(how.digest.as_deref())?;
        Ok((preview, agreed))
    })
    .await?;
    preview.import = import;
    Ok(Json(preview))
}

/// What is to be said of more rows than can be shown.
fn choose(rows: usize, groups: usize) -> String {
    if groups > 1 {
        format!("There are {rows} rows in {groups} groups of this file. Choose those that belong to this class.")
    } else {
        format!(
            "There are {rows} rows; {MAX_STUDENTS} can be shown. Export only the children of this class, or say which column holds their class or group."
        )
    }
}

fn json_of<T: serde::de::DeserializeOwned>(text: Option<&str>, field: &str) -> Result<Option<T>, ApiError> {
    let read = text.map(serde_json::from_str).transpose();
    read.map_err(|error| ApiError::Invalid(vec![FieldError::new(field, format!("It cannot be read: {error}."))]))
}

fn file_error(error: impl std::fmt::Display) -> ApiError {
    ApiError::Invalid(vec![FieldError::new("file", error.to_string())])
}

/// What a file is read by.
#[derive(Clone, Copy)]
struct By<'a> {
    remembered: &'a BTreeMap<String, String>,
    today: NaiveDate,
    chosen: Option<&'a BTreeSet<String>>,
    reading: &'a Reading,
}

fn read(bytes: &[u8], how: &HowToRead, by: By<'_>) -> Result<FileContents, ApiError> {
    if bundle::is_zip(bytes) && !spreadsheet::is_one(bytes) {
        let bundle = bundle::read(bytes, by.today, by.chosen, by.reading).map_err(file_error)?;
        return Ok(of_bundle(bundle, how.instrument));
    }
    let is_heading = |cell: &str| is_heading(cell, by.remembered);
    let letters = file_letters::asked(how.letters.as_deref())?;
    let reading = table::How { letters, is_heading: &is_heading, bounds: Bounds::DISTRICT, reading: by.reading };
    let file = table::read_file(bytes, reading).map_err(file_error)?;
    let said: BTreeMap<String, Means> = json_of(how.mapping.as_deref(), "mapping")?.unwrap_or_default();
    let contents = of_table(&file.table, &said, by, how.instrument);
    Ok(FileContents { letters: file_letters::views(file.samples), ..contents })
}

fn of_bundle(bundle: Bundle, fallback: Option<Instrument>) -> FileContents {
    let row = |student: Student| RosterRow {
        own: None,
        line: student.line,
        name: FullName::Parts { given: student.given, family: student.family },
        instrument: instrument_of(&student.class).or(fallback).ok_or_else(String::new),
        grade: Some(student.grade),
        number: Some(student.number),
        near_front: None,
        near_aisle: None,
    };
    FileContents {
        letters: Vec::new(),
        columns: Vec::new(),
        groups: bundle.classes,
        needs: None,
        rows: bundle.students.into_iter().map(row).collect(),
        total: bundle.total,
        meant: BTreeMap::new(),
        office: OfficeSays { disabled: bundle.disabled, ended: bundle.ended, leaving: bundle.leaving },
    }
}

fn of_table(table: &Table, said: &BTreeMap<String, Means>, by: By<'_>, fallback: Option<Instrument>) -> FileContents {
    let means: Vec<Means> = meanings(&table.headings, said, by.remembered);
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
    let group = column(Means::Group);
    let group_of = |row: &TableRow| group.map(|index| row.cells[index].as_str()).unwrap_or_default().to_owned();
    let mut groups: BTreeMap<String, usize> = BTreeMap::new();
    for group in table.rows.iter().map(group_of).filter(|group| named && !group.is_empty()) {
        *groups.entry(group).or_default() += 1;
    }
    let chosen = |row: &&TableRow| named && by.chosen.is_none_or(|chosen| chosen.contains(&group_of(row)));
    let total = table.rows.iter().filter(chosen).count();
    let shown = if total > MAX_STUDENTS { &[] } else { table.rows.as_slice() };
    let rows = shown.iter().filter(chosen).map(|row| read_row(row, &column, fallback)).collect();
    let written = |means: Means| serde_json::to_value(means).ok()?.as_str().map(str::to_owned);
    let meant = table.headings.iter().zip(&means).filter(|(heading, _)| !heading.is_empty());
    let meant = meant.filter_map(|(heading, means)| Some((heading.to_lowercase(), written(*means)?)));
    FileContents {
        letters: Vec::new(),
        columns: columns.collect(),
        groups,
        needs,
        meant: meant.collect(),
        rows,
        total,
        office: OfficeSays::default(),
    }
}
