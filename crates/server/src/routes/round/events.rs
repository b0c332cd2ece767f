//! What happens in a round, as devices tell it: up to 500 events at once, each answered, the good ones kept.

use axum::Json;
use axum::extract::State;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_store::observations::{Outcome, Refusal};
use bright_row_store::rounds::{self, RoundEvent};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::extract::Body;
use crate::router::observations::{AHEAD, RecordResult, OutcomeView};
use crate::error::{ApiError, FieldError, ForMembersAsking};
use crate::routes::views::SaysView;
use crate::state::App;
use crate::auth::guard::Member;

/// The most events one request carries.
const MOST: usize = 500;
/// The most children one event speaks of.
const MOST_CHILDREN: usize = 300;
/// The most checks at one stop.
const MOST_CHECKS: usize = 10;
/// The longest detail, as JSON.
const LONGEST_DETAIL: usize = 4000;

/// What can happen in a round.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum RoundEventKind {
    /// Begun, with the first plan.
    Start,
    /// Planned anew.
    Plan,
    /// Looked at many from afar.
    Scan,
    /// One device takes these children.
    Take,
    /// Been there.
    Visited,
    /// Passed over.
    Skipped,
    /// Not here today.
    Absent,
    /// Here after all.
    Present,
    /// Over.
    End,
}

impl RoundEventKind {
    const ALL: [(Self, &'static str); 9] = [
        (Self::Start, "start"),
        (Self::Plan, "plan"),
        (Self::Scan, "scan"),
        (Self::Take, "take"),
        (Self::Visited, "visited"),
        (Self::Skipped, "skipped"),
        (Self::Absent, "absent"),
        (Self::Present, "present"),
        (Self::End, "end"),
    ];

    fn word(self) -> &'static str {
        Self::ALL.iter().find(|(kind, _)| *kind == self).map_or("plan", |(_, word)| word)
    }

    fn parse(word: &str) -> Self {
        Self::ALL.iter().find(|(_, known)| *known == word).map_or(Self::Plan, |(kind, _)| *kind)
    }
}

/// A child that an event speaks of.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct StopView {
    child: Uuid,
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
    round: Uuid,
    kind: RoundEventKind,
    /// The device that walked.
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
        let stop = |(child, checks): (bright_row_core::ChildId, Vec<String>)| StopView { child: child.uuid(), checks };
        Self {
            id: event.id,
            round: event.round.uuid(),
            kind: RoundEventKind::parse(&event.kind),
            device: event.device,
            at: event.happened_at,
            children: event.children.into_iter().map(stop).collect(),
            detail: event.detail.as_object().cloned().unwrap_or_default(),
        }
    }
}

/// An observation made in a round, as far as a round reads it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundObservation {
    id: Uuid,
    round: Uuid,
    child: Uuid,
    target: String,
    /// Absent: a whole stage, or an undo.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    level: Option<u8>,
    slips: Vec<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    says: Option<SaysView>,
    /// What was written with it.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    note: Option<String>,
    observed_at: DateTime<Utc>,
    /// The observation it takes back.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    retracts: Option<Uuid>,
}

impl From<&Observation> for RoundObservation {
    fn from(observation: &Observation) -> Self {
        let (level, slips, retracts) = match &observation.seen {
            Observed::Level { level, slips } => {
                (Some(level.number()), slips.iter().map(ToString::to_string).collect(), None)
            }
            Observed::Holds { .. } => (None, Vec::new(), None),
            Observed::Retracts(id) => (None, Vec::new(), Some(id.uuid())),
        };
        Self {
            id: observation.id.uuid(),
            round: observation.round.map(bright_row_core::RoundId::uuid).unwrap_or_default(),
            child: observation.child.uuid(),
            target: observation.target.id().to_owned(),
            level,
            slips,
            says: observation.says.map(Into::into),
            note: observation.note.clone(),
            observed_at: observation.observed_at,
            retracts,
        }
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

/// What became of events.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundEventsAnswer {
    /// One for each event, in order.
    results: Vec<RecordResult>,
}

/// Takes in what happened in rounds. Directors and assistants alike.
#[utoipa::path(post, path = "/api/classes/{class}/round/events", tag = "round",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = RoundEvents,
    responses(
        (status = 200, body = RoundEventsAnswer),
        ForMembersAsking,
    ))]
