//! What happens in a round, as devices send it: up to 500 events at once, each answered, the good ones kept.

use axum::Json;
use axum::extract::State;
use bright_row_core::AccountId;
use bright_row_core::round::event::{RoundEvent, RoundStop, check_event};
use bright_row_store::rounds;
use serde::Deserialize;
use utoipa::ToSchema;

use crate::auth::recorder::Recorder;
use crate::error::ApiError;
use crate::error::answers::ForMembersAsking;
use crate::extract::Body;
use crate::extract::batch::{Batch, RecordAnswer, Refused};
use crate::state::App;
use crate::use_cases::record_round_events::record_round_events;

/// An event as it goes out.
pub(crate) fn event_view(event: rounds::RoundEvent) -> RoundEvent {
    let stop = |(child, checks)| RoundStop { child, checks };
    RoundEvent {
        id: event.id,
        round: event.round,
        kind: event.kind,
        device: event.device,
        at: event.happened_at,
        children: event.children.into_iter().map(stop).collect(),
        detail: event.detail,
    }
}

/// What happened.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundEvents {
    /// Up to 500. Read one by one, so that one that cannot be read does not hold up the others.
    #[schema(value_type = Vec<RoundEvent>)]
    events: Vec<serde_json::Value>,
}

/// Takes in what happened in rounds. Directors and assistants alike.
#[utoipa::path(post, path = "/api/classes/{class}/round/events", tag = "round",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = RoundEvents,
    responses(
        (status = 200, body = RecordAnswer),
        ForMembersAsking,
    ))]
pub async fn add_round_events(
    State(app): State<App>,
    recorder: Recorder,
    Body(body): Body<RoundEvents>,
) -> Result<Json<RecordAnswer>, ApiError> {
    let batch = Batch::read(body.events, "events")?;
    let account = recorder.0.account;
    Ok(Json(record_round_events(&app, &recorder, batch, |event: RoundEvent| read(event, account)).await?))
}

/// The event as it is kept, or its id with what of it cannot be.
fn read(event: RoundEvent, account: AccountId) -> Result<rounds::RoundEvent, Refused> {
    check_event(&event).map_err(|fault| (Some(event.id), fault.to_string()))?;
    Ok(rounds::RoundEvent {
        id: event.id,
        round: event.round,
        kind: event.kind,
        device: event.device.trim().to_owned(),
        detail: event.detail,
        happened_at: event.at,
        account,
        children: event.children.into_iter().map(|stop| (stop.child, stop.checks)).collect(),
    })
}
