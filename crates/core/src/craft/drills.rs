//! Drills for the whole class, and what differs between the instruments.

use std::collections::BTreeMap;

use crate::craft::id::StageId;
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;

/// One thing that everybody does at once.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DrillStep {
    /// Beats it takes.
    pub count: u32,
    /// What to do, on each instrument.
    pub text: BTreeMap<Instrument, String>,
}

/// Something that the whole class does together.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Drill {
    /// `pluck-across`.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What it is for.
    pub strand: Strand,
    /// The stage that has to be passed before; none: from the first day.
    pub after: Option<StageId>,
    /// How long it takes.
    pub minutes: u32,
    /// Somebody holds up or presses.
    pub load: bool,
    /// As the child would say it.
    pub aim: String,
    /// In order.
    pub steps: Vec<DrillStep>,
}

/// What differs on an instrument, at a glance.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Glance {
    /// Where the thumb is.
    pub thumb: String,
    /// How the fingers are spaced.
    pub spacing: String,
}

/// Everything that lessons are made from.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Lessons {
    /// In the order in which they come.
    pub drills: Vec<Drill>,
    /// What differs, by instrument.
    pub glances: BTreeMap<Instrument, Glance>,
}
