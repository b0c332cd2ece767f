//! Which slips are likely at a checkpoint of one child, so that the likeliest stands first on its keys.

use std::cmp::Reverse;
use std::collections::BTreeMap;

use crate::craft::cause_graph::{CauseGraph, Node};
use crate::craft::checklist::{Checklist, Slip};
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::instrument::Instrument;
use crate::progress::standing::Standing;

/// How likely a slip is: ticked at the child's last look, led to by one that was, and how many children of the section have
/// it. Compared in this order.
type Likelihood = (bool, bool, usize);

/// How many children of each section had a slip ticked at their last look.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct LikelySlips {
    common: BTreeMap<(Instrument, SlipId), usize>,
}

impl LikelySlips {
    /// Counts the slips of a class, from each child's instrument and standings.
    #[must_use]
    pub fn of_class<'a>(
        children: impl IntoIterator<Item = (Instrument, &'a BTreeMap<CheckpointId, Standing>)>,
    ) -> Self {
        let mut common = BTreeMap::new();
        for (instrument, standings) in children {
            for slip in standings.values().flat_map(|standing| &standing.slips) {
                *common.entry((instrument, slip.clone())).or_default() += 1;
            }
        }
        Self { common }
    }

    /// The slips of a checkpoint on an instrument, the likeliest for the child with these standings first; equally likely
    /// ones in the order of the content.
    #[must_use]
    pub fn at<'a>(
        &self,
        checklist: &'a Checklist,
        causes: &CauseGraph,
        instrument: Instrument,
        standings: &BTreeMap<CheckpointId, Standing>,
        checkpoint: &CheckpointId,
    ) -> Vec<&'a Slip> {
        let ticked: Vec<&SlipId> = standings.values().flat_map(|standing| &standing.slips).collect();
        let likelihood = |slip: &SlipId| -> Likelihood {
            let node = Node::Slip(slip.clone());
            let led_to = ticked.iter().any(|from| causes.leads(instrument, &Node::Slip((*from).clone()), &node));
            let common = self.common.get(&(instrument, slip.clone())).copied().unwrap_or_default();
            (ticked.contains(&slip), led_to, common)
        };
        let known = checklist.slips().iter();
        let mut slips: Vec<&Slip> =
            known.filter(|slip| slip.checkpoint == *checkpoint && slip.instruments.contains(&instrument)).collect();
        slips.sort_by_cached_key(|slip| Reverse(likelihood(&slip.id)));
        slips
    }
}
