//! How far the markers of an instrument are, and what keeps them from being relied on.

use serde::{Deserialize, Serialize};

/// How far a child's tapes are.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum TapeState {
    /// The string length of this instrument is not on record.
    NotMeasured,
    /// Measured: the set can be laid.
    ReadyToPlace,
    /// The set is on.
    Placed,
    /// Every marker was proved by ear.
    Heard,
    /// Still there and true when looked at again.
    Holding,
    /// Some taken away on purpose.
    Thinning,
    /// None left, landing in tune.
    Bare,
    /// The class has no markers, by choice: there is nothing to wait for.
    NoneByChoice,
}

/// What keeps the tapes from being relied on, whatever state they reached.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum TapeTrouble {
    /// A marker is no longer true.
    Drifted,
    /// A marker has come off.
    LooseOrMissing,
    /// The record speaks of another instrument.
    WrongInstrument,
}

impl TapeState {
    /// Every state, in order; a state's place is the number of the tape stage that it reaches.
    pub(crate) const ORDER: [Self; 7] =
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
