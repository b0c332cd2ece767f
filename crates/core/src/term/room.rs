//! The room over a term: how bright it was when each meeting was over.

use std::collections::BTreeMap;

use crate::craft::instrument::Instrument;
use crate::term::growth::{Growth, Then};

/// The room when a meeting was over.
#[derive(Clone, Debug, PartialEq)]
pub struct RoomThen {
    /// The meeting, from 1.
    pub meeting: u32,
    /// Children who were in the class.
    pub children: usize,
    /// How far each strand was learned on the mean, 0 to 1, in their order.
    pub strands: [f64; 4],
    /// How bright each section was on the mean, 0 to 1: those who played the instrument then.
    pub sections: BTreeMap<Instrument, f64>,
}

impl RoomThen {
    /// How bright the room was, 0 to 1: the mean of its four strands.
    #[must_use]
    pub fn brightness(&self) -> f64 {
        self.strands.iter().sum::<f64>() / 4.0
    }
}

/// The mean of at least one number.
fn mean(values: &[f64]) -> f64 {
    let count = u32::try_from(values.len()).unwrap_or(u32::MAX).max(1);
    values.iter().sum::<f64>() / f64::from(count)
}

/// The room at each meeting that has been. At a meeting at which nobody was in the class yet all is dark.
#[must_use]
pub fn room(growths: &[Growth]) -> Vec<RoomThen> {
    let meetings = growths.iter().map(|growth| growth.then.len()).max().unwrap_or_default();
    let at = |place: usize| {
        let here: Vec<&Then> = growths.iter().filter_map(|growth| growth.then.get(place)?.as_ref()).collect();
        let strand = |strand: usize| mean(&here.iter().map(|then| then.glow[strand]).collect::<Vec<_>>());
        let mut sections: BTreeMap<Instrument, Vec<f64>> = BTreeMap::new();
        for then in &here {
            sections.entry(then.instrument).or_default().push(then.brightness());
        }
        RoomThen {
            meeting: u32::try_from(place + 1).unwrap_or(u32::MAX),
            children: here.len(),
            strands: [0, 1, 2, 3].map(strand),
            sections: sections.into_iter().map(|(instrument, bright)| (instrument, mean(&bright))).collect(),
        }
    };
    (0..meetings).map(at).collect()
}
