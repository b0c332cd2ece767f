//! Whether the server is there and ready.

use axum::extract::State;
use bright_row_store::database::ping;

use crate::error::{ApiError, Problem};
use crate::state::App;

/// The process answers.
#[utoipa::path(get, path = "/healthz", tag = "health", responses((status = 200, description = "Alive")))]
pub async fn alive() -> &'static str {
    "alive"
}

/// The database answers too.
#[utoipa::path(get, path = "/readyz", tag = "health", responses(
    (status = 200, description = "Ready"),
    (status = 503, description = "The database does not answer", body = Problem, content_type = "application/problem+json"),
))]
pub async fn ready(State(app): State<App>) -> Result<&'static str, ApiError> {
    ping(&app.db).await?;
    Ok("ready")
}
