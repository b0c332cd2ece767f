//! The lines below the week on a card: what to expect, when to stop, how to store.

use super::{CODE, FOOT_LINE, FamilyCard, MARGIN};
use crate::measure::wrapped;

/// The lines below the week.
pub(super) struct Foot {
    pub(super) size: f64,
    pub(super) step: f64,
    pub(super) lines: Vec<String>,
}

impl Foot {
    /// As large as usual while they are few; a card that says them in two languages has more.
    pub(super) fn of(card: &FamilyCard, width: f64) -> Self {
        let beside = if card.code.is_empty() { 0.0 } else { CODE + 1.0 };
        let set = |size: f64, step: f64| {
            let lines = card.foot.iter().flat_map(|text| wrapped(text, width - 2.0 * MARGIN - beside, size));
            Self { size, step, lines: lines.collect() }
        };
        let usual = set(3.6, FOOT_LINE);
        if usual.lines.len() <= MOST_FOOT_LINES { usual } else { set(2.9, 3.7) }
    }
}

/// So many lines below the week are as large as usual.
const MOST_FOOT_LINES: usize = 8;
