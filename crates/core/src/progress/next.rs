//! Three items at most: what a child works on next, each with its reason.
//!
//! Order: pain; trouble with the tapes; what leads to other slips of the child; then in turn the earliest open stage of the
//! strand that the approach puts first, what is most overdue, and the latest slip; then the next of each. Two items never
//! come from the same cause, and a cause never stands beside its own effect.

use crate::progress::pupil::Pupil;
use std::cmp::Reverse;
use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::craft::approach::{Approach, Choices, ORDER};
use crate::craft::cause_graph::Node;
use crate::craft::checklist::Checkpoint;
use crate::craft::id::Target;
use crate::craft::id::{CheckpointId, SlipId, StageId};
use crate::craft::strand::Strand;
use crate::progress::ladder::StageState;
use crate::progress::rhythm::Recheck;
use crate::tapes::status::TapeTrouble;

/// Never more than so many items.
pub const MAX_NEXT: usize = 3;

/// Which hand comes first in what is suggested.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum Order {
    /// The strand whose open stage is lowest.
    SideBySide,
    /// The bow hand.
    BowFirst,
    /// The left hand.
    LeftHandFirst,
}

impl Order {
    /// The order a class has chosen.
    #[must_use]
    pub fn of(approach: &Approach, choices: &Choices) -> Self {
        match approach.chosen(ORDER, choices).map(|option| option.id.as_str()) {
            Some("bow-first") => Self::BowFirst,
            Some("left-hand-first") => Self::LeftHandFirst,
            _ => Self::SideBySide,
        }
    }

    const fn strands(self) -> [Strand; 4] {
        match self {
            Self::SideBySide => Strand::ALL,
            Self::BowFirst => [Strand::Bow, Strand::Hold, Strand::Frame, Strand::Tape],
            Self::LeftHandFirst => [Strand::Frame, Strand::Hold, Strand::Tape, Strand::Bow],
        }
    }
}

/// What to do something about.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum WorkItem {
    /// Stop and ask: the child said that it hurts.
    Pain(Target),
    /// Put the tapes right.
    Tapes(TapeTrouble),
    /// Work on a checkpoint, and there on a slip if one was ticked.
    Checkpoint(CheckpointId, Option<SlipId>),
    /// Look at a whole stage again.
    Stage(StageId),
}

/// Why.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Reason {
    /// The child said that it hurts.
    Hurts,
    /// The markers cannot be relied on.
    TapeTrouble,
    /// It leads to these slips, ticked as well.
    LeadsTo(BTreeSet<SlipId>),
    /// It is next in an open stage.
    Next(StageId),
    /// It should have been looked at so many meetings ago.
    Overdue(u32),
    /// It slipped at the last look.
    Slipped,
}

/// One of the next items.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NextItem {
    /// What.
    pub work: WorkItem,
    /// Why.
    pub reason: Reason,
    /// Where its slip often comes from: to look at first.
    pub often_from: Vec<Node>,
}

struct Candidate {
    work: WorkItem,
    node: Option<Node>,
    reason: Reason,
}

