//! What can happen in a round.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::round::detail::{RoundDetail, is_target};
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
    #[serde(deserialize_with = "crate::day::moment")]
    pub at: DateTime<Utc>,
    /// Of a plan the stops, in order; of the others whom they are about.
    #[serde(default)]
    pub children: Vec<RoundStop>,
    /// What the kind needs beside children.
    #[serde(default)]
    pub detail: RoundDetail,
}

/// The longest name of a device, in characters.
pub const MAX_DEVICE_LENGTH: usize = 60;
/// The most children one event is about.
pub const MAX_EVENT_CHILDREN: usize = 300;
/// The most checks at one stop.
pub const MAX_STOP_CHECKS: usize = 10;

/// Why an event of a round cannot be taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum EventFault {
    /// No name, too long a name, or one that cannot be kept.
    #[error("`device` is 1 to {MAX_DEVICE_LENGTH} characters.")]
    Device,
    /// Too many children or checks, or checks that are none.
    #[error("At most {MAX_EVENT_CHILDREN} children with {MAX_STOP_CHECKS} checks of the checklist each.")]
    Stops,
    /// It lies in the future.
    #[error("This lies in the future. Set the device's clock.")]
    Future,
}

/// Says what of an event cannot be: the name of its device, and its stops with their checks.
///
/// # Errors
/// [`EventFault`], the first that is found.
pub fn check_event(event: &RoundEvent) -> Result<(), EventFault> {
    let device = event.device.trim();
    if device.is_empty() || device.chars().count() > MAX_DEVICE_LENGTH || device.chars().any(char::is_control) {
        return Err(EventFault::Device);
    }
    let kept = |stop: &RoundStop| stop.checks.len() <= MAX_STOP_CHECKS && stop.checks.iter().all(|id| is_target(id));
    if event.children.len() > MAX_EVENT_CHILDREN || !event.children.iter().all(kept) {
        return Err(EventFault::Stops);
    }
    Ok(())
}
