//! What could be looked at in a round: for one child, and for a row or a section at once.
//!
//! The checks of a child are what is open and not there yet, what is due in stages not yet reached, stages that are due as a
//! whole, and a short look at the tapes where they are due or in trouble. Each has seconds and points; [`crate::round::planner`]
//! chooses among them.

use std::collections::{BTreeMap, BTreeSet};

use crate::craft::cause_graph::Node;
use crate::craft::checklist::{Checkpoint, Stage};
use crate::craft::id::Target;
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::ladder::{StageState, StageView};
use crate::progress::pupil::Pupil;
use crate::progress::rhythm::{REACHES, Recheck};
use crate::tapes::status::{TapeState, TapeTrouble};

/// Points of an overdue look.
pub const OVERDUE: u32 = 40;
/// More for each meeting that it is late.
pub const OVERDUE_EACH: u32 = 4;
/// An overdue look has no more than this.
pub const MAX_OVERDUE_POINTS: u32 = 80;
/// Points of a look that is due.
pub const DUE: u32 = 30;
/// Points of something open that nobody has looked at.
pub const UNSEEN: u32 = 25;
/// Points of something open below Alone that is not due yet.
pub const BELOW: u32 = 12;
/// More where a slip ticked there leads to another of the child's.
pub const LEADS: u32 = 15;
/// More for what the director pinned.
pub const PINNED: u32 = 20;
/// More for tapes in trouble.
pub const TROUBLE: u32 = 25;
/// Points of a visit for each meeting since the last one.
pub const VISIT_EACH: u32 = 3;
/// A visit has no more than this.
pub const MAX_VISIT_POINTS: u32 = 45;
/// Seconds of a look at the tapes.
pub const TAPE_SECONDS: u32 = 10;
/// Why something is worth a look.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Why {
    /// It should have been looked at so many meetings ago.
    Overdue(u32),
    /// It is due.
    Due,
    /// Nobody has looked yet.
    Unseen,
    /// It is being learned and stands at this level.
    Below(Level),
    /// Slips ticked there lead to others.
    Leads(BTreeSet<SlipId>),
    /// The tapes cannot be relied on.
    Tapes(TapeTrouble),
    /// Nothing is due, but the child must be seen.
    MustSee,
}

/// One thing that could be looked at.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Check {
    /// A checkpoint or a whole stage.
    pub target: Target,
    /// Seconds it takes.
    pub seconds: u32,
    /// What it is worth, without pins.
    pub points: u32,
    /// Why, the main reason first.
    pub why: Vec<Why>,
    /// Whether a scan from afar could settle it.
    pub by_scan: bool,
}

/// What a visit is worth beside its checks.
#[must_use]
pub fn visit_points(meetings_unseen: u32) -> u32 {
    meetings_unseen.saturating_mul(VISIT_EACH).min(MAX_VISIT_POINTS)
}

fn due(recheck: Option<Recheck>) -> Option<(u32, Why)> {
    match recheck? {
        Recheck::Fresh(_) => None,
        Recheck::Due => Some((DUE, Why::Due)),
        Recheck::Overdue(meetings) => {
            let late = meetings.saturating_mul(OVERDUE_EACH);
            Some((OVERDUE.saturating_add(late).min(MAX_OVERDUE_POINTS), Why::Overdue(meetings)))
        }
    }
}

