//! A child's page: the four ladders and the history.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use bright_row_core::checklist::{Checklist, Checkpoint, CheckpointId, Need, Stage, Strand};
use bright_row_core::instrument::Instrument;
use bright_row_core::ladder::{Ladder, StageState, StageView};
use bright_row_core::standing::Standing;
use bright_row_core::tape::{TapeState, TapeTrouble};
use bright_row_store::standings;
use chrono::{DateTime, Utc};
use serde::Serialize;
use utoipa::ToSchema;

use super::history::{History, read_history};
use super::problem::{ApiError, ForMembers};
use super::room::{Reading, RoomChild};
use super::views::{RecheckView, SaysView, StrandKey};
use crate::app::App;
use crate::auth::guard::MemberOfChild;

/// A child with its ladders and the newest of its history.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChildPage {
    child: RoomChild,
    /// The four strands, in order.
    ladders: Vec<LadderView>,
    tapes: TapesView,
    history: History,
}

/// A strand's ladder.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LadderView {
    strand: StrandKey,
    name: String,
    /// Lowest first.
    stages: Vec<StageOfChild>,
}

/// How a stage stands.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum StageStateView {
    /// Waits for others.
    Shut,
    /// Being worked on.
    Open,
    /// Every required checkpoint at Alone or better.
    Reached,
    /// Every required checkpoint Lasting, none due.
    Settled,
}

/// A stage of a child's ladder.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StageOfChild {
    /// `hold.4`.
    id: String,
    number: u32,
    name: String,
    state: StageStateView,
    /// What a shut stage waits for, in words.
    waits_for: Vec<String>,
    /// When a reached stage is looked at again as a whole.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    recheck: Option<RecheckView>,
    checkpoints: Vec<CheckpointOfChild>,
}

/// A checkpoint on a child's ladder, worded for its instrument.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CheckpointOfChild {
    /// `hold.tall`.
    id: String,
    name: String,
    required: bool,
    /// What is there when it is right.
    look_for: String,
    /// The one quick test that settles it.
    proof: String,
    /// For the child.
    cue: String,
    /// The slips that can be ticked here.
    slips: Vec<SlipView>,
    /// Absent while nobody has looked.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    standing: Option<StandingView>,
}

/// A slip that can be ticked.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SlipView {
    id: String,
    name: String,
    /// The first help.
    help: String,
}

/// How a child stands at a checkpoint.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StandingView {
    /// 0 to 4.
    level: u8,
    looked_at: DateTime<Utc>,
    /// Absent when nothing is due for it by itself.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    recheck: Option<RecheckView>,
    /// The last look found a slip.
    slipped: bool,
    /// The slips ticked at the last look.
    slips: Vec<String>,
    /// What the child said when last asked.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    says: Option<SaysView>,
}

/// How far the tapes are.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum TapeStateView {
    /// Not measured.
    NotMeasured,
    /// Measured: ready to place.
    ReadyToPlace,
    /// On.
    Placed,
    /// Proved by ear.
    Heard,
    /// Still true.
    Holding,
    /// Some taken away.
    Thinning,
    /// None left.
    Bare,
}

/// What to put right first.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum TapeTroubleView {
    /// No longer true.
    Drifted,
    /// Come off.
    LooseOrMissing,
    /// Another instrument's.
    WrongInstrument,
}

/// The tapes of a child.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapesView {
    state: TapeStateView,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    trouble: Option<TapeTroubleView>,
}

/// A child with its ladders and the newest of its history.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}", tag = "room",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses(
        (status = 200, body = ChildPage),
        ForMembers,
    ))]
pub async fn child(State(app): State<App>, found: MemberOfChild) -> Result<Json<ChildPage>, ApiError> {
    let MemberOfChild { member, child } = found;
    let standings = standings::of_child(&app.db, member.class.key, child.id).await?;
    let reading = Reading::new(&app, &member.class);
    let ladder = reading.ladder(&child, &standings);
    let checklist = &app.content.checklist;
    let ladders = Strand::ALL.map(|strand| LadderView {
        strand: strand.into(),
        name: checklist.strand_name(strand).to_owned(),
        stages: stages(checklist, strand, child.playing.now, &standings, &ladder),
    });
    Ok(Json(ChildPage {
        history: read_history(&app, &member, child.id, None).await?,
        tapes: tapes(&ladder),
        ladders: ladders.into(),
        child: reading.child(child, &standings, &ladder),
    }))
}

