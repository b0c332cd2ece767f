//! What is noted of what people do: the table of routes whose success is a deed for the audit, and the layer that notes it.
//!
//! The guards say who asks and in which program; what a handler does in a transaction is noted in it, and whatever else it answers
//! well after it. What no route of a program does (signing in, coming in by a link) notes itself with [`note`].

use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};

use axum::extract::{FromRequestParts, MatchedPath, Request, State};
use axum::http::Method;
use axum::http::request::Parts;
use axum::middleware::Next;
use axum::response::Response;
use bright_row_core::deed::Deed;
use bright_row_core::{AccountId, ProgramId};
use bright_row_store::audit::{self, Entry};
use bright_row_store::{ConnectionTrait, StoreError};
use chrono::{DateTime, Utc};
use uuid::Uuid;

use super::client::Client;
use crate::extract::id_in_path;
use crate::state::App;

/// Who asks, and in which program, as the guards found it out.
#[derive(Clone, Debug, Default)]
pub struct Doer(Arc<Mutex<(Option<AccountId>, Option<ProgramId>)>>);

impl Doer {
    fn of(parts: &Parts, tell: impl FnOnce(&mut (Option<AccountId>, Option<ProgramId>))) {
        if let Some(doer) = parts.extensions.get::<Self>() {
            tell(&mut doer.0.lock().unwrap_or_else(PoisonError::into_inner));
        }
    }

    /// This one asks.
    pub fn is(parts: &Parts, account: AccountId) {
        Self::of(parts, |who| who.0 = Some(account));
    }

    /// In this program.
    pub fn in_program(parts: &Parts, program: ProgramId) {
        Self::of(parts, |who| who.1 = Some(program));
    }
}

