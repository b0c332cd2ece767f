//! The class's meetings as a calendar: a file, and an address that calendars subscribe to.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::IntoResponse;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::rhythm::Recheck;
use bright_row_documents::ical;
use bright_row_store::accounts::{self, Made};
use bright_row_store::classes::{self, Class, calendar_address};
use chrono::{DateTime, Utc};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::auth::guard::{Director, Member};
use crate::error::ApiError;
use crate::error::answers::{ForDirectors, ForMembers, ForSubscribers};
use crate::extract::files::Download;
use crate::state::App;
use crate::use_cases::link_secret::LinkSecret;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};
use crate::use_cases::{begin, commit};

/// So many meetings ahead tell what will be due.
const MAX_MEETINGS_WITH_DUE: u32 = 10;

/// The class's meetings and what will be due, as a calendar that names no child.
#[utoipa::path(get, path = "/api/classes/{class}/calendar.ics", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = String, content_type = "text/calendar"),
        ForMembers,
    ))]
pub async fn calendar_file(State(app): State<App>, member: Member) -> Result<Download, ApiError> {
    meetings(&app, &member.class).await
}

async fn meetings(app: &App, class: &Class) -> Result<Download, ApiError> {
    let now = class.calendar.meeting_at(app.now());
    // Read once; what is due at each meeting follows from it.
    let mut learners = ClassSnapshot::new(app, class).learners().await?;
    let mut entries = Vec::new();
    for number in 1..=class.calendar.total() {
        let Some(day) = class.calendar.date_of(number) else { continue };
        let ahead = number.saturating_sub(now);
        let description = if (1..=MAX_MEETINGS_WITH_DUE).contains(&ahead) {
            let snapshot = ClassSnapshot::new(app, class).ahead(ahead);
            snapshot.at_this_meeting(&mut learners);
            due_words(&snapshot, &learners)
        } else {
            String::new()
        };
        let uid = format!("{}-{day}@bright-row", class.key.class);
        let summary = format!("{}, meeting {number}", class.name);
        entries.push(ical::Entry { uid, day, summary, description });
    }
    let text = ical::calendar(&class.name, &entries, app.now());
    Ok(Download { name: format!("{}.ics", class.name), kind: "text/calendar; charset=utf-8", bytes: text.into() })
}

/// `Due: 4 in Hold, 2 in Tapes`, as if nobody observed anything until then.
fn due_words(snapshot: &ClassSnapshot<'_>, learners: &[Learner]) -> String {
    let mut due: BTreeMap<Strand, usize> = BTreeMap::new();
    for learner in learners {
        for strand in learner.ladder.strands.iter().filter(|strand| strand.recheck.is_some_and(Recheck::is_due)) {
            *due.entry(strand.strand).or_default() += 1;
        }
    }
    let parts: Vec<String> =
        due.iter().map(|(strand, count)| format!("{count} in {}", snapshot.checklist.strand_name(*strand))).collect();
    if parts.is_empty() { String::new() } else { format!("Due: {}", parts.join(", ")) }
}

/// The address of a class's calendar, as far as it is kept: its secret is with whoever made it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CalendarAddress {
    /// Since when; absent where there is none.
    made_at: Option<DateTime<Utc>>,
    /// Who made it.
    made_by: Option<String>,
}

/// A new address, shown once.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewCalendarAddress {
    /// Its path on this server.
    path: String,
}

/// Whether the class's calendar has an address; directors only.
#[utoipa::path(get, path = "/api/classes/{class}/calendar/address", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = CalendarAddress),
        ForDirectors,
    ))]
pub async fn calendar_address(
    State(app): State<App>,
    Director(member): Director,
) -> Result<Json<CalendarAddress>, ApiError> {
    let found = calendar_address::of_class(&app.db, member.class.key).await?;
    let mut names = accounts::names(&app.db, found.iter().map(|made| made.by)).await?;
    Ok(Json(CalendarAddress {
        made_at: found.map(|made| made.at),
        made_by: found.and_then(|made| names.remove(&made.by)),
    }))
}

/// Makes the class's calendar an address, in place of the one before; directors only. It is shown this once.
#[utoipa::path(post, path = "/api/classes/{class}/calendar/address", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 201, body = NewCalendarAddress),
        ForDirectors,
    ))]
pub async fn make_calendar_address(
    State(app): State<App>,
    Director(member): Director,
) -> Result<impl IntoResponse, ApiError> {
    let (text, secret) = LinkSecret::new(Some(member.class.key.program));
    let tx = begin(&app).await?;
    let made = Made { by: member.account, at: app.now() };
    calendar_address::set(&tx, member.class.key, &secret.hash, made).await?;
    commit(&app, tx, []).await?;
    Ok((StatusCode::CREATED, Json(NewCalendarAddress { path: format!("/api/calendars/{text}/meetings.ics") })))
}

/// Ends the address of the class's calendar: whoever subscribed to it hears no more; directors only.
#[utoipa::path(delete, path = "/api/classes/{class}/calendar/address", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 204, description = "There is none now"),
        ForDirectors,
    ))]
pub async fn end_calendar_address(State(app): State<App>, Director(member): Director) -> Result<StatusCode, ApiError> {
    let tx = begin(&app).await?;
    calendar_address::end(&tx, member.class.key).await?;
    commit(&app, tx, []).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The class's meetings, for whoever has the address: the same as the file.
#[utoipa::path(get, path = "/api/calendars/{secret}/meetings.ics", tag = "approach",
    params(("secret" = String, Path, description = "What stands in the address")),
    responses(
        (status = 200, body = String, content_type = "text/calendar"),
        ForSubscribers,
    ))]
pub async fn subscribed_calendar(
    State(app): State<App>,
    path: Result<Path<String>, axum::extract::rejection::PathRejection>,
) -> Result<Download, ApiError> {
    let Path(text) = path.map_err(|_| ApiError::LinkOver)?;
    let secret = LinkSecret::read(&text);
    let found = calendar_address::class_of(&app.db, secret.program, &secret.hash).await?;
    let class = classes::one(&app.db, found.ok_or(ApiError::LinkOver)?).await?;
    meetings(&app, &class).await
}
