//! A child's history as its page shows it: its observations, newest first.

use std::collections::BTreeSet;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;

use crate::craft::checklist::Checklist;
use crate::progress::observation::{Observation, Observed, Says};
use crate::{ObservationId, RoundId};

/// How many observations one part holds.
pub const HISTORY_PART: usize = 50;

/// A part of a child's history, newest first.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct History {
    /// Newest first.
    pub observations: Vec<ObservationView>,
    /// There are older observations: ask with `before` set to the last one's id and moment.
    pub older: bool,
}

/// An observation as history shows it.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct ObservationView {
    /// Made by the device.
    pub id: ObservationId,
    /// A checkpoint or a stage.
    pub target: String,
    /// What it is called.
    pub target_name: String,
    /// 0 to 4; absent for a stage look and for an undo.
    pub level: Option<u8>,
    /// A stage look: it holds, except for these checkpoints.
    pub holds_except: Option<Vec<String>>,
    /// An undo: the observation it takes back.
    pub retracts: Option<ObservationId>,
    /// Names of the slips ticked.
    pub slips: Vec<String>,
    /// What the child said.
    pub says: Option<Says>,
    /// What was written.
    pub note: Option<String>,
    /// When.
    pub observed_at: DateTime<Utc>,
    /// Who looked.
    pub observer: String,
    /// In which round, if in one.
    pub round: Option<RoundId>,
}

impl History {
    /// The newest part with observations that are still on their way, but for undos that the server does not take: of an undo, or of
    /// something else than they say.
    #[must_use]
    pub fn with(mut self, mut on_their_way: Vec<ObservationView>) -> Self {
        // Looks at the markers of an instrument that another child has now stand in the history only, so they are checked here.
        on_their_way.retain(|one| {
            let named = self.observations.iter().find(|other| Some(other.id) == one.retracts);
            named.is_none_or(|other| other.retracts.is_none() && other.target == one.target)
        });
        self.observations.extend(on_their_way);
        self.observations.sort_by_key(|one| std::cmp::Reverse((one.observed_at, one.id)));
        self.older |= self.observations.len() > HISTORY_PART;
        self.observations.truncate(HISTORY_PART);
        self
    }
}

impl ObservationView {
    /// An observation made by somebody of this name.
    #[must_use]
    pub fn new(checklist: &Checklist, observer: String, observation: Observation) -> Self {
        let (level, holds_except, retracts, slips) = match observation.seen {
            Observed::Level { level, slips } => (Some(level.number()), None, None, slips),
            Observed::Holds { except } => {
                (None, Some(except.iter().map(ToString::to_string).collect()), None, BTreeSet::default())
            }
            Observed::Retracts(id) => (None, None, Some(id), BTreeSet::default()),
        };
        Self {
            id: observation.id,
            target: observation.target.id().to_owned(),
            target_name: checklist.target_name(observation.target.id()),
            level,
            holds_except,
            retracts,
            slips: slips.iter().map(|id| checklist.slip_name(id)).collect(),
            says: observation.says,
            note: observation.note,
            observed_at: observation.observed_at,
            observer,
            round: observation.round,
        }
    }
}
