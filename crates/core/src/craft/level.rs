//! Levels: how a checkpoint stood when somebody looked.

use serde::{Deserialize, Serialize};

/// How a checkpoint stood when it was looked at. *Unseen* is not a level: it is the absence of an observation.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(try_from = "u8", into = "u8")]
pub enum Level {
    /// 0: tried, not there.
    NotYet,
    /// 1: the director's hands or step-by-step help put it there.
    Placed,
    /// 2: the child finds it after a word or a sign.
    Prompted,
    /// 3: finds it without help, at rest.
    Alone,
    /// 4: keeps it while playing, or still has it when looked at again unannounced.
    Lasting,
}

impl Level {
    /// All five, lowest first.
    pub const ALL: [Self; 5] = [Self::NotYet, Self::Placed, Self::Prompted, Self::Alone, Self::Lasting];

    /// The level as the number on its key, 0 to 4.
    #[must_use]
    pub const fn number(self) -> u8 {
        match self {
            Self::NotYet => 0,
            Self::Placed => 1,
            Self::Prompted => 2,
            Self::Alone => 3,
            Self::Lasting => 4,
        }
    }

    /// The next one up; Lasting stays.
    #[must_use]
    pub const fn next(self) -> Self {
        match self {
            Self::NotYet => Self::Placed,
            Self::Placed => Self::Prompted,
            Self::Prompted => Self::Alone,
            Self::Alone | Self::Lasting => Self::Lasting,
        }
    }
}

impl From<Level> for u8 {
    fn from(level: Level) -> Self {
        level.number()
    }
}

impl TryFrom<u8> for Level {
    type Error = NoSuchLevel;

    fn try_from(number: u8) -> Result<Self, Self::Error> {
        Self::ALL.into_iter().find(|level| level.number() == number).ok_or(NoSuchLevel(number))
    }
}

/// A level that is not one of 0 to 4.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("level {0} is not one of 0 to 4")]
pub struct NoSuchLevel(u8);
