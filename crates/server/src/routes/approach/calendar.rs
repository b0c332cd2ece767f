//! When a class meets: meeting days, days off, short days.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::IntoResponse;
use bright_row_core::day::Day;
use bright_row_core::progress::calendar::{CalendarError, MeetingCalendar};
use bright_row_store::classes::calendar::{self, CalendarSettings};
use chrono::{NaiveDate, Weekday};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::auth::guard::{Director, Member};
use crate::error::answers::{ForDirectorsReplacing, ForMembers};
use crate::error::{ApiError, FieldError};
use crate::extract::Body;
use crate::extract::based_on::{BasedOn, BasedOnHeaders, etag, version};
use crate::state::App;
use crate::use_cases::change_settings;

/// The most minutes of a short day.
const MAX_SHORT_DAY_MINUTES: u32 = 240;
/// The longest reason.
pub(super) const MAX_DAY_OFF_REASON_LENGTH: usize = 80;

/// When a class meets.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct CalendarView {
    first_day: Day,
    last_day: Day,
    /// 1 for Monday to 7 for Sunday.
    meeting_days: Vec<u8>,
    days_off: Vec<DayOffView>,
    short_days: Vec<ShortDayView>,
}

/// A day without a meeting.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct DayOffView {
    pub(super) day: Day,
    /// At most 80 characters.
    #[serde(default)]
    pub(super) reason: String,
}

/// A meeting with minutes of its own for looking.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct ShortDayView {
    day: Day,
    /// 0 to 240.
    minutes: u32,
    /// At most 80 characters.
    #[serde(default)]
    reason: String,
}

/// When a class meets, and how that comes out.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CalendarAnswer {
    set: CalendarView,
    /// The version of `set`.
    version: String,
    time_zone: String,
    today: NaiveDate,
    /// Every meeting, in order.
    meetings: Vec<NaiveDate>,
}

/// When a class meets.
#[utoipa::path(get, path = "/api/classes/{class}/calendar", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = CalendarAnswer),
        ForMembers,
    ))]
pub async fn calendar(State(app): State<App>, member: Member) -> Result<impl IntoResponse, ApiError> {
    let class = &member.class;
    let settings = calendar::of_class(&app.db, class.key).await?;
    let set = CalendarView::from(&settings);
    let version = version(&set);
    let answer = CalendarAnswer {
        set,
        version: version.clone(),
        time_zone: settings.time_zone.name().to_owned(),
        today: class.calendar.day_of(app.now()),
        meetings: (1..=class.calendar.total()).filter_map(|number| class.calendar.date_of(number)).collect(),
    };
    Ok((etag(&version), Json(answer)))
}

impl From<&CalendarSettings> for CalendarView {
    fn from(settings: &CalendarSettings) -> Self {
        let off = |(day, reason): (&NaiveDate, &String)| DayOffView { day: Day::near(*day), reason: reason.clone() };
        let short = |(day, (minutes, reason)): (&NaiveDate, &(u32, String))| ShortDayView {
            day: Day::near(*day),
            minutes: *minutes,
            reason: reason.clone(),
        };
        Self {
            first_day: Day::near(settings.first_day),
            last_day: Day::near(settings.last_day),
            meeting_days: settings.weekdays.iter().filter_map(|day| u8::try_from(*day).ok()).collect(),
            days_off: settings.days_off.iter().map(off).collect(),
            short_days: settings.short_days.iter().map(short).collect(),
        }
    }
}

impl CalendarView {
    fn check(&self, settings: &CalendarSettings) -> Result<CalendarSettings, ApiError> {
        let mut faults = Vec::new();
        let weekdays: BTreeSet<u8> = self.meeting_days.iter().copied().collect();
        let known: Vec<Weekday> =
            weekdays.iter().filter_map(|day| Weekday::try_from(day.checked_sub(1)?).ok()).collect();
        if known.len() != self.meeting_days.len() {
            faults.push(FieldError::new("meetingDays", "Weekdays are 1 for Monday to 7 for Sunday, each once."));
        }
        let long = |reason: &str| reason.trim().chars().count() > MAX_DAY_OFF_REASON_LENGTH || reason.contains('\0');
        if self.days_off.iter().any(|off| long(&off.reason)) || self.short_days.iter().any(|day| long(&day.reason)) {
            faults.push(FieldError::new("reason", format!("At most {MAX_DAY_OFF_REASON_LENGTH} characters.")));
        }
        if self.short_days.iter().any(|day| day.minutes > MAX_SHORT_DAY_MINUTES) {
            faults.push(FieldError::new("shortDays", format!("0 to {MAX_SHORT_DAY_MINUTES} minutes.")));
        }
        let days_off: BTreeMap<NaiveDate, String> =
            self.days_off.iter().map(|off| (off.day.date(), off.reason.trim().to_owned())).collect();
        let off = days_off.keys().copied().collect();
        let made = MeetingCalendar::new(settings.time_zone, self.first_day.date(), self.last_day.date(), &known, &off);
        faults.extend(made.err().map(|error| calendar_fault(&error)));
        if !faults.is_empty() {
            return Err(ApiError::Invalid(faults));
        }
        let short = self.short_days.iter().map(|day| (day.day.date(), (day.minutes, day.reason.trim().to_owned())));
        Ok(CalendarSettings {
            time_zone: settings.time_zone,
            first_day: self.first_day.date(),
            last_day: self.last_day.date(),
            weekdays: weekdays.into_iter().map(i16::from).collect(),
            days_off,
            short_days: short.collect(),
        })
    }
}

fn calendar_fault(error: &CalendarError) -> FieldError {
    let field = match error {
        CalendarError::EndsBeforeItStarts | CalendarError::TooLong => "lastDay",
        CalendarError::NoMeeting => "meetingDays",
    };
    FieldError::new(field, format!("{error}."))
}

/// Sets when a class meets, whole; directors only. No observation changes: what is due follows anew.
#[utoipa::path(put, path = "/api/classes/{class}/calendar", tag = "approach",
    params(("class" = Uuid, Path, description = "The class"), BasedOnHeaders),
    request_body = CalendarView,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn set_calendar(
    State(app): State<App>,
    Director(member): Director,
    based_on: BasedOn,
    Body(body): Body<CalendarView>,
) -> Result<StatusCode, ApiError> {
    change_settings::set_calendar(&app, &member, |before| {
        let wanted = body.check(before)?;
        based_on.allow(Some(&CalendarView::from(before)), &CalendarView::from(&wanted))?;
        Ok(wanted)
    })
    .await?;
    Ok(StatusCode::NO_CONTENT)
}
