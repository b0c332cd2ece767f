//! Days off out of a school's iCalendar file.

use axum::Json;
use axum::extract::State;
use bright_row_core::day::Day;
use bright_row_documents::ical;
use bright_row_store::classes::calendar;
use serde::Serialize;
use utoipa::ToSchema;

use super::calendar::{DayOffView, MAX_DAY_OFF_REASON_LENGTH};
use crate::auth::guard::Director;
use crate::error::answers::ForDirectorsImporting;
use crate::error::{ApiError, FieldError};
use crate::extract::files::Upload;
use crate::state::App;

/// Days off that a file names.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct DaysOffFound {
    /// Those on which the class would meet.
    days: Vec<DayOffView>,
    /// How many others it names between the class's first day and its last.
    others: usize,
    /// What was not taken, or not all of it.
    left_out: Vec<EntryLeftOut>,
}

/// An entry of a calendar that was not taken, or not all of it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EntryLeftOut {
    /// What it is called.
    name: String,
    /// Why.
    why: WhyLeftOut,
}

/// Why an entry of a calendar was not taken, or not all of it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum WhyLeftOut {
    /// It has a time of day: the class may meet all the same.
    Timed,
    /// The calendar says that it does not take place.
    Cancelled,
    /// When it begins cannot be read.
    Unreadable,
    /// It lasts longer than 120 days.
    Long,
    /// How it repeats cannot be worked out: only its first time is taken.
    Rule,
}

impl From<ical::LeftOut> for EntryLeftOut {
    fn from(left: ical::LeftOut) -> Self {
        let why = match left.why {
            ical::Why::Timed => WhyLeftOut::Timed,
            ical::Why::Cancelled => WhyLeftOut::Cancelled,
            ical::Why::Unreadable => WhyLeftOut::Unreadable,
            ical::Why::Long => WhyLeftOut::Long,
            ical::Why::Rule => WhyLeftOut::Rule,
        };
        Self { name: left.name, why }
    }
}

/// Reads days off from an iCalendar file; keeps nothing: the director looks at them and keeps the calendar.
#[utoipa::path(post, path = "/api/classes/{class}/calendar/days-off", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 200, body = DaysOffFound),
        ForDirectorsImporting,
    ))]
pub async fn read_days_off(
    State(app): State<App>,
    Director(member): Director,
    Upload(bytes): Upload,
) -> Result<Json<DaysOffFound>, ApiError> {
    let settings = calendar::of_class(&app.db, member.class.key).await?;
    let span = ical::Span { first: settings.first_day, last: settings.last_day, zone: settings.time_zone };
    let found = app.readers.read(move || ical::days_off(&bytes, &span)).await?;
    let found = found.map_err(|error| {
        ApiError::Invalid(vec![FieldError::new("file", format!("Nothing was changed: {error}. Export it anew."))])
    })?;
    let calendar = &member.class.calendar;
    let all = found.days.len();
    let days: Vec<DayOffView> = found
        .days
        .into_iter()
        .filter(|(day, _)| calendar.meets_on(*day))
        .map(|(day, reason)| DayOffView {
            day: Day::near(day),
            reason: reason.chars().take(MAX_DAY_OFF_REASON_LENGTH).collect(),
        })
        .collect();
    let left_out = found.left_out.into_iter().map(EntryLeftOut::from).collect();
    Ok(Json(DaysOffFound { others: all - days.len(), days, left_out }))
}
