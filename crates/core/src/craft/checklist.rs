//! The shared checklist: four strands, each a ladder of stages, each a few checkpoints.
//!
//! A [`Checklist`] can only be made by [`crate::craft::loader`], which checks it: every lookup here may rely on known
//! stages, known prerequisites and a look-for for every instrument a checkpoint applies to.

use crate::craft::id::CheckpointId;
use crate::craft::id::SlipId;
use crate::craft::id::StageId;
use crate::craft::strand::Strand;
use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;

use rustc_hash::FxHashMap;
use serde::{Deserialize, Serialize};

use crate::craft::instrument::Instrument;
use crate::craft::needs_by_place::{Kept, NeedAt};

/// What a stage waits for before it opens.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum Need {
    /// Every required checkpoint of that stage at Prompted or better; a tape stage by the tape state.
    Stage(StageId),
    /// That checkpoint at this level or better.
    Checkpoint(CheckpointId, crate::craft::level::Level),
}

/// One rung of a strand's ladder.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Stage {
    /// `hold.4`.
    pub id: StageId,
    /// The strand it belongs to.
    pub strand: Strand,
    /// The rung, from 1.
    pub number: u32,
    /// One or two words: `Settle`.
    pub name: String,
    /// What opens it.
    pub needs: Vec<Need>,
    /// What opens it instead on some instruments, by a way that the class chose.
    pub needs_on: BTreeMap<Instrument, Vec<Need>>,
    /// Seconds a look at the whole stage takes.
    pub seconds: u32,
}

impl Stage {
    /// What opens it on an instrument.
    #[must_use]
    pub fn needs(&self, instrument: Instrument) -> &[Need] {
        self.needs_on.get(&instrument).unwrap_or(&self.needs)
    }
}

/// What a checkpoint says for one instrument, in three registers.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct Wording {
    /// For the director: what is there when it is right. At most 90 characters.
    pub look_for: String,
    /// The one quick test that settles it. At most 90 characters.
    pub proof: String,
    /// For the child. At most 40 characters.
    pub cue: String,
}

/// One thing to look at.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Checkpoint {
    /// `hold.tall`; never changes, so that history survives.
    pub id: CheckpointId,
    /// Its stage.
    pub stage: StageId,
    /// A short name: `Tall`.
    pub name: String,
    /// Seconds one look takes.
    pub seconds: u32,
    /// Whether the stage waits for it.
    pub required: bool,
    /// Whether it can be seen from two rows away.
    pub far: bool,
    /// Whether the child has to play.
    pub play: bool,
    /// The wording for each instrument it applies to; none where it is switched off or a chosen way leaves it out.
    pub wording: BTreeMap<Instrument, Wording>,
}

/// Checkpoints that are asked for again once a stage is passed.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct AskedAgain {
    /// Which.
    pub checkpoints: BTreeSet<CheckpointId>,
    /// The stage.
    pub after: StageId,
    /// On which instruments.
    pub instruments: BTreeSet<Instrument>,
}

/// A habit that slips in, and where it is ticked.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Slip {
    /// `wrist-in`.
    pub id: SlipId,
    /// What it is called on its key, a few words.
    pub name: String,
    /// The checkpoint on which it is ticked.
    pub checkpoint: CheckpointId,
    /// The instruments it is known on.
    pub instruments: BTreeSet<Instrument>,
    /// How it shows.
    pub look: String,
    /// The first help, in positive words.
    pub help: String,
}

/// The strands with their stages, checkpoints and slips, checked, as a class reads them.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(from = "Parts")]
pub struct Checklist {
    pub(crate) strand_names: BTreeMap<Strand, String>,
    pub(crate) stages: Vec<Stage>,
    pub(crate) checkpoints: Vec<Checkpoint>,
    pub(crate) slips: Vec<Slip>,
    pub(crate) asked_again: Vec<AskedAgain>,
    /// No markers on the fingerboards, by choice.
    pub(crate) bare: bool,
    /// Where the checkpoints of each stage lie among all of them, stage by stage; they stand in the order of the ladder.
    #[serde(skip)]
    of_stage: Vec<Range<usize>>,
    /// Where each checkpoint lies.
    #[serde(skip)]
    place: FxHashMap<CheckpointId, usize>,
    /// What the stages wait for, worked out once it is asked for.
    #[serde(skip)]
    kept: Kept,
}

/// A checklist as it is read: what was put together and checked once.
#[derive(Deserialize)]
struct Parts {
    strand_names: BTreeMap<Strand, String>,
    stages: Vec<Stage>,
    checkpoints: Vec<Checkpoint>,
    slips: Vec<Slip>,
    asked_again: Vec<AskedAgain>,
    bare: bool,
}

impl From<Parts> for Checklist {
    fn from(parts: Parts) -> Self {
        let Parts { strand_names, stages, checkpoints, slips, asked_again, bare } = parts;
        let mut checklist = Self { strand_names, stages, slips, asked_again, bare, ..Self::empty() };
        for checkpoint in checkpoints {
            // Nothing here may meet a checkpoint of no stage.
            if checklist.stage(checkpoint.stage.as_str()).is_some() {
                checklist.push(checkpoint);
            }
        }
        checklist
    }
}

impl Checklist {
    /// An empty checklist, to be filled by [`crate::craft::loader`].
    pub(crate) fn empty() -> Self {
        Self {
            strand_names: BTreeMap::new(),
            stages: Vec::new(),
            checkpoints: Vec::new(),
            slips: Vec::new(),
            asked_again: Vec::new(),
            bare: false,
            of_stage: Vec::new(),
            place: FxHashMap::default(),
            kept: Kept::default(),
        }
    }

