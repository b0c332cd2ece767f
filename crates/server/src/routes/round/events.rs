//! What happens in a round, as devices send it: up to 500 events at once, each answered, the good ones kept.

use axum::Json;
use axum::extract::State;
use bright_row_core::progress::observation::{Observation, Observed, Says};
use bright_row_core::round::event::{RoundEventKind, check_event};
use bright_row_core::{AccountId, ChildId, ObservationId, RoundId};
use bright_row_store::rounds::RoundEvent;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::error::answers::ForMembersAsking;
use crate::extract::Body;
use crate::extract::batch::{Batch, RecordAnswer, Refused};
use crate::state::App;
use crate::use_cases::record_round_events::record_round_events;

/// A child that an event speaks of.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct StopView {
    child: ChildId,
    /// What is to be looked at there.
    #[serde(default)]
    checks: Vec<String>,
}

/// One thing that happened in a round.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct RoundEventView {
    /// A `UUIDv7` made by the device; the same id twice is one event.
    id: Uuid,
    round: RoundId,
    kind: RoundEventKind,
    /// The device it happened on.
    device: String,
    at: DateTime<Utc>,
    /// Of a plan the stops, in order; of the others whom they are about.
    #[serde(default)]
    children: Vec<StopView>,
    /// Seconds, minutes, part, strand, target: what the kind needs.
    #[serde(default)]
    #[schema(value_type = std::collections::HashMap<String, serde_json::Value>)]
    detail: serde_json::Map<String, serde_json::Value>,
}

impl From<RoundEvent> for RoundEventView {
    fn from(event: RoundEvent) -> Self {
        let stop = |(child, checks)| StopView { child, checks };
        Self {
            id: event.id,
            round: event.round,
            kind: event.kind,
            device: event.device,
            at: event.happened_at,
            children: event.children.into_iter().map(stop).collect(),
            detail: event.detail,
        }
    }
}

/// An observation made in a round, as far as a round reads it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundObservation {
    id: ObservationId,
    round: RoundId,
    child: ChildId,
    target: String,
    /// Absent: a whole stage, or an undo.
    level: Option<u8>,
    slips: Vec<String>,
    says: Option<Says>,
    /// What was written with it.
    note: Option<String>,
    observed_at: DateTime<Utc>,
    /// The observation it takes back.
    retracts: Option<ObservationId>,
}

impl RoundObservation {
    /// `None` for an observation that was not made in a round.
    pub(crate) fn of(observation: &Observation) -> Option<Self> {
        let round = observation.round?;
        let (level, slips, retracts) = match &observation.seen {
            Observed::Level { level, slips } => {
                (Some(level.number()), slips.iter().map(ToString::to_string).collect(), None)
            }
            Observed::Holds { .. } => (None, Vec::new(), None),
            Observed::Retracts(id) => (None, Vec::new(), Some(*id)),
        };
        Some(Self {
            id: observation.id,
            round,
            child: observation.child,
            target: observation.target.id().to_owned(),
            level,
            slips,
            says: observation.says,
            note: observation.note.clone(),
            observed_at: observation.observed_at,
            retracts,
        })
    }
}

/// What happened.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundEvents {
    /// Up to 500. Read one by one, so that one that cannot be read does not hold up the others.
    #[schema(value_type = Vec<RoundEventView>)]
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
    member: Member,
    Body(body): Body<RoundEvents>,
) -> Result<Json<RecordAnswer>, ApiError> {
    let batch = Batch::read(body.events, "events")?;
    let account = member.account;
    Ok(Json(record_round_events(&app, &member, batch, |event: RoundEventView| event.read(account)).await?))
}

impl RoundEventView {
    /// The event as it is kept, or its id with what of it cannot be.
    fn read(self, account: AccountId) -> Result<RoundEvent, Refused> {
        let detail = serde_json::Value::Object(self.detail.clone()).to_string();
        let checks = self.children.iter().map(|stop| stop.checks.len());
        check_event(&self.device, checks, &detail).map_err(|fault| (Some(self.id), fault.to_string()))?;
        Ok(RoundEvent {
            id: self.id,
            round: self.round,
            kind: self.kind,
            device: self.device.trim().to_owned(),
            detail: self.detail,
            happened_at: self.at,
            account,
            children: self.children.into_iter().map(|stop| (stop.child, stop.checks)).collect(),
        })
    }
}
