//! A child's week of practice, the same that its card prints.

use axum::Json;
use axum::extract::State;
use bright_row_core::lessons::home::HomeDay;
use bright_row_documents::ical;
use serde::Serialize;
use utoipa::ToSchema;

use crate::auth::guard::MemberOfChild;
use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::extract::files::Download;
use crate::state::App;
use crate::use_cases::at_home::ClassAtHome;
use crate::use_cases::snapshot::ClassSnapshot;

/// A child's week of practice.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PracticeView {
    /// The blocks of each day come to exactly that.
    minutes_per_day: u32,
    /// The days of practice within seven days from the next meeting on.
    days: Vec<HomeDay>,
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
    let at_home = ClassAtHome::new(ClassSnapshot::new(&app, &member.class));
    let learner = at_home.snapshot.learner(child.id).await?.ok_or(ApiError::NotFound("child"))?;
    let week = at_home.week(&learner)?;
    let instrument = child.playing.now;
    let entry = |day: &HomeDay| ical::Entry {
        uid: format!("{}-{}-practice@bright-row", child.id, day.date),
        day: day.date,
        summary: format!("Practise the {}, {} minutes", instrument.name(), member.class.home_settings.minutes),
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
pub async fn practice(State(app): State<App>, found: MemberOfChild) -> Result<Json<PracticeView>, ApiError> {
    let MemberOfChild { member, child } = found;
    let at_home = ClassAtHome::new(ClassSnapshot::new(&app, &member.class));
    let learner = at_home.snapshot.learner(child.id).await?.ok_or(ApiError::NotFound("child"))?;
    let week = at_home.week(&learner)?;
    Ok(Json(PracticeView { minutes_per_day: member.class.home_settings.minutes, days: week.days }))
}
