//! The room: every child of a class with its four strings.

use std::sync::Arc;

use bright_row_core::role::Role;

use axum::Json;
use axum::extract::State;
use bright_row_core::ClassId;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::page::room_child::RoomChild;
use chrono::NaiveDate;
use serde::Serialize;
use serde_json::value::{RawValue, to_raw_value};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::use_cases::snapshot::{ClassSnapshot, Learner, who};

use crate::auth::guard::InClass;
use crate::kept::KeptRoom;
use crate::state::App;

/// The room of a class.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Room {
    class_id: ClassId,
    name: String,
    program_name: String,
    role: Role,
    /// Whether one may change children and settings.
    may_change: bool,
    /// Whether one may open more of it than room, round, lesson and tapes.
    looks_back: bool,
    /// It is over: it can be read and changes no more.
    archived: bool,
    /// The day it is where the class meets.
    today: NaiveDate,
    meeting: MeetingView,
    /// A child not looked at for so many meetings must be seen.
    must_see_after: u32,
    /// The four strands by name, in the order of the strings.
    strands: Vec<StrandName>,
    /// By row and seat; children without a seat last.
    #[schema(value_type = Vec<RoomChild>)]
    children: Arc<RawValue>,
}

/// Where the class is in its calendar.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MeetingView {
    /// Meetings up to and including today; 0 before the first.
    number: u32,
    /// Meetings in all.
    total: u32,
    /// Whether the class meets today.
    today: bool,
    /// The next meeting from today on.
    next: Option<NaiveDate>,
}

/// A strand and what it is called.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StrandName {
    key: Strand,
    name: String,
}

/// Everybody in the room as it is answered; kept until something changes in the class.
async fn read_children(snapshot: &ClassSnapshot<'_>, today: NaiveDate) -> Result<Arc<RawValue>, ApiError> {
    let class = snapshot.class;
    let room_child = |learner: Learner| {
        RoomChild::new(who(&learner.child), snapshot.unseen(&learner.child, &learner.standings), &learner.ladder)
    };
    let children: Vec<RoomChild> = snapshot.learners().await?.into_iter().map(room_child).collect();
    let written =
        to_raw_value(&children).map_err(|error| ApiError::Internal(format!("a room is not JSON: {error}")))?;
    // What was read is as new as what the class said before it, or newer: then the next one reads again.
    let kept = KeptRoom { settled: class.settled, touched: class.touched, day: today, children: written.into() };
    snapshot.app.kept_rooms.keep(class.key.class, kept.clone());
    Ok(kept.children)
}

/// The room of a class: seats, strings, what is due and flagged.
#[utoipa::path(get, path = "/api/classes/{class}/room", tag = "room",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Room),
        ForMembers,
    ))]
pub async fn room(State(app): State<App>, InClass(member): InClass) -> Result<Json<Room>, ApiError> {
    let (may_change, role) = (member.may_change(), member.role);
    let class = member.class;
    let snapshot = ClassSnapshot::new(&app, &class);
    let today = class.calendar.day_of(app.now());
    let children = match app.kept_rooms.get(class.key.class).filter(|kept| kept.is_of(&class, today)) {
        Some(kept) => kept.children,
        None => read_children(&snapshot, today).await?,
    };
    let meeting = MeetingView {
        number: snapshot.now,
        total: class.calendar.total(),
        today: class.calendar.meets_on(today),
        next: class.calendar.next_from(today),
    };
    let checklist = &snapshot.checklist;
    let strands = Strand::ALL.map(|strand| StrandName { key: strand, name: checklist.strand_name(strand).to_owned() });
    Ok(Json(Room {
        class_id: class.key.class,
        name: class.name.clone(),
        program_name: class.program_name.clone(),
        role,
        may_change,
        looks_back: role.looks_back(),
        archived: class.archived_at.is_some(),
        today,
        meeting,
        must_see_after: class.round.must_see_after,
        strands: strands.into(),
        children,
    }))
}
