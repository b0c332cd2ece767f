//! What counts for one child: accommodations, overrides, stages opened anyway, pain and what was done about it.

use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::limits::MAX_LOOK_FOR_LENGTH;
use bright_row_core::progress::context::{MAX_DONE_LENGTH, MAX_REASON_LENGTH};
use bright_row_store::accounts::Made;
use bright_row_store::children::context::{self, Accommodation};
use bright_row_store::children::pain;
use bright_row_store::classes::touch;
use bright_row_store::live::Topic;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::guard::{DirectorOfChild, Member, MemberOfChild};
use crate::error::answers::{ForDirectors, ForDirectorsReplacing, ForMembersAsking};
use crate::error::{ApiError, FieldError};
use crate::extract::based_on::{BasedOn, BasedOnHeaders};
use crate::extract::fields::Fields;
use crate::extract::{Body, CheckpointInPath, ObservationInPath, StageInPath};
use crate::state::App;
use crate::use_cases::{begin, change_context, commit};

fn now_by(app: &App, member: &Member) -> Made {
    Made { by: member.account, at: app.now() }
}

fn changed(app: &App, member: &Member) -> StatusCode {
    app.live.changed(member.class.key.class, Topic::Class);
    StatusCode::NO_CONTENT
}

/// What counts for a child instead.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct AccommodationBody {
    /// What is looked for, at most 90 characters; empty: the checkpoint does not apply.
    pub(super) look_for: String,
    /// Why, at most 200 characters; it is not shown on cards.
    pub(super) reason: String,
}

/// Says what counts for a child at a checkpoint instead of the shared look-for, or that it does not apply; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/children/{child}/accommodations/{checkpoint}", tag = "care",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        ("checkpoint" = String, Path, description = "The checkpoint"), BasedOnHeaders,
    ),
    request_body = AccommodationBody,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn accommodate(
    State(app): State<App>,
    found: DirectorOfChild,
    CheckpointInPath(checkpoint): CheckpointInPath,
    based_on: BasedOn,
    Body(body): Body<AccommodationBody>,
) -> Result<StatusCode, ApiError> {
    let DirectorOfChild { member, child } = found;
    let checklist = app.checklist(&member.class);
    if checklist.checkpoint(checkpoint.as_str()).is_none() {
        return Err(ApiError::NotFound("checkpoint"));
    }
    let mut fields = Fields::default();
    let look_for = fields.line::<MAX_LOOK_FOR_LENGTH>("lookFor", &body.look_for);
    let reason = fields.note::<MAX_REASON_LENGTH>("reason", &body.reason);
    let words = format!("Say why, in at most {MAX_REASON_LENGTH} characters.");
    fields.require(!body.reason.trim().is_empty(), "reason", words);
    fields.finish()?;
    let own = Accommodation { checkpoint, look_for, reason, made: now_by(&app, &member) };
    let body = |own: &Accommodation| AccommodationBody { look_for: own.look_for.clone(), reason: own.reason.clone() };
    change_context::accommodate(&app, &member, child.id, &own, |there| {
        based_on.allow(there.map(body).as_ref(), &body(&own))
    })
    .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Lets the shared look-for count again for a child; directors only.
#[utoipa::path(delete, path = "/api/classes/{class}/children/{child}/accommodations/{checkpoint}", tag = "care",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        ("checkpoint" = String, Path, description = "The checkpoint"),
    ),
    responses(
        (status = 204, description = "The shared look-for counts"),
        ForDirectors,
    ))]
pub async fn end_accommodation(
    State(app): State<App>,
    found: DirectorOfChild,
    CheckpointInPath(checkpoint): CheckpointInPath,
) -> Result<StatusCode, ApiError> {
    let DirectorOfChild { member, child } = found;
    let made = now_by(&app, &member);
    let ended = context::end_accommodation(&app.db, member.class.key, child.id, checkpoint.as_str(), made).await?;
    if ended { Ok(changed(&app, &member)) } else { Err(ApiError::NotFound("accommodation")) }
}

/// A child's own ways.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct OverridesBody {
    /// Option by choice, all of them; what is not named is as the class's.
    #[schema(value_type = BTreeMap<String, String>)]
    choices: Choices,
}

