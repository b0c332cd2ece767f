//! A child's history: its observations, newest first.

use bright_row_core::progress::observation::Says;
use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::{AccountId, ChildId, ObservationId, RoundId};
use bright_row_store::accounts;
use bright_row_store::observations::history::{self, Before};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::{IntoParams, ToSchema};

use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::routes::names::target_name;

use crate::auth::guard::{Member, MemberOfChild};
use crate::state::App;

/// How many observations one answer holds.
const PAGE: u16 = 50;

/// A part of a child's history, newest first.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct History {
    observations: Vec<ObservationView>,
    /// There are older observations: ask with `before` set to the last one's id and moment.
    older: bool,
}

/// An observation as history shows it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ObservationView {
    id: ObservationId,
    /// A checkpoint or a stage.
    target: String,
    /// What it is called.
    target_name: String,
    /// 0 to 4; absent for a stage look and for an undo.
    level: Option<u8>,
    /// A stage look: it holds, except for these checkpoints.
    holds_except: Option<Vec<String>>,
    /// An undo: the observation it takes back.
    retracts: Option<ObservationId>,
    /// Names of the slips ticked.
    slips: Vec<String>,
    says: Option<Says>,
    note: Option<String>,
    observed_at: DateTime<Utc>,
    /// Who looked.
    observer: String,
    round: Option<RoundId>,
}

/// Where in the history to go on.
#[derive(Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct HistoryQuery {
    /// Only observations seen before this moment, or at it with a smaller id.
    before: Option<DateTime<Utc>>,
    /// The id that goes with `before`.
    before_id: Option<ObservationId>,
}

/// A child's observations, newest first, retracted ones and undos included.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/observations", tag = "room",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        HistoryQuery,
    ),
    responses(
        (status = 200, body = History),
        ForMembersAsking,
    ))]
pub async fn history(
    State(app): State<App>,
    found: MemberOfChild,
    Query(query): Query<HistoryQuery>,
) -> Result<Json<History>, ApiError> {
    let before = match (query.before, query.before_id) {
        (Some(observed_at), Some(id)) => Some(Before { observed_at, id }),
        (None, None) => None,
        _ => {
            let both = FieldError::new("before", "`before` and `beforeId` go together.");
            return Err(ApiError::Invalid(vec![both]));
        }
    };
    Ok(Json(read_history(&app, &found.member, found.child.id, before).await?))
}

pub(crate) async fn read_history(
    app: &App,
    member: &Member,
    child: ChildId,
    before: Option<Before>,
) -> Result<History, ApiError> {
    let mut observations = history::history(&app.db, member.class.key, child, before, u64::from(PAGE) + 1).await?;
    let older = observations.len() > usize::from(PAGE);
    observations.truncate(usize::from(PAGE));
    let names = accounts::names(&app.db, observations.iter().map(|observation| observation.observer)).await?;
    let checklist = app.checklist(&member.class);
    let observations =
        observations.into_iter().map(|observation| observation_view(&checklist, &names, observation)).collect();
    Ok(History { observations, older })
}

fn observation_view(
    checklist: &Checklist,
    names: &BTreeMap<AccountId, String>,
    observation: Observation,
) -> ObservationView {
    let (level, holds_except, retracts, slips) = match observation.seen {
        Observed::Level { level, slips } => (Some(level.number()), None, None, slips),
        Observed::Holds { except } => {
            (None, Some(except.iter().map(ToString::to_string).collect()), None, BTreeSet::default())
        }
        Observed::Retracts(id) => (None, None, Some(id), BTreeSet::default()),
    };
    let slip_name = |id: &str| checklist.slip(id).map_or_else(|| id.to_owned(), |slip| slip.name.clone());
    ObservationView {
        id: observation.id,
        target: observation.target.id().to_owned(),
        target_name: target_name(checklist, observation.target.id()),
        level,
        holds_except,
        retracts,
        slips: slips.iter().map(|id| slip_name(id.as_str())).collect(),
        says: observation.says,
        note: observation.note,
        observed_at: observation.observed_at,
        observer: names.get(&observation.observer).cloned().unwrap_or_default(),
        round: observation.round,
    }
}
