//! What a round could look at: a child's next checks in their order, each with its points, and whether a look from afar could
//! settle it. [`crate::round::planner`] takes the beginning of each child's list.

use crate::craft::id::{CheckpointId, Target};
use crate::craft::strand::Strand;
use crate::progress::ladder::StageState;
use crate::progress::next::{InWork, NextCheck, Order, Reason};
use crate::progress::pupil::Pupil;
use crate::progress::rhythm::REACHES;

/// Points where the child said that it hurts.
pub const PAIN: u32 = 100;
/// Points of tapes in trouble.
pub const TAPES: u32 = 60;
/// Points of what is amiss and comes from nothing else that is.
pub const ROOT: u32 = 50;
/// More for each slip that it leads to.
pub const ROOT_EACH: u32 = 10;
/// Points of a look at what stands that is due, or due soon.
pub const DUE: u32 = 50;
/// More for each meeting that it is late.
pub const LATE_EACH: u32 = 4;
/// A look that is late has no more than this.
pub const MAX_DUE: u32 = 80;
/// Points of something in work that keeps the next stage shut.
pub const OPENS: u32 = 35;
/// Points of something else in work that its stage requires.
pub const REQUIRED: u32 = 20;
/// Points of something in work that its stage does not require.
pub const OPTIONAL: u32 = 10;
/// More for what the director pinned.
pub const PINNED: u32 = 20;
/// Points of a visit for each meeting since the last one.
pub const VISIT_EACH: u32 = 3;
/// A visit has no more than this.
pub const MAX_VISIT_POINTS: u32 = 45;

/// One thing that could be looked at.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Check {
    /// What, why, and for how long.
    pub next: NextCheck,
    /// What it is worth, without pins.
    pub points: u32,
    /// Whether a scan from afar could settle it.
    pub by_scan: bool,
}

impl Check {
    /// What is looked at.
    #[must_use]
    pub fn target(&self) -> &Target {
        &self.next.target
    }
}

/// What a check is worth, by its reason.
#[must_use]
pub fn points(reason: &Reason) -> u32 {
    match reason {
        Reason::Hurts => PAIN,
        Reason::Tapes(_) => TAPES,
        Reason::Root(effects) => {
            let effects = u32::try_from(effects.len()).unwrap_or(u32::MAX);
            ROOT.saturating_add(ROOT_EACH.saturating_mul(effects))
        }
        Reason::Due(late) => DUE.saturating_add(LATE_EACH.saturating_mul(*late)).min(MAX_DUE),
        Reason::Soon => DUE,
        Reason::InWork { how: InWork::Opens, .. } => OPENS,
        Reason::InWork { how: InWork::Required, .. } => REQUIRED,
        Reason::InWork { how: InWork::Optional, .. } => OPTIONAL,
        Reason::MustSee => 0,
    }
}

/// What a visit is worth beside its checks.
#[must_use]
pub fn visit_points(meetings_unseen: u32) -> u32 {
    meetings_unseen.saturating_mul(VISIT_EACH).min(MAX_VISIT_POINTS)
}

impl Pupil<'_> {
    /// The child's next checks with their points.
    ///
    /// A child that must be seen always has something: where nothing is in work or due, the stage that is due next.
    #[must_use]
    pub fn checks(&self, order: Order, must_see: bool) -> Vec<Check> {
        self.first_checks(order, must_see, usize::MAX)
    }

    /// The first so many of [`Self::checks`].
    #[must_use]
    pub fn first_checks(&self, order: Order, must_see: bool, most: usize) -> Vec<Check> {
        let mut next = self.first_next(order, most);
        if must_see && next.is_empty() {
            next.extend(self.next_stage());
        }
        let check = |next: NextCheck| Check { points: points(&next.reason), by_scan: self.by_scan(&next), next };
        next.into_iter().map(check).collect()
    }

    /// Whether a look from afar could settle it: a look at what stands in a stage whose required checkpoints can all be seen
    /// from afar.
    fn by_scan(&self, next: &NextCheck) -> bool {
        let (Reason::Due(_) | Reason::Soon | Reason::MustSee, Target::Stage(stage)) = (&next.reason, &next.target)
        else {
            return false;
        };
        self.asked(stage).filter(|checkpoint| checkpoint.required).all(|checkpoint| checkpoint.far)
    }

    /// The stage that is due next.
    fn next_stage(&self) -> Option<NextCheck> {
        let standing = self.stages().filter(|(stage, view)| stage.strand != Strand::Tape && view.recheck.is_some());
        // Of equals the first.
        let (stage, _) = standing.collect::<Vec<_>>().into_iter().rev().max_by_key(|(_, view)| view.recheck)?;
        self.check(Target::Stage(stage.id.clone()), None, Reason::MustSee)
    }

    /// Whether a scan of `target` from afar speaks of this child at all: something stands there at Alone or better.
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
