//! Classes: which there are, a new one with its calendar, and its children.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::day::Day;
use bright_row_core::progress::calendar::{CalendarError, MeetingCalendar};
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::role::Role;
use bright_row_core::setup::roster::{MAX_CLASS_NAME_LENGTH, RosterEntry};
use bright_row_core::setup::rows::{MAX_ROWS, MAX_SEATS_IN_ROW, Seat};
use bright_row_core::{ChildId, ClassId, ProgramId};
use bright_row_store::accounts;
use bright_row_store::children::Child;
use bright_row_store::classes::{self, Class, ClassKey, NewClass, RoundSettings};
use chrono::{DateTime, NaiveDate, Utc, Weekday};
use chrono_tz::Tz;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::auth::client::Client;
use crate::auth::guard::{Director, OwnerOfClass, SignedIn, may_change};
use crate::error::answers::{ForDirectorsAgreeing, ForOwners, ForOwnersWriting};
use crate::error::{ApiError, Problem};
use crate::extract::Body;
use crate::extract::fields::Fields;
use crate::failure::sentence;
use crate::routes::accounts::program::{EndBody, confirmed};
use crate::routes::setup::roster::read_entry;
use crate::state::App;
use crate::use_cases::{self, keeping};

/// The most children added in one request.
const MAX_NEW_CHILDREN: usize = 120;

/// A class in a list.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ClassView {
    id: ClassId,
    name: String,
    program_id: ProgramId,
    program_name: String,
    role: Role,
    /// Whether one may change children and settings: never in an archived class.
    may_change: bool,
    /// Whether one may open more of it than room, round, lesson and tapes.
    looks_back: bool,
    /// Since when it is over: it can be read and changes no more.
    archived_at: Option<DateTime<Utc>>,
    /// Whether a device's camera may be a mirror here: as the program has it, and never for a substitute.
    mirror: bool,
}

impl From<(&Class, Role)> for ClassView {
    fn from((class, role): (&Class, Role)) -> Self {
        Self {
            id: class.key.class,
            program_id: class.key.program,
            name: class.name.clone(),
            program_name: class.program_name.clone(),
            role,
            may_change: role.may_change() && class.archived_at.is_none(),
            looks_back: role.looks_back(),
            archived_at: class.archived_at,
            mirror: class.mirror && role != Role::Substitute,
        }
    }
}

/// A name.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ClassName {
    name: String,
}

/// A class to add.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewClassBody {
    /// Made by the page when the form opened: the same added again is not one more.
    id: ClassId,
    /// One of the programs one is a director of.
    program_id: ProgramId,
    name: String,
    /// An IANA name.
    #[schema(example = "Europe/Dublin")]
    time_zone: String,
    first_day: Day,
    last_day: Day,
    /// ISO weekdays, 1 = Monday.
    #[schema(example = json!([2, 4]))]
    meeting_days: Vec<u8>,
    /// Days without a meeting.
    #[serde(default)]
    days_off: Vec<Day>,
}

/// Children to add.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewChildren {
    children: Vec<NewChild>,
}

/// A child to add.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewChild {
    /// Made by the page: the same added again is not one more.
    id: ChildId,
    #[serde(flatten)]
    entry: RosterEntry,
    /// Rows from the podium to the back, from 1; a seat can wait.
    row: Option<u8>,
    /// Seats from the podium's left, from 1.
    seat: Option<u8>,
}

/// The classes that one may open, by name; archived ones last.
#[utoipa::path(get, path = "/api/classes", tag = "classes", responses(
    (status = 200, body = Vec<ClassView>),
    (status = 401, body = Problem, content_type = "application/problem+json"),
))]
pub async fn list_classes(
    State(app): State<App>,
    SignedIn(account): SignedIn,
) -> Result<Json<Vec<ClassView>>, ApiError> {
    let opened = classes::all_for_account(&app.db, account, app.now()).await?;
    // One whose program demands a second factor stays shut until there is one; the session says so.
    let open = opened.into_iter().filter(|one| !one.wants_second_factor);
    Ok(Json(open.map(|one| (&*one.class, one.role).into()).collect()))
}

/// Adds a class with its calendar; directors only.
#[utoipa::path(post, path = "/api/classes", tag = "classes", request_body = NewClassBody, responses(
    (status = 201, body = ClassView),
        ForDirectorsAgreeing,
))]
pub async fn add_class(
    State(app): State<App>,
    client: Client,
    SignedIn(account): SignedIn,
    Body(body): Body<NewClassBody>,
) -> Result<(StatusCode, Json<ClassView>), ApiError> {
    let program = body.program_id;
    let programs = accounts::programs_of(&app.db, account, app.now()).await?;
    let here = programs.into_iter().find(|of| of.id == program).ok_or(ApiError::NotFound("program"))?;
    may_change(here.role)?;
    if here.wants_second_factor {
        return Err(ApiError::SecondFactorFirst);
    }
    let new = read_class(program, &body)?;
    let class = use_cases::add_class::add_class(&app, &new, account, &client).await?;
    Ok((StatusCode::CREATED, Json((&class, here.role).into())))
}

