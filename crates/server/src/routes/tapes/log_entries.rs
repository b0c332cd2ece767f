//! Work on instruments' markers, as devices send it: up to 500 entries at once, each answered, the good ones kept.

use axum::Json;
use axum::extract::State;
use bright_row_core::tapes::new_entry::NewTapeEntry;
use serde::Deserialize;
use utoipa::ToSchema;

use crate::auth::recorder::Recorder;
use crate::error::ApiError;
use crate::error::answers::ForMembersAsking;
use crate::extract::Body;
use crate::extract::batch::{Batch, RecordAnswer};
use crate::state::App;
use crate::use_cases::record_tape_work::record_tape_work;

/// Entries to take in.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapeEntries {
    /// Up to 500. Read one by one, so that one that cannot be read does not hold up the others.
    #[schema(value_type = Vec<NewTapeEntry>)]
    entries: Vec<serde_json::Value>,
}

/// Takes in work on instruments' markers. Directors and assistants alike.
#[utoipa::path(post, path = "/api/classes/{class}/tapes/log", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = TapeEntries,
    responses(
        (status = 200, body = RecordAnswer),
        ForMembersAsking,
    ))]
pub async fn add_tape_entries(
    State(app): State<App>,
    recorder: Recorder,
    Body(body): Body<TapeEntries>,
) -> Result<Json<RecordAnswer>, ApiError> {
    let batch = Batch::read(body.entries, "entries")?;
    Ok(Json(record_tape_work(&app, &recorder, batch).await?))
}
