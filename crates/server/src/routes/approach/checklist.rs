//! The checklist of a class: what is asked and how it reads, and the class's own changes to it.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::checklist::{Checklist, Checkpoint, Wording};
use bright_row_core::craft::edits::{EditFault, Edits, Rewording};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_store::classes::{edits_to_change, write_edits};
use bright_row_store::{StoreError, TransactionTrait};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::extract::{Body, CheckpointInPath};
use crate::error::{ApiError, FieldError, ForDirectorsWriting, ForMembers};
use crate::routes::views::{InstrumentView, StrandKey};
use crate::state::App;
use crate::auth::guard::{Director, Member};

/// The checklist as a class reads and changes it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChecklistView {
    /// In the order of the ladder.
    stages: Vec<EditedStage>,
    /// How many checkpoints the class has changed, switched off or added.
    changed: usize,
}

/// A stage.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EditedStage {
    id: String,
    strand: StrandKey,
    strand_name: String,
    number: u32,
    name: String,
    checkpoints: Vec<EditedCheckpoint>,
}

/// A checkpoint with its texts.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EditedCheckpoint {
    id: String,
    name: String,
    seconds: u32,
    /// `required`, `far`, `play`: what it is; `own`, `off`, `reworded`: what the class did with it.
    traits: Vec<TraitView>,
    /// The instruments on which a chosen way leaves it out.
    left_out: Vec<InstrumentView>,
    /// As they read, one for each different wording.
    texts: Vec<EditedText>,
}

/// What a checkpoint is, and what the class did with it.
#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum TraitView {
    /// The stage waits for it.
    Required,
    /// It can be seen from two rows away.
    Far,
    /// The child has to play.
    Play,
    /// The class added it.
    Own,
    /// The class switched it off.
    Off,
    /// The class worded it otherwise.
    Reworded,
}

/// How a checkpoint reads on some instruments.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EditedText {
    instruments: Vec<InstrumentView>,
    /// As it reads.
    now: TextsView,
    /// As it reads without the class's own words; the same where there are none.
    shared: TextsView,
}

/// The three registers of a checkpoint.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct TextsView {
    /// For the director, at most 90 characters.
    pub(super) look_for: String,
    /// The one quick test, at most 90 characters; may be empty for an own checkpoint.
    pub(super) proof: String,
    /// For the child, at most 40 characters.
    pub(super) cue: String,
}

impl From<&Wording> for TextsView {
    fn from(wording: &Wording) -> Self {
        Self { look_for: wording.look_for.clone(), proof: wording.proof.clone(), cue: wording.cue.clone() }
    }
}

/// The checklist of a class with every text, its own changes marked.
#[utoipa::path(get, path = "/api/classes/{class}/checklist", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = ChecklistView),
        ForMembers,
    ))]
pub async fn checklist(State(app): State<App>, member: Member) -> Result<Json<ChecklistView>, ApiError> {
    Ok(Json(view(&app, &member)))
}

fn view(app: &App, member: &Member) -> ChecklistView {
    let (choices, edits) = (&member.class.choices, &member.class.edits);
    // What is switched off is shown all the same, with the words it would have.
    let shown = Edits { off: BTreeSet::new(), ..edits.clone() };
    let now = app.content.checklist(choices, &shown);
    let shared = app.content.checklist(choices, &Edits::default());
    let stage = |stage: &bright_row_core::craft::checklist::Stage| EditedStage {
        id: stage.id.to_string(),
        strand: stage.strand.into(),
        strand_name: now.strand_name(stage.strand).to_owned(),
        number: stage.number,
        name: stage.name.clone(),
        checkpoints: now
            .checkpoints_of(&stage.id)
            .map(|checkpoint| checkpoint_view(checkpoint, &shared, app.content.template.shared(), edits))
            .collect(),
    };
    let changed: BTreeSet<&CheckpointId> =
        edits.off.iter().chain(edits.reworded.keys()).chain(edits.own.keys()).collect();
    ChecklistView { stages: now.stages().iter().map(stage).collect(), changed: changed.len() }
}

