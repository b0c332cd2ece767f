//! The planner of a round by itself: the same rule as everywhere, without a database.

use axum::Json;
use bright_row_core::round::question::{PlannedRound, RoundQuestion};

use crate::auth::guard::SignedIn;
use crate::error::{ApiError, FieldError, Problem};
use crate::extract::Body;
use crate::telemetry::metrics::timed;

/// Whom to visit and what to look at: exact, for the seconds there are.
#[utoipa::path(post, path = "/api/calc/round", tag = "calc", request_body = RoundQuestion, responses(
    (status = 200, body = PlannedRound),
    (status = 401, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
))]
pub async fn calc_round(
    _signed_in: SignedIn,
    Body(question): Body<RoundQuestion>,
) -> Result<Json<PlannedRound>, ApiError> {
    let faults = question.faults();
    if !faults.is_empty() {
        return Err(ApiError::Invalid(
            faults.into_iter().map(|(field, words)| FieldError::new(&field, words)).collect(),
        ));
    }
    let plan = tokio::task::spawn_blocking(move || timed("round", || question.plan())).await;
    plan.map(Json).map_err(|error| ApiError::Internal(error.to_string()))
}
