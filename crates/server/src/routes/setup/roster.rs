//! The roster of a class: who is in it, and every change of one child's entry.

use bright_row_store::instruments::loans;
use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::setup::roster::{MembershipStatus, RosterEntry};
use bright_row_core::setup::roster_row::{MAX_CHILD_NAME_LENGTH, MAX_GRADE_LENGTH};
use bright_row_core::{ChildId, ClassId, ImportId};
use bright_row_store::children::imports;
use bright_row_store::children::{self, Child};
use bright_row_store::classes;
use bright_row_store::instruments::assets;
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::error::ApiError;
use crate::error::answers::{
    ForDirectors, ForDirectorsAgreeing, ForDirectorsReplacing, ForDirectorsWriting, ForMembers,
};
use crate::extract::based_on::{BasedOn, BasedOnHeaders, version};
use crate::extract::fields::Fields;
use crate::extract::files::Download;
use crate::extract::{Body, ImportInPath};
use bright_row_core::setup::rows::Seat;

use crate::auth::guard::{Director, DirectorOfChild, Member, may_change};
use crate::routes::accounts::program::confirmed;
use crate::state::App;
use crate::use_cases::edit_roster;

/// The roster of a class.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Roster {
    /// By name.
    children: Vec<RosterChild>,
    /// Children who left, by name; their history stays.
    left: Vec<RosterChild>,
    /// The last import, which can be undone.
    last_import: Option<LastImport>,
    /// The program's other classes, where a child can move to.
    other_classes: Vec<OtherClass>,
}

/// An import that can be undone.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LastImport {
    id: ImportId,
    imported_at: DateTime<Utc>,
}

/// Another class of the program.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct OtherClass {
    id: ClassId,
    name: String,
}

/// A child as the roster names it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RosterChild {
    id: ChildId,
    #[serde(flatten)]
    entry: RosterEntry,
    joined_on: NaiveDate,
    left_on: Option<NaiveDate>,
    seat: Option<Seat>,
    /// The tag of the instrument it has.
    tag: Option<String>,
    /// The version of its entry.
    version: String,
}

/// The entry, spaces cleaned; what is wrong goes to `fields`.
pub(crate) fn read_entry(body: &RosterEntry, fields: &mut Fields) -> RosterEntry {
    RosterEntry {
        name: fields.name::<MAX_CHILD_NAME_LENGTH>("name", &body.name),
        instrument: body.instrument,
        grade: fields.line::<MAX_GRADE_LENGTH>("grade", &body.grade),
        number: fields.line::<MAX_CHILD_NAME_LENGTH>("number", &body.number),
        near_front: body.near_front,
        near_aisle: body.near_aisle,
    }
}

fn view(child: &Child, tags: &BTreeMap<ChildId, String>) -> RosterChild {
    RosterChild {
        id: child.id,
        entry: child.entry(),
        joined_on: child.joined_on,
        left_on: child.left_on,
        seat: child.seat,
        tag: tags.get(&child.id).cloned(),
        version: version(&child.entry()),
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
    let director = may_change(member.role).is_ok();
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
    let lent = loans::lent(&app.db, key.program).await?;
    let assets = assets::all(&app.db, key.program).await?;
    let tags = assets.into_iter().filter_map(|asset| Some((lent.get(&asset.id)?.child, asset.tag))).collect();
    let others = classes::of_program(&app.db, key.program, None).await?;
    let others = others.into_iter().filter(|other| other.key != key);
    let last = imports::last(&app.db, key).await?;
    Ok(Json(Roster {
        children: here.iter().map(|child| view(child, &tags)).collect(),
        left: left.iter().map(|child| view(child, &tags)).collect(),
        last_import: last.map(|(id, imported_at)| LastImport { id, imported_at }),
        other_classes: others.map(|other| OtherClass { id: other.key.class, name: other.name }).collect(),
    }))
}

/// The headings of the roster as a file, which [`crate::routes::setup::roster_import`] knows.
pub(crate) const HEADINGS: [&str; 7] =
    ["Name", "Instrument", "Grade", "School number", "Near the front", "Near an aisle", "Bright Row id"];

/// The roster as a file that imports again to the same roster; directors only.
#[utoipa::path(get, path = "/api/classes/{class}/roster.csv", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = String, content_type = "text/csv"),
        ForDirectors,
    ))]
pub async fn roster_csv(State(app): State<App>, Director(member): Director) -> Result<Download, ApiError> {
    let rows = roster_rows(&app, &member).await?;
    Ok(Download::csv(&format!("roster-{}", member.class.name), &rows))
}

/// The same as a workbook; read in again it is the same too.
#[utoipa::path(get, path = "/api/classes/{class}/roster.xlsx", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
        ForDirectors,
    ))]
pub async fn roster_xlsx(State(app): State<App>, Director(member): Director) -> Result<Download, ApiError> {
    Download::workbook(&format!("roster-{}", member.class.name), "Roster", roster_rows(&app, &member).await?)
}

/// The same rows for every kind of file, the headings first.
async fn roster_rows(app: &App, member: &Member) -> Result<Vec<Vec<String>>, ApiError> {
    let mut here = children::of_class(&app.db, member.class.key).await?;
    here.sort_by_key(|child| (child.name.to_lowercase(), child.id));
    let yes = |flag: bool| if flag { "yes".to_owned() } else { "no".to_owned() };
    let mut rows = vec![HEADINGS.map(str::to_owned).to_vec()];
    rows.extend(here.iter().map(|child| {
        let entry = child.entry();
        let instrument = entry.instrument.name().to_owned();
        let (front, aisle) = (yes(entry.near_front), yes(entry.near_aisle));
        vec![entry.name, instrument, entry.grade, entry.number, front, aisle, child.id.to_string()]
    }));
    Ok(rows)
}

/// Changes a child's entry; directors only. A change of instrument keeps the history: what means something else on the
/// new instrument is due at once.
#[utoipa::path(put, path = "/api/classes/{class}/children/{child}", tag = "set-up",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"), BasedOnHeaders,
    ),
    request_body = RosterEntry,
    responses(
        (status = 204, description = "Changed"),
        ForDirectorsReplacing,
    ))]
pub async fn edit_child(
    State(app): State<App>,
    DirectorOfChild { member, child }: DirectorOfChild,
    based_on: BasedOn,
    Body(body): Body<RosterEntry>,
) -> Result<StatusCode, ApiError> {
    let mut fields = Fields::default();
    let entry = read_entry(&body, &mut fields);
    fields.finish()?;
    edit_roster::write_entry(&app, &member, child.id, &entry, |there| based_on.allow(Some(there), &entry)).await?;
    Ok(StatusCode::NO_CONTENT)
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
    edit_roster::set_membership(&app, &member, child.id, body).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The word that confirms a removal. It travels in a body: an address is kept in too many places.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RemovalBody {
    /// The child's name, as it stands in the roster.
    confirm: String,
}

/// Removes everything that is kept about a child, for good; directors only.
#[utoipa::path(post, path = "/api/classes/{class}/children/{child}/removal", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    request_body = RemovalBody,
    responses(
        (status = 204, description = "Removed"),
        ForDirectorsWriting,
    ))]
pub async fn remove_child(
    State(app): State<App>,
    DirectorOfChild { member, child }: DirectorOfChild,
    Body(body): Body<RemovalBody>,
) -> Result<StatusCode, ApiError> {
    confirmed(&body.confirm, &child.name)?;
    edit_roster::remove_child(&app, &member, child.id).await?;
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
    let done = edit_roster::undo_import(&app, &member, import).await?;
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
    /// Children observed or measured since, who left the class and keep their history.
    left: usize,
}