/// Sets in which choices a child goes its own way; directors only. No observation is lost by it.
#[utoipa::path(put, path = "/api/classes/{class}/children/{child}/overrides", tag = "care",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"), BasedOnHeaders,
    ),
    request_body = OverridesBody,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn set_overrides(
    State(app): State<App>,
    found: DirectorOfChild,
    based_on: BasedOn,
    Body(body): Body<OverridesBody>,
) -> Result<StatusCode, ApiError> {
    let DirectorOfChild { member, child } = found;
    let approach = &app.content.approach;
    let may = |key: &String, option: &String| {
        approach.has(key, option) && approach.choice(key).is_some_and(|choice| choice.per_child)
    };
    let faults: Vec<FieldError> = body
        .choices
        .iter()
        .filter(|(key, option)| !may(key, option))
        .map(|(key, _)| FieldError::new(key, "A child has no own way here. Load the page again."))
        .collect();
    if !faults.is_empty() {
        return Err(ApiError::Invalid(faults));
    }
    change_context::set_overrides(&app, &member, child.id, &body.choices, |there| {
        based_on.allow(Some(there), &body.choices)
    })
    .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Opens a stage for a child although it waits for others; directors only. Who did it is kept.
#[utoipa::path(put, path = "/api/classes/{class}/children/{child}/stages/{stage}/opened", tag = "care",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        ("stage" = String, Path, description = "The stage"),
    ),
    responses(
        (status = 204, description = "Open"),
        ForDirectors,
    ))]
pub async fn open_stage(
    State(app): State<App>,
    found: DirectorOfChild,
    StageInPath(stage): StageInPath,
) -> Result<StatusCode, ApiError> {
    let DirectorOfChild { member, child } = found;
    if app.content.template.shared().stage(stage.as_str()).is_none() {
        return Err(ApiError::NotFound("stage"));
    }
    let made = now_by(&app, &member);
    context::open_stage(&app.db, member.class.key, child.id, Uuid::now_v7(), &stage, made).await?;
    Ok(changed(&app, &member))
}

/// Lets a stage that was opened anyway wait for others again; directors only.
#[utoipa::path(delete, path = "/api/classes/{class}/children/{child}/stages/{stage}/opened", tag = "care",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        ("stage" = String, Path, description = "The stage"),
    ),
    responses(
        (status = 204, description = "Waits again"),
        ForDirectors,
    ))]
pub async fn leave_stage(
    State(app): State<App>,
    found: DirectorOfChild,
    StageInPath(stage): StageInPath,
) -> Result<StatusCode, ApiError> {
    let DirectorOfChild { member, child } = found;
    let made = now_by(&app, &member);
    let left = context::leave_stage(&app.db, member.class.key, child.id, stage.as_str(), made).await?;
    if left { Ok(changed(&app, &member)) } else { Err(ApiError::NotFound("stage opened anyway")) }
}

/// What was done.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct PainBody {
    /// At most 300 characters.
    done: String,
}

/// Says what was done after a child said that it hurts; until then it is flagged. Directors and assistants alike.
#[utoipa::path(post, path = "/api/classes/{class}/children/{child}/pain/{observation}", tag = "care",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        ("observation" = Uuid, Path, description = "The observation, or the family's answer, with which it was said"),
    ),
    request_body = PainBody,
    responses(
        (status = 204, description = "Kept; the flag is down"),
        ForMembersAsking,
    ))]
pub async fn answer_pain(
    State(app): State<App>,
    found: MemberOfChild,
    ObservationInPath(observation): ObservationInPath,
    Body(body): Body<PainBody>,
) -> Result<StatusCode, ApiError> {
    let MemberOfChild { member, child } = found;
    let mut fields = Fields::default();
    let done = fields.note::<MAX_DONE_LENGTH>("done", &body.done);
    let words = format!("Say what was done, in at most {MAX_DONE_LENGTH} characters.");
    fields.require(!body.done.trim().is_empty(), "done", words);
    fields.finish()?;
    let made = now_by(&app, &member);
    let (tx, key) = (begin(&app).await?, member.class.key);
    let kept = pain::answer_pain(&tx, key, child.id, observation, &done, made).await?;
    touch(&tx, key.program, &[child.id].into()).await?;
    commit(&app, tx, []).await?;
    if kept { Ok(changed(&app, &member)) } else { Err(ApiError::NotFound("observation with pain")) }
}
