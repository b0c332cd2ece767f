//! Classes: which there are, a new one with its calendar, and its children.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::progress::calendar::MeetingCalendar;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::setup::rows::Seat;
use bright_row_core::{ClassId, ProgramId};
use bright_row_store::children::{self, Child, MOST_ROWS, MOST_SEATS};
use bright_row_store::classes::{self, Class, ClassKey, NewClass, RoundSettings};
use bright_row_store::{StoreError, TransactionTrait, accounts};
use chrono::{NaiveDate, Weekday};
use chrono_tz::Tz;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::extract::Body;
use crate::error::{ApiError, FieldError, ForDirectorsAgreeing, ForDirectorsWriting, Problem};
use crate::routes::setup::roster::EntryView;
use crate::routes::accounts::session::RoleView;
use crate::state::App;
use crate::auth::guard::{Director, SignedIn, may_change};

/// The most children added in one request.
const MOST_CHILDREN: usize = 120;

/// A class in a list.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ClassView {
    #[schema(value_type = Uuid)]
    id: ClassId,
    name: String,
    program_name: String,
    role: RoleView,
}

impl From<Class> for ClassView {
    fn from(class: Class) -> Self {
        let id = class.key.class;
        Self { id, name: class.name, program_name: class.program_name, role: class.role.into() }
    }
}

/// A class to add.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewClassBody {
    /// One of the programs one is a director of.
    program_id: Uuid,
    name: String,
    /// An IANA name.
    #[schema(example = "Europe/Dublin")]
    time_zone: String,
    first_day: NaiveDate,
    last_day: NaiveDate,
    /// ISO weekdays, 1 = Monday.
    #[schema(example = json!([2, 4]))]
    meeting_days: Vec<u8>,
    /// Days without a meeting.
    #[serde(default)]
    days_off: Vec<NaiveDate>,
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
    /// Made by the page; the same id twice is refused.
    id: Uuid,
    #[serde(flatten)]
    entry: EntryView,
    /// Rows from the podium to the back, from 1; a seat can wait.
    row: Option<u8>,
    /// Seats from the podium's left, from 1.
    seat: Option<u8>,
}

/// A name without spaces around it; what is wrong goes to `errors`.
pub(super) fn read_name(text: &str, field: &str, most: usize, errors: &mut Vec<FieldError>) -> String {
    let name = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if name.is_empty() {
        errors.push(FieldError::new(field, "Type a name."));
    } else if name.chars().count() > most {
        errors.push(FieldError::new(field, format!("At most {most} characters.")));
    }
    name
}

/// The classes of every program one belongs to, by name.
#[utoipa::path(get, path = "/api/classes", tag = "classes", responses(
    (status = 200, body = Vec<ClassView>),
    (status = 401, body = Problem, content_type = "application/problem+json"),
))]
pub async fn list_classes(
    State(app): State<App>,
    SignedIn(account): SignedIn,
) -> Result<Json<Vec<ClassView>>, ApiError> {
    let classes = classes::all_for_account(&app.db, account).await?;
    Ok(Json(classes.into_iter().map(ClassView::from).collect()))
}

/// Adds a class with its calendar; directors only.
#[utoipa::path(post, path = "/api/classes", tag = "classes", request_body = NewClassBody, responses(
    (status = 201, body = ClassView),
        ForDirectorsWriting,
))]
pub async fn add_class(
    State(app): State<App>,
    SignedIn(account): SignedIn,
    Body(body): Body<NewClassBody>,
) -> Result<(StatusCode, Json<ClassView>), ApiError> {
    let program = ProgramId::from(body.program_id);
    let programs = accounts::programs_of(&app.db, account).await?;
    let (_, _, role) = programs.into_iter().find(|(id, ..)| *id == program).ok_or(ApiError::NotFound("program"))?;
    may_change(role)?;
    let new = read_class(program, &body)?;
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    classes::add(&tx, &new).await?;
    tx.commit().await.map_err(StoreError::from)?;
    let class = classes::for_account(&app.db, account, new.key.class).await?;
    Ok((StatusCode::CREATED, Json(class.ok_or(ApiError::NotFound("class"))?.into())))
}

