//! Seats: the room, a proposal with every broken wish named, and the chart.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::IntoResponse;
use bright_row_core::ChildId;
use bright_row_core::setup::rows::{MAX_ROWS, MAX_SEATS_IN_ROW, Seat};
use bright_row_core::setup::seating::{self, Sitter};
use bright_row_documents::seat_chart::{From as Side, Taken, chart};
use bright_row_store::classes::room::{self, Room};
use serde::Deserialize;
use utoipa::{IntoParams, ToSchema};

use crate::error::answers::{ForDirectorsReplacing, ForMembers, ForMembersAsking};
use crate::error::{ApiError, FieldError};
use crate::extract::files::{Download, PaperView};
use crate::extract::{Body, Query};

use super::seat_views::{SeatsView, plan_of, view};
use crate::auth::guard::{Director, Member};
use crate::extract::based_on::{BasedOn, BasedOnHeaders, etag, version};
use crate::state::App;
use crate::telemetry::metrics::timed;
use crate::use_cases::arrange_seats;
use bright_row_core::setup::seat_plan::{SeatPlan, Seating};

/// The children of a class as seats are found for them, and their names.
async fn sitters(app: &App, member: &Member) -> Result<(Vec<Sitter>, BTreeMap<ChildId, String>), ApiError> {
    let found = arrange_seats::sitters(&app.db, member.class.key).await?;
    let names = found.iter().map(|(sitter, name)| (sitter.id, name.clone())).collect();
    Ok((found.into_iter().map(|(sitter, _)| sitter).collect(), names))
}

/// The seats of a class.
#[utoipa::path(get, path = "/api/classes/{class}/seats", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = SeatsView),
        ForMembers,
    ))]
pub async fn seats(State(app): State<App>, member: Member) -> Result<impl IntoResponse, ApiError> {
    let (sitters, names) = sitters(&app, &member).await?;
    let room = room::of_class(&app.db, member.class.key).await?;
    let plan = plan_of(&room, &sitters);
    let version = version(&in_order(plan.clone()));
    Ok((etag(&version), Json(SeatsView { version: Some(version.clone()), ..view(plan, &sitters, &names) })))
}

/// What to do with an arrangement that is not stored.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Look {
    plan: SeatPlan,
    /// Propose seats in this room; otherwise only say what is to be said about the given ones.
    propose: bool,
}

/// Looks at an arrangement, or proposes one, without storing it.
#[utoipa::path(post, path = "/api/classes/{class}/seats", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = Look,
    responses(
        (status = 200, body = SeatsView),
        ForMembersAsking,
    ))]
pub async fn look_at_seats(
    State(app): State<App>,
    member: Member,
    Body(body): Body<Look>,
) -> Result<Json<SeatsView>, ApiError> {
    let (mut sitters, names) = sitters(&app, &member).await?;
    let mut plan = body.plan;
    check(&plan, &sitters)?;
    for sitter in &mut sitters {
        let seat = plan.seats.iter().find(|seat| seat.child == sitter.id);
        sitter.seat = seat.map(|seat| Seat { row: seat.row, number: seat.seat });
        sitter.locked = seat.is_some_and(|seat| seat.locked);
    }
    if body.propose {
        let proposal = timed("seats", || seating::propose(&sitters, &plan.room.rows));
        plan.seats = sitters
            .iter()
            .filter_map(|sitter| Some((sitter, proposal.seats.get(&sitter.id)?)))
            .map(|(s, seat)| Seating { child: s.id, row: seat.row, seat: seat.number, locked: s.locked })
            .collect();
    }
    Ok(Json(view(plan, &sitters, &names)))
}

