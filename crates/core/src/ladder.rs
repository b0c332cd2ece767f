//! A child's four ladders: which stages are open, how far each strand glows, what is due and what is flagged.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use crate::calendar::MeetingCalendar;
use crate::checklist::{Checklist, Checkpoint, CheckpointId, Need, Stage, StageId, Strand};
use crate::instrument::Playing;
use crate::mark::{Level, Says};
use crate::standing::{Recheck, Rhythm, Standing};
use crate::tape::TapeStatus;

/// From this level on a checkpoint lets the next stage open.
pub const PASSES: Level = Level::Prompted;
/// From this level on a checkpoint counts as reached.
pub const REACHES: Level = Level::Alone;

/// How a stage stands.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum StageState {
    /// Waits for these.
    Shut(Vec<Need>),
    /// Being worked on.
    Open,
    /// Every required checkpoint at Alone or better.
    Reached,
    /// Every required checkpoint Lasting, and none of it due.
    Settled,
}

/// Something that wants the director's eye.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Flag {
    /// The child said that it hurts.
    Pain,
    /// A slip is being worked on.
    Slip,
    /// Tapes drifted, lost or another instrument's.
    Tape,
}

/// A stage of one child.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StageView {
    /// Which stage.
    pub stage: StageId,
    /// Its state.
    pub state: StageState,
    /// When the whole stage is looked at again; only for reached stages.
    pub recheck: Option<Recheck>,
}

/// One strand of one child: one string of the sign.
#[derive(Clone, Debug, PartialEq)]
pub struct StrandView {
    /// Which strand.
    pub strand: Strand,
    /// How far it is learned, 0 to 1.
    pub glow: f64,
    /// Whether anybody has looked at anything in it.
    pub seen: bool,
    /// The most pressing recheck in it.
    pub recheck: Option<Recheck>,
    /// What is flagged in it.
    pub flags: BTreeSet<Flag>,
}

/// Everything that follows for one child from its standings.
#[derive(Clone, Debug, PartialEq)]
pub struct Ladder {
    /// The four strings, in order.
    pub strands: [StrandView; 4],
    /// Every stage, in ladder order.
    pub stages: Vec<StageView>,
    /// The recheck of each seen checkpoint; one in a reached stage follows its stage look.
    pub rechecks: BTreeMap<CheckpointId, Recheck>,
    /// The tapes.
    pub tapes: TapeStatus,
}

impl Ladder {
    /// The mean glow of the four strings, 0 to 1: how warm the child's chair is.
    #[must_use]
    pub fn brightness(&self) -> f64 {
        self.strands.iter().map(|strand| strand.glow).sum::<f64>() / 4.0
    }
}

/// What a ladder is computed from.
#[derive(Clone, Copy, Debug)]
pub struct Outlook<'a> {
    /// The class's checklist.
    pub checklist: &'a Checklist,
    /// The class's calendar.
    pub calendar: &'a MeetingCalendar,
    /// The class's intervals.
    pub rhythm: &'a Rhythm,
    /// The number of the present meeting.
    pub now: u32,
}

impl Outlook<'_> {
    /// The ladder of a child with these standings; `exempt` checkpoints do not apply to the child.
    ///
    /// A checkpoint last looked at on an earlier instrument, where it means something else, is due from the meeting at
    /// which the instrument changed.
    #[must_use]
    pub fn ladder(
        &self,
        playing: &Playing,
        exempt: &BTreeSet<CheckpointId>,
        standings: &BTreeMap<CheckpointId, Standing>,
    ) -> Ladder {
        let tapes = TapeStatus::from_looks(self.checklist, standings, self.calendar, self.now, self.rhythm);
        let child = Child { outlook: self, playing, exempt, standings, tapes, dues: self.dues(playing, standings) };
        let stages: Vec<StageView> = self.checklist.stages().iter().map(|stage| child.stage(stage)).collect();
        let rechecks = child.rechecks(&stages);
        let strands = Strand::ALL.map(|strand| child.strand(strand, &stages, &rechecks));
        Ladder { strands, stages, rechecks, tapes }
    }
}

impl Outlook<'_> {
    /// When each checkpoint is due by itself: asked for several times, and a moment's meeting takes a while to find.
    fn dues<'a>(
        &self,
        playing: &Playing,
        standings: &'a BTreeMap<CheckpointId, Standing>,
    ) -> HashMap<&'a CheckpointId, Recheck> {
        let since = playing.since().map(|since| self.calendar.meeting_at(since));
        let due = |id: &CheckpointId, standing: &Standing| {
            let due = standing.due_at(self.calendar);
            let means_else = || {
                let wording = self.checklist.checkpoint(id.as_str()).map(|checkpoint| &checkpoint.wording);
                let then = playing.at(standing.looked_at);
                wording.is_some_and(|wording| wording.get(&then) != wording.get(&playing.now))
            };
            let asks_again = since.filter(|_| means_else());
            Recheck::at(self.now, asks_again.map_or(due, |meeting| due.min(meeting)))
        };
        standings.iter().map(|(id, standing)| (id, due(id, standing))).collect()
    }
}

struct Child<'a> {
    outlook: &'a Outlook<'a>,
    playing: &'a Playing,
    exempt: &'a BTreeSet<CheckpointId>,
    standings: &'a BTreeMap<CheckpointId, Standing>,
    tapes: TapeStatus,
    dues: HashMap<&'a CheckpointId, Recheck>,
}

