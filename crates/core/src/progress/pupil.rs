//! A child as the rules read it: what is asked of it, what is open, and what is amiss.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};

use crate::craft::cause_graph::{CauseGraph, Node};
use crate::craft::checklist::{Checklist, Checkpoint, Stage};
use crate::craft::id::{CheckpointId, SlipId, StageId};
use crate::craft::instrument::Instrument;
use crate::progress::context::ChildContext;
use crate::progress::ladder::{Ladder, StageView};
use crate::progress::rhythm::REACHES;
use crate::progress::standing::Standing;

/// A child as the rules read it.
#[derive(Clone, Copy, Debug)]
pub struct Pupil<'a> {
    /// The checklist it is read by.
    pub checklist: &'a Checklist,
    /// What leads to what.
    pub causes: &'a CauseGraph,
    /// What it plays.
    pub instrument: Instrument,
    /// Its context.
    pub context: &'a ChildContext,
    /// Its standings.
    pub standings: &'a BTreeMap<CheckpointId, Standing>,
    /// Its ladder.
    pub ladder: &'a Ladder,
}

impl<'a> Pupil<'a> {
    /// The stages with their views, in ladder order.
    pub(crate) fn stages(&self) -> impl Iterator<Item = (&'a Stage, &'a StageView)> + use<'a> {
        self.checklist.stages().iter().zip(&self.ladder.stages)
    }

    /// The checkpoints of a stage that are asked of this child.
    pub(crate) fn asked(&self, stage: &StageId) -> impl Iterator<Item = &'a Checkpoint> + use<'a> {
        self.checklist.stage_place(stage).into_iter().flat_map({
            let pupil = *self;
            move |place| pupil.asked_at(place)
        })
    }

    /// The same for the stage at a place.
    pub(crate) fn asked_at(&self, stage: usize) -> impl Iterator<Item = &'a Checkpoint> + use<'a> {
        let checkpoints = self.checklist.checkpoints();
        self.places_asked(stage).map(|place| &checkpoints[place])
    }

    /// Their places.
    pub(crate) fn places_asked(&self, stage: usize) -> impl Iterator<Item = usize> + use<'a> {
        let ladder = self.ladder;
        self.checklist.places_of(stage).filter(move |place| ladder.asked[*place])
    }

    /// What is amiss, with the moment of the look: slips ticked at the last look, and checkpoints seen below Alone that lead to
    /// something. Whatever the level, and whether or not its stage is open: a worse fault never hides its cause.
    pub(crate) fn amiss(&self) -> BTreeMap<Node, DateTime<Utc>> {
        let asked = |id: &CheckpointId| self.checklist.place(id.as_str()).is_some_and(|place| self.ladder.asked[place]);
        let leads = |id: &CheckpointId, standing: &Standing| {
            standing.level < REACHES && self.causes.is_source(self.instrument, id)
        };
        // What is asked last: it takes longest to know.
        let may_be = |id: &CheckpointId, standing: &Standing| !standing.slips.is_empty() || leads(id, standing);
        let mut amiss = BTreeMap::new();
        for (id, standing) in self.standings.iter().filter(|(id, standing)| may_be(id, standing) && asked(id)) {
            let known = |slip: &&SlipId| self.checklist.slip(slip.as_str()).is_some();
            let slips = standing.slips.iter().filter(known);
            amiss.extend(slips.map(|slip| (Node::Slip(slip.clone()), standing.looked_at)));
            if leads(id, standing) {
                amiss.insert(Node::Checkpoint(id.clone()), standing.looked_at);
            }
        }
        amiss
    }

    /// What is amiss and comes from nothing else that is.
    pub(crate) fn roots<'b>(&self, amiss: &'b BTreeMap<Node, DateTime<Utc>>) -> Vec<(&'b Node, DateTime<Utc>)> {
        let has_origin = |node: &Node| self.causes.origins(self.instrument, node).any(|from| amiss.contains_key(from));
        amiss.iter().filter(|(node, _)| !has_origin(node)).map(|(node, at)| (node, *at)).collect()
    }

    /// Slips among `amiss` that a node leads to.
    pub(crate) fn effects(&self, node: &Node, amiss: &BTreeMap<Node, DateTime<Utc>>) -> BTreeSet<SlipId> {
        let effects = amiss.keys().filter(|other| self.causes.leads(self.instrument, node, other));
        let slips = effects.filter_map(|node| match node {
            Node::Slip(slip) => Some(slip.clone()),
            Node::Checkpoint(_) | Node::Symptom(_) => None,
        });
        slips.collect()
    }
}
