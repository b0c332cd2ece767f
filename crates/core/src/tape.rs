//! The state of a child's tapes, as far as looks tell it.

use std::collections::BTreeMap;

use crate::calendar::MeetingCalendar;
use crate::checklist::{Checklist, CheckpointId, Strand};
use crate::mark::Level;
use crate::standing::{Recheck, Rhythm, Standing};

/// How far a child's tapes are.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum TapeState {
    /// The string length of this instrument is not on record.
    NotMeasured,
    /// Measured: the set can be laid.
    ReadyToPlace,
    /// The set is on.
    Placed,
    /// Every mark was proved by ear.
    Heard,
    /// Still there and true when looked at again.
    Holding,
    /// Some taken away on purpose.
    Thinning,
    /// None left, landing in tune.
    Bare,
    /// The class has no marks, by choice: there is nothing to wait for.
    NoneByChoice,
}

/// What keeps the tapes from being relied on, whatever state they reached.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum TapeTrouble {
    /// A mark is no longer true.
    Drifted,
    /// A mark has come off.
    LooseOrMissing,
    /// The record speaks of another instrument.
    WrongInstrument,
}

/// The tapes of one child.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TapeStatus {
    /// The furthest state reached; trouble never takes it back.
    pub state: TapeState,
    /// What wants to be put right first.
    pub trouble: Option<TapeTrouble>,
    /// When to look again; none before a set is on, or once it is off.
    pub recheck: Option<Recheck>,
}

impl TapeState {
    /// Every state, in order; a state's place is the number of the tape stage that it reaches.
    const ORDER: [Self; 7] =
        [Self::NotMeasured, Self::ReadyToPlace, Self::Placed, Self::Heard, Self::Holding, Self::Thinning, Self::Bare];

    /// The tape stage this state reaches, 0 for none.
    #[must_use]
    pub fn stage(self) -> u32 {
        match self {
            Self::NotMeasured => 0,
            Self::ReadyToPlace => 1,
            Self::Placed => 2,
            Self::Heard => 3,
            Self::Holding => 4,
            Self::Thinning => 5,
            Self::Bare | Self::NoneByChoice => 6,
        }
    }

    /// How far the fourth string rings, 0 to 1.
    #[must_use]
    pub fn glow(self) -> f64 {
        match self {
            Self::NotMeasured => 0.0,
            Self::ReadyToPlace => 0.25,
            Self::Placed => 0.5,
            Self::Heard => 0.75,
            Self::Holding | Self::Thinning | Self::Bare | Self::NoneByChoice => 1.0,
        }
    }
}

/// The tape stage that a set in trouble still counts as: the marks are there, but not to be relied on.
const STAGE_IN_TROUBLE: u32 = 2;

impl TapeStatus {
    /// The tape stage that gates may count on, 0 for none.
    #[must_use]
    pub fn counts_as(self) -> u32 {
        match self.trouble {
            None => self.state.stage(),
            Some(TapeTrouble::Drifted | TapeTrouble::LooseOrMissing) => self.state.stage().min(STAGE_IN_TROUBLE),
            Some(TapeTrouble::WrongInstrument) => 0,
        }
    }

    /// The status that looks at the tape checkpoints tell, at meeting `now`.
    ///
    /// A tape checkpoint is there (Alone or better) or it is not; one that was there and is not any more is trouble:
    /// a measure means another instrument, a laid set a lost mark, a heard or holding set a drift.
    #[must_use]
    pub fn from_looks(
        checklist: &Checklist,
        standings: &BTreeMap<CheckpointId, Standing>,
        calendar: &MeetingCalendar,
        now: u32,
        rhythm: &Rhythm,
    ) -> Self {
        if checklist.is_bare() {
            return Self { state: TapeState::NoneByChoice, trouble: None, recheck: None };
        }
        let looks: Vec<(u32, &Standing)> = checklist
            .stages_of(Strand::Tape)
            .flat_map(|stage| checklist.checkpoints_of(&stage.id).map(move |checkpoint| (stage.number, checkpoint)))
            .filter_map(|(number, checkpoint)| Some((number, standings.get(&checkpoint.id)?)))
            .collect();
        let reached = looks.iter().filter(|(_, look)| look.peak >= Level::Alone).map(|(number, _)| *number).max();
        let state = TapeState::ORDER.into_iter().find(|state| Some(state.stage()) == reached);
        let state = state.unwrap_or(TapeState::NotMeasured);
        let trouble = looks.iter().find(|(_, look)| look.peak >= Level::Alone && look.level < Level::Alone).and_then(
            |(number, _)| match number {
                1 => Some(TapeTrouble::WrongInstrument),
                2 => Some(TapeTrouble::LooseOrMissing),
                3 | 4 => Some(TapeTrouble::Drifted),
                _ => None,
            },
        );
        let interval = match state {
            TapeState::NotMeasured | TapeState::ReadyToPlace | TapeState::Bare | TapeState::NoneByChoice => None,
            TapeState::Placed | TapeState::Heard => Some(rhythm.tapes_first),
            TapeState::Holding | TapeState::Thinning => Some(rhythm.tapes_later),
        };
        let looked_at = looks.iter().map(|(_, look)| look.looked_at).max();
        let recheck = interval
            .zip(looked_at)
            .map(|(interval, looked_at)| Recheck::at(now, calendar.meeting_at(looked_at).saturating_add(interval)));
        Self { state, trouble, recheck }
    }
}
