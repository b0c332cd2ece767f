//! The roster of a class: who is in it, and every change of one child's entry.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::setup::roster::{MAX_CHILD_NAME_LENGTH, RosterEntry};
use bright_row_core::{ChildId, ClassId, ImportId};
use bright_row_store::children::{self, Child};
use bright_row_store::{StoreError, TransactionTrait, classes, observations};
use bright_row_store::instruments::assets;
use bright_row_store::children::imports;
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::routes::accounts::classes::read_name;
use crate::extract::{Body, ImportInPath, Query};
use crate::extract::files::Download;
use crate::error::{ApiError, FieldError, ForDirectors, ForDirectorsAgreeing, ForDirectorsWriting, ForMembers};
use crate::routes::room::overview::SeatView;
use crate::routes::views::InstrumentView;
use crate::state::App;
use crate::auth::guard::{Director, DirectorOfChild, Member, may_change};

/// The roster of a class.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Roster {
    /// By name.
    children: Vec<RosterChild>,
    /// Children who left, by name; their history stays.
    left: Vec<RosterChild>,
    /// The last import, which can be undone.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    last_import: Option<LastImport>,
    /// The program's other classes, where a child can move to.
    other_classes: Vec<OtherClass>,
}

/// An import that can be undone.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LastImport {
    #[schema(value_type = Uuid)]
    id: ImportId,
    imported_at: DateTime<Utc>,
}

/// Another class of the program.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct OtherClass {
    #[schema(value_type = Uuid)]
    id: ClassId,
    name: String,
}

/// A child as the roster names it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RosterChild {
    #[schema(value_type = Uuid)]
    id: ChildId,
    #[serde(flatten)]
    entry: EntryView,
    joined_on: NaiveDate,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    left_on: Option<NaiveDate>,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    seat: Option<SeatView>,
    /// The tag of the instrument it has.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    tag: Option<String>,
}

/// What a roster says of a child.
#[derive(Clone, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EntryView {
    /// First name and one letter.
    name: String,
    instrument: InstrumentView,
    /// The school's grade; empty for none.
    #[serde(default)]
    grade: String,
    /// The office's own number; empty for none.
    #[serde(default)]
    number: String,
    /// Wants a seat in row 1.
    #[serde(default)]
    near_front: bool,
    /// Wants a seat at a row's end.
    #[serde(default)]
    near_aisle: bool,
}

impl From<RosterEntry> for EntryView {
    fn from(entry: RosterEntry) -> Self {
        let RosterEntry { name, instrument, grade, number, near_front, near_aisle } = entry;
        Self { name, instrument: instrument.into(), grade, number, near_front, near_aisle }
    }
}

impl EntryView {
    /// The entry, spaces cleaned; what is wrong goes to `errors` under the field's name behind `prefix`.
    pub(super) fn read(&self, prefix: &str, errors: &mut Vec<FieldError>) -> RosterEntry {
        let name = read_name(&self.name, &format!("{prefix}name"), MAX_CHILD_NAME_LENGTH, errors);
        let mut text = |text: &str, field: &str, most: usize| {
            let text = text.trim().to_owned();
            if text.chars().count() > most || text.chars().any(char::is_control) {
                errors.push(FieldError::new(&format!("{prefix}{field}"), format!("At most {most} plain characters.")));
            }
            text
        };
        RosterEntry {
            grade: text(&self.grade, "grade", 20),
            number: text(&self.number, "number", MAX_CHILD_NAME_LENGTH),
            name,
            instrument: self.instrument.into(),
            near_front: self.near_front,
            near_aisle: self.near_aisle,
        }
    }
}

fn view(child: &Child, tags: &BTreeMap<ChildId, String>) -> RosterChild {
    RosterChild {
        id: child.id,
        entry: child.entry().into(),
        joined_on: child.joined_on,
        left_on: child.left_on,
        seat: child.seat.map(Into::into),
        tag: tags.get(&child.id).cloned(),
    }
}