fn read_class(program: ProgramId, body: &NewClassBody) -> Result<NewClass, ApiError> {
    let mut fields = Fields::default();
    let name = fields.name::<MAX_CLASS_NAME_LENGTH>("name", &body.name);
    let time_zone: Tz = body.time_zone.parse().unwrap_or_else(|_| {
        fields.fault("timeZone", "Choose a time zone by its IANA name, such as Europe/Dublin.");
        Tz::UTC
    });
    let weekdays: BTreeSet<u8> = body.meeting_days.iter().copied().collect();
    let weekdays: Vec<Weekday> =
        weekdays.iter().filter_map(|day| Weekday::try_from(day.checked_sub(1)?).ok()).collect();
    let all_read = weekdays.len() == body.meeting_days.len();
    fields.require(all_read, "meetingDays", "Weekdays are 1 for Monday to 7 for Sunday, each once.");
    let days_off: BTreeSet<NaiveDate> = body.days_off.iter().map(|day| day.date()).collect();
    if let Err(error) =
        MeetingCalendar::new(time_zone, body.first_day.date(), body.last_day.date(), &weekdays, &days_off)
    {
        let field = match error {
            CalendarError::EndsBeforeItStarts | CalendarError::TooLong => "lastDay",
            CalendarError::NoMeeting => "meetingDays",
        };
        fields.fault(field, sentence(&error.to_string()));
    }
    fields.finish()?;
    Ok(NewClass {
        key: ClassKey { program, class: body.id },
        name,
        time_zone,
        first_day: body.first_day.date(),
        last_day: body.last_day.date(),
        weekdays,
        days_off: days_off.into_iter().map(|day| (day, String::new())).collect(),
        rhythm: Rhythm::default(),
        round: RoundSettings::default(),
    })
}

/// Gives a class another name; directors only.
#[utoipa::path(put, path = "/api/classes/{class}", tag = "classes",
    params(("class" = Uuid, Path, description = "The class")), request_body = ClassName,
    responses((status = 204, description = "Renamed"), ForDirectorsAgreeing))]
pub async fn rename_class(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<ClassName>,
) -> Result<StatusCode, ApiError> {
    let mut fields = Fields::default();
    let name = fields.name::<MAX_CLASS_NAME_LENGTH>("name", &body.name);
    fields.finish()?;
    keeping::rename_class(&app, member.class.key, &name).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Archives a class: it can be read and changes no more; owners only.
#[utoipa::path(post, path = "/api/classes/{class}/archive", tag = "classes",
    params(("class" = Uuid, Path, description = "The class")),
    responses((status = 204, description = "Archived"), ForOwners))]
pub async fn archive_class(State(app): State<App>, OwnerOfClass(member): OwnerOfClass) -> Result<StatusCode, ApiError> {
    keeping::archive_class(&app, member.class.key, true).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Opens an archived class again; owners only.
#[utoipa::path(post, path = "/api/classes/{class}/reopen", tag = "classes",
    params(("class" = Uuid, Path, description = "The class")),
    responses((status = 204, description = "Open again"), ForOwners))]
pub async fn reopen_class(State(app): State<App>, OwnerOfClass(member): OwnerOfClass) -> Result<StatusCode, ApiError> {
    keeping::archive_class(&app, member.class.key, false).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Deletes a class with its children and everything about them, for good; owners only.
#[utoipa::path(post, path = "/api/classes/{class}/end", tag = "classes",
    params(("class" = Uuid, Path, description = "The class")), request_body = EndBody,
    responses((status = 204, description = "Nothing of it is left"), ForOwnersWriting))]
pub async fn end_class(
    State(app): State<App>,
    OwnerOfClass(member): OwnerOfClass,
    Body(body): Body<EndBody>,
) -> Result<StatusCode, ApiError> {
    confirmed(&body.confirm, &member.class.name)?;
    keeping::delete_class(&app, member.class.key).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Adds children with their seats, all or none; directors only.
#[utoipa::path(post, path = "/api/classes/{class}/children", tag = "classes",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = NewChildren,
    responses(
        (status = 201, description = "Added"),
        ForDirectorsAgreeing,
    ))]
pub async fn add_children(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<NewChildren>,
) -> Result<StatusCode, ApiError> {
    let joined_on = member.class.calendar.day_of(app.now());
    let mut fields = Fields::default();
    let count = (1..=MAX_NEW_CHILDREN).contains(&body.children.len());
    fields.require(count, "children", format!("Add 1 to {MAX_NEW_CHILDREN} children at once."));
    let new: Vec<Child> = (0..)
        .zip(&body.children)
        .map(|(index, child)| {
            let fields = fields.within(format!("children.{index}."));
            let entry = read_entry(&child.entry, fields);
            let seat = read_seat(child, fields);
            Child { seat, ..Child::from_entry(child.id, entry, joined_on) }
        })
        .collect();
    fields.finish()?;
    use_cases::add_class::add_children(&app, &member, &new).await?;
    Ok(StatusCode::CREATED)
}

/// The seat of a new child, if it has one yet.
fn read_seat(child: &NewChild, fields: &mut Fields) -> Option<Seat> {
    let (row, number) = match (child.row, child.seat) {
        (None, None) => return None,
        (row, seat) => (row.unwrap_or_default(), seat.unwrap_or_default()),
    };
    fields.require((1..=MAX_ROWS).contains(&row), "row", format!("Rows are 1 to {MAX_ROWS}."));
    let is_seat = (1..=MAX_SEATS_IN_ROW).contains(&number);
    fields.require(is_seat, "seat", format!("Seats are 1 to {MAX_SEATS_IN_ROW}."));
    Some(Seat { row, number })
}
