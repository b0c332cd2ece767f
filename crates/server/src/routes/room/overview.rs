//! The room: every child of a class with its four strings.

use std::collections::BTreeMap;
use std::sync::Arc;

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::page::room_child::RoomChild;
use bright_row_core::role::Role;
use bright_row_core::{ChildId, ClassId};
use chrono::NaiveDate;
use serde::Serialize;
use serde_json::value::{RawValue, to_raw_value};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::use_cases::snapshot::{ClassSnapshot, Learner, who};

use crate::auth::in_room::InRoom;
use crate::kept::{KeptChild, KeptRoom};
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
    children: Vec<Arc<RawValue>>,
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

/// So many children are read each by itself; more are read with the whole class.
const MOST_ONE_BY_ONE: usize = 4;

/// Everybody in the room as it is answered. What is kept of it is used as far as the database says that it is still so.
async fn children_of(
    snapshot: &ClassSnapshot<'_>,
    today: NaiveDate,
    touched: &BTreeMap<ChildId, Uuid>,
) -> Result<Arc<[KeptChild]>, ApiError> {
    let (app, class) = (snapshot.app, snapshot.class);
    let kept = app.kept_rooms.get(&class.key.class).filter(|kept| kept.is_set_as(class, today));
    let known = match kept {
        Some(kept) => read_touched(snapshot, &kept.children, touched).await?,
        None => None,
    };
    let children = if let Some(children) = known {
        children
    } else {
        let learners = snapshot.learners().await?;
        learners.iter().map(|learner| write(snapshot, learner, touched)).collect::<Result<_, _>>()?
    };
    let room = KeptRoom { settled: class.settled, day: today, children: Arc::clone(&children) };
    app.kept_rooms.keep(class.key.class, room);
    Ok(children)
}

/// What was kept, with those read again who were touched since; `None` where those are many.
async fn read_touched(
    snapshot: &ClassSnapshot<'_>,
    kept: &Arc<[KeptChild]>,
    touched: &BTreeMap<ChildId, Uuid>,
) -> Result<Option<Arc<[KeptChild]>>, ApiError> {
    let is_old = |one: &&KeptChild| touched.get(&one.child) != Some(&one.touched);
    let old: Vec<ChildId> = kept.iter().filter(is_old).map(|one| one.child).collect();
    if old.len() > MOST_ONE_BY_ONE {
        return Ok(None);
    }
    if old.is_empty() {
        return Ok(Some(Arc::clone(kept)));
    }
    let mut children = kept.to_vec();
    for child in old {
        // Nobody came or left: that would have been set.
        let Some(learner) = snapshot.learner(child).await? else { return Ok(None) };
        let read = write(snapshot, &learner, touched)?;
        children.iter_mut().filter(|one| one.child == child).for_each(|one| *one = read.clone());
    }
    Ok(Some(children.into()))
}

fn write(
    snapshot: &ClassSnapshot<'_>,
    learner: &Learner,
    touched: &BTreeMap<ChildId, Uuid>,
) -> Result<KeptChild, ApiError> {
    let child = &learner.child;
    let shown = RoomChild::new(who(child), snapshot.unseen(child, &learner.standings), &learner.ladder);
    let written = to_raw_value(&shown).map_err(|error| ApiError::Internal(format!("a child is not JSON: {error}")))?;
    // Somebody who has just come is read again.
    Ok(KeptChild {
        child: child.id,
        touched: touched.get(&child.id).copied().unwrap_or_default(),
        written: written.into(),
    })
}

/// The room of a class: seats, strings, what is due and flagged.
#[utoipa::path(get, path = "/api/classes/{class}/room", tag = "room",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Room),
        ForMembers,
    ))]
pub async fn room(State(app): State<App>, InRoom { member, touched }: InRoom) -> Result<Json<Room>, ApiError> {
    let (may_change, role) = (member.may_change(), member.role);
    let class = member.class;
    let snapshot = ClassSnapshot::new(&app, &class);
    let today = class.calendar.day_of(app.now());
    let children = children_of(&snapshot, today, &touched).await?;
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
        children: children.iter().map(|child| Arc::clone(&child.written)).collect(),
    }))
}
