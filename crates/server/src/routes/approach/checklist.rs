//! The checklist of a class: what is asked and how it reads, and the class's own changes to it.

use bright_row_core::craft::strand::Strand;
use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::checklist::{Checklist, Checkpoint, Wording};
use bright_row_core::craft::edits::{Edits, Rewording};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::figure::FigureSpec;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::error::ApiError;
use crate::error::answers::{ForDirectorsReplacing, ForMembers};
use crate::extract::based_on::{BasedOn, BasedOnHeaders, version};
use crate::extract::{Body, CheckpointInPath};
use bright_row_store::classes::Class;

use crate::auth::guard::{Director, Member};
use crate::state::App;
use crate::use_cases::change_settings::change_edits;

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
    strand: Strand,
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
    left_out: Vec<Instrument>,
    /// As they read, one for each different wording.
    texts: Vec<EditedText>,
    /// How one of the class's own is drawn.
    #[serde(skip_serializing_if = "Option::is_none")]
    figure: Option<FigureSpec>,
    /// The version of all this.
    #[serde(skip_serializing_if = "String::is_empty")]
    version: String,
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
    instruments: Vec<Instrument>,
    /// As it reads.
    now: Wording,
    /// As it reads without the class's own words; the same where there are none.
    shared: Wording,
}

/// The checklist of a class with every text, its own changes marked.
#[utoipa::path(get, path = "/api/classes/{class}/checklist", tag = "approach",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = ChecklistView),
        ForMembers,
    ))]
pub async fn checklist(State(app): State<App>, member: Member) -> Result<Json<ChecklistView>, ApiError> {
    let mut checklist = view(&app, &member.class);
    for checkpoint in checklist.stages.iter_mut().flat_map(|stage| &mut stage.checkpoints) {
        checkpoint.version = version(checkpoint);
    }
    Ok(Json(checklist))
}

/// Whether a class as it was may be changed to what it would be at this checkpoint.
pub(super) fn allow(
    app: &App,
    based_on: &BasedOn,
    id: &CheckpointId,
    (before, after): (&Class, &Class),
) -> Result<(), ApiError> {
    let of = |class: &Class| {
        let checkpoints = view(app, class).stages.into_iter().flat_map(|stage| stage.checkpoints);
        checkpoints.into_iter().find(|checkpoint| checkpoint.id == id.as_str())
    };
    let wanted = of(after).ok_or(ApiError::NotFound("checkpoint"))?;
    based_on.allow(of(before).as_ref(), &wanted)
}

fn view(app: &App, class: &Class) -> ChecklistView {
    let (choices, edits) = (&app.choices(class), &class.edits);
    // What is switched off is shown all the same, with the words it would have.
    let shown = Edits { off: BTreeSet::new(), ..edits.clone() };
    let now = app.content.checklist(choices, &shown);
    let shared = app.content.checklist(choices, &Edits::default());
    let stage = |stage: &bright_row_core::craft::checklist::Stage| EditedStage {
        id: stage.id.to_string(),
        strand: stage.strand,
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
        left_out: left_out.copied().collect(),
        texts: texts
            .into_iter()
            .map(|(now, shared, on)| EditedText {
                instruments: on.into_iter().collect(),
                now: now.clone(),
                shared: shared.clone(),
            })
            .collect(),
        figure: edits.own.get(id).and_then(|own| own.figure.clone()),
        version: String::new(),
    }
}

/// Texts for some instruments.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct TextsBody {
    pub(crate) instruments: Vec<Instrument>,
    pub(crate) texts: Wording,
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

/// Switches a checkpoint off or on and words it for the class; directors only. No observation is lost.
#[utoipa::path(put, path = "/api/classes/{class}/checklist/{checkpoint}", tag = "approach",
    params(
        ("class" = Uuid, Path, description = "The class"),
        ("checkpoint" = String, Path, description = "The checkpoint"),
        BasedOnHeaders,
    ),
    request_body = CheckpointBody,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn change_checkpoint(
    State(app): State<App>,
    Director(member): Director,
    CheckpointInPath(id): CheckpointInPath,
    based_on: BasedOn,
    Body(body): Body<CheckpointBody>,
) -> Result<StatusCode, ApiError> {
    let shared = app.content.checklist(&app.choices(&member.class), &Edits::default());
    let change = |edits: &mut Edits| {
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
    };
    change_edits(&app, &member, change, |before, after| allow(&app, &based_on, &id, (before, after))).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The texts that are not as shared.
fn reworded(shared: &Checkpoint, bodies: &[TextsBody]) -> BTreeMap<Instrument, Rewording> {
    let mut texts = BTreeMap::new();
    for body in bodies {
        for instrument in body.instruments.iter().copied() {
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
