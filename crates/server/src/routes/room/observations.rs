//! Taking observations in: up to 500 at once, each answered, the good ones kept.

use axum::Json;
use axum::extract::State;
use bright_row_core::progress::new_observation::NewObservation;
use serde::Deserialize;
use utoipa::ToSchema;

use crate::auth::recorder::RecorderAtOnce;
use crate::error::ApiError;
use crate::error::answers::ForMembersAsking;
use crate::extract::Body;
use crate::extract::batch::{Batch, RecordAnswer};
use crate::state::App;
use crate::use_cases::record_observations::record_observations;

/// Observations to take in.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Observations {
    /// Up to 500. Read one by one, so that one that cannot be read does not hold up the others.
    #[schema(value_type = Vec<NewObservation>)]
    observations: Vec<serde_json::Value>,
}

/// Takes observations in. Directors and assistants alike.
#[utoipa::path(post, path = "/api/classes/{class}/observations", tag = "observations",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = Observations,
    responses(
        (status = 200, body = RecordAnswer),
        ForMembersAsking,
    ))]
pub async fn add_observations(
    State(app): State<App>,
    recorder: RecorderAtOnce,
    Body(body): Body<Observations>,
) -> Result<Json<RecordAnswer>, ApiError> {
    let batch = Batch::read(body.observations, "observations")?;
    Ok(Json(record_observations(&app, recorder, batch).await?))
}
