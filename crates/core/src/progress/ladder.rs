//! A child's four ladders: which stages are open, how far each strand glows, what is due and what is flagged.

use crate::progress::context::ChildContext;
use crate::progress::outlook::Outlook;
use crate::progress::strand_view::{Flag, StrandView, glow};
use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};

use crate::craft::checklist::{Checklist, Need};
use crate::craft::id::{CheckpointId, StageId};
use crate::craft::instrument::Playing;
use crate::craft::level::Level;
use crate::craft::needs_by_place::NeedAt;
use crate::craft::strand::Strand;
use crate::progress::rhythm::{PASSES, REACHES, Recheck};
use crate::progress::standing::Standing;
use crate::progress::tape_status::TapeStatus;
use crate::tapes::assessment::MarkerAssessment;

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

/// A stage of one child.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StageView {
    /// Which stage.
    pub stage: StageId,
    /// Its state.
    pub state: StageState,
    /// Open only because the director opened it anyway.
    pub opened: bool,
    /// When what stands in it is looked at again; none where nothing stands, and in a shut stage.
    pub recheck: Option<Recheck>,
}

/// Everything that follows for one child from its standings.
#[derive(Clone, Debug, PartialEq)]
pub struct Ladder {
    /// The four strings, in order.
    pub strands: [StrandView; 4],
    /// Every stage, in ladder order.
    pub stages: Vec<StageView>,
    /// Whether each checkpoint of the checklist is asked of this child, in the checklist's order.
    pub(crate) asked: Vec<bool>,
    /// How each checkpoint stands, in the same order; `None` where nobody has looked.
    pub(crate) levels: Vec<Option<Level>>,
    /// Checkpoints that were looked at time and again without rising, the last time at the last visit: the next visit leaves
    /// them for something else.
    pub set_aside: BTreeSet<CheckpointId>,
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

impl Outlook<'_> {
    /// The ladder of a child with these standings and context.
    ///
    /// A checkpoint last looked at on an earlier instrument, where it means something else, is due from the meeting at
    /// which the instrument changed. One that the approach asks for again after a stage is due from the meeting at which
    /// that stage was passed.
    #[must_use]
    pub fn ladder(
        &self,
        playing: &Playing,
        context: &ChildContext,
        standings: &BTreeMap<CheckpointId, Standing>,
    ) -> Ladder {
        let checkpoints = self.checklist.checkpoints();
        let mut seen: Vec<Option<&Standing>> = vec![None; checkpoints.len()];
        for (id, standing) in standings {
            if let Some(place) = self.checklist.place(id.as_str()) {
                seen[place] = Some(standing);
            }
        }
        let mut applies = self.checklist.asked_on(playing.now).to_vec();
        for place in context.exempt.iter().filter_map(|id| self.checklist.place(id.as_str())) {
            applies[place] = false;
        }
        let tape_stages = self.checklist.stages().iter().enumerate().filter(|(_, stage)| stage.strand == Strand::Tape);
        let looks = tape_stages.flat_map(|(place, stage)| {
            let here = self.checklist.places_of(place).filter_map(|place| seen[place]);
            here.map(|look| (stage.number, look))
        });
        let tapes = TapeStatus::of_looks(self, looks.collect(), context);
        let child = Child { outlook: self, playing, context, seen, applies, tapes };
        let stages: Vec<StageView> = (0..self.checklist.stages().len()).map(|stage| child.stage(stage)).collect();
        let strands = Strand::ALL.map(|strand| child.strand(strand, &stages));
        let levels = child.seen.iter().map(|seen| seen.map(|standing| standing.level)).collect();
        Ladder { strands, stages, asked: child.applies, levels, set_aside: self.set_aside(standings), tapes }
    }

    fn set_aside(&self, standings: &BTreeMap<CheckpointId, Standing>) -> BTreeSet<CheckpointId> {
        let meeting = |standing: &Standing| standing.visited_at.map(|at| self.calendar.meeting_at(at));
        let resting = || standings.iter().filter(|(_, standing)| standing.rests());
        if resting().next().is_none() {
            return BTreeSet::new();
        }
        let last = standings.values().max_by_key(|standing| standing.visited_at).and_then(meeting);
        resting().filter(|(_, standing)| meeting(standing) == last).map(|(id, _)| id.clone()).collect()
    }
}

/// A child while its ladder is built. Checkpoints and stages are known by their places: each is asked for many times.
struct Child<'a> {
    outlook: &'a Outlook<'a>,
    playing: &'a Playing,
    context: &'a ChildContext,
    /// How each checkpoint stands.
    seen: Vec<Option<&'a Standing>>,
    /// Whether each checkpoint is asked of this child.
    applies: Vec<bool>,
    tapes: TapeStatus,
}

