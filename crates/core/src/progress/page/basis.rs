//! What a child's page and its place in the room are made from.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;

use crate::craft::cause_graph::CauseGraph;
use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, StageId, Target};
use crate::craft::instrument::Playing;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::context::ChildContext;
use crate::progress::new_observation::NewObservation;
use crate::progress::next::Order;
use crate::progress::rhythm::Rhythm;
use crate::progress::standing::StandingSoFar;
use crate::seat::Seat;
use crate::tapes::assessment::MarkerAssessment;
use crate::{AssetId, ChildId, ObservationId};

/// The rules by which a class's children are read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub struct ClassRules {
    /// When it meets.
    pub calendar: MeetingCalendar,
    /// How soon it looks again.
    pub rhythm: Rhythm,
    /// Which hand comes first in what is suggested.
    pub order: Order,
    /// How many next items are shown at once.
    pub next_at_once: usize,
    /// What leads to what.
    pub causes: Arc<CauseGraph>,
    /// The class's checklist under the empty key; those of children who go their own way under theirs.
    pub checklists: BTreeMap<String, Arc<Checklist>>,
}

impl ClassRules {
    /// The class's own checklist.
    ///
    /// # Panics
    /// Where the rules do not hold it: [`crate::progress::page::child_now::ChildNow::of`] says `None` before.
    #[must_use]
    pub fn shared(&self) -> &Checklist {
        self.checklists.get(CLASS_CHECKLIST).expect("rules hold the class's checklist")
    }
}

/// The key of the class's own checklist.
pub const CLASS_CHECKLIST: &str = "";

/// Who a child is.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub struct Who {
    /// Its id.
    pub id: ChildId,
    /// First name and one letter.
    pub name: String,
    /// What it plays, and what it played before.
    pub playing: Playing,
    /// Where it sits.
    pub seat: Option<Seat>,
    /// Since when it is in the class.
    pub joined_on: NaiveDate,
}

/// Everything that follows for a child follows from this and the rules of its class.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub struct ChildBasis {
    /// Who it is.
    pub who: Who,
    /// The checklist it is read by.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub checklist: String,
    /// Checkpoints that do not apply to it.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub exempt: BTreeSet<CheckpointId>,
    /// Stages that the director opened although they wait for others.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub opened: BTreeSet<StageId>,
    /// When it said that it hurts, and nobody has said yet what was done.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub pain: BTreeMap<ObservationId, Target>,
    /// What the log of its instrument tells.
    pub tapes: Option<MarkerAssessment>,
    /// The instrument that it has.
    pub asset: Option<AssetId>,
    /// Since when.
    pub has_since: Option<DateTime<Utc>>,
    /// When it got its present instrument in the place of another.
    pub swapped_at: Option<DateTime<Utc>>,
    /// What came of the observations made before [`Self::since`].
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub before: BTreeMap<CheckpointId, StandingSoFar>,
    /// From when on the observations are all there; absent: all that there are.
    pub since: Option<DateTime<Utc>>,
    /// The observations that stand for it, in no order, what was taken back and undos included.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub observations: Vec<NewObservation>,
}

impl ChildBasis {
    /// What counts for it besides its observations, with these pains unanswered.
    #[must_use]
    pub fn context(&self, pain: &BTreeMap<ObservationId, Target>) -> ChildContext {
        ChildContext {
            exempt: self.exempt.clone(),
            opened: self.opened.clone(),
            pain: pain.values().cloned().collect(),
            tapes: self.tapes.clone(),
            swapped_at: self.swapped_at,
        }
    }
}