impl Pupil<'_> {
    /// The next items to work on, `most` of them or fewer, never more than [`MAX_NEXT`].
    #[must_use]
    pub fn next(&self, order: Order, most: usize) -> Vec<NextItem> {
        let open = self.open_to_work();
        let amiss = self.amiss(&open);
        let mut items: Vec<NextItem> = Vec::new();
        let mut taken: Vec<Node> = Vec::new();
        for candidate in self.candidates(order, &open, &amiss) {
            if items.len() == most.min(MAX_NEXT) {
                break;
            }
            let clashes = |node: &Node| taken.iter().any(|other| self.clash(node, other));
            let same = items.iter().any(|item| same_place(&item.work, &candidate.work));
            if same || candidate.node.as_ref().is_some_and(clashes) {
                continue;
            }
            let often_from = candidate.node.iter().flat_map(|node| self.causes.straight_to(self.instrument, node));
            let often_from = often_from.filter(|from| !matches!(from, Node::Symptom(_))).cloned().collect();
            taken.extend(candidate.node);
            items.push(NextItem { work: candidate.work, reason: candidate.reason, often_from });
        }
        items
    }

    /// Whether two nodes should not stand side by side: one leads to the other, or both come from the same.
    fn clash(&self, one: &Node, other: &Node) -> bool {
        one == other
            || self.causes.leads(self.instrument, one, other)
            || self.causes.leads(self.instrument, other, one)
            || self.causes.share_origin(self.instrument, one, other)
    }

    fn candidates(
        &self,
        order: Order,
        open: &BTreeSet<&CheckpointId>,
        amiss: &BTreeMap<Node, DateTime<Utc>>,
    ) -> Vec<Candidate> {
        let pain = self.context.pain.iter().map(|target| Candidate {
            work: WorkItem::Pain(target.clone()),
            node: None,
            reason: Reason::Hurts,
        });
        let trouble = self.ladder.tapes.trouble.map(|trouble| Candidate {
            work: WorkItem::Tapes(trouble),
            node: None,
            reason: Reason::TapeTrouble,
        });
        let roots = self.roots(amiss);
        let mut in_turn =
            [self.next_on_ladder(order, amiss), self.overdue(open), self.slipped(&roots)].map(Vec::into_iter);
        let mut candidates: Vec<Candidate> = pain.chain(trouble).chain(self.leading(&roots, amiss)).collect();
        loop {
            let before = candidates.len();
            candidates.extend(in_turn.iter_mut().filter_map(Iterator::next));
            if candidates.len() == before {
                return candidates;
            }
        }
    }

    /// Work on a node: a slip on its checkpoint, or a checkpoint with the first slip ticked there.
    fn work(&self, node: &Node) -> Option<(WorkItem, Node)> {
        match node {
            Node::Slip(slip) => {
                let checkpoint = self.checklist.slip(slip.as_str())?.checkpoint.clone();
                Some((WorkItem::Checkpoint(checkpoint, Some(slip.clone())), node.clone()))
            }
            Node::Checkpoint(id) => {
                let slip = self.standings.get(id).and_then(|standing| standing.slips.first().cloned());
                let node = slip.clone().map_or_else(|| node.clone(), Node::Slip);
                Some((WorkItem::Checkpoint(id.clone(), slip), node))
            }
            Node::Symptom(_) => None,
        }
    }

    /// Roots that lead to slips, most of them first, the latest first among equals.
    fn leading(&self, roots: &[(&Node, DateTime<Utc>)], amiss: &BTreeMap<Node, DateTime<Utc>>) -> Vec<Candidate> {
        let with_effects = roots.iter().map(|(node, at)| (*node, *at, self.effects(node, amiss)));
        let mut leading: Vec<_> = with_effects.filter(|(.., effects)| !effects.is_empty()).collect();
        leading.sort_by_key(|(node, at, effects)| (Reverse(effects.len()), Reverse(*at), (*node).clone()));
        let candidate = |(node, _, effects): (&Node, _, _)| {
            let (work, node) = self.work(node)?;
            Some(Candidate { work, node: Some(node), reason: Reason::LeadsTo(effects) })
        };
        leading.into_iter().filter_map(candidate).collect()
    }

    /// The first checkpoint below Alone in the earliest open stage of each strand, in the approach's order.
    fn next_on_ladder(&self, order: Order, amiss: &BTreeMap<Node, DateTime<Utc>>) -> Vec<Candidate> {
        let earliest = |strand: Strand| {
            self.stages().filter(|(stage, view)| stage.strand == strand && view.state == StageState::Open).find_map(
                |(stage, _)| {
                    let below: Vec<&Checkpoint> = self.asked(&stage.id).filter(|c| self.below(&c.id)).collect();
                    let free = below.iter().filter(|c| !self.comes_from_amiss(&c.id, amiss));
                    let first = free.clone().find(|c| c.required).or_else(|| free.clone().next())?;
                    Some((stage, first.id.clone()))
                },
            )
        };
        let mut found: Vec<_> = order.strands().into_iter().filter_map(earliest).collect();
        if order == Order::SideBySide {
            found.sort_by_key(|(stage, _)| stage.number);
        }
        let candidate = |(stage, id): (&crate::craft::checklist::Stage, CheckpointId)| {
            let (work, node) = self.work(&Node::Checkpoint(id))?;
            Some(Candidate { work, node: Some(node), reason: Reason::Next(stage.id.clone()) })
        };
        found.into_iter().filter_map(candidate).collect()
    }

    /// Whether the slip ticked on a checkpoint comes from something else that is amiss.
    fn comes_from_amiss(&self, id: &CheckpointId, amiss: &BTreeMap<Node, DateTime<Utc>>) -> bool {
        let Some((_, node)) = self.work(&Node::Checkpoint(id.clone())) else { return false };
        self.causes.origins(self.instrument, &node).any(|from| amiss.contains_key(from))
    }

    /// Whole stages and checkpoints that should have been looked at before, the longest wait first.
    fn overdue(&self, open: &BTreeSet<&CheckpointId>) -> Vec<Candidate> {
        let late = |recheck: Option<Recheck>| match recheck {
            Some(Recheck::Overdue(meetings)) => Some(meetings),
            _ => None,
        };
        let stages = self.stages().filter(|(stage, view)| {
            stage.strand != Strand::Tape && matches!(view.state, StageState::Reached | StageState::Settled)
        });
        let stages =
            stages.filter_map(|(stage, view)| Some((late(view.recheck)?, WorkItem::Stage(stage.id.clone()), None)));
        let checkpoints = self.ladder.rechecks.iter().filter(|(id, _)| open.contains(id) && self.below(id));
        let checkpoints = checkpoints.filter_map(|(id, recheck)| {
            let (work, node) = self.work(&Node::Checkpoint(id.clone()))?;
            Some((late(Some(*recheck))?, work, Some(node)))
        });
        let mut overdue: Vec<_> = stages.chain(checkpoints).collect();
        overdue.sort_by_key(|(meetings, ..)| Reverse(*meetings));
        let candidate = |(meetings, work, node)| Candidate { work, node, reason: Reason::Overdue(meetings) };
        overdue.into_iter().map(candidate).collect()
    }

    /// Slips that come from nothing else, the latest first.
    fn slipped(&self, roots: &[(&Node, DateTime<Utc>)]) -> Vec<Candidate> {
        let mut slips: Vec<_> = roots.iter().filter(|(node, _)| matches!(node, Node::Slip(_))).collect();
        slips.sort_by_key(|(_, at)| Reverse(*at));
        let candidate = |(node, _): &(&Node, _)| {
            let (work, node) = self.work(node)?;
            Some(Candidate { work, node: Some(node), reason: Reason::Slipped })
        };
        slips.into_iter().filter_map(candidate).collect()
    }
}

/// Whether two pieces of work are at the same checkpoint.
fn same_place(one: &WorkItem, other: &WorkItem) -> bool {
    let place = |work: &WorkItem| match work {
        WorkItem::Pain(target) => Some(target.id().to_owned()),
        WorkItem::Checkpoint(id, _) => Some(id.to_string()),
        WorkItem::Stage(id) => Some(id.to_string()),
        WorkItem::Tapes(_) => None,
    };
    one == other || place(one).is_some() && place(one) == place(other)
}
