//! The list of a child's next checks while it is made: each target once, and among what is amiss never a cause beside its own
//! effect.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};

use crate::craft::cause_graph::Node;
use crate::craft::id::{CheckpointId, SlipId, Target};
use crate::progress::next::{NextCheck, Reason};
use crate::progress::pupil::Pupil;

/// What a check works on, in the graph of causes.
pub(super) fn node(target: &Target, slip: Option<&SlipId>) -> Option<Node> {
    match (target, slip) {
        (_, Some(slip)) => Some(Node::Slip(slip.clone())),
        (Target::Checkpoint(id), None) => Some(Node::Checkpoint(id.clone())),
        (Target::Stage(_), None) => None,
    }
}

impl Pupil<'_> {
    /// Whether two nodes should not stand side by side: one leads to the other, or both come from the same.
    fn clash(&self, one: &Node, other: &Node) -> bool {
        one == other
            || self.causes.leads(self.instrument, one, other)
            || self.causes.leads(self.instrument, other, one)
            || self.causes.share_origin(self.instrument, one, other)
    }
}

/// A list while it is made.
#[derive(Default)]
pub(super) struct List {
    checks: Vec<NextCheck>,
    /// What of it is amiss.
    taken: Vec<Node>,
}

impl List {
    /// Adds a check unless its target is there, or it is amiss and clashes with what is there. Whether it did.
    pub(super) fn add(&mut self, pupil: &Pupil<'_>, check: NextCheck, amiss: &BTreeMap<Node, DateTime<Utc>>) -> bool {
        if self.checks.iter().any(|known| known.target == check.target) {
            return false;
        }
        let of_pain = check.reason == Reason::Hurts;
        let node = node(&check.target, check.slip.as_ref()).filter(|node| amiss.contains_key(node) && !of_pain);
        if node.as_ref().is_some_and(|node| self.taken.iter().any(|other| pupil.clash(node, other))) {
            return false;
        }
        self.taken.extend(node);
        self.checks.push(check);
        true
    }

    /// How many there are.
    pub(super) fn len(&self) -> usize {
        self.checks.len()
    }

    /// Adds the first of these that can be.
    pub(super) fn add_next(
        &mut self,
        pupil: &Pupil<'_>,
        checks: &mut impl Iterator<Item = NextCheck>,
        amiss: &BTreeMap<Node, DateTime<Utc>>,
    ) -> bool {
        checks.any(|check| self.add(pupil, check, amiss))
    }

    /// The list with each that is set aside behind the next in work after it.
    pub(super) fn with_set_aside(self, set_aside: &BTreeSet<CheckpointId>) -> Vec<NextCheck> {
        let waits = |check: &NextCheck| {
            let there = matches!(&check.target, Target::Checkpoint(id) if set_aside.contains(id));
            there && check.reason != Reason::Hurts
        };
        let mut list = Vec::with_capacity(self.checks.len());
        let mut aside = Vec::new();
        for check in self.checks {
            if waits(&check) {
                aside.push(check);
                continue;
            }
            let in_work = matches!(check.reason, Reason::InWork { .. });
            list.push(check);
            if in_work {
                list.append(&mut aside);
            }
        }
        list.append(&mut aside);
        list
    }
}
