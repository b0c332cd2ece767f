//! The observations of a round: what was seen in it and counts, whether the server has it or it is still on its way.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;

use crate::progress::new_observation::NewObservation;
use crate::progress::observation::{Observation, Observed, Says};
use crate::{ChildId, ObservationId, RoundId};

/// An observation made in a round, as far as a round reads it.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct RoundObservation {
    /// Made by the device.
    pub id: ObservationId,
    /// In which round.
    pub round: RoundId,
    /// Whom.
    pub child: ChildId,
    /// A checkpoint or a stage.
    pub target: String,
    /// Absent: a whole stage, or an undo.
    pub level: Option<u8>,
    /// Slips ticked.
    pub slips: Vec<String>,
    /// What the child said.
    pub says: Option<Says>,
    /// What was written with it.
    pub note: Option<String>,
    /// When, by the device's clock.
    pub observed_at: DateTime<Utc>,
    /// The observation it takes back.
    pub retracts: Option<ObservationId>,
}

impl RoundObservation {
    /// `None` for an observation that was not made in a round.
    #[must_use]
    pub fn of(observation: &Observation) -> Option<Self> {
        let (level, slips, retracts) = match &observation.seen {
            Observed::Level { level, slips } => {
                (Some(level.number()), slips.iter().map(ToString::to_string).collect(), None)
            }
            Observed::Holds { .. } => (None, Vec::new(), None),
            Observed::Retracts(id) => (None, Vec::new(), Some(*id)),
        };
        Some(Self {
            id: observation.id,
            round: observation.round?,
            child: observation.child,
            target: observation.target.id().to_owned(),
            level,
            slips,
            says: observation.says,
            note: observation.note.clone(),
            observed_at: observation.observed_at,
            retracts,
        })
    }

    fn of_new(new: NewObservation) -> Option<Self> {
        Some(Self {
            id: new.id,
            round: new.round?,
            child: new.child,
            target: new.target,
            level: new.level,
            slips: new.slips,
            says: new.says,
            note: new.note,
            observed_at: new.observed_at,
            retracts: new.retracts,
        })
    }
}

/// The observations of a round that count: each id once, what was taken back gone, the latest last.
#[must_use]
pub fn observations_of(
    round: RoundId,
    known: Vec<RoundObservation>,
    on_their_way: Vec<NewObservation>,
) -> Vec<RoundObservation> {
    let new = on_their_way.into_iter().filter_map(RoundObservation::of_new);
    let all: BTreeMap<ObservationId, RoundObservation> = known
        .into_iter()
        .chain(new)
        .filter(|observation| observation.round == round)
        .map(|observation| (observation.id, observation))
        .collect();
    let undone: BTreeSet<(ObservationId, ChildId, &str)> = all
        .values()
        .filter_map(|observation| Some((observation.retracts?, observation.child, observation.target.as_str())))
        .collect();
    let counts =
        |one: &&RoundObservation| one.retracts.is_none() && !undone.contains(&(one.id, one.child, one.target.as_str()));
    let mut counting: Vec<RoundObservation> = all.values().filter(counts).cloned().collect();
    counting.sort_by_key(|observation| (observation.observed_at, observation.id));
    counting
}