impl Pupil<'_> {
    /// What could be looked at, in the order of the ladder; a stage before its checkpoints, the tapes last.
    ///
    /// A child that must be seen always has something: where nothing is open or due, the stage that is due next, for no
    /// points.
    #[must_use]
    pub fn checks(&self, must_see: bool) -> Vec<Check> {
        let open = self.open_to_work();
        let amiss = self.amiss(&open);
        let mut found = Vec::new();
        for (stage, view) in self.checklist.stages().iter().zip(&self.ladder.stages) {
            if stage.strand == Strand::Tape || matches!(view.state, StageState::Shut(_)) {
                continue;
            }
            found.extend(self.stage_check(stage, view));
            let reached = view.state != StageState::Open;
            found.extend(
                self.asked(&stage.id).filter_map(|checkpoint| self.checkpoint_check(checkpoint, reached, &amiss)),
            );
        }
        found.extend(self.tape_check());
        if must_see && found.is_empty() {
            found.extend(self.next_stage_check());
        }
        found
    }

    /// The reached stage that is due next.
    fn next_stage_check(&self) -> Option<Check> {
        let reached = self.checklist.stages().iter().zip(&self.ladder.stages);
        let reached = reached.filter(|(stage, view)| {
            stage.strand != Strand::Tape && matches!(view.state, StageState::Reached | StageState::Settled)
        });
        // Of equals the first.
        let (stage, _) = reached.rev().max_by_key(|(_, view)| view.recheck)?;
        let target = Target::Stage(stage.id.clone());
        Some(Check { target, seconds: stage.seconds, points: 0, why: vec![Why::MustSee], by_scan: false })
    }

    fn stage_check(&self, stage: &Stage, view: &StageView) -> Option<Check> {
        if view.state == StageState::Open {
            return None;
        }
        let (points, why) = due(view.recheck)?;
        let by_scan = self.asked(&stage.id).filter(|checkpoint| checkpoint.required).all(|checkpoint| checkpoint.far);
        let target = Target::Stage(stage.id.clone());
        Some(Check { target, seconds: stage.seconds, points, why: vec![why], by_scan })
    }

    fn checkpoint_check(
        &self,
        checkpoint: &Checkpoint,
        reached: bool,
        amiss: &BTreeMap<Node, chrono::DateTime<chrono::Utc>>,
    ) -> Option<Check> {
        let standing = self.standings.get(&checkpoint.id);
        let there = standing.is_some_and(|standing| standing.level >= REACHES);
        if reached && there {
            return None;
        }
        let recheck = self.ladder.rechecks.get(&checkpoint.id).copied();
        let (mut points, why) = match standing {
            None => (UNSEEN, Why::Unseen),
            Some(_) if there => due(recheck)?,
            Some(standing) => due(recheck).unwrap_or((BELOW, Why::Below(standing.level))),
        };
        let mut why = vec![why];
        let slips = standing.iter().flat_map(|standing| &standing.slips);
        let leads: BTreeSet<SlipId> = slips.flat_map(|slip| self.effects(&Node::Slip(slip.clone()), amiss)).collect();
        if !leads.is_empty() {
            points += LEADS;
            why.push(Why::Leads(leads));
        }
        let target = Target::Checkpoint(checkpoint.id.clone());
        Some(Check { target, seconds: checkpoint.seconds, points, why, by_scan: checkpoint.far && there })
    }

    /// Ten seconds: still there, still true?
    fn tape_check(&self) -> Option<Check> {
        let tapes = self.ladder.tapes;
        let due = due(tapes.recheck);
        let stage = match (tapes.trouble, tapes.state) {
            (Some(TapeTrouble::WrongInstrument), _) => 1,
            (Some(TapeTrouble::LooseOrMissing), _) | (None, TapeState::Placed) => 2,
            (Some(TapeTrouble::Drifted), _) | (None, TapeState::Heard | TapeState::Holding) => 4,
            (None, TapeState::Thinning) => 5,
            (None, TapeState::NotMeasured | TapeState::ReadyToPlace | TapeState::Bare | TapeState::NoneByChoice) => {
                return None;
            }
        };
        let (points, why) = match (due, tapes.trouble) {
            (due, Some(trouble)) => {
                let (points, why) = due.map_or((BELOW, None), |(points, why)| (points, Some(why)));
                (points + TROUBLE, [Some(Why::Tapes(trouble)), why].into_iter().flatten().collect())
            }
            (Some((points, why)), None) => (points, vec![why]),
            (None, None) => return None,
        };
        let stage = self.checklist.stages_of(Strand::Tape).find(|known| known.number == stage)?;
        let checkpoint = self.asked(&stage.id).next()?;
        let target = Target::Checkpoint(checkpoint.id.clone());
        Some(Check { target, seconds: TAPE_SECONDS, points, why, by_scan: false })
    }

    /// Whether a scan of `target` from afar speaks of this child at all: it stands there at Alone or better.
    #[must_use]
    pub fn can_be_scanned(&self, target: &Target) -> bool {
        let there = |id: &CheckpointId| self.standings.get(id).is_some_and(|standing| standing.level >= REACHES);
        match target {
            Target::Checkpoint(id) => there(id),
            Target::Stage(id) => {
                let view = self.ladder.stages.iter().find(|view| view.stage == *id);
                view.is_some_and(|view| matches!(view.state, StageState::Reached | StageState::Settled))
            }
        }
    }
}
