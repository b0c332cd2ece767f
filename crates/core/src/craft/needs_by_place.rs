//! What stages wait for, by the places of stages and checkpoints: it is asked for many times.

use std::sync::OnceLock;

use crate::craft::checklist::{Checklist, Checkpoint, Need};
use crate::craft::instrument::Instrument;
use crate::craft::level::Level;

/// A [`Need`] by places; `None` where the checklist does not know what is waited for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum NeedAt {
    /// A stage.
    Stage(Option<usize>),
    /// A checkpoint of the stage at the second place, at a level.
    Checkpoint(Option<(usize, usize)>, Level),
}

impl NeedAt {
    fn of(checklist: &Checklist, need: &Need) -> Self {
        match need {
            Need::Stage(id) => Self::Stage(checklist.stage_place(id)),
            Need::Checkpoint(id, level) => {
                let place = checklist.place(id.as_str());
                let of = |place: usize| Some((place, checklist.stage_place(&checklist.checkpoints()[place].stage)?));
                Self::Checkpoint(place.and_then(of), *level)
            }
        }
    }

    /// The place of the stage that is waited for, or of whose checkpoint.
    pub(crate) fn stage(self) -> Option<usize> {
        match self {
            Self::Stage(stage) => stage,
            Self::Checkpoint(place, _) => place.map(|(_, stage)| stage),
        }
    }
}

/// Ways in which work is put in order.
pub(crate) const ORDERS: usize = 3;

/// What follows from the checklist that it belongs to, worked out once for each instrument. It says nothing of its own: all are
/// equal, and a copy works it out anew, since what was copied may still be changed.
#[derive(Debug, Default)]
pub(crate) struct Kept {
    asked: [OnceLock<Vec<bool>>; Instrument::ALL.len()],
    needs: [OnceLock<Vec<Vec<NeedAt>>>; Instrument::ALL.len()],
    orders: [[OnceLock<Vec<usize>>; Instrument::ALL.len()]; ORDERS],
}

impl Kept {
    /// Whether each checkpoint of this checklist is asked on an instrument.
    pub(super) fn asked(&self, checklist: &Checklist, instrument: Instrument) -> &[bool] {
        let asked = |one: &Checkpoint| one.wording.contains_key(&instrument);
        self.asked[instrument.place()].get_or_init(|| checklist.checkpoints().iter().map(asked).collect())
    }

    /// For each stage of this checklist what it waits for.
    pub(super) fn needs(&self, checklist: &Checklist, instrument: Instrument) -> &[Vec<NeedAt>] {
        let of_stage = |needs: &[Need]| needs.iter().map(|need| NeedAt::of(checklist, need)).collect();
        self.needs[instrument.place()]
            .get_or_init(|| checklist.stages().iter().map(|stage| of_stage(stage.needs(instrument))).collect())
    }

    /// The places of its stages in an order of work.
    pub(super) fn order(&self, order: usize, instrument: Instrument, find: impl FnOnce() -> Vec<usize>) -> &[usize] {
        self.orders[order][instrument.place()].get_or_init(find)
    }
}

impl Clone for Kept {
    fn clone(&self) -> Self {
        Self::default()
    }
}

impl PartialEq for Kept {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

impl Eq for Kept {}