/// Method and path below `/api/classes/{class}` or `/api/programs/{program}`, what its success is, and the part of the path that it
/// was done to.
type Row = (&'static str, &'static str, Deed, &'static str);

const OF_A_CLASS: [Row; 61] = [
    ("PUT", "", Deed::ClassRenamed, "class"),
    ("POST", "/end", Deed::ClassDeleted, "class"),
    ("POST", "/archive", Deed::ClassArchived, "class"),
    ("POST", "/reopen", Deed::ClassReopened, "class"),
    ("PUT", "/approach", Deed::SettingsChanged, "class"),
    ("PUT", "/calendar", Deed::SettingsChanged, "class"),
    ("POST", "/calendar/address", Deed::CalendarAddressMade, "class"),
    ("DELETE", "/calendar/address", Deed::CalendarAddressEnded, "class"),
    ("PUT", "/home", Deed::SettingsChanged, "class"),
    ("PUT", "/home/wording", Deed::SettingsChanged, "class"),
    ("PUT", "/rhythm", Deed::SettingsChanged, "class"),
    ("PUT", "/choices", Deed::SettingsChanged, "class"),
    ("PUT", "/tapes/settings", Deed::SettingsChanged, "class"),
    ("POST", "/checklist", Deed::SettingsChanged, "class"),
    ("PUT", "/checklist/{checkpoint}", Deed::SettingsChanged, "class"),
    ("PUT", "/checklist/{checkpoint}/own", Deed::SettingsChanged, "class"),
    ("DELETE", "/checklist/{checkpoint}/own", Deed::SettingsChanged, "class"),
    ("POST", "/drills", Deed::SettingsChanged, "class"),
    ("PUT", "/drills/{drill}", Deed::SettingsChanged, "class"),
    ("DELETE", "/drills/{drill}", Deed::SettingsChanged, "class"),
    ("POST", "/checklist/import", Deed::BroughtIn, "class"),
    ("POST", "/roster/import", Deed::BroughtIn, "class"),
    ("POST", "/instruments/import", Deed::BroughtIn, "class"),
    ("DELETE", "/roster/imports/{import}", Deed::RosterChanged, "class"),
    ("POST", "/children", Deed::RosterChanged, "class"),
    ("PUT", "/seats", Deed::RosterChanged, "class"),
    ("PUT", "/children/{child}", Deed::RosterChanged, "child"),
    ("POST", "/children/{child}/membership", Deed::RosterChanged, "child"),
    ("POST", "/children/{child}/removal", Deed::ChildRemoved, "child"),
    ("GET", "/children/{child}/record.json", Deed::ChildTakenOut, "child"),
    ("GET", "/children/{child}/record.pdf", Deed::ChildTakenOut, "child"),
    ("PUT", "/children/{child}/accommodations/{checkpoint}", Deed::ChildSettingsChanged, "child"),
    ("DELETE", "/children/{child}/accommodations/{checkpoint}", Deed::ChildSettingsChanged, "child"),
    ("PUT", "/children/{child}/overrides", Deed::ChildSettingsChanged, "child"),
    ("PUT", "/children/{child}/stages/{stage}/opened", Deed::ChildSettingsChanged, "child"),
    ("DELETE", "/children/{child}/stages/{stage}/opened", Deed::ChildSettingsChanged, "child"),
    ("POST", "/children/{child}/pain/{observation}", Deed::ChildSettingsChanged, "child"),
    ("PUT", "/children/{child}/practice", Deed::ChildSettingsChanged, "child"),
    ("POST", "/children/{child}/measurings", Deed::ChildSettingsChanged, "child"),
    ("POST", "/children/{child}/findings", Deed::ChildSettingsChanged, "child"),
    ("PUT", "/children/{child}/loan", Deed::StoreRoomChanged, "child"),
    ("POST", "/loans", Deed::StoreRoomChanged, "class"),
    ("PUT", "/instruments/{asset}", Deed::StoreRoomChanged, "asset"),
    ("POST", "/groups", Deed::GroupKept, "class"),
    ("POST", "/groups/{group}/end", Deed::GroupEnded, "group"),
    ("PUT", "/supplies", Deed::StoreRoomChanged, "class"),
    ("GET", "/roster.csv", Deed::TakenOut, "class"),
    ("GET", "/roster.xlsx", Deed::TakenOut, "class"),
    ("GET", "/instruments.csv", Deed::TakenOut, "class"),
    ("GET", "/instruments.xlsx", Deed::TakenOut, "class"),
    ("GET", "/seats.pdf", Deed::TakenOut, "class"),
    ("GET", "/order-list.pdf", Deed::TakenOut, "class"),
    ("GET", "/supplies.csv", Deed::TakenOut, "class"),
    ("GET", "/supplies.xlsx", Deed::TakenOut, "class"),
    ("GET", "/handover.zip", Deed::TakenOut, "class"),
    ("GET", "/attendance.csv", Deed::TakenOut, "class"),
    ("GET", "/term.csv", Deed::TakenOut, "class"),
    ("GET", "/term.xlsx", Deed::TakenOut, "class"),
    ("GET", "/term.pdf", Deed::TakenOut, "class"),
    ("GET", "/children/{child}/term.pdf", Deed::TakenOut, "child"),
    ("GET", "/checklist.toml", Deed::TakenOut, "class"),
];

const OF_A_PROGRAM: [Row; 11] = [
    ("PUT", "", Deed::ProgramRenamed, "program"),
    ("PUT", "/keeping", Deed::KeepingChanged, "program"),
    ("POST", "/invitations", Deed::Invited, "program"),
    ("DELETE", "/invitations/{invitation}", Deed::InvitationRevoked, "invitation"),
    ("PUT", "/people/{account}", Deed::RoleChanged, "account"),
    ("DELETE", "/people/{account}", Deed::PersonRemoved, "account"),
    ("POST", "/people/{account}/password-link", Deed::PasswordLinkMade, "account"),
    ("GET", "/archive.zip", Deed::ProgramTakenOut, "program"),
    ("POST", "/handover", Deed::BroughtIn, "program"),
    ("GET", "/audit.csv", Deed::TakenOut, "program"),
    ("GET", "/people.vcf", Deed::TakenOut, "program"),
];

/// What the success of a route is.
#[must_use]
pub fn deed_of(method: &Method, path: &str) -> Option<(Deed, &'static str)> {
    let find = |rows: &[Row], rest: &str| {
        let row = rows.iter().find(|(of, tail, ..)| *of == method.as_str() && *tail == rest);
        row.map(|(.., deed, thing)| (*deed, *thing))
    };
    if let Some(rest) = path.strip_prefix("/api/classes/{class}") {
        find(&OF_A_CLASS, rest)
    } else {
        find(&OF_A_PROGRAM, path.strip_prefix("/api/programs/{program}")?)
    }
}

/// An entry of this moment.
fn entry(
    now: DateTime<Utc>,
    by: Option<AccountId>,
    deed: Deed,
    thing: (&str, Option<Uuid>),
    client: Option<&Client>,
) -> Entry {
    Entry {
        id: Uuid::now_v7(),
        at: now,
        by,
        deed: deed.word().to_owned(),
        thing: thing.0.to_owned(),
        thing_id: thing.1,
        network: client.map(|client| client.network().to_string()).unwrap_or_default(),
    }
}

/// Notes what somebody did in a program; `client` is absent for what the server does by itself.
///
/// # Errors
/// [`StoreError`].
pub async fn note(
    db: &impl ConnectionTrait,
    program: ProgramId,
    now: DateTime<Utc>,
    by: Option<AccountId>,
    (deed, thing, id): (Deed, &str, Option<Uuid>),
    client: Option<&Client>,
) -> Result<(), StoreError> {
    audit::add(db, program, &entry(now, by, deed, (thing, id), client)).await
}

/// What the request under way does, if it goes well.
#[derive(Debug)]
struct Pending {
    doer: Doer,
    deed: Deed,
    thing: &'static str,
    id: Option<Uuid>,
    client: Option<Client>,
    noted: AtomicBool,
}

impl Pending {
    /// Notes it, where it is known by now in which program; answers whether it did.
    async fn note(&self, db: &impl ConnectionTrait, now: DateTime<Utc>) -> Result<bool, StoreError> {
        let (by, program) = *self.doer.0.lock().unwrap_or_else(PoisonError::into_inner);
        let Some(program) = program.filter(|_| !self.noted.load(Ordering::SeqCst)) else { return Ok(false) };
        note(db, program, now, by, (self.deed, self.thing, self.id), self.client.as_ref()).await?;
        Ok(true)
    }
}

tokio::task_local! {
    static PENDING: Arc<Pending>;
}

/// A note that was written in a transaction and counts when that is committed.
#[derive(Debug, Default)]
#[must_use]
pub struct Noted(Option<Arc<Pending>>);

impl Noted {
    /// The transaction was committed.
    pub fn committed(self) {
        if let Some(pending) = self.0 {
            pending.noted.store(true, Ordering::SeqCst);
        }
    }
}

/// Notes what the request under way does in its own transaction: either both are there or neither.
///
/// # Errors
/// [`StoreError`].
pub async fn note_pending(tx: &impl ConnectionTrait, now: DateTime<Utc>) -> Result<Noted, StoreError> {
    let Ok(pending) = PENDING.try_with(Arc::clone) else { return Ok(Noted::default()) };
    let noted = pending.note(tx, now).await?;
    Ok(Noted(noted.then_some(pending)))
}

/// The layer: what a transaction of the request has not noted is noted after a good answer, where it is a deed.
pub async fn layer(State(app): State<App>, request: Request, next: Next) -> Response {
    let path = request.extensions().get::<MatchedPath>().map(|path| path.as_str().to_owned()).unwrap_or_default();
    let Some((deed, thing)) = deed_of(request.method(), &path) else { return next.run(request).await };
    // What is only shown is not done: an import is agreed to by its digest.
    let shown_only = deed == Deed::BroughtIn && !request.uri().query().unwrap_or_default().contains("digest=");
    let (mut parts, body) = request.into_parts();
    let doer = Doer::default();
    parts.extensions.insert(doer.clone());
    let id = id_in_path(&mut parts, &app, thing).await;
    let client = Client::from_request_parts(&mut parts, &app).await.ok();
    let request = Request::from_parts(parts, body);
    if shown_only {
        return next.run(request).await;
    }
    let pending = Arc::new(Pending { doer, deed, thing, id, client, noted: AtomicBool::new(false) });
    let response = PENDING.scope(pending.clone(), next.run(request)).await;
    if response.status().is_success()
        && let Err(error) = pending.note(&app.db, app.now()).await
    {
        tracing::error!(?error, deed = deed.word(), "a deed was done and could not be noted");
    }
    response
}