fn checkpoint_view(checkpoint: &Checkpoint, shared: &Checklist, plan: &Checklist, edits: &Edits) -> EditedCheckpoint {
    let id = &checkpoint.id;
    let mut texts: Vec<(&Wording, &Wording, BTreeSet<Instrument>)> = Vec::new();
    let without_own = shared.checkpoint(id.as_str()).map(|shared| &shared.wording);
    for (instrument, now) in &checkpoint.wording {
        let before = without_own.and_then(|wording| wording.get(instrument)).unwrap_or(now);
        match texts.iter_mut().find(|(other, was, _)| *other == now && *was == before) {
            Some((.., on)) => drop(on.insert(*instrument)),
            None => texts.push((now, before, [*instrument].into())),
        }
    }
    let known = plan.checkpoint(id.as_str()).map(|plan| &plan.wording);
    let left_out = known.into_iter().flatten().map(|(on, _)| on).filter(|on| !checkpoint.wording.contains_key(on));
    let traits = [
        (checkpoint.required, TraitView::Required),
        (checkpoint.far, TraitView::Far),
        (checkpoint.play, TraitView::Play),
        (edits.own.contains_key(id), TraitView::Own),
        (edits.off.contains(id), TraitView::Off),
        (edits.reworded.contains_key(id), TraitView::Reworded),
    ];
    EditedCheckpoint {
        id: id.to_string(),
        name: checkpoint.name.clone(),
        seconds: checkpoint.seconds,
        traits: traits.into_iter().filter(|(is, _)| *is).map(|(_, what)| what).collect(),
        left_out: left_out.map(|on| (*on).into()).collect(),
        texts: texts
            .into_iter()
            .map(|(now, shared, on)| EditedText {
                instruments: on.into_iter().map(InstrumentView::from).collect(),
                now: now.into(),
                shared: shared.into(),
            })
            .collect(),
    }
}

/// Texts for some instruments.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct TextsBody {
    pub(super) instruments: Vec<InstrumentView>,
    pub(super) texts: TextsView,
}

/// What a class changes on a checkpoint.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct CheckpointBody {
    /// Switched off.
    off: bool,
    /// How it reads; what is as shared is not kept as the class's own. Empty: all as shared.
    texts: Vec<TextsBody>,
}

/// Changes the edits of a class in one step; what cannot be is told by its field.
pub(super) async fn change(
    app: &App,
    member: &Member,
    change: impl FnOnce(&mut Edits) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    let mut edits = edits_to_change(&tx, member.class.key).await?;
    change(&mut edits)?;
    let faults = edits.faults(app.content.template.shared());
    if !faults.is_empty() {
        // The same words on several instruments are told once.
        let mut told: Vec<FieldError> = Vec::new();
        for EditFault { field, message, .. } in faults {
            let fault = FieldError::new(field, sentence(&message));
            if !told.contains(&fault) {
                told.push(fault);
            }
        }
        return Err(ApiError::Invalid(told));
    }
    write_edits(&tx, member.class.key, &edits).await?;
    tx.commit().await.map_err(StoreError::from)?;
    app.live.changed(member.class.key.class);
    Ok(())
}

/// A fault as a sentence: a large letter first, a stop at the end.
pub(super) fn sentence(message: &str) -> String {
    let mut letters = message.chars();
    let large: String = letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect());
    format!("{large}.")
}

/// Switches a checkpoint off or on and words it for the class; directors only. No observation is lost.
#[utoipa::path(put, path = "/api/classes/{class}/checklist/{checkpoint}", tag = "approach",
    params(
        ("class" = Uuid, Path, description = "The class"),
        ("checkpoint" = String, Path, description = "The checkpoint"),
    ),
    request_body = CheckpointBody,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsWriting,
    ))]
pub async fn change_checkpoint(
    State(app): State<App>,
    Director(member): Director,
    CheckpointInPath(id): CheckpointInPath,
    Body(body): Body<CheckpointBody>,
) -> Result<StatusCode, ApiError> {
    let shared = app.content.checklist(&member.class.choices, &Edits::default());
    change(&app, &member, |edits| {
        let own = edits.own.contains_key(&id);
        if !own && shared.checkpoint(id.as_str()).is_none() {
            return Err(ApiError::NotFound("checkpoint"));
        }
        if body.off {
            edits.off.insert(id.clone())
        } else {
            edits.off.remove(&id)
        };
        if let Some(checkpoint) = shared.checkpoint(id.as_str()) {
            let texts = reworded(checkpoint, &body.texts);
            if texts.is_empty() {
                edits.reworded.remove(&id)
            } else {
                edits.reworded.insert(id.clone(), texts)
            };
        }
        Ok(())
    })
    .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The texts that are not as shared.
fn reworded(shared: &Checkpoint, bodies: &[TextsBody]) -> BTreeMap<Instrument, Rewording> {
    let mut texts = BTreeMap::new();
    for body in bodies {
        for instrument in body.instruments.iter().map(|view| Instrument::from(*view)) {
            let Some(wording) = shared.wording.get(&instrument) else { continue };
            let other = |now: &String, before: &String| {
                Some(now.trim().to_owned()).filter(|now| !now.is_empty() && now != before)
            };
            let rewording = Rewording {
                look_for: other(&body.texts.look_for, &wording.look_for),
                proof: other(&body.texts.proof, &wording.proof),
                cue: other(&body.texts.cue, &wording.cue),
            };
            if !rewording.is_empty() {
                texts.insert(instrument, rewording);
            }
        }
    }
    texts
}