fn check(plan: &SeatPlan, sitters: &[Sitter]) -> Result<(), ApiError> {
    let mut errors = Vec::new();
    let sides = 2_000..=60_000;
    for (mm, field) in [(plan.room.width_mm, "room.widthMm"), (plan.room.depth_mm, "room.depthMm")] {
        if !sides.contains(&mm) {
            errors.push(FieldError::new(field, "A room is 2 to 60 m wide and deep."));
        }
    }
    let rows = &plan.room.rows;
    if rows.is_empty() || rows.len() > usize::from(MAX_ROWS) || rows.iter().any(|n| !(1..=MAX_SEATS_IN_ROW).contains(n))
    {
        let words = format!("A room has 1 to {MAX_ROWS} rows of 1 to {MAX_SEATS_IN_ROW} chairs.");
        errors.push(FieldError::new("room.rows", words));
    }
    let (mut chairs, mut children) = (BTreeSet::new(), BTreeSet::new());
    for (index, seat) in plan.seats.iter().enumerate() {
        let mut wrong = |words: &str| errors.push(FieldError::new(&format!("seats.{index}"), words));
        if !sitters.iter().any(|sitter| sitter.id == seat.child) {
            wrong("This child is not in this class any more.");
        }
        if !(1..=MAX_ROWS).contains(&seat.row) || !(1..=MAX_SEATS_IN_ROW).contains(&seat.seat) {
            wrong("There is no such chair.");
        }
        if !chairs.insert((seat.row, seat.seat)) {
            wrong("This chair is taken twice.");
        }
        if !children.insert(seat.child) {
            wrong("This child has two chairs.");
        }
    }
    if errors.is_empty() { Ok(()) } else { Err(ApiError::Invalid(errors)) }
}

/// Keeps the room and every seat; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/seats", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), BasedOnHeaders),
    request_body = SeatPlan,
    responses(
        (status = 204, description = "Kept"),
        ForDirectorsReplacing,
    ))]
pub async fn keep_seats(
    State(app): State<App>,
    Director(member): Director,
    based_on: BasedOn,
    Body(plan): Body<SeatPlan>,
) -> Result<StatusCode, ApiError> {
    let room = Room { width_mm: plan.room.width_mm, depth_mm: plan.room.depth_mm, rows: plan.room.rows.clone() };
    let seats: Vec<(ChildId, Seat, bool)> =
        plan.seats.iter().map(|s| (s.child, Seat { row: s.row, number: s.seat }, s.locked)).collect();
    arrange_seats::keep_seats(&app, &member, (&room, &seats), |there, sitters| {
        check(&plan, sitters)?;
        based_on.allow(Some(&in_order(plan_of(there, sitters))), &in_order(plan.clone()))
    })
    .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The seats by child: in which order they are sent means nothing.
fn in_order(mut plan: SeatPlan) -> SeatPlan {
    plan.seats.sort_by_key(|seat| seat.child);
    plan
}

/// Whose eyes a chart is for.
#[derive(Clone, Copy, Default, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum SideView {
    /// The podium's.
    #[default]
    Podium,
    /// The class's.
    Class,
}

/// Which chart.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ChartQuery {
    /// From the podium's side by default.
    #[serde(default)]
    #[param(inline)]
    side: SideView,
    /// A4 by default.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
}

/// The seat chart to print.
#[utoipa::path(get, path = "/api/classes/{class}/seats.pdf", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ChartQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembers,
    ))]
pub async fn seat_chart(
    State(app): State<App>,
    member: Member,
    Query(query): Query<ChartQuery>,
) -> Result<Download, ApiError> {
    let (sitters, names) = sitters(&app, &member).await?;
    let chairs: Vec<Taken> = sitters
        .iter()
        .filter_map(|sitter| {
            let seat = sitter.seat?;
            let (name, instrument) = (names.get(&sitter.id)?.clone(), sitter.instrument.name().to_owned());
            Some(Taken { row: seat.row, number: seat.number, name, instrument })
        })
        .collect();
    let side = match query.side {
        SideView::Podium => Side::Podium,
        SideView::Class => Side::Class,
    };
    let name = format!("seats-{}", member.class.name);
    Download::pdf(&name, &[chart(&member.class.name, &chairs, side, query.paper.into())])
}