impl<'a> Child<'a> {
    fn checklist(&self) -> &'a Checklist {
        self.outlook.checklist
    }

    /// The meeting at which what stands at a place is due again; `None` below Alone.
    fn due(&self, place: usize) -> Option<u32> {
        let standing = self.seen[place].filter(|standing| standing.level >= REACHES)?;
        let checkpoint = &self.checklist().checkpoints()[place];
        let calendar = self.outlook.calendar;
        let usual = standing.due_at(calendar)?;
        let means_else = |_: &DateTime<Utc>| {
            let then = self.playing.at(standing.looked_at);
            checkpoint.wording.get(&then) != checkpoint.wording.get(&self.playing.now)
        };
        let other_instrument = self.playing.since().filter(means_else);
        let again = self.asked_again_at(&checkpoint.id).filter(|passed| standing.looked_at < *passed);
        let sooner = [other_instrument, again].into_iter().flatten().map(|moment| calendar.meeting_at(moment));
        Some(sooner.fold(usual, u32::min))
    }

    /// When the stage was passed after which this checkpoint is asked for again.
    fn asked_again_at(&self, id: &CheckpointId) -> Option<DateTime<Utc>> {
        let mut asked = self.checklist().asked_again().iter();
        let asked =
            asked.find(|asked| asked.instruments.contains(&self.playing.now) && asked.checkpoints.contains(id))?;
        let stage = self.checklist().stage_place(&asked.after)?;
        let passed = |place: usize| self.seen[place]?.passed_at;
        self.required(stage).map(passed).collect::<Option<Vec<_>>>()?.into_iter().max()
    }

    /// The places of the checkpoints of a stage that are asked of this child.
    fn applicable(&self, stage: usize) -> impl Iterator<Item = usize> {
        self.checklist().places_of(stage).filter(|place| self.applies[*place])
    }

    fn required(&self, stage: usize) -> impl Iterator<Item = usize> {
        self.applicable(stage).filter(|place| self.checklist().checkpoints()[*place].required)
    }

    fn level(&self, place: usize) -> Option<Level> {
        self.seen[place].map(|standing| standing.level)
    }

    fn all_required_at(&self, stage: usize, level: Level) -> bool {
        self.required(stage).all(|place| self.level(place) >= Some(level))
    }

    fn is_met(&self, need: NeedAt) -> bool {
        match need {
            NeedAt::Checkpoint(place, level) => {
                let place = place.filter(|(place, _)| self.applies[*place]);
                place.is_none_or(|(place, _)| self.level(place) >= Some(level))
            }
            NeedAt::Stage(place) => {
                let Some(place) = place else { return false };
                let stage = &self.checklist().stages()[place];
                match stage.strand {
                    Strand::Tape => self.tapes.counts_as() >= stage.number,
                    Strand::Hold | Strand::Bow | Strand::Frame => self.all_required_at(place, PASSES),
                }
            }
        }
    }

    fn stage(&self, place: usize) -> StageView {
        let stage = &self.checklist().stages()[place];
        let reached = match stage.strand {
            Strand::Tape => self.tapes.counts_as() >= stage.number,
            Strand::Hold | Strand::Bow | Strand::Frame => self.all_required_at(place, REACHES),
        };
        if reached {
            let recheck = self.stage_recheck(place, false);
            let lasting = stage.strand == Strand::Tape || self.all_required_at(place, Level::Lasting);
            let settled = lasting && !recheck.is_some_and(Recheck::is_due);
            let how = if settled { StageState::Settled } else { StageState::Reached };
            return StageView { stage: stage.id.clone(), state: how, opened: false, recheck };
        }
        let needs = stage.needs(self.playing.now).iter().zip(self.checklist().needs_at(place, self.playing.now));
        let waits: Vec<Need> = needs.filter(|(_, at)| !self.is_met(**at)).map(|(need, _)| need.clone()).collect();
        let opened = !waits.is_empty() && self.context.opened.contains(&stage.id);
        if waits.is_empty() || opened {
            let recheck = self.stage_recheck(place, true);
            return StageView { stage: stage.id.clone(), state: StageState::Open, opened, recheck };
        }
        StageView { stage: stage.id.clone(), state: StageState::Shut(waits), opened: false, recheck: None }
    }

    /// When what stands in a stage is looked at again: of a reached stage by what it requires, of an open one by everything
    /// that stands in it.
    fn stage_recheck(&self, place: usize, open: bool) -> Option<Recheck> {
        let stage = &self.checklist().stages()[place];
        if stage.strand == Strand::Tape {
            return (self.tapes.state.stage() == stage.number).then_some(self.tapes.recheck).flatten();
        }
        let counts = |place: &usize| open || self.checklist().checkpoints()[*place].required;
        let first = self.applicable(place).filter(counts).filter_map(|place| self.due(place)).min()?;
        Some(Recheck::at(self.outlook.now, first))
    }

    fn strand(&self, strand: Strand, stages: &[StageView]) -> StrandView {
        let stages_with_views = || self.checklist().stages().iter().zip(stages).enumerate();
        let in_strand = || stages_with_views().filter(move |(_, (stage, _))| stage.strand == strand);
        let looks = || in_strand().flat_map(|(index, _)| self.applicable(index)).filter_map(|place| self.seen[place]);
        let mut flags = BTreeSet::new();
        if self.context.pain.iter().any(|target| self.checklist().strand_of_target(target) == Some(strand)) {
            flags.insert(Flag::Pain);
        }
        if strand == Strand::Tape {
            flags.extend(self.tapes.trouble.map(|_| Flag::Tape));
        } else if looks().any(|look| look.slipped) {
            flags.insert(Flag::Slip);
        }
        let recheck = if strand == Strand::Tape {
            self.tapes.recheck
        } else {
            in_strand().filter_map(|(_, (_, view))| view.recheck).max()
        };
        let glow = if strand == Strand::Tape {
            self.tapes.state.glow()
        } else {
            glow(in_strand().flat_map(|(index, _)| self.required(index)).map(|place| self.level(place)))
        };
        let logged = strand == Strand::Tape
            && (self.checklist().is_bare()
                || self.context.tapes.as_ref().is_some_and(MarkerAssessment::says_something));
        let seen = logged || looks().next().is_some();
        let open = in_strand().any(|(_, (_, view))| view.state == StageState::Open);
        StrandView { strand, glow, seen, in_work: seen && open, recheck, flags }
    }
}