pub async fn add_round_events(
    State(app): State<App>,
    member: Member,
    Body(told): Body<RoundEvents>,
) -> Result<Json<RoundEventsAnswer>, ApiError> {
    if told.events.len() > MOST {
        let most = format!("At most {MOST} events at once; send the rest in another request.");
        return Err(ApiError::Invalid(vec![FieldError::new("events", most)]));
    }
    let now = app.now();
    let read: Vec<_> = told.events.into_iter().map(|event| read(event, &member, now)).collect();
    let good: Vec<RoundEvent> = read.iter().filter_map(|event| event.as_ref().ok().cloned()).collect();
    let outcomes =
        if good.is_empty() { Vec::new() } else { rounds::add(&app.db, member.class.key, &good, now).await? };
    if outcomes.contains(&Outcome::Stored) {
        app.live.changed(member.class.key.class);
    }
    let mut outcomes = outcomes.into_iter();
    let answer = |read: Result<RoundEvent, (Option<Uuid>, String)>| match read {
        Ok(event) => match outcomes.next().unwrap_or(Outcome::StoredContext) {
            Outcome::Stored => RecordResult::new(Some(event.id), OutcomeView::Stored, None),
            Outcome::StoredContext => RecordResult::new(Some(event.id), OutcomeView::StoredContext, None),
            Outcome::Refused(
                Refusal::IdTaken | Refusal::NotInClass | Refusal::RetractsOther | Refusal::RetractsUndo,
            ) => {
                let taken = "Another round has this already. Open the round again.".to_owned();
                RecordResult::new(Some(event.id), OutcomeView::Refused, Some(taken))
            }
        },
        Err((id, reason)) => RecordResult::new(id, OutcomeView::Refused, Some(reason)),
    };
    Ok(Json(RoundEventsAnswer { results: read.into_iter().map(answer).collect() }))
}

/// An event as it is kept, or its id as far as that could be read, with what is wrong.
fn read(value: serde_json::Value, member: &Member, now: DateTime<Utc>) -> Result<RoundEvent, (Option<Uuid>, String)> {
    let id = value.get("id").and_then(|id| id.as_str()).and_then(|id| id.parse().ok());
    let wrong = |reason: String| (id, reason);
    let event: RoundEventView =
        serde_json::from_value(value).map_err(|error| wrong(format!("This cannot be read: {error}.")))?;
    let device = event.device.trim();
    if device.is_empty() || device.chars().count() > 60 || device.contains('\0') {
        return Err(wrong("`device` is 1 to 60 characters.".to_owned()));
    }
    if event.children.len() > MOST_CHILDREN || event.children.iter().any(|stop| stop.checks.len() > MOST_CHECKS) {
        return Err(wrong(format!("At most {MOST_CHILDREN} children with {MOST_CHECKS} checks each.")));
    }
    if event.at > now + AHEAD {
        return Err(wrong("This lies in the future. Set the device's clock.".to_owned()));
    }
    let detail = serde_json::Value::Object(event.detail);
    let text = detail.to_string();
    if text.len() > LONGEST_DETAIL || text.contains("\\u0000") {
        return Err(wrong("`detail` is too long, or holds a character that cannot be kept.".to_owned()));
    }
    Ok(RoundEvent {
        id: event.id,
        round: event.round.into(),
        kind: event.kind.word().to_owned(),
        device: device.to_owned(),
        detail,
        happened_at: event.at,
        account: member.account,
        children: event.children.into_iter().map(|stop| (stop.child.into(), stop.checks)).collect(),
    })
}
