//! One thing to look at in a round, in words: what for, how to settle it, which slips are likely, and why it comes today.

use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::craft::cause_graph::{CauseGraph, Node};
use bright_row_core::craft::checklist::Checkpoint;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::level::Level;
use bright_row_core::craft::strand::Strand;
use bright_row_core::round::checks::{Check, Why};
use bright_row_core::tapes::status::TapeTrouble;
use serde::Serialize;
use utoipa::ToSchema;

use crate::routes::child::page::target_name;
use crate::use_cases::snapshot::Learner;
use crate::routes::tapes::views::SpotView;
use crate::routes::views::StrandKey;

/// Something that could be looked at.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CheckView {
    /// A checkpoint's or a stage's id.
    target: String,
    name: String,
    strand: StrandKey,
    kind: CheckKind,
    seconds: u32,
    points: u32,
    /// Why it comes, in words.
    why: String,
    /// Where it stands; absent while nobody has looked.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    level: Option<u8>,
    /// The checkpoint; of a stage, those it is made of.
    items: Vec<LookItem>,
    /// Can be settled by a scan from afar.
    by_scan: bool,
    /// Of tapes: the instrument they are on.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    asset: Option<uuid::Uuid>,
    /// Of tapes: marker by marker, as far as the instrument's log tells.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    spots: Vec<SpotView>,
}

/// How something is marked.
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
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
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

/// A slip ticked at the child's last look comes before one that something amiss leads to, and that before one that is
/// only common on the instrument.
const TICKED: usize = 1_000_000;
const LED_TO: usize = 1_000;

/// What the words of a class's checks come from.
pub(super) struct Words<'a> {
    own: &'a BTreeMap<(ChildId, CheckpointId), String>,
    causes: &'a CauseGraph,
    /// How many children of an instrument had a slip ticked at the last look.
    common: BTreeMap<(Instrument, SlipId), usize>,
}

impl<'a> Words<'a> {
    pub(super) fn new(
        learners: &[Learner],
        own: &'a BTreeMap<(ChildId, CheckpointId), String>,
        causes: &'a CauseGraph,
    ) -> Self {
        let mut common = BTreeMap::new();
        for learner in learners {
            for slip in learner.standings.values().flat_map(|standing| &standing.slips) {
                *common.entry((learner.child.playing.now, slip.clone())).or_default() += 1;
            }
        }
        Self { own, causes, common }
    }

    pub(super) fn check(&self, learner: &Learner, candidate: &Check) -> CheckView {
        let checklist = &learner.checklist;
        let strand = checklist.strand_of_target(&candidate.target).unwrap_or(Strand::Hold);
        let (kind, items, level) = match &candidate.target {
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
        let told = learner.known.context.tapes.as_ref().filter(|_| on_tapes);
        CheckView {
            asset: learner.known.markers.as_ref().filter(|_| on_tapes).map(|taped| taped.asset.uuid()),
            spots: told.map(|told| told.spots.iter().map(Into::into).collect()).unwrap_or_default(),
            target: candidate.target.id().to_owned(),
            name: target_name(checklist, candidate.target.id()),
            strand: strand.into(),
            kind,
            seconds: candidate.seconds,
            points: candidate.points,
            why: why(learner, &candidate.why),
            level,
            items,
            by_scan: candidate.by_scan,
        }
    }

    /// Something that is neither open nor due, for a look close up.
    pub(super) fn close_up(&self, learner: &Learner, target: &Target) -> Option<CheckView> {
        let seconds = match target {
            Target::Checkpoint(id) => learner.checklist.checkpoint(id.as_str())?.seconds,
            Target::Stage(id) => learner.checklist.stage(id.as_str())?.seconds,
        };
        let candidate = Check { target: target.clone(), seconds, points: 0, why: vec![Why::MustSee], by_scan: true };
        let why = "Neither open nor due".to_owned();
        Some(CheckView { why, ..self.check(learner, &candidate) })
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
        let ticked: Vec<&SlipId> = learner.standings.values().flat_map(|standing| &standing.slips).collect();
        let likely = |slip: &SlipId| {
            let node = Node::Slip(slip.clone());
            let led_to = ticked.iter().any(|from| self.causes.leads(instrument, &Node::Slip((*from).clone()), &node));
            let common = self.common.get(&(instrument, slip.clone())).copied().unwrap_or_default();
            usize::from(ticked.contains(&slip)) * TICKED + usize::from(led_to) * LED_TO + common
        };
        let known = learner.checklist.slips().iter();
        let mut slips: Vec<_> = known
            .filter(|slip| slip.checkpoint == *checkpoint && slip.instruments.contains(&instrument))
            .map(|slip| (likely(&slip.id), slip))
            .collect();
        slips.sort_by_key(|(likely, _)| std::cmp::Reverse(*likely));
        let view = |slip: &bright_row_core::craft::checklist::Slip| LikelySlip {
            id: slip.id.to_string(),
            name: slip.name.clone(),
            help: slip.help.clone(),
        };
        slips.into_iter().map(|(_, slip)| view(slip)).collect()
    }
}

fn level(learner: &Learner, id: &CheckpointId) -> Option<u8> {
    learner.standings.get(id).map(|standing| standing.level.number())
}

fn why(learner: &Learner, reasons: &[Why]) -> String {
    let sentence = |reason: &Why| match reason {
        Why::Overdue(1) => "due since last meeting".to_owned(),
        Why::Overdue(meetings) => format!("due for {meetings} meetings"),
        Why::Due => "due today".to_owned(),
        Why::MustSee => "nothing is due; a look after a while".to_owned(),
        Why::Unseen => "not looked at yet".to_owned(),
        Why::Below(level) => format!("{} last time", level_name(*level)),
        Why::Leads(slips) => {
            let names = slips.iter().map(|slip| learner.checklist.slip(slip.as_str()).map_or("", |slip| &slip.name));
            format!("leads to: {}", names.collect::<Vec<_>>().join(", ").to_lowercase())
        }
        Why::Tapes(TapeTrouble::Drifted) => "a marker has drifted".to_owned(),
        Why::Tapes(TapeTrouble::LooseOrMissing) => "a marker is loose or missing".to_owned(),
        Why::Tapes(TapeTrouble::WrongInstrument) => "another instrument than the one measured".to_owned(),
    };
    let text = reasons.iter().map(sentence).collect::<Vec<_>>().join("; ");
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}

fn level_name(level: Level) -> &'static str {
    match level {
        Level::NotYet => "not yet there",
        Level::Placed => "placed",
        Level::Prompted => "prompted",
        Level::Alone => "alone",
        Level::Lasting => "lasting",
    }
}
