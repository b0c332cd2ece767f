//! A mark: one thing somebody saw. Marks are only ever added; an undo is a mark that retracts another.

use std::collections::BTreeSet;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::checklist::{CheckpointId, SlipId, StageId};
use crate::{AccountId, ChildId, MarkId, RoundId};

/// How a checkpoint stood when it was looked at. *Unseen* is not a level: it is the absence of a mark.
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

macro_rules! spelled {
    ($(#[$doc:meta])* $name:ident { $($(#[$vdoc:meta])* $variant:ident = $text:literal),+ $(,)? }) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        pub enum $name { $($(#[$vdoc])* #[serde(rename = $text)] $variant),+ }

        impl $name {
            /// The word that is stored and sent.
            #[must_use]
            pub const fn word(self) -> &'static str {
                match self { $(Self::$variant => $text),+ }
            }

            /// The value of a stored word.
            #[must_use]
            pub fn parse(word: &str) -> Option<Self> {
                match word { $($text => Some(Self::$variant),)+ _ => None }
            }
        }
    };
}

spelled! {
    /// What the child says when asked.
    Says {
        /// It is comfortable.
        Easy = "easy",
        /// It is tight somewhere.
        Tight = "tight",
        /// It hurts: a caution and a flag follow.
        Hurts = "hurts",
    }
}

spelled! {
    /// How the look happened.
    Via {
        /// At the child's chair.
        Visit = "visit",
        /// A whole row or section at once; not a visit.
        Scan = "scan",
        /// From the tape log of an instrument.
        TapeLog = "tapeLog",
    }
}

/// What a mark speaks of: one checkpoint, or a reached stage as a whole.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Target {
    /// One checkpoint.
    Checkpoint(CheckpointId),
    /// A stage look: it vouches for every checkpoint of the stage but the excepted ones.
    Stage(StageId),
}

impl Target {
    /// The id as it is stored and sent; checkpoint and stage ids never collide (`hold.tall`, `hold.3`).
    #[must_use]
    pub fn id(&self) -> &str {
        match self {
            Self::Checkpoint(id) => id.as_str(),
            Self::Stage(id) => id.as_str(),
        }
    }

    /// The target of a stored id, by its form alone: a number at the end makes it a stage.
    #[must_use]
    pub fn from_id(id: &str) -> Self {
        let end = id.rsplit('.').next().unwrap_or_default();
        if !end.is_empty() && end.chars().all(|c| c.is_ascii_digit()) {
            Self::Stage(StageId::new(id))
        } else {
            Self::Checkpoint(CheckpointId::new(id))
        }
    }
}

/// What was seen, or that an earlier mark is taken back.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Seen {
    /// A checkpoint at a level, with the slips ticked on it.
    Level {
        /// How it stood.
        level: Level,
        /// Slips ticked on this checkpoint.
        slips: BTreeSet<SlipId>,
    },
    /// "Still there": a stage look, with the checkpoints it does not vouch for.
    Holds {
        /// Checkpoints that have a mark of their own instead.
        except: BTreeSet<CheckpointId>,
    },
    /// An undo: the named mark of the same child and target counts no more.
    Retracts(MarkId),
}

/// One thing seen of one child.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Mark {
    /// Made by the device; the same id twice is one mark.
    pub id: MarkId,
    /// Whom.
    pub child: ChildId,
    /// What was looked at.
    pub target: Target,
    /// How it stood.
    pub seen: Seen,
    /// What the child said, if asked.
    pub says: Option<Says>,
    /// A short note.
    pub note: Option<String>,
    /// How the look happened.
    pub via: Via,
    /// When, by the device's clock.
    pub observed_at: DateTime<Utc>,
    /// When the server took it in.
    pub recorded_at: DateTime<Utc>,
    /// Who looked.
    pub observer: AccountId,
    /// In which round, if in one.
    pub round: Option<RoundId>,
}

/// The marks that count, in their one order: by (observed at, id), each id once, retracted ones and the retractions
/// themselves left out.
///
/// A retraction counts when it names the same child and target as the mark it takes back; retracting a retraction does
/// nothing (mark again instead). Both hold whatever order the marks arrive in.
#[must_use]
pub fn in_force(marks: &[Mark]) -> Vec<&Mark> {
    let retracted: BTreeSet<(MarkId, ChildId, &Target)> = marks
        .iter()
        .filter_map(|mark| match mark.seen {
            Seen::Retracts(id) => Some((id, mark.child, &mark.target)),
            Seen::Level { .. } | Seen::Holds { .. } => None,
        })
        .collect();
    let mut counting: Vec<&Mark> = marks
        .iter()
        .filter(|mark| !matches!(mark.seen, Seen::Retracts(_)))
        .filter(|mark| retracted.is_empty() || !retracted.contains(&(mark.id, mark.child, &mark.target)))
        .collect();
    counting.sort_by_key(|mark| (mark.observed_at, mark.id));
    counting.dedup_by_key(|mark| mark.id);
    counting
}
