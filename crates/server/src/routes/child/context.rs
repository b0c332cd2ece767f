//! What counts for one child: accommodations, its own ways, stages opened anyway, pain and what was done about it.

use std::collections::BTreeMap;

use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::limits::MAX_LOOK_FOR_LENGTH;
use bright_row_core::{AccountId, ChildId, ObservationId};
use bright_row_store::children::context::{self, Accommodation, PainNote};
use bright_row_store::accounts::Made;
use bright_row_store::classes::Class;
use bright_row_store::children::stored_context::StoredContext;
use bright_row_store::{StoreError, TransactionTrait, accounts};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::routes::approach::options::{ChoiceView, choice_view};
use crate::routes::child::page::target_name;
use crate::extract::{Body, CheckpointInPath, ObservationInPath, StageInPath};
use crate::error::{ApiError, FieldError, ForDirectors, ForDirectorsWriting, ForMembersAsking};
use crate::state::App;
use crate::auth::guard::{DirectorOfChild, Member, MemberOfChild};

/// The longest reason for an accommodation, in characters.
const LONGEST_REASON: usize = 200;
/// The longest word on what was done, in characters.
const LONGEST_DONE: usize = 300;
/// How many pains a child's page looks back on.
const PAINS: u64 = 10;

/// Who did something, and when.
#[derive(Clone, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MadeView {
    /// By name.
    by: String,
    at: DateTime<Utc>,
}

/// What counts for a child instead of the shared look-for.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AccommodationView {
    checkpoint: String,
    name: String,
    /// What is looked for; absent: the checkpoint does not apply.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    look_for: Option<String>,
    reason: String,
    made: MadeView,
}

/// A choice in which a child may go its own way.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct OverrideView {
    /// The choice; what is taken is the class's way.
    choice: ChoiceView,
    /// The child's own way; absent: as the class.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    own: Option<String>,
}

/// When a child said that it hurts.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PainView {
    #[schema(value_type = Uuid)]
    observation: ObservationId,
    /// Where it was seen.
    target_name: String,
    /// What was written then.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    note: Option<String>,
    seen: MadeView,
    /// What was done; absent while it is flagged.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    done: Option<String>,
    /// Who said so.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    answered: Option<MadeView>,
}

/// What counts for one child, with the names of those who decided it.
pub(super) struct Care {
    accommodations: Vec<Accommodation>,
    opened: BTreeMap<StageId, Made>,
    pain: Vec<PainNote>,
    names: BTreeMap<AccountId, String>,
}

impl Care {
    pub(super) async fn read(app: &App, member: &Member, child: ChildId) -> Result<Self, ApiError> {
        let key = member.class.key;
        let (accommodations, opened, pain) = tokio::try_join!(
            context::accommodations(&app.db, key, child),
            context::opened(&app.db, key, child),
            context::pain_notes(&app.db, key, child, PAINS)
        )?;
        let made = accommodations.iter().map(|own| own.made).chain(opened.values().copied());
        let pains = pain.iter().flat_map(|pain| [Some(pain.seen), pain.done.as_ref().map(|(_, made)| *made)]);
        let people: Vec<AccountId> = made.chain(pains.flatten()).map(|made| made.by).collect();
        let names =
            if people.is_empty() { BTreeMap::new() } else { accounts::names(&app.db, people.into_iter()).await? };
        Ok(Self { accommodations, opened, pain, names })
    }

    pub(super) fn accommodation(&self, checkpoint: &CheckpointId) -> Option<&Accommodation> {
        self.accommodations.iter().find(|own| own.checkpoint == *checkpoint)
    }

    pub(super) fn opened(&self, stage: &StageId) -> Option<MadeView> {
        self.opened.get(stage).map(|made| self.made(*made))
    }

    fn made(&self, made: Made) -> MadeView {
        MadeView { by: self.names.get(&made.by).cloned().unwrap_or_default(), at: made.at }
    }

    pub(super) fn accommodation_views(&self, checklist: &Checklist) -> Vec<AccommodationView> {
        let view = |own: &Accommodation| AccommodationView {
            checkpoint: own.checkpoint.to_string(),
            name: target_name(checklist, own.checkpoint.as_str()),
            look_for: Some(own.look_for.clone()).filter(|own| !own.is_empty()),
            reason: own.reason.clone(),
            made: self.made(own.made),
        };
        self.accommodations.iter().map(view).collect()
    }