impl Child<'_> {
    fn checklist(&self) -> &Checklist {
        self.outlook.checklist
    }

    fn applicable<'a>(&'a self, stage: &'a StageId) -> impl Iterator<Item = &'a Checkpoint> {
        self.checklist()
            .checkpoints_of(stage)
            .filter(|checkpoint| checkpoint.wording.contains_key(&self.playing.now))
            .filter(|checkpoint| !self.exempt.contains(&checkpoint.id))
    }

    fn required<'a>(&'a self, stage: &'a StageId) -> impl Iterator<Item = &'a Checkpoint> {
        self.applicable(stage).filter(|checkpoint| checkpoint.required)
    }

    fn level(&self, id: &CheckpointId) -> Option<Level> {
        self.standings.get(id).map(|standing| standing.level)
    }

    fn all_required_at(&self, stage: &StageId, level: Level) -> bool {
        self.required(stage).all(|checkpoint| self.level(&checkpoint.id) >= Some(level))
    }

    fn is_met(&self, need: &Need) -> bool {
        match need {
            Need::Checkpoint(id, level) => {
                let applies = self
                    .checklist()
                    .checkpoint(id.as_str())
                    .is_some_and(|checkpoint| self.applicable(&checkpoint.stage).any(|other| other.id == *id));
                !applies || self.level(id) >= Some(*level)
            }
            Need::Stage(id) => self.checklist().stage(id.as_str()).is_some_and(|stage| match stage.strand {
                Strand::Tape => self.tapes.counts_as() >= stage.number,
                Strand::Hold | Strand::Bow | Strand::Frame => self.all_required_at(&stage.id, PASSES),
            }),
        }
    }

    fn stage(&self, stage: &Stage) -> StageView {
        let recheck = match stage.strand {
            Strand::Tape => (self.tapes.state.stage() == stage.number).then_some(self.tapes.recheck).flatten(),
            Strand::Hold | Strand::Bow | Strand::Frame => {
                self.required(&stage.id).filter_map(|c| self.dues.get(&c.id).copied()).max()
            }
        };
        let reached = match stage.strand {
            Strand::Tape => self.tapes.counts_as() >= stage.number,
            Strand::Hold | Strand::Bow | Strand::Frame => self.all_required_at(&stage.id, REACHES),
        };
        if reached {
            let lasting = stage.strand == Strand::Tape || self.all_required_at(&stage.id, Level::Lasting);
            let settled = lasting && !recheck.is_some_and(Recheck::is_due);
            let how = if settled { StageState::Settled } else { StageState::Reached };
            return StageView { stage: stage.id.clone(), state: how, recheck };
        }
        let waits: Vec<Need> = stage.needs.iter().filter(|need| !self.is_met(need)).cloned().collect();
        let how = if waits.is_empty() { StageState::Open } else { StageState::Shut(waits) };
        StageView { stage: stage.id.clone(), state: how, recheck: None }
    }

    fn rechecks(&self, stages: &[StageView]) -> BTreeMap<CheckpointId, Recheck> {
        let mut rechecks = BTreeMap::new();
        for (stage, view) in self.checklist().stages().iter().zip(stages) {
            for checkpoint in self.applicable(&view.stage) {
                let Some(standing) = self.standings.get(&checkpoint.id) else { continue };
                let own = (stage.strand != Strand::Tape).then(|| self.dues[&checkpoint.id]);
                let with_stage = view.recheck.filter(|_| standing.level >= REACHES);
                rechecks.extend(with_stage.or(own).map(|recheck| (checkpoint.id.clone(), recheck)));
            }
        }
        rechecks
    }

    fn strand(&self, strand: Strand, stages: &[StageView], rechecks: &BTreeMap<CheckpointId, Recheck>) -> StrandView {
        let in_strand: Vec<(&Stage, &StageView)> =
            self.checklist().stages().iter().zip(stages).filter(|(stage, _)| stage.strand == strand).collect();
        let checkpoints: Vec<&Checkpoint> =
            in_strand.iter().flat_map(|(stage, _)| self.applicable(&stage.id)).collect();
        let looks: Vec<&Standing> = checkpoints.iter().filter_map(|c| self.standings.get(&c.id)).collect();
        let mut flags = BTreeSet::new();
        if looks.iter().any(|look| look.says == Some(Says::Hurts)) {
            flags.insert(Flag::Pain);
        }
        if strand == Strand::Tape {
            flags.extend(self.tapes.trouble.map(|_| Flag::Tape));
        } else if looks.iter().any(|look| look.slipped) {
            flags.insert(Flag::Slip);
        }
        let recheck = if strand == Strand::Tape {
            self.tapes.recheck
        } else {
            in_strand
                .iter()
                .filter(|(_, view)| !matches!(view.state, StageState::Shut(_)))
                .flat_map(|(stage, _)| self.applicable(&stage.id))
                .filter_map(|checkpoint| rechecks.get(&checkpoint.id).copied())
                .max()
        };
        let glow = if strand == Strand::Tape { self.tapes.state.glow() } else { self.glow(&checkpoints) };
        StrandView { strand, glow, seen: !looks.is_empty(), recheck, flags }
    }

    /// Levels over applicable required checkpoints, out of four each; 0 where there is none.
    fn glow(&self, checkpoints: &[&Checkpoint]) -> f64 {
        let (sum, most) = checkpoints.iter().filter(|checkpoint| checkpoint.required).fold(
            (0_u32, 0_u32),
            |(sum, most), checkpoint| {
                let level = self.level(&checkpoint.id).map_or(0, Level::number);
                (sum + u32::from(level), most + u32::from(Level::Lasting.number()))
            },
        );
        if most == 0 { 0.0 } else { f64::from(sum) / f64::from(most) }
    }
}
