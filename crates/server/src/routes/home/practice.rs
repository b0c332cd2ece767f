//! A child's week of practice, the same that its card prints.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::IntoResponse;
use bright_row_core::lessons::home::{HomeAgreement, HomeDay};
use bright_row_documents::ical;
use serde::Serialize;
use utoipa::ToSchema;

use crate::auth::guard::{DirectorOfChild, MemberOfChild};
use crate::error::ApiError;
use crate::error::answers::{ForDirectorsReplacing, ForMembers};
use crate::extract::Body;
use crate::extract::based_on::{BasedOn, BasedOnHeaders, etag, version};
use crate::extract::files::Download;
use crate::state::App;
use crate::use_cases::at_home::ClassAtHome;
use crate::use_cases::change_settings;
use crate::use_cases::snapshot::ClassSnapshot;

/// A child's week of practice.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PracticeView {
    /// The blocks of each day come to exactly that.
    minutes_per_day: u32,
    /// The days of practice within seven days from the next meeting on.
    days: Vec<HomeDay>,
    /// What is agreed with the family instead of what the class does.
    agreed: HomeAgreement,
    /// The version of `agreed`.
    version: String,
}

/// A child's days of practice as a calendar that does not name the child: calendars travel.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/practice.ics", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses(
        (status = 200, body = String, content_type = "text/calendar"),
        ForMembers,
    ))]
pub async fn practice_calendar(State(app): State<App>, found: MemberOfChild) -> Result<Download, ApiError> {
    let MemberOfChild { member, child } = found;
    let at_home = ClassAtHome::read(ClassSnapshot::new(&app, &member.class)).await?;
    let learner = at_home.snapshot.learner(child.id).await?.ok_or(ApiError::NotFound("child"))?;
    let week = at_home.week(&learner)?;
    let instrument = child.playing.now;
    let entry = |day: &HomeDay| ical::Entry {
        uid: format!("{}-{}-practice@bright-row", child.id, day.date),
        day: day.date,
        summary: format!("Practise the {}, {} minutes", instrument.name(), at_home.settings(child.id).minutes),
        description: at_home.lines(&week, day, instrument).join("\n"),
    };
    let entries: Vec<_> = week.days.iter().map(entry).collect();
    let text = ical::calendar("Practice", &entries, app.now());
    Ok(Download { name: "practice.ics".to_owned(), kind: "text/calendar; charset=utf-8", bytes: text.into() })
}

/// A child's week of practice: which blocks, for how long, on which days.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/practice", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses(
        (status = 200, body = PracticeView),
        ForMembers,
    ))]
pub async fn practice(State(app): State<App>, found: MemberOfChild) -> Result<impl IntoResponse, ApiError> {
    let MemberOfChild { member, child } = found;
    let at_home = ClassAtHome::read(ClassSnapshot::new(&app, &member.class)).await?;
    let learner = at_home.snapshot.learner(child.id).await?.ok_or(ApiError::NotFound("child"))?;
    let week = at_home.week(&learner)?;
    let agreed = at_home.agreement(child.id);
    let version = version(&agreed);
    let minutes_per_day = at_home.settings(child.id).minutes;
    Ok((etag(&version), Json(PracticeView { minutes_per_day, days: week.days, agreed, version })))
}

/// Keeps what is agreed with a child's family; directors only. What is absent is as in the class.
#[utoipa::path(put, path = "/api/classes/{class}/children/{child}/practice", tag = "home",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"), BasedOnHeaders,
    ),
    request_body = HomeAgreement,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn agree_on_practice(
    State(app): State<App>,
    found: DirectorOfChild,
    based_on: BasedOn,
    Body(body): Body<HomeAgreement>,
) -> Result<StatusCode, ApiError> {
    let DirectorOfChild { member, child } = found;
    change_settings::agree_on_practice(&app, &member, child.id, &body, |there| based_on.allow(Some(there), &body))
        .await?;
    Ok(StatusCode::NO_CONTENT)
}
