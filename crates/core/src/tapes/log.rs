//! What was done to the markers of one instrument: a log that only grows, and what follows from it.
//!
//! The log belongs to the instrument, not to a child. [`TapeRecord`] is the fold of all its events in the order of
//! (moment, id), those taken back left out; any order of arrival gives the same record. What the record comes to under a
//! class's set of markers is [`crate::tapes::assessment::MarkerAssessment`].

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::TapeEventId;
use crate::tapes::finger::{Finger, Spot};
use crate::tapes::settings::Align;

/// How a marker was proved.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Proof {
    /// Against an open string.
    OpenString,
    /// By steps from a marker that was proved.
    Step,
    /// Against a reference tone.
    Tone,
    /// With a tuner.
    Tuner,
}

/// What was heard.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Heard {
    /// In tune.
    True,
    /// Too high: the marker lies too near the bridge.
    High,
    /// Too low.
    Low,
    /// So many cents off, positive = sharp.
    Cents(f64),
}

/// How strips of tape were laid.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Strips {
    /// Their width.
    pub width_mm: f64,
    /// What of them lies on the line.
    pub align: Align,
}

/// One thing done to an instrument's markers.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", tag = "kind")]
pub enum TapeWork {
    /// The string was measured, nut to bridge.
    #[serde(rename_all = "camelCase")]
    Measured {
        /// In millimetres.
        length_mm: f64,
    },
    /// Markers were laid.
    #[serde(rename_all = "camelCase")]
    Placed {
        /// Which.
        spots: BTreeSet<Spot>,
        /// How strips were laid then: what is measured later is read by how the class lays them now.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        strips: Option<Strips>,
    },
    /// Where markers lie: nut-side edges from the nut.
    Positions {
        /// In millimetres, by finger.
        edges: BTreeMap<Finger, f64>,
    },
    /// A marker was heard.
    Heard {
        /// Whose.
        finger: Finger,
        /// Against what.
        proof: Proof,
        /// What came of it.
        heard: Heard,
        /// The device's microphone heard it.
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        microphone: bool,
    },
    /// Everything is still there and still true.
    Held,
    /// Markers come off.
    Loose {
        /// Which.
        spots: BTreeSet<Spot>,
    },
    /// Markers are gone.
    Missing {
        /// Which.
        spots: BTreeSet<Spot>,
    },
    /// The bridge moved, by how much if somebody knows.
    #[serde(rename_all = "camelCase")]
    Bridge {
        /// In millimetres, positive for a longer string.
        #[serde(skip_serializing_if = "Option::is_none")]
        moved_mm: Option<f64>,
    },
    /// New strings.
    Strings,
    /// Markers were taken away on purpose.
    Thinned {
        /// Which.
        spots: BTreeSet<Spot>,
    },
    /// Markers that were taken away are on again.
    Back {
        /// Which.
        spots: BTreeSet<Spot>,
    },
    /// Every marker was taken away on purpose.
    Bare,
    /// An earlier entry does not count.
    Undone {
        /// Which.
        event: TapeEventId,
    },
}

impl TapeWork {
    /// The word that stands for it in files and in the database.
    #[must_use]
    pub const fn word(&self) -> &'static str {
        match self {
            Self::Measured { .. } => "measured",
            Self::Placed { .. } => "placed",
            Self::Positions { .. } => "positions",
            Self::Heard { .. } => "heard",
            Self::Held => "held",
            Self::Loose { .. } => "loose",
            Self::Missing { .. } => "missing",
            Self::Bridge { .. } => "bridge",
            Self::Strings => "strings",
            Self::Thinned { .. } => "thinned",
            Self::Back { .. } => "back",
            Self::Bare => "bare",
            Self::Undone { .. } => "undone",
        }
    }

    /// As a device sends it: without what was added from the class's settings of the day.
    #[must_use]
    pub fn as_sent(&self) -> Self {
        match self {
            Self::Placed { spots, .. } => Self::Placed { spots: spots.clone(), strips: None },
            other => other.clone(),
        }
    }

    /// The spots it speaks of.
    #[must_use]
    pub fn spots(&self) -> BTreeSet<Spot> {
        match self {
            Self::Placed { spots, .. }
            | Self::Loose { spots }
            | Self::Missing { spots }
            | Self::Thinned { spots }
            | Self::Back { spots } => spots.clone(),
            Self::Positions { edges } => edges.keys().map(|finger| Spot::Finger(*finger)).collect(),
            Self::Heard { finger, .. } => [Spot::Finger(*finger)].into(),
            _ => BTreeSet::new(),
        }
    }
}

/// An entry of the log.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct TapeEvent {
    /// Made by the device.
    pub id: TapeEventId,
    /// When.
    pub at: DateTime<Utc>,
    /// What.
    pub work: TapeWork,
}