/// The roster of a class; the office's numbers for directors only.
#[utoipa::path(get, path = "/api/classes/{class}/roster", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Roster),
        ForMembers,
    ))]
pub async fn roster(State(app): State<App>, member: Member) -> Result<Json<Roster>, ApiError> {
    let key = member.class.key;
    let director = may_change(member.class.role).is_ok();
    let by_name = |mut children: Vec<Child>| {
        if !director {
            for child in &mut children {
                child.number.clear();
            }
        }
        children.sort_by_key(|child| (child.name.to_lowercase(), child.id));
        children
    };
    let here = by_name(children::of_class(&app.db, key).await?);
    let left = by_name(children::who_left(&app.db, key).await?);
    let lent = assets::lent(&app.db, key.program).await?;
    let assets = assets::all(&app.db, key.program).await?;
    let tags = assets.into_iter().filter_map(|asset| Some((lent.get(&asset.id)?.child, asset.tag))).collect();
    let others = classes::all_for_account(&app.db, member.account).await?;
    let others = others.into_iter().filter(|other| other.key.program == key.program && other.key != key);
    let last = imports::last(&app.db, key).await?;
    Ok(Json(Roster {
        children: here.iter().map(|child| view(child, &tags)).collect(),
        left: left.iter().map(|child| view(child, &tags)).collect(),
        last_import: last.map(|(id, imported_at)| LastImport { id, imported_at }),
        other_classes: others.map(|other| OtherClass { id: other.key.class, name: other.name }).collect(),
    }))
}

/// The headings of the roster as a file, which [`crate::routes::setup::roster_import`] knows.
pub(super) const HEADINGS: [&str; 6] =
    ["Name", "Instrument", "Grade", "School number", "Near the front", "Near an aisle"];

/// The roster as a file that imports again to the same roster; directors only.
#[utoipa::path(get, path = "/api/classes/{class}/roster.csv", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = String, content_type = "text/csv"),
        ForDirectors,
    ))]
pub async fn roster_csv(State(app): State<App>, Director(member): Director) -> Result<Download, ApiError> {
    let mut here = children::of_class(&app.db, member.class.key).await?;
    here.sort_by_key(|child| (child.name.to_lowercase(), child.id));
    let yes = |flag: bool| if flag { "yes".to_owned() } else { "no".to_owned() };
    let mut rows = vec![HEADINGS.map(str::to_owned).to_vec()];
    rows.extend(here.iter().map(Child::entry).map(|entry| {
        let instrument = entry.instrument.name().to_owned();
        vec![entry.name, instrument, entry.grade, entry.number, yes(entry.near_front), yes(entry.near_aisle)]
    }));
    Ok(Download::csv(&format!("roster-{}", member.class.name), &rows))
}

/// Changes a child's entry; directors only. A change of instrument keeps the history: what means something else on the
/// new instrument is due at once.
#[utoipa::path(put, path = "/api/classes/{class}/children/{child}", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    request_body = EntryView,
    responses(
        (status = 204, description = "Changed"),
        ForDirectorsAgreeing,
    ))]
pub async fn edit_child(
    State(app): State<App>,
    DirectorOfChild { member, child }: DirectorOfChild,
    Body(body): Body<EntryView>,
) -> Result<StatusCode, ApiError> {
    let mut errors = Vec::new();
    let entry = body.read("", &mut errors);
    if !errors.is_empty() {
        return Err(ApiError::Invalid(errors));
    }
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    children::write_entry(&tx, member.class.key, &child, &entry, app.now()).await.map_err(number_taken)?;
    tx.commit().await.map_err(StoreError::from)?;
    app.live.changed(member.class.key.class);
    Ok(StatusCode::NO_CONTENT)
}

pub(super) fn number_taken(error: StoreError) -> ApiError {
    match error {
        StoreError::Conflict => {
            let taken = "Another child of the class has this school number. Give each its own.";
            ApiError::Invalid(vec![FieldError::new("number", taken)])
        }
        other => ApiError::Store(other),
    }
}