/// A checkpoint by its name; a stage by its strand and name. What the checklist no longer holds keeps its id.
pub(super) fn target_name(checklist: &Checklist, id: &str) -> String {
    let checkpoint = checklist.checkpoint(id).map(|checkpoint| checkpoint.name.clone());
    checkpoint
        .or_else(|| checklist.stage(id).map(|stage| stage_name(checklist, stage)))
        .unwrap_or_else(|| id.to_owned())
}

fn stage_name(checklist: &Checklist, stage: &Stage) -> String {
    format!("{} {}, {}", checklist.strand_name(stage.strand), stage.number, stage.name)
}

fn tapes(ladder: &Ladder) -> TapesView {
    TapesView {
        state: match ladder.tapes.state {
            TapeState::NotMeasured => TapeStateView::NotMeasured,
            TapeState::ReadyToPlace => TapeStateView::ReadyToPlace,
            TapeState::Placed => TapeStateView::Placed,
            TapeState::Heard => TapeStateView::Heard,
            TapeState::Holding => TapeStateView::Holding,
            TapeState::Thinning => TapeStateView::Thinning,
            TapeState::Bare => TapeStateView::Bare,
        },
        trouble: ladder.tapes.trouble.map(|trouble| match trouble {
            TapeTrouble::Drifted => TapeTroubleView::Drifted,
            TapeTrouble::LooseOrMissing => TapeTroubleView::LooseOrMissing,
            TapeTrouble::WrongInstrument => TapeTroubleView::WrongInstrument,
        }),
    }
}

fn stages(
    checklist: &Checklist,
    strand: Strand,
    instrument: Instrument,
    standings: &BTreeMap<CheckpointId, Standing>,
    ladder: &Ladder,
) -> Vec<StageOfChild> {
    let views = checklist.stages().iter().zip(&ladder.stages).filter(|(stage, _)| stage.strand == strand);
    let stage = |(stage, view): (&Stage, &StageView)| {
        let checkpoints = checklist.checkpoints_of(&stage.id);
        let checkpoint = |checkpoint| checkpoint_of_child(checklist, checkpoint, instrument, standings, ladder);
        let (state, waits_for) = match &view.state {
            StageState::Shut(needs) => {
                (StageStateView::Shut, needs.iter().map(|need| need_name(checklist, need)).collect())
            }
            StageState::Open => (StageStateView::Open, Vec::new()),
            StageState::Reached => (StageStateView::Reached, Vec::new()),
            StageState::Settled => (StageStateView::Settled, Vec::new()),
        };
        StageOfChild {
            id: stage.id.to_string(),
            number: stage.number,
            name: stage.name.clone(),
            state,
            waits_for,
            recheck: view.recheck.map(Into::into),
            checkpoints: checkpoints.filter_map(checkpoint).collect(),
        }
    };
    views.map(stage).collect()
}

fn need_name(checklist: &Checklist, need: &Need) -> String {
    match need {
        Need::Stage(id) => target_name(checklist, id.as_str()),
        Need::Checkpoint(id, _) => target_name(checklist, id.as_str()),
    }
}

fn checkpoint_of_child(
    checklist: &Checklist,
    checkpoint: &Checkpoint,
    instrument: Instrument,
    standings: &BTreeMap<CheckpointId, Standing>,
    ladder: &Ladder,
) -> Option<CheckpointOfChild> {
    let wording = checkpoint.wording.get(&instrument)?;
    let slips = checklist
        .slips()
        .iter()
        .filter(|slip| slip.checkpoint == checkpoint.id && slip.instruments.contains(&instrument))
        .map(|slip| SlipView { id: slip.id.to_string(), name: slip.name.clone(), help: slip.help.clone() });
    let standing = standings.get(&checkpoint.id).map(|standing| StandingView {
        level: standing.level.number(),
        looked_at: standing.looked_at,
        recheck: ladder.rechecks.get(&checkpoint.id).copied().map(Into::into),
        slipped: standing.slipped,
        slips: standing.slips.iter().map(ToString::to_string).collect(),
        says: standing.says.map(Into::into),
    });
    Some(CheckpointOfChild {
        id: checkpoint.id.to_string(),
        name: checkpoint.name.clone(),
        required: checkpoint.required,
        look_for: wording.look_for.clone(),
        proof: wording.proof.clone(),
        cue: wording.cue.clone(),
        slips: slips.collect(),
        standing,
    })
}
