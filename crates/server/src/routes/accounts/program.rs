//! A program as its owners keep it: its name, how long things are kept, what was done, its end.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::deed::Deed;
use bright_row_core::retention::Retention;
use bright_row_core::setup::roster::MAX_PROGRAM_NAME_LENGTH;
use bright_row_core::{AccountId, ClassId};
use bright_row_store::audit::{self, Entry};
use bright_row_store::{accounts, retention};
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::archive;
use crate::auth::guard::Owner;
use crate::error::answers::{ForOwners, ForOwnersReplacing, ForOwnersWriting};
use crate::error::{ApiError, FieldError};
use crate::extract::based_on::{BasedOn, BasedOnHeaders, version};
use crate::extract::fields::Fields;
use crate::extract::files::Download;
use crate::extract::{Body, Query};
use crate::state::App;
use crate::use_cases::keeping;

/// Entries of one page of the audit.
const PAGE: u64 = 100;
/// The most entries of a file.
const MOST_IN_A_FILE: u64 = 100_000;

/// A name.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NameBody {
    name: String,
}

/// Gives the program another name; owners only.
#[utoipa::path(put, path = "/api/programs/{program}", tag = "keeping",
    params(("program" = Uuid, Path, description = "The program")), request_body = NameBody,
    responses((status = 204, description = "Renamed"), ForOwnersWriting))]
pub async fn rename_program(
    State(app): State<App>,
    owner: Owner,
    Body(body): Body<NameBody>,
) -> Result<StatusCode, ApiError> {
    let mut fields = Fields::default();
    let name = fields.name::<MAX_PROGRAM_NAME_LENGTH>("name", &body.name);
    fields.finish()?;
    accounts::rename_program(&app.db, owner.program, &name).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The word that confirms an end.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EndBody {
    /// The name of what ends, as it stands.
    pub(crate) confirm: String,
}

/// Whether a name was typed as it stands.
pub(crate) fn confirmed(typed: &str, name: &str) -> Result<(), ApiError> {
    if typed.trim() == name {
        return Ok(());
    }
    Err(ApiError::Invalid(vec![FieldError::new("confirm", format!("Type the name as it stands here: {name}."))]))
}

/// Deletes the program with everything of it, for good; owners only. Take its archive out first.
#[utoipa::path(post, path = "/api/programs/{program}/end", tag = "keeping",
    params(("program" = Uuid, Path, description = "The program")), request_body = EndBody,
    responses((status = 204, description = "Nothing of it is left"), ForOwnersWriting))]
pub async fn end_program(
    State(app): State<App>,
    owner: Owner,
    Body(body): Body<EndBody>,
) -> Result<StatusCode, ApiError> {
    let name = accounts::program_name(&app.db, owner.program).await?;
    confirmed(&body.confirm, &name)?;
    keeping::end_program(&app, owner.program).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// How long things are kept, and what ends next.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct KeepingView {
    set: Retention,
    /// The version of `set`.
    version: String,
    /// What happens by itself in the next year, the next first.
    ahead: Vec<EndAhead>,
    /// The last backup of the whole server.
    backup: Option<BackupView>,
}

/// Something that ends by itself.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EndAhead {
    /// On which day, or now where it is due already.
    on: NaiveDate,
    what: EndKind,
    /// The class it is about.
    class: Option<ClassId>,
    /// Its name.
    name: Option<String>,
    /// How many of them.
    count: Option<u64>,
}

/// What ends by itself.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum EndKind {
    /// A class is archived.
    Archive,
    /// An archived class is deleted.
    Delete,
    /// Notes and answers to pain are cleared.
    Notes,
    /// Children who left are removed.
    Left,
}

/// A backup of the whole server.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BackupView {
    made_at: DateTime<Utc>,
    /// When it was last read back and found whole.
    proved_at: Option<DateTime<Utc>>,
    bytes: i64,
}

/// How long things are kept; owners only.
#[utoipa::path(get, path = "/api/programs/{program}/keeping", tag = "keeping",
    params(("program" = Uuid, Path, description = "The program")),
    responses((status = 200, body = KeepingView), ForOwners))]
pub async fn keeping(State(app): State<App>, owner: Owner) -> Result<Json<KeepingView>, ApiError> {
    let set = retention::of_program(&app.db, owner.program).await?;
    let ahead = keeping::ahead(&app, owner.program, &set).await?;
    let backup = bright_row_store::backup_notes::last(&app.db).await?;
    Ok(Json(KeepingView {
        version: version(&set),
        set,
        ahead: ahead.into_iter().map(Into::into).collect(),
        backup: backup.map(|note| BackupView { made_at: note.made_at, proved_at: note.proved_at, bytes: note.bytes }),
    }))
}

impl From<keeping::Ahead> for EndAhead {
    fn from(ahead: keeping::Ahead) -> Self {
        let of_class = |what, (class, name): (ClassId, String)| (what, Some(class), Some(name), None);
        let (what, class, name, count) = match ahead.what {
            keeping::What::Archive(class, name) => of_class(EndKind::Archive, (class, name)),
            keeping::What::Delete(class, name) => of_class(EndKind::Delete, (class, name)),
            keeping::What::Notes(count) => (EndKind::Notes, None, None, Some(count)),
            keeping::What::Left(count) => (EndKind::Left, None, None, Some(count)),
        };
        Self { on: ahead.on, what, class, name, count }
    }
}

