//! One thing to look at in a round, in words: what for, how to settle it, which slips are likely, and why it comes today.

use std::collections::BTreeMap;

use bright_row_core::craft::cause_graph::CauseGraph;
use bright_row_core::craft::checklist::{Checkpoint, Slip};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::likely_slips::LikelySlips;
use bright_row_core::progress::next::Reason;
use bright_row_core::progress::page::next_item::NextWhy;
use bright_row_core::round::checks::Check;
use bright_row_core::tapes::assessment::SpotStatus;
use bright_row_core::{AssetId, ChildId};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::use_cases::snapshot::Learner;

/// Something that could be looked at.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CheckView {
    /// A checkpoint's or a stage's id.
    target: String,
    name: String,
    strand: Strand,
    kind: CheckKind,
    seconds: u32,
    points: u32,
    /// Why it comes.
    #[serde(flatten)]
    why: NextWhy,
    /// Looked at time and again without rising: try it another way.
    stuck: bool,
    /// Where it stands; absent while nobody has looked.
    level: Option<u8>,
    /// The checkpoint; of a stage, those it is made of.
    items: Vec<LookItem>,
    /// Can be settled by a scan from afar.
    by_scan: bool,
    /// Of tapes: the instrument they are on.
    asset: Option<AssetId>,
    /// Of tapes: marker by marker, as far as the instrument's log tells.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    spots: Vec<SpotStatus>,
}

/// How an answer is recorded.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum CheckKind {
    /// With a level.
    Checkpoint,
    /// Still there, but for those tapped.
    Stage,
    /// There or not.
    Tapes,
}

/// A checkpoint as it is looked at.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LookItem {
    id: String,
    name: String,
    /// What is there when it is right; the child's own where it has one.
    look_for: String,
    /// The quick test that settles it.
    proof: String,
    /// For the child.
    cue: String,
    level: Option<u8>,
    /// The likeliest first.
    slips: Vec<LikelySlip>,
}

/// A slip that can be ticked.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LikelySlip {
    id: String,
    name: String,
    /// The first help.
    help: String,
}

/// What the words of a class's checks come from.
pub(crate) struct Words<'a> {
    own: &'a BTreeMap<(ChildId, CheckpointId), String>,
    causes: &'a CauseGraph,
    likely: LikelySlips,
}

impl<'a> Words<'a> {
    pub(crate) fn new(
        learners: &[Learner],
        own: &'a BTreeMap<(ChildId, CheckpointId), String>,
        causes: &'a CauseGraph,
    ) -> Self {
        let children = learners.iter().map(|learner| (learner.child.playing.now, &learner.standings));
        Self { own, causes, likely: LikelySlips::of_class(children) }
    }

    pub(crate) fn check(&self, learner: &Learner, check: &Check) -> CheckView {
        let checklist = &learner.checklist;
        let strand = checklist.strand_of_target(check.target()).unwrap_or(Strand::Hold);
        let (kind, items, level) = match check.target() {
            Target::Stage(id) => {
                let there = |checkpoint: &&Checkpoint| learner.standings.contains_key(&checkpoint.id);
                let items = checklist.checkpoints_of(id).filter(there);
                (CheckKind::Stage, items.filter_map(|item| self.item(learner, item)).collect(), None)
            }
            Target::Checkpoint(id) => {
                let kind = if strand == Strand::Tape { CheckKind::Tapes } else { CheckKind::Checkpoint };
                let item = checklist.checkpoint(id.as_str()).and_then(|item| self.item(learner, item));
                (kind, item.into_iter().collect(), level(learner, id))
            }
        };
        let on_tapes = strand == Strand::Tape;
        let markers = learner.context.context.tapes.as_ref().filter(|_| on_tapes);
        CheckView {
            asset: learner.context.markers.as_ref().filter(|_| on_tapes).map(|markers| markers.asset),
            spots: markers.map(|markers| markers.spots.clone()).unwrap_or_default(),
            target: check.target().id().to_owned(),
            name: checklist.target_name(check.target().id()),
            strand,
            kind,
            seconds: check.next.seconds,
            points: check.points,
            why: NextWhy::new(&check.next, checklist),
            stuck: check.next.stuck,
            level,
            items,
            by_scan: check.by_scan,
        }
    }

    /// Something that is neither in work nor due, for a look close up.
    pub(crate) fn close_up(&self, learner: &Learner, target: &Target) -> Option<CheckView> {
        let next = learner.pupil(self.causes).check(target.clone(), None, Reason::MustSee)?;
        let check = Check { next, points: 0, by_scan: true };
        Some(CheckView { why: NextWhy::ByHand, ..self.check(learner, &check) })
    }

    fn item(&self, learner: &Learner, checkpoint: &Checkpoint) -> Option<LookItem> {
        let instrument = learner.child.playing.now;
        let wording = checkpoint.wording.get(&instrument)?;
        let own = self.own.get(&(learner.child.id, checkpoint.id.clone()));
        Some(LookItem {
            id: checkpoint.id.to_string(),
            name: checkpoint.name.clone(),
            look_for: own.unwrap_or(&wording.look_for).clone(),
            proof: wording.proof.clone(),
            cue: wording.cue.clone(),
            level: level(learner, &checkpoint.id),
            slips: self.slips(learner, instrument, &checkpoint.id),
        })
    }

    /// The slips of a checkpoint, the likeliest for this child first.
    fn slips(&self, learner: &Learner, instrument: Instrument, checkpoint: &CheckpointId) -> Vec<LikelySlip> {
        let slips = self.likely.at(&learner.checklist, self.causes, instrument, &learner.standings, checkpoint);
        let view =
            |slip: &Slip| LikelySlip { id: slip.id.to_string(), name: slip.name.clone(), help: slip.help.clone() };
        slips.into_iter().map(view).collect()
    }
}

fn level(learner: &Learner, id: &CheckpointId) -> Option<u8> {
    learner.standings.get(id).map(|standing| standing.level.number())
}
