//! An observation: one thing somebody saw. Observations are only ever added; an undo is an observation that retracts another.

use crate::craft::id::Target;
use crate::craft::level::Level;
use crate::worded::worded;
use std::collections::BTreeSet;

use chrono::{DateTime, Utc};

use crate::craft::id::{CheckpointId, SlipId};
use crate::{AccountId, ChildId, ObservationId, RoundId};

worded! {
    /// What the child says when asked.
    Says {
        /// It is comfortable.
        Easy = "easy",
        /// It is tight somewhere.
        Tight = "tight",
        /// The fingertips are sore, as is usual in the first weeks: no flag.
        SoreTips = "soreTips",
        /// It hurts: a caution and a flag follow.
        Hurts = "hurts",
    }
}

worded! {
    /// How the look happened.
    Via {
        /// At the child's chair.
        Visit = "visit",
        /// A whole row or section at once; not a visit.
        Scan = "scan",
        /// While the class was set up: measured, lent, found right; not a visit.
        SetUp = "setUp",
        /// From the tape log of an instrument.
        TapeLog = "tapeLog",
    }
}

/// What was seen, or that an earlier observation is taken back.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Observed {
    /// A checkpoint at a level, with the slips ticked on it.
    Level {
        /// How it stood.
        level: Level,
        /// Slips ticked on this checkpoint.
        slips: BTreeSet<SlipId>,
    },
    /// "Still there": a stage look, with the checkpoints it does not vouch for.
    Holds {
        /// Checkpoints that have an observation of their own instead.
        except: BTreeSet<CheckpointId>,
    },
    /// An undo: the named observation of the same child and target counts no more.
    Retracts(ObservationId),
}

/// One thing seen of one child.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Observation {
    /// Made by the device; the same id twice is one observation.
    pub id: ObservationId,
    /// Whom.
    pub child: ChildId,
    /// What was looked at.
    pub target: Target,
    /// How it stood.
    pub seen: Observed,
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

/// The observations that count, in their one order: by (observed at, id), each id once, retracted ones and the retractions
/// themselves left out.
///
/// A retraction counts when it names the same child and target as the observation it takes back; retracting a retraction does
/// nothing (record it again instead). Both hold whatever order the observations arrive in.
#[must_use]
pub fn in_force(observations: &[Observation]) -> Vec<&Observation> {
    let retracted: BTreeSet<(ObservationId, ChildId, &Target)> = observations
        .iter()
        .filter_map(|observation| match observation.seen {
            Observed::Retracts(id) => Some((id, observation.child, &observation.target)),
            Observed::Level { .. } | Observed::Holds { .. } => None,
        })
        .collect();
    let mut counting: Vec<&Observation> = observations
        .iter()
        .filter(|observation| !matches!(observation.seen, Observed::Retracts(_)))
        .filter(|observation| {
            retracted.is_empty() || !retracted.contains(&(observation.id, observation.child, &observation.target))
        })
        .collect();
    counting.sort_by_key(|observation| (observation.observed_at, observation.id));
    counting.dedup_by_key(|observation| observation.id);
    counting
}
