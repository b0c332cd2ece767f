//! What counts for one child besides its observations, as its page shows it.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;

use crate::ObservationId;

/// Who did something, and when.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct MadeView {
    /// By name.
    pub by: String,
    /// When.
    pub at: DateTime<Utc>,
}

/// What counts for a child instead of the shared look-for.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct AccommodationView {
    /// Which.
    pub checkpoint: String,
    /// What it is called.
    pub name: String,
    /// What is looked for; absent: the checkpoint does not apply.
    pub look_for: Option<String>,
    /// Why.
    pub reason: String,
    /// The version of it.
    pub version: String,
    /// Who decided it.
    pub made: MadeView,
}

/// When a child said that it hurts.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct PainView {
    /// What it was said with: an observation, or a family's answer.
    pub observation: ObservationId,
    /// Whether the family said so, of practice at home.
    #[serde(default)]
    pub at_home: bool,
    /// Where it was seen.
    pub target_name: String,
    /// What was written then.
    pub note: Option<String>,
    /// Who heard it.
    pub seen: MadeView,
    /// What was done; absent while it is flagged.
    pub done: Option<String>,
    /// Who said so.
    pub answered: Option<MadeView>,
}
