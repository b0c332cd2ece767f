//! What a child's ladder says when a meeting begins, as far as a play asks.

use crate::craft::checklist::Checklist;
use crate::craft::id::Target;
use crate::craft::strand::Strand;
use crate::progress::ladder::{Ladder, StageState};
use crate::progress::next::SOON;
use crate::progress::rhythm::Recheck;
use crate::round::planner::PlanCheck;

/// One thing to look at.
#[derive(Clone, Debug)]
pub(super) struct Wanted {
    /// What.
    pub(super) target: Target,
    /// How the planner sees it.
    pub(super) plan: PlanCheck,
}

/// What a player's ladder says when a meeting begins, as far as a play asks.
#[derive(Clone, Debug, Default)]
pub(super) struct Reading {
    /// Whether each stage is worked on: not shut, and no tape stage.
    pub(super) open: Vec<bool>,
    /// Whether each stage is reached.
    pub(super) reached: Vec<bool>,
    /// What could be looked at, in order.
    pub(super) wanted: Vec<Wanted>,
    /// Strands of which something is due.
    pub(super) due: usize,
    /// By how many meetings each look is late that is.
    pub(super) late: Vec<u32>,
    /// The last meeting at which this is so if nobody looks.
    pub(super) until: u32,
}

impl Reading {
    pub(super) fn of(checklist: &Checklist, ladder: &Ladder, wanted: Vec<Wanted>, now: u32) -> Self {
        let stages = || checklist.stages().iter().zip(&ladder.stages);
        let not_shut =
            stages().map(|(stage, view)| stage.strand != Strand::Tape && !matches!(view.state, StageState::Shut(_)));
        let reached = ladder.stages.iter().map(|view| matches!(view.state, StageState::Reached | StageState::Settled));
        let rechecks = || ladder.stages.iter().filter_map(|view| view.recheck);
        let late = ladder.stages.iter().filter_map(|view| view.recheck?.late());
        let fresh_for = rechecks().map(|recheck| match recheck {
            Recheck::Fresh(meetings) => meetings.saturating_sub(SOON + 1),
            Recheck::Due | Recheck::Overdue(_) => 0,
        });
        Self {
            open: not_shut.collect(),
            reached: reached.collect(),
            due: ladder.strands.iter().filter(|view| view.recheck.is_some_and(Recheck::is_due)).count(),
            late: late.collect(),
            // With nothing on the list it counts how long the child was not seen.
            until: now + if wanted.is_empty() { 0 } else { fresh_for.min().unwrap_or(u32::MAX - now) },
            wanted,
        }
    }
}
