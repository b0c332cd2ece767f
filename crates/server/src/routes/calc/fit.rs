//! The size that fits: measures in, the proposal out, without a database.

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::measures::Measures;
use bright_row_core::setup::sizing::{self, SizeProposal};
use serde::Deserialize;
use utoipa::ToSchema;

use crate::auth::guard::SignedIn;
use crate::error::{ApiError, FieldError, Problem};
use crate::extract::Body;
use crate::routes::setup::measures::checked;
use crate::state::App;

/// What a size is asked for.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FitQuestion {
    instrument: Instrument,
    #[serde(flatten)]
    measures: Measures,
}

/// The size that fits these measures: the same rule as everywhere, without a database.
#[utoipa::path(post, path = "/api/calc/fit", tag = "calc", request_body = FitQuestion, responses(
    (status = 200, body = SizeProposal),
    (status = 401, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
))]
pub async fn calc_fit(
    State(app): State<App>,
    _signed_in: SignedIn,
    Body(question): Body<FitQuestion>,
) -> Result<Json<SizeProposal>, ApiError> {
    let measures = checked(question.measures)?;
    let facts = &app.content.instruments[&question.instrument];
    let proposal = sizing::propose(facts, &measures).map_err(|sizing::Missing(measure)| {
        let wanted = format!("The {} needs this measure.", facts.instrument.name());
        ApiError::Invalid(vec![FieldError::new(measure.word(), wanted)])
    })?;
    Ok(Json(proposal))
}
