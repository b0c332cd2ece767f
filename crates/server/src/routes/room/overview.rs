//! The room: every child of a class with its four strings.

use bright_row_core::role::Role;

use axum::Json;
use axum::extract::State;
use bright_row_core::ClassId;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::page::room_child::RoomChild;
use chrono::NaiveDate;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::use_cases::snapshot::{ClassSnapshot, Learner, who};

use crate::auth::guard::InClass;
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
    children: Vec<RoomChild>,
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
    let learners = snapshot.learners().await?.into_iter();
    let room_child = |learner: Learner| {
        RoomChild::new(who(&learner.child), snapshot.unseen(&learner.child, &learner.standings), &learner.ladder)
    };
    let children = learners.map(room_child).collect();
    let today = class.calendar.day_of(app.now());
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