    /// Adds the next checkpoint of the last stage.
    pub(crate) fn push(&mut self, checkpoint: Checkpoint) {
        let at = self.checkpoints.len();
        self.place.entry(checkpoint.id.clone()).or_insert(at);
        if let Some(stage) = self.stage_place(&checkpoint.stage) {
            self.of_stage.resize(self.of_stage.len().max(stage + 1), at..at);
            self.of_stage[stage].end = at + 1;
        }
        self.checkpoints.push(checkpoint);
    }

    /// The name of a strand as people read it.
    #[must_use]
    pub fn strand_name(&self, strand: Strand) -> &str {
        self.strand_names.get(&strand).map_or_else(|| strand.key(), String::as_str)
    }

    /// Every stage, by strand and number.
    #[must_use]
    pub fn stages(&self) -> &[Stage] {
        &self.stages
    }

    /// The stages of one strand, lowest first.
    pub fn stages_of(&self, strand: Strand) -> impl Iterator<Item = &Stage> {
        self.stages.iter().filter(move |stage| stage.strand == strand)
    }

    /// The stage of an id.
    #[must_use]
    pub fn stage(&self, id: &str) -> Option<&Stage> {
        self.stages.iter().find(|stage| stage.id.as_str() == id)
    }

    /// Every checkpoint, in the order of the ladder.
    #[must_use]
    pub fn checkpoints(&self) -> &[Checkpoint] {
        &self.checkpoints
    }

    /// Whether the other has the same checkpoints in the same stages, whatever their words: then the same standings follow from
    /// the same observations.
    #[must_use]
    pub fn same_places(&self, other: &Self) -> bool {
        let places = |checklist: &Self| -> Vec<(CheckpointId, StageId)> {
            checklist.checkpoints.iter().map(|one| (one.id.clone(), one.stage.clone())).collect()
        };
        places(self) == places(other)
    }

    /// The checkpoints of a stage, in order.
    pub fn checkpoints_of<'a>(&'a self, stage: &StageId) -> impl Iterator<Item = &'a Checkpoint> + use<'a> {
        let range = self.stage_place(stage).map(|stage| self.places_of(stage)).unwrap_or_default();
        self.checkpoints[range].iter()
    }

    /// Where the checkpoints of the stage at place `stage` among the stages lie among all checkpoints.
    pub(crate) fn places_of(&self, stage: usize) -> Range<usize> {
        self.of_stage.get(stage).cloned().unwrap_or_default()
    }

    /// What the stage at a place waits for on an instrument, by places.
    pub(crate) fn needs_at(&self, stage: usize, instrument: Instrument) -> &[NeedAt] {
        self.kept.needs(self, instrument).get(stage).map_or(&[], Vec::as_slice)
    }

    /// Whether each checkpoint is asked on an instrument.
    pub(crate) fn asked_on(&self, instrument: Instrument) -> &[bool] {
        self.kept.asked(self, instrument)
    }

    /// The places of the stages in an order of work, found by `find` when first asked for.
    pub(crate) fn kept_order(
        &self,
        (order, instrument): (usize, Instrument),
        find: impl FnOnce() -> Vec<usize>,
    ) -> &[usize] {
        self.kept.order(order, instrument, find)
    }

    /// Where the stage of an id lies among the stages.
    pub(crate) fn stage_place(&self, id: &StageId) -> Option<usize> {
        self.stages.iter().position(|stage| stage.id == *id)
    }

    /// Where the checkpoint of an id lies among all of them.
    pub(crate) fn place(&self, id: &str) -> Option<usize> {
        self.place.get(id).copied()
    }

    /// The checkpoint of an id.
    #[must_use]
    pub fn checkpoint(&self, id: &str) -> Option<&Checkpoint> {
        self.place.get(id).map(|at| &self.checkpoints[*at])
    }

    /// Every slip, in content order.
    #[must_use]
    pub fn slips(&self) -> &[Slip] {
        &self.slips
    }

    /// The slip of an id.
    #[must_use]
    pub fn slip(&self, id: &str) -> Option<&Slip> {
        self.slips.iter().find(|slip| slip.id.as_str() == id)
    }

    /// What is asked for again once a stage is passed.
    #[must_use]
    pub fn asked_again(&self) -> &[AskedAgain] {
        &self.asked_again
    }

    /// Whether the class has no markers on its fingerboards, by choice.
    #[must_use]
    pub fn is_bare(&self) -> bool {
        self.bare
    }

    /// The target a text names: a checkpoint or a stage, if either is known.
    #[must_use]
    pub fn target(&self, id: &str) -> Option<crate::craft::id::Target> {
        use crate::craft::id::Target;
        self.checkpoint(id)
            .map(|checkpoint| Target::Checkpoint(checkpoint.id.clone()))
            .or_else(|| self.stage(id).map(|stage| Target::Stage(stage.id.clone())))
    }

    /// The strand that an observation speaks of, if the checklist knows its target.
    #[must_use]
    pub fn strand_of_target(&self, target: &crate::craft::id::Target) -> Option<Strand> {
        use crate::craft::id::Target;
        match target {
            Target::Checkpoint(id) => self.checkpoint(id.as_str()).map(|checkpoint| self.strand_of(checkpoint)),
            Target::Stage(id) => self.stage(id.as_str()).map(|stage| stage.strand),
        }
    }

    /// The strand of a checkpoint, by its stage.
    #[must_use]
    pub fn strand_of(&self, checkpoint: &Checkpoint) -> Strand {
        self.stage(checkpoint.stage.as_str()).expect("a checked checklist knows every stage").strand
    }
}