fn read_class(program: ProgramId, body: &NewClassBody) -> Result<NewClass, ApiError> {
    let mut errors = Vec::new();
    let name = read_name(&body.name, "name", 80, &mut errors);
    let time_zone: Tz = body.time_zone.parse().unwrap_or_else(|_| {
        errors.push(FieldError::new("timeZone", "Choose a time zone by its IANA name, such as Europe/Dublin."));
        Tz::UTC
    });
    let weekdays: BTreeSet<u8> = body.meeting_days.iter().copied().collect();
    let weekdays: Vec<Weekday> =
        weekdays.iter().filter_map(|day| Weekday::try_from(day.checked_sub(1)?).ok()).collect();
    if weekdays.len() != body.meeting_days.len() {
        errors.push(FieldError::new("meetingDays", "Weekdays are 1 for Monday to 7 for Sunday, each once."));
    }
    let days_off: BTreeSet<NaiveDate> = body.days_off.iter().copied().collect();
    if let Err(error) = MeetingCalendar::new(time_zone, body.first_day, body.last_day, &weekdays, &days_off) {
        use bright_row_core::progress::calendar::CalendarError as E;
        let field = match error {
            E::EndsBeforeItStarts | E::TooLong => "lastDay",
            E::NoMeeting => "meetingDays",
        };
        let text = error.to_string();
        let sentence: String = text.chars().take(1).flat_map(char::to_uppercase).chain(text.chars().skip(1)).collect();
        errors.push(FieldError::new(field, format!("{sentence}.")));
    }
    if !errors.is_empty() {
        return Err(ApiError::Invalid(errors));
    }
    Ok(NewClass {
        key: ClassKey { program, class: Uuid::now_v7().into() },
        name,
        time_zone,
        first_day: body.first_day,
        last_day: body.last_day,
        weekdays,
        days_off: days_off.into_iter().map(|day| (day, String::new())).collect(),
        rhythm: Rhythm::default(),
        round: RoundSettings::default(),
    })
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
    let mut errors = Vec::new();
    if body.children.is_empty() || body.children.len() > MOST_CHILDREN {
        errors.push(FieldError::new("children", format!("Add 1 to {MOST_CHILDREN} children at once.")));
    }
    let new: Vec<Child> = (0..)
        .zip(&body.children)
        .map(|(index, child)| {
            let entry = child.entry.read(&format!("children.{index}."), &mut errors);
            let seat = read_seat(child, index, &mut errors);
            Child { seat, ..Child::from_entry(child.id.into(), entry, joined_on) }
        })
        .collect();
    if !errors.is_empty() {
        return Err(ApiError::Invalid(errors));
    }
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    children::add(&tx, member.class.key, &new).await.map_err(|error| match error {
        StoreError::Conflict => ApiError::Conflict("A seat or a child of these is there already. Nothing was changed."),
        other => ApiError::Store(other),
    })?;
    tx.commit().await.map_err(StoreError::from)?;
    app.live.changed(member.class.key.class);
    Ok(StatusCode::CREATED)
}

/// The seat of a new child, if it has one yet.
fn read_seat(child: &NewChild, index: usize, errors: &mut Vec<FieldError>) -> Option<Seat> {
    let (row, number) = match (child.row, child.seat) {
        (None, None) => return None,
        (row, seat) => (row.unwrap_or_default(), seat.unwrap_or_default()),
    };
    if !(1..=MOST_ROWS).contains(&row) {
        errors.push(FieldError::new(&format!("children.{index}.row"), format!("Rows are 1 to {MOST_ROWS}.")));
    }
    if !(1..=MOST_SEATS).contains(&number) {
        errors.push(FieldError::new(&format!("children.{index}.seat"), format!("Seats are 1 to {MOST_SEATS}.")));
    }
    Some(Seat { row, number })
}
