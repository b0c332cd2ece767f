//! What counts for one child besides its observations.

use std::collections::BTreeSet;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::craft::id::{CheckpointId, StageId, Target};
use crate::tapes::assessment::MarkerAssessment;

/// The longest reason for an accommodation, in characters.
pub const MAX_REASON_LENGTH: usize = 200;
/// The longest words on what was done about pain, in characters.
pub const MAX_DONE_LENGTH: usize = 300;

/// What counts for one child besides its observations.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct ChildContext {
    /// Checkpoints that do not apply to the child.
    pub exempt: BTreeSet<CheckpointId>,
    /// Stages that the director opened although they wait for others.
    pub opened: BTreeSet<StageId>,
    /// Where the child said that it hurts, until somebody says what was done.
    pub pain: BTreeSet<Target>,
    /// What the log of its instrument tells.
    pub tapes: Option<MarkerAssessment>,
    /// When it got its present instrument in the place of another.
    pub swapped_at: Option<DateTime<Utc>>,
}
