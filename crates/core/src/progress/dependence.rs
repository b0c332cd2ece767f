//! In which order stages are worked on: what another waits for comes before it, whatever their numbers; among stages that do
//! not wait for each other the approach's order decides.

use std::collections::BTreeSet;

use crate::craft::checklist::{Checklist, Need, Stage};
use crate::craft::instrument::Instrument;
use crate::progress::next::Order;

/// The places of all stages of a checklist, in the order in which a child on this instrument works on them.
#[must_use]
pub fn working_order(checklist: &Checklist, instrument: Instrument, order: Order) -> Vec<usize> {
    let stages = checklist.stages();
    let waits: Vec<BTreeSet<usize>> = stages.iter().map(|stage| waits_for(checklist, stage, instrument)).collect();
    let mut left: BTreeSet<usize> = (0..stages.len()).collect();
    let mut found = Vec::with_capacity(stages.len());
    while !left.is_empty() {
        let free = || left.iter().copied().filter(|place| waits[*place].is_disjoint(&left));
        // Needs never close a circle: the loader refuses that.
        let Some(next) = free().min_by_key(|place| (order.rank(&stages[*place]), *place)) else { break };
        left.remove(&next);
        found.push(next);
    }
    found
}

fn waits_for(checklist: &Checklist, stage: &Stage, instrument: Instrument) -> BTreeSet<usize> {
    let of_need = |need: &Need| {
        let id = match need {
            Need::Stage(id) => id,
            Need::Checkpoint(id, _) => &checklist.checkpoint(id.as_str())?.stage,
        };
        checklist.stages().iter().position(|stage| stage.id == *id)
    };
    stage.needs(instrument).iter().filter_map(of_need).collect()
}
