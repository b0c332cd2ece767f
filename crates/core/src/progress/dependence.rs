//! In which order stages are worked on: what another waits for comes before it, whatever their numbers; among stages that do
//! not wait for each other the approach's order decides.

use crate::craft::checklist::Checklist;
use crate::craft::instrument::Instrument;
use crate::craft::needs_by_place::NeedAt;
use crate::progress::next::Order;

/// The places of all stages of a checklist, in the order in which a child on this instrument works on them.
#[must_use]
pub fn working_order(checklist: &Checklist, instrument: Instrument, order: Order) -> &[usize] {
    checklist.kept_order((order.place(), instrument), || in_order(checklist, instrument, order))
}

fn in_order(checklist: &Checklist, instrument: Instrument, order: Order) -> Vec<usize> {
    let stages = checklist.stages();
    let mut left: Vec<usize> = (0..stages.len()).collect();
    left.sort_by_key(|place| (order.rank(&stages[*place]), *place));
    let mut done = vec![false; stages.len()];
    let mut found = Vec::with_capacity(stages.len());
    loop {
        let is_free = |place: &usize| {
            let waits_for = checklist.needs_at(*place, instrument).iter().copied().filter_map(NeedAt::stage);
            waits_for.into_iter().all(|stage| done[stage])
        };
        // Needs never close a circle: the loader refuses that.
        let Some(next) = left.iter().position(is_free) else { break };
        let place = left.remove(next);
        done[place] = true;
        found.push(place);
    }
    found
}
