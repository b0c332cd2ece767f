//! What can happen in a round.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};
use uuid::Uuid;

use crate::worded::worded;
use crate::{ChildId, RoundId};

worded! {
    /// What can happen in a round.
    RoundEventKind {
        /// Begun, with the first plan.
        Start = "start",
        /// Planned anew.
        Plan = "plan",
        /// Looked at many from afar.
        Scan = "scan",
        /// One device takes these children.
        Take = "take",
        /// Been there.
        Visited = "visited",
        /// Passed over.
        Skipped = "skipped",
        /// Not here today.
        Absent = "absent",
        /// Here after all.
        Present = "present",
        /// Over.
        End = "end",
    }
}

/// A child that an event speaks of.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct RoundStop {
    /// Whom.
    pub child: ChildId,
    /// What is to be looked at there.
    #[serde(default)]
    pub checks: Vec<String>,
}

/// One thing that happened in a round.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct RoundEvent {
    /// A `UUIDv7` made by the device; the same id twice is one event.
    pub id: Uuid,
    /// In which round.
    pub round: RoundId,
    /// What kind of thing.
    pub kind: RoundEventKind,
    /// The device it happened on.
    pub device: String,
    /// When, by the device's clock.
    pub at: DateTime<Utc>,
    /// Of a plan the stops, in order; of the others whom they are about.
    #[serde(default)]
    pub children: Vec<RoundStop>,
    /// Seconds, minutes, part, strand, target: what the kind needs.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(value_type = std::collections::HashMap<String, serde_json::Value>))]
    pub detail: Map<String, Value>,
}

/// The longest name of a device, in characters.
pub const MAX_DEVICE_LENGTH: usize = 60;
/// The most children one event is about.
pub const MAX_EVENT_CHILDREN: usize = 300;
/// The most checks at one stop.
pub const MAX_STOP_CHECKS: usize = 10;
/// The longest detail, as JSON, in bytes.
pub const MAX_DETAIL_BYTES: usize = 4000;

/// Why an event of a round cannot be taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum EventFault {
    /// No name, too long a name, or one that cannot be kept.
    #[error("`device` is 1 to {MAX_DEVICE_LENGTH} characters.")]
    Device,
    /// Too many children or checks.
    #[error("At most {MAX_EVENT_CHILDREN} children with {MAX_STOP_CHECKS} checks each.")]
    Stops,
    /// It lies in the future.
    #[error("This lies in the future. Set the device's clock.")]
    Future,
    /// Too long a detail, or one that cannot be kept.
    #[error("`detail` is too long, or holds a character that cannot be kept.")]
    Detail,
}

/// Says what of an event cannot be: the name of its device, how many checks each of its stops has, and its detail as JSON.
///
/// # Errors
/// [`EventFault`], the first that is found.
pub fn check_event(device: &str, checks: impl ExactSizeIterator<Item = usize>, detail: &str) -> Result<(), EventFault> {
    let device = device.trim();
    if device.is_empty() || device.chars().count() > MAX_DEVICE_LENGTH || device.contains('\0') {
        return Err(EventFault::Device);
    }
    if checks.len() > MAX_EVENT_CHILDREN || checks.into_iter().any(|checks| checks > MAX_STOP_CHECKS) {
        return Err(EventFault::Stops);
    }
    if detail.len() > MAX_DETAIL_BYTES || detail.contains("\\u0000") { Err(EventFault::Detail) } else { Ok(()) }
}