/// Sets how long things are kept, whole; owners only. What is over by it goes with the next day.
#[utoipa::path(put, path = "/api/programs/{program}/keeping", tag = "keeping",
    params(("program" = Uuid, Path, description = "The program"), BasedOnHeaders), request_body = Retention,
    responses((status = 204, description = "Counts from now on"), ForOwnersReplacing))]
pub async fn set_keeping(
    State(app): State<App>,
    owner: Owner,
    based_on: BasedOn,
    Body(body): Body<Retention>,
) -> Result<StatusCode, ApiError> {
    let faults = body.faults().into_iter().map(|fault| FieldError::new(fault.field, fault.to_string()));
    let faults: Vec<FieldError> = faults.collect();
    if !faults.is_empty() {
        return Err(ApiError::Invalid(faults));
    }
    keeping::set(&app, owner.program, &body, |before| based_on.allow(Some(before), &body)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Which part of the audit.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct AuditQuery {
    /// Only what was done before this entry.
    before: Option<Uuid>,
}

/// What was done, the newest first.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AuditView {
    entries: Vec<AuditEntry>,
    /// There are older ones.
    more: bool,
}

/// One deed.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AuditEntry {
    id: Uuid,
    at: DateTime<Utc>,
    /// Who; absent: the server by itself.
    by: Option<String>,
    /// What was done; a deed of a newer version as its word.
    deed: Option<Deed>,
    /// The word of the deed.
    word: String,
    /// The kind of thing it was done to.
    thing: String,
    thing_id: Option<Uuid>,
    /// The network it came from, without its last part.
    network: String,
}

async fn with_names(app: &App, entries: Vec<Entry>) -> Result<Vec<AuditEntry>, ApiError> {
    let names = accounts::names(&app.db, entries.iter().filter_map(|entry| entry.by)).await?;
    let entry = |entry: Entry| AuditEntry {
        id: entry.id,
        at: entry.at,
        by: entry.by.map(|by: AccountId| names.get(&by).cloned().unwrap_or_default()),
        deed: Deed::parse(&entry.deed),
        word: entry.deed,
        thing: entry.thing,
        thing_id: entry.thing_id,
        network: entry.network,
    };
    Ok(entries.into_iter().map(entry).collect())
}

/// What was done in the program, a hundred at a time; owners only.
#[utoipa::path(get, path = "/api/programs/{program}/audit", tag = "keeping",
    params(("program" = Uuid, Path, description = "The program"), AuditQuery),
    responses((status = 200, body = AuditView), ForOwners))]
pub async fn audit_page(
    State(app): State<App>,
    owner: Owner,
    Query(query): Query<AuditQuery>,
) -> Result<Json<AuditView>, ApiError> {
    let mut entries = audit::of_program(&app.db, owner.program, query.before, PAGE + 1).await?;
    let page = usize::try_from(PAGE).unwrap_or(usize::MAX);
    let more = entries.len() > page;
    entries.truncate(page);
    Ok(Json(AuditView { entries: with_names(&app, entries).await?, more }))
}

/// What was done in the program, as a file; owners only.
#[utoipa::path(get, path = "/api/programs/{program}/audit.csv", tag = "keeping",
    params(("program" = Uuid, Path, description = "The program")),
    responses((status = 200, body = String, content_type = "text/csv"), ForOwners))]
pub async fn audit_csv(State(app): State<App>, owner: Owner) -> Result<Download, ApiError> {
    let entries = audit::of_program(&app.db, owner.program, None, MOST_IN_A_FILE).await?;
    let mut rows = vec![["When", "Who", "Deed", "Thing", "Id", "Network"].map(str::to_owned).to_vec()];
    rows.extend(with_names(&app, entries).await?.into_iter().map(|entry| {
        vec![
            entry.at.to_rfc3339_opts(chrono::SecondsFormat::Secs, true),
            entry.by.unwrap_or_else(|| "the server".to_owned()),
            entry.word,
            entry.thing,
            entry.thing_id.map(|id| id.to_string()).unwrap_or_default(),
            entry.network,
        ]
    }));
    Ok(Download::csv("audit", &rows))
}

/// Everything of the program as a zip: rows as lines of JSON, their JSON Schema, checksums; owners only. `bright-row bring-in` takes
/// it on another server.
#[utoipa::path(get, path = "/api/programs/{program}/archive.zip", tag = "keeping",
    params(("program" = Uuid, Path, description = "The program")),
    responses((status = 200, body = Vec<u8>, content_type = "application/zip"), ForOwners))]
pub async fn program_archive(State(app): State<App>, owner: Owner) -> Result<Download, ApiError> {
    // On the heap: what writes a zip is large.
    let bytes = Box::pin(archive::take_out(&app, owner.program)).await?;
    Ok(Download { name: "program-archive.zip".to_owned(), kind: "application/zip", bytes })
}
