//! A child's history: its observations, newest first.

use axum::Json;
use axum::extract::State;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::page::history::{HISTORY_PART, History, ObservationView};
use bright_row_core::{ChildId, ObservationId};
use bright_row_store::accounts;
use bright_row_store::observations::history::{self, Before};
use chrono::{DateTime, Utc};
use serde::Deserialize;
use utoipa::IntoParams;

use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;

use crate::auth::guard::{Member, MemberOfChild};
use crate::state::App;

/// Where in the history to go on.
#[derive(Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct HistoryQuery {
    /// Only observations seen before this moment, or at it with a smaller id.
    #[serde(default, deserialize_with = "bright_row_core::day::moment_or_none")]
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
    let mut observations =
        history::history(&app.db, member.class.key, child, before, u64::try_from(HISTORY_PART + 1).unwrap_or(u64::MAX))
            .await?;
    let older = observations.len() > HISTORY_PART;
    observations.truncate(HISTORY_PART);
    let names = accounts::names(&app.db, observations.iter().map(|observation| observation.observer)).await?;
    let checklist = app.checklist(&member.class);
    let view = |observation: Observation| {
        let observer = names.get(&observation.observer).cloned().unwrap_or_default();
        ObservationView::new(&checklist, observer, observation)
    };
    let observations = observations.into_iter().map(view).collect();
    Ok(History { observations, older })
}