/// Where a child goes.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum MembershipStatus {
    /// It leaves the class; its history stays.
    Left,
    /// It comes back.
    Here,
    /// It moves to this class of the same program, with its history.
    Class(Uuid),
}

/// A child leaves, comes back, or moves to another class; directors only.
#[utoipa::path(post, path = "/api/classes/{class}/children/{child}/membership", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    request_body = MembershipStatus,
    responses(
        (status = 204, description = "Done"),
        ForDirectorsAgreeing,
    ))]
pub async fn move_child(
    State(app): State<App>,
    DirectorOfChild { member, child }: DirectorOfChild,
    Body(body): Body<MembershipStatus>,
) -> Result<StatusCode, ApiError> {
    let key = member.class.key;
    let today = member.class.calendar.day_of(app.now());
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    match body {
        MembershipStatus::Left => children::set_left(&tx, key, child.id, Some(today)).await?,
        MembershipStatus::Here => children::set_left(&tx, key, child.id, None).await?,
        MembershipStatus::Class(other) => {
            let other = classes::for_account(&tx, member.account, other.into()).await?;
            let other = other.filter(|other| other.key.program == key.program).ok_or(ApiError::NotFound("class"))?;
            children::move_to(&tx, key, child.id, other.key.class).await.map_err(number_taken)?;
            // The other class may look again at other intervals.
            observations::renew(&tx, &other, &app.checklist(&other), &[child.id].into()).await?;
            app.live.changed(other.key.class);
        }
    }
    tx.commit().await.map_err(StoreError::from)?;
    app.live.changed(key.class);
    Ok(StatusCode::NO_CONTENT)
}

/// The word that confirms a removal.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct Confirmed {
    /// The child's name, as it stands in the roster.
    confirm: String,
}

/// Removes everything that is kept about a child, for good; directors only.
#[utoipa::path(delete, path = "/api/classes/{class}/children/{child}", tag = "set-up",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"), Confirmed,
    ),
    responses(
        (status = 204, description = "Removed"),
        ForDirectorsWriting,
    ))]
pub async fn remove_child(
    State(app): State<App>,
    DirectorOfChild { member, child }: DirectorOfChild,
    Query(confirmed): Query<Confirmed>,
) -> Result<StatusCode, ApiError> {
    if confirmed.confirm.trim() != child.name {
        let wrong = FieldError::new("confirm", format!("Type the name as it stands here: {}.", child.name));
        return Err(ApiError::Invalid(vec![wrong]));
    }
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    children::remove(&tx, member.class.key, child.id).await?;
    tx.commit().await.map_err(StoreError::from)?;
    app.live.changed(member.class.key.class);
    Ok(StatusCode::NO_CONTENT)
}

/// Undoes an import as one step; directors only.
#[utoipa::path(delete, path = "/api/classes/{class}/roster/imports/{import}", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ("import" = Uuid, Path, description = "The import")),
    responses(
        (status = 200, body = Undone),
        ForDirectors,
    ))]
pub async fn undo_import(
    State(app): State<App>,
    Director(member): Director,
    ImportInPath(import): ImportInPath,
) -> Result<Json<Undone>, ApiError> {
    let when = (app.now(), member.class.calendar.day_of(app.now()));
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    let done = imports::undo(&tx, member.class.key, import, when).await?;
    let done = done.ok_or(ApiError::NotFound("import that can be undone"))?;
    tx.commit().await.map_err(StoreError::from)?;
    app.live.changed(member.class.key.class);
    Ok(Json(Undone { removed: done.added, put_back: done.changed, left: done.left }))
}

/// What an undo did.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Undone {
    /// Children removed again.
    removed: usize,
    /// Children put back as they were.
    put_back: usize,
    /// Children marked or measured since, who left the class and keep their history.
    left: usize,
}
