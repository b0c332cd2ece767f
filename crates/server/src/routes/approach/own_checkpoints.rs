//! Checkpoints of a class's own: added, changed, taken away.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::checklist::Wording;
use bright_row_core::craft::edits::{Edits, OwnCheckpoint};
use bright_row_core::craft::id::StageId;
use bright_row_core::figure::FigureSpec;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::guard::Director;
use crate::error::ApiError;
use crate::error::answers::{ForDirectorsAgreeing, ForDirectorsReplacing, ForDirectorsWriting};
use crate::extract::based_on::{BasedOn, BasedOnHeaders};
use crate::extract::{Body, CheckpointInPath};
use crate::routes::approach::checklist::{TextsBody, allow};
use crate::state::App;
use crate::use_cases::change_settings::{self, change_edits};

/// A checkpoint of the class's own.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct OwnBody {
    /// The stage it belongs to; tapes have none of their own.
    stage: String,
    /// At most 28 characters.
    name: String,
    /// Seconds one look takes, 1 to 120.
    seconds: u32,
    /// The stage waits for it.
    #[serde(default)]
    required: bool,
    /// It can be seen from two rows away.
    #[serde(default)]
    far: bool,
    /// The child has to play.
    #[serde(default)]
    play: bool,
    /// For each instrument it is for.
    texts: Vec<TextsBody>,
    /// How it is drawn.
    #[serde(default)]
    figure: Option<FigureSpec>,
    /// The id that the page gave this when the form opened: the same added again is not one more.
    #[serde(default)]
    request: Option<Uuid>,
}

impl OwnBody {
    fn own(self) -> OwnCheckpoint {
        let texts = self.texts.into_iter().flat_map(|body| {
            let trimmed = |text: &str| text.trim().to_owned();
            let wording = Wording {
                look_for: trimmed(&body.texts.look_for),
                proof: trimmed(&body.texts.proof),
                cue: trimmed(&body.texts.cue),
            };
            body.instruments.into_iter().map(move |on| (on, wording.clone()))
        });
        OwnCheckpoint {
            stage: StageId::new(self.stage),
            name: self.name.trim().to_owned(),
            seconds: self.seconds,
            required: self.required,
            far: self.far,
            play: self.play,
            wording: texts.collect(),
            figure: self.figure,
        }
    }
}

/// What became of it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Added {
    /// Its id, which never changes.
    pub(super) id: String,
}

/// Adds a checkpoint of the class's own; directors only.
#[utoipa::path(post, path = "/api/classes/{class}/checklist", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = OwnBody,
    responses(
        (status = 201, body = Added),
        ForDirectorsWriting,
    ))]
pub async fn add_checkpoint(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<OwnBody>,
) -> Result<(StatusCode, Json<Added>), ApiError> {
    let request = body.request;
    let id = change_settings::add_own(&app, &member, request, body.own()).await?;
    Ok((StatusCode::CREATED, Json(Added { id: id.to_string() })))
}

/// Changes a checkpoint of the class's own; directors only. Its id stays.
#[utoipa::path(put, path = "/api/classes/{class}/checklist/{checkpoint}/own", tag = "approach",
    params(
        ("class" = Uuid, Path, description = "The class"),
        ("checkpoint" = String, Path, description = "The checkpoint"),
        BasedOnHeaders,
    ),
    request_body = OwnBody,
    responses(
        (status = 204, description = "Changed"),
        ForDirectorsReplacing,
    ))]
pub async fn change_own(
    State(app): State<App>,
    Director(member): Director,
    CheckpointInPath(id): CheckpointInPath,
    based_on: BasedOn,
    Body(body): Body<OwnBody>,
) -> Result<StatusCode, ApiError> {
    let change = |edits: &mut Edits| {
        let known = edits.own.get_mut(&id).ok_or(ApiError::NotFound("checkpoint of the class's own"))?;
        *known = body.own();
        Ok(())
    };
    change_edits(&app, &member, change, |before, after| allow(&app, &based_on, &id, (before, after))).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes away a checkpoint of the class's own that nobody was looked at; directors only. One with observations is switched off
/// instead, so that they keep their name.
#[utoipa::path(delete, path = "/api/classes/{class}/checklist/{checkpoint}/own", tag = "approach",
    params(
        ("class" = Uuid, Path, description = "The class"),
        ("checkpoint" = String, Path, description = "The checkpoint"),
    ),
    responses(
        (status = 204, description = "Gone"),
        ForDirectorsAgreeing,
    ))]
pub async fn remove_own(
    State(app): State<App>,
    Director(member): Director,
    CheckpointInPath(id): CheckpointInPath,
) -> Result<StatusCode, ApiError> {
    change_settings::remove_own(&app, &member, &id).await?;
    Ok(StatusCode::NO_CONTENT)
}
