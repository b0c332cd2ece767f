//! The state of a child's tapes: what the log of its instrument and looks at them tell together.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};

use crate::checklist::{Checklist, CheckpointId, Strand};
use crate::ladder::{Circumstances, Outlook};
use crate::mark::Level;
use crate::standing::{Recheck, Standing};
use crate::tape_told::Told;

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

    /// The status that the log of the instrument and looks at the tape checkpoints tell together, at the outlook's meeting.
    ///
    /// A tape checkpoint is there (Alone or better) or it is not; one that was there and is not any more is trouble: a
    /// measure means another instrument, a laid set a lost mark, a heard or holding set a drift. Of log and looks the
    /// later word counts. An instrument that came in the place of another is the wrong one until somebody looked at it.
    #[must_use]
    pub fn of(
        outlook: &Outlook<'_>,
        standings: &BTreeMap<CheckpointId, Standing>,
        circumstances: &Circumstances,
    ) -> Self {
        if outlook.checklist.is_bare() {
            return Self { state: TapeState::NoneByChoice, trouble: None, recheck: None };
        }
        let looks = Looks::of(outlook.checklist, standings);
        let told = circumstances.tapes.as_ref();
        let looked_at = told.and_then(|told| told.looked_at).max(looks.last());
        let state = looks.furthest(told).max(told.map_or(TapeState::NotMeasured, |told| told.state));
        let other = circumstances.swapped_at.filter(|since| looked_at.is_none_or(|looked_at| looked_at < *since));
        let trouble = other.map(|_| TapeTrouble::WrongInstrument).or_else(|| trouble(&looks, told));
        let interval = match state {
            TapeState::NotMeasured | TapeState::ReadyToPlace | TapeState::Bare | TapeState::NoneByChoice => None,
            TapeState::Placed | TapeState::Heard => Some(outlook.rhythm.tapes_first),
            TapeState::Holding | TapeState::Thinning => Some(outlook.rhythm.tapes_later),
        };
        let doubted = told.and_then(|told| told.doubted_at).filter(|doubt| looks.good_at() < Some(*doubt));
        let at_once = doubted.map_or(u32::MAX, |at| outlook.calendar.meeting_at(at));
        let recheck = interval.zip(looked_at).map(|(interval, looked_at)| {
            let regular = outlook.calendar.meeting_at(looked_at).saturating_add(interval);
            Recheck::at(outlook.now, regular.min(at_once))
        });
        Self { state, trouble, recheck }
    }
}

/// Looks at the tape checkpoints, each with the number of its stage.
struct Looks<'a>(Vec<(u32, &'a Standing)>);

impl<'a> Looks<'a> {
    fn of(checklist: &Checklist, standings: &'a BTreeMap<CheckpointId, Standing>) -> Self {
        let looks = checklist
            .stages_of(Strand::Tape)
            .flat_map(|stage| checklist.checkpoints_of(&stage.id).map(move |checkpoint| (stage.number, checkpoint)))
            .filter_map(|(number, checkpoint)| Some((number, standings.get(&checkpoint.id)?)));
        Self(looks.collect())
    }

    fn last(&self) -> Option<DateTime<Utc>> {
        self.0.iter().map(|(_, look)| look.looked_at).max()
    }

    /// The last look that found a laid set as it should be.
    fn good_at(&self) -> Option<DateTime<Utc>> {
        let good = self.0.iter().filter(|(number, look)| *number >= 2 && look.level >= Level::Alone);
        good.map(|(_, look)| look.looked_at).max()
    }

    /// The furthest state that was ever seen. What was seen taken away counts only until the log says otherwise.
    fn furthest(&self, told: Option<&Told>) -> TapeState {
        let counts = |(number, look): &&(u32, &Standing)| {
            let later = told.and_then(|told| told.good_at).is_none_or(|good| good <= look.looked_at);
            look.peak >= Level::Alone && (*number < TapeState::Thinning.stage() || later)
        };
        let reached = self.0.iter().filter(counts).map(|(number, _)| *number).max();
        let state = TapeState::ORDER.into_iter().find(|state| Some(state.stage()) == reached);
        state.unwrap_or(TapeState::NotMeasured)
    }

    /// What was there and is not any more, and since when.
    fn trouble(&self) -> Option<(TapeTrouble, DateTime<Utc>)> {
        let gone = self.0.iter().find(|(_, look)| look.peak >= Level::Alone && look.level < Level::Alone);
        gone.and_then(|(number, look)| {
            let trouble = match number {
                1 => TapeTrouble::WrongInstrument,
                2 => TapeTrouble::LooseOrMissing,
                3 | 4 => TapeTrouble::Drifted,
                _ => return None,
            };
            Some((trouble, look.looked_at))
        })
    }
}

/// What wants to be put right: the log's word unless a later look found everything good, then the looks' unless the log
/// tells of something good later.
fn trouble(looks: &Looks<'_>, told: Option<&Told>) -> Option<TapeTrouble> {
    let logged = told.and_then(|told| told.trouble).filter(|(_, at)| looks.good_at() <= Some(*at));
    let seen = looks.trouble().filter(|(_, at)| told.and_then(|told| told.good_at) < Some(*at));
    logged.or(seen).map(|(trouble, _)| trouble)
}
