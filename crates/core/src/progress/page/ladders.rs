//! A child's four ladders as its page shows them.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};
use serde::Serialize;
use serde_with::skip_serializing_none;

use crate::AssetId;
use crate::craft::checklist::{Checklist, Checkpoint, Stage};
use crate::craft::id::{CheckpointId, StageId};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::progress::context::ChildContext;
use crate::progress::ladder::{Ladder, StageState, StageView};
use crate::progress::observation::Says;
use crate::progress::page::context::{AccommodationView, MadeView};
use crate::progress::rhythm::{REACHES, Recheck};
use crate::progress::standing::Standing;
use crate::tapes::assessment::SpotStatus;
use crate::tapes::status::{TapeState, TapeTrouble};

/// A strand's ladder.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct LadderView {
    /// Which.
    pub strand: Strand,
    /// What it is called.
    pub name: String,
    /// Lowest first.
    pub stages: Vec<StageOfChild>,
}

/// How a stage stands.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
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
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct StageOfChild {
    /// `hold.4`.
    pub id: String,
    /// The rung, from 1.
    pub number: u32,
    /// What it is called.
    pub name: String,
    /// How it stands.
    pub state: StageStateView,
    /// Seconds a look at the whole stage takes.
    pub seconds: u32,
    /// What a shut stage waits for, in words.
    pub waits_for: Vec<String>,
    /// Who opened it although it waits for others.
    pub opened: Option<MadeView>,
    /// When a reached stage is looked at again as a whole.
    pub recheck: Option<Recheck>,
    /// Being worked on, or due again as a whole.
    pub wants_look: bool,
    /// In order.
    pub checkpoints: Vec<CheckpointOfChild>,
}

/// A checkpoint on a child's ladder, worded for its instrument.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct CheckpointOfChild {
    /// `hold.tall`.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whether the stage waits for it.
    pub required: bool,
    /// What is there when it is right; the child's own where it has one.
    pub look_for: String,
    /// Why something else counts for this child.
    pub accommodated: Option<String>,
    /// Whether it applies to this child.
    pub applies: bool,
    /// The one quick test that settles it.
    pub proof: String,
    /// For the child.
    pub cue: String,
    /// The slips that can be ticked here.
    pub slips: Vec<SlipView>,
    /// Absent while nobody has looked.
    pub standing: Option<StandingView>,
}

/// A slip that can be ticked.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct SlipView {
    /// Its id.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// How it shows.
    pub look: String,
    /// The first help.
    pub help: String,
}

/// How a child stands at a checkpoint.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct StandingView {
    /// 0 to 4.
    pub level: u8,
    /// The last look.
    pub looked_at: DateTime<Utc>,
    /// Absent when nothing is due for it by itself.
    pub recheck: Option<Recheck>,
    /// The last look found a slip.
    pub slipped: bool,
    /// The slips ticked at the last look.
    pub slips: Vec<String>,
    /// What the child said when last asked.
    pub says: Option<Says>,
}

/// The tapes of a child.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct TapesView {
    /// How far they are.
    pub state: TapeState,
    /// What wants to be put right first.
    pub trouble: Option<TapeTrouble>,
    /// When to look again.
    pub recheck: Option<Recheck>,
    /// The instrument that it has.
    pub asset: Option<AssetId>,
    /// Marker by marker, as far as the instrument's log tells.
    pub spots: Vec<SpotStatus>,
}

impl TapesView {
    /// The tapes of a child that has this instrument.
    #[must_use]
    pub fn new(ladder: &Ladder, context: &ChildContext, asset: Option<AssetId>) -> Self {
        Self {
            state: ladder.tapes.state,
            trouble: ladder.tapes.trouble,
            recheck: ladder.tapes.recheck,
            asset,
            spots: context.tapes.as_ref().map(|markers| markers.spots.clone()).unwrap_or_default(),
        }
    }
}

/// Everything that a child's page is made from.
pub struct Page<'a> {
    /// The checklist it is read by.
    pub checklist: &'a Checklist,
    /// What it plays.
    pub instrument: Instrument,
    /// How it stands.
    pub standings: &'a BTreeMap<CheckpointId, Standing>,
    /// What follows from that.
    pub ladder: &'a Ladder,
    /// What counts instead of shared look-fors.
    pub accommodations: &'a [AccommodationView],
    /// Who opened stages although they wait for others.
    pub opened: &'a BTreeMap<StageId, MadeView>,
}

impl Page<'_> {
    /// The ladder of a strand.
    #[must_use]
    pub fn ladder(&self, strand: Strand) -> LadderView {
        let views = self.checklist.stages().iter().zip(&self.ladder.stages).filter(|(stage, _)| stage.strand == strand);
        LadderView {
            strand,
            name: self.checklist.strand_name(strand).to_owned(),
            stages: views.map(|(stage, view)| self.stage(stage, view)).collect(),
        }
    }

    fn stage(&self, stage: &Stage, view: &StageView) -> StageOfChild {
        let (state, waits_for) = match &view.state {
            StageState::Shut(needs) => {
                (StageStateView::Shut, needs.iter().map(|need| self.checklist.need_name(need)).collect())
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
            seconds: stage.seconds,
            waits_for,
            opened: self.opened.get(&stage.id).filter(|_| view.opened).cloned(),
            recheck: view.recheck,
            wants_look: match view.state {
                StageState::Open => true,
                StageState::Reached => view.recheck.is_some_and(Recheck::is_due),
                StageState::Shut(_) | StageState::Settled => false,
            },
            checkpoints: self.checklist.checkpoints_of(&stage.id).filter_map(|c| self.checkpoint(c, view)).collect(),
        }
    }

    /// What is looked for in this child: its own where it has one.
    #[must_use]
    pub fn look_for(&self, checkpoint: &Checkpoint) -> Option<String> {
        let wording = checkpoint.wording.get(&self.instrument)?;
        let own = self.accommodation(&checkpoint.id).and_then(|own| own.look_for.clone());
        Some(own.unwrap_or_else(|| wording.look_for.clone()))
    }

    fn accommodation(&self, checkpoint: &CheckpointId) -> Option<&AccommodationView> {
        self.accommodations.iter().find(|own| own.checkpoint == checkpoint.as_str())
    }

    fn checkpoint(&self, checkpoint: &Checkpoint, stage: &StageView) -> Option<CheckpointOfChild> {
        let wording = checkpoint.wording.get(&self.instrument)?;
        let slips = self
            .checklist
            .slips()
            .iter()
            .filter(|slip| slip.checkpoint == checkpoint.id && slip.instruments.contains(&self.instrument))
            .map(|slip| SlipView {
                id: slip.id.to_string(),
                name: slip.name.clone(),
                look: slip.look.clone(),
                help: slip.help.clone(),
            });
        let standing = self.standings.get(&checkpoint.id).map(|standing| StandingView {
            level: standing.level.number(),
            looked_at: standing.looked_at,
            recheck: stage.recheck.filter(|_| standing.level >= REACHES),
            slipped: standing.slipped,
            slips: standing.slips.iter().map(ToString::to_string).collect(),
            says: standing.says,
        });
        let own = self.accommodation(&checkpoint.id);
        Some(CheckpointOfChild {
            id: checkpoint.id.to_string(),
            name: checkpoint.name.clone(),
            required: checkpoint.required,
            look_for: self.look_for(checkpoint)?,
            accommodated: own.map(|own| own.reason.clone()),
            applies: own.is_none_or(|own| own.look_for.is_some()),
            proof: wording.proof.clone(),
            cue: wording.cue.clone(),
            slips: slips.collect(),
            standing,
        })
    }
}