    pub(super) fn pain_views(&self, checklist: &Checklist) -> Vec<PainView> {
        let view = |pain: &PainNote| PainView {
            observation: pain.observation,
            target_name: target_name(checklist, pain.target.id()),
            note: pain.note.clone(),
            seen: self.made(pain.seen),
            done: pain.done.as_ref().map(|(done, _)| done.clone()),
            answered: pain.done.as_ref().map(|(_, made)| self.made(*made)),
        };
        self.pain.iter().map(view).collect()
    }
}

/// The choices in which a child on this instrument may go its own way.
pub(super) fn ways(app: &App, class: &Class, instrument: Instrument, known: &StoredContext) -> Vec<OverrideView> {
    let choices = app.content.approach.choices.iter();
    let own = choices.filter(|choice| choice.per_child && choice.instruments.contains(&instrument));
    own.map(|choice| OverrideView { choice: choice_view(choice, &class.choices), own: known.overrides.get(&choice.key).cloned() })
        .collect()
}

fn now_by(app: &App, member: &Member) -> Made {
    Made { by: member.account, at: app.now() }
}

fn changed(app: &App, member: &Member) -> StatusCode {
    app.live.changed(member.class.key.class);
    StatusCode::NO_CONTENT
}

/// What counts for a child instead.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct AccommodationBody {
    /// What is looked for, at most 90 characters; empty: the checkpoint does not apply.
    look_for: String,
    /// Why, at most 200 characters; it is not shown on cards.
    reason: String,
}

/// Says what counts for a child at a checkpoint instead of the shared look-for, or that it does not apply; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/children/{child}/accommodations/{checkpoint}", tag = "care",
    params(
        ("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"),
        ("checkpoint" = String, Path, description = "The checkpoint"),
    ),
    request_body = AccommodationBody,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsWriting,
    ))]
pub async fn accommodate(
    State(app): State<App>,
    found: DirectorOfChild,
    CheckpointInPath(checkpoint): CheckpointInPath,
    Body(body): Body<AccommodationBody>,
) -> Result<StatusCode, ApiError> {
    let DirectorOfChild { member, child } = found;
    let checklist = app.checklist(&member.class);
    if checklist.checkpoint(checkpoint.as_str()).is_none() {
        return Err(ApiError::NotFound("checkpoint"));
    }
    let (look_for, reason) = (body.look_for.trim().to_owned(), body.reason.trim().to_owned());
    let mut faults = Vec::new();
    if look_for.chars().count() > MAX_LOOK_FOR_LENGTH {
        faults.push(FieldError::new(
            "lookFor",
            format!("At most {MAX_LOOK_FOR_LENGTH} characters: it is read at arm's length."),
        ));
    }
    if reason.is_empty() || reason.chars().count() > LONGEST_REASON {
        faults.push(FieldError::new("reason", format!("Say why, in at most {LONGEST_REASON} characters.")));
    }
    for (field, text) in [("lookFor", &look_for), ("reason", &reason)] {
        if text.contains('\0') {
            faults.push(FieldError::new(field, "This holds a character that cannot be kept. Type it again."));
        }
    }
    if !faults.is_empty() {
        return Err(ApiError::Invalid(faults));
    }
    let own = Accommodation { checkpoint, look_for, reason, made: now_by(&app, &member) };
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    context::accommodate(&tx, member.class.key, child.id, Uuid::now_v7(), &own).await?;
    tx.commit().await.map_err(StoreError::from)?;
    Ok(changed(&app, &member))
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
    let ended =
        context::end_accommodation(&app.db, member.class.key, child.id, checkpoint.as_str(), made).await?;
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
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    request_body = OverridesBody,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsWriting,
    ))]
pub async fn set_overrides(
    State(app): State<App>,
    found: DirectorOfChild,
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
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    context::set_overrides(&tx, member.class.key, child.id, &body.choices).await?;
    tx.commit().await.map_err(StoreError::from)?;
    Ok(changed(&app, &member))
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
        ("observation" = Uuid, Path, description = "The observation with which it was said"),
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
    let done = body.done.trim();
    if done.is_empty() || done.chars().count() > LONGEST_DONE || done.contains('\0') {
        let words = format!("Say what was done, in at most {LONGEST_DONE} characters.");
        return Err(ApiError::Invalid(vec![FieldError::new("done", words)]));
    }
    let made = now_by(&app, &member);
    let kept = context::answer_pain(&app.db, member.class.key, child.id, observation, done, made).await?;
    if kept { Ok(changed(&app, &member)) } else { Err(ApiError::NotFound("observation with pain")) }
}
