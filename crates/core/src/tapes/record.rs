//! What follows from an instrument's log: whether each marker is there, where it lies and how it was last proved.
//!
//! [`TapeRecord`] is the fold of all events of the log in the order of (moment, id), those taken back left out; any order
//! of arrival gives the same record.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::TapeEventId;
use crate::tapes::finger::{Finger, Spot};
use crate::tapes::log::{Heard, Proof, TapeEvent, TapeWork};

/// Whether a marker is where it was laid.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Presence {
    /// Never laid.
    #[default]
    Never,
    /// On.
    On,
    /// Coming off.
    Loose,
    /// Gone without anybody's wish.
    Missing,
    /// Taken away on purpose.
    Taken,
}

/// What is known of one marker.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub struct SpotRecord {
    /// Whether it is there.
    pub presence: Presence,
    /// Since when it is as it is.
    pub since: DateTime<Utc>,
    /// Where its nut-side edge was last measured, since it was laid.
    pub edge_mm: Option<f64>,
    /// When that was.
    pub edge_at: Option<DateTime<Utc>>,
    /// How it was last proved, since it was laid.
    pub proof: Option<Proof>,
    /// What was heard then.
    pub heard: Option<Heard>,
    /// When that was.
    pub heard_at: Option<DateTime<Utc>>,
    /// The best that was ever heard of it, in cents either way.
    pub best_cents: Option<f64>,
    /// By how much the bridge moved since it was last heard, in millimetres.
    pub bridge_moved_mm: f64,
}

impl SpotRecord {
    /// Since when a marker that is off has been: it was measured or heard then, or the bridge moved.
    pub(crate) fn off_since(&self, doubted_at: Option<DateTime<Utc>>) -> Option<DateTime<Utc>> {
        let bridge = doubted_at.filter(|_| self.bridge_moved_mm != 0.0);
        [self.edge_at, self.heard_at, bridge].into_iter().flatten().max()
    }
}

/// Everything that follows from an instrument's log, whatever the class asks for.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub struct TapeRecord {
    /// The length measured last, a moved bridge counted in.
    pub length_mm: Option<f64>,
    /// By spot.
    pub spots: BTreeMap<Spot, SpotRecord>,
    /// When everything was last found still there and true.
    pub held_at: Option<DateTime<Utc>>,
    /// When something happened after which everything wants to be heard again.
    pub doubted_at: Option<DateTime<Utc>>,
    /// When something good was last found or done: laid, heard true, still there.
    pub good_at: Option<DateTime<Utc>>,
    /// The last entry of any kind.
    pub looked_at: Option<DateTime<Utc>>,
}

/// A length that differs from the one before by this or more is another length: the bridge stands elsewhere.
const SAME_LENGTH_MM: f64 = 0.5;

/// The entries of a log that count, in their one order: by (moment, id), each id once, those taken back and what takes them back
/// left out.
#[must_use]
pub fn in_force(events: &[TapeEvent]) -> Vec<&TapeEvent> {
    let takes_back = |event: &TapeEvent| if let TapeWork::Undone { event } = event.work { Some(event) } else { None };
    let undone: BTreeSet<TapeEventId> = events.iter().filter_map(takes_back).collect();
    let counts = |event: &&TapeEvent| !undone.contains(&event.id) && takes_back(event).is_none();
    let mut order: Vec<&TapeEvent> = events.iter().filter(counts).collect();
    order.sort_by_key(|event| (event.at, event.id));
    order.dedup_by_key(|event| event.id);
    order
}

impl TapeRecord {
    /// The record of a log, whatever order its entries are given in.
    #[must_use]
    pub fn of(events: &[TapeEvent]) -> Self {
        let mut record = Self::default();
        for event in in_force(events) {
            record.take(event.at, &event.work);
        }
        record
    }

    fn take(&mut self, at: DateTime<Utc>, work: &TapeWork) {
        match work {
            TapeWork::Undone { .. } => return,
            TapeWork::Measured { length_mm } => self.measured(at, *length_mm),
            TapeWork::Placed { spots, .. } | TapeWork::Back { spots } => {
                for spot in spots {
                    let best_cents = self.spots.get(spot).and_then(|known| known.best_cents);
                    let laid = SpotRecord { presence: Presence::On, since: at, best_cents, ..SpotRecord::default() };
                    self.spots.insert(*spot, laid);
                }
                self.good_at = Some(at);
            }
            TapeWork::Positions { edges } => {
                for (finger, edge) in edges {
                    let spot = self.there(Spot::Finger(*finger), at);
                    (spot.edge_mm, spot.edge_at) = (Some(*edge), Some(at));
                }
            }
            TapeWork::Heard { finger, proof, heard, .. } => self.heard(at, *finger, *proof, *heard),
            TapeWork::Held => self.held(at),
            TapeWork::Loose { spots } => self.turn(at, spots, Presence::Loose),
            TapeWork::Missing { spots } => self.turn(at, spots, Presence::Missing),
            TapeWork::Thinned { spots } => self.turn(at, spots, Presence::Taken),
            TapeWork::Bare => {
                let on = self.spots.iter().filter(|(_, known)| known.presence != Presence::Never);
                let on = on.map(|(spot, _)| *spot).collect();
                self.turn(at, &on, Presence::Taken);
            }
            TapeWork::Bridge { moved_mm } => {
                if let Some(moved) = moved_mm {
                    self.length_mm = self.length_mm.map(|length| length + moved);
                    for spot in self.spots.values_mut() {
                        spot.bridge_moved_mm += moved;
                    }
                }
                self.doubted_at = Some(at);
            }
            TapeWork::Strings => self.doubted_at = Some(at),
        }
        self.looked_at = Some(at);
    }

    fn measured(&mut self, at: DateTime<Utc>, length_mm: f64) {
        if let Some(before) = self.length_mm.filter(|before| (before - length_mm).abs() >= SAME_LENGTH_MM) {
            for spot in self.spots.values_mut() {
                spot.bridge_moved_mm += length_mm - before;
            }
            self.doubted_at = Some(at);
        }
        self.length_mm = Some(length_mm);
    }

    /// A marker that somebody measured or heard is there, whatever the log said before.
    fn there(&mut self, spot: Spot, at: DateTime<Utc>) -> &mut SpotRecord {
        let known = self.spots.entry(spot).or_default();
        if known.presence != Presence::On {
            (known.presence, known.since) = (Presence::On, at);
        }
        known
    }

    fn heard(&mut self, at: DateTime<Utc>, finger: Finger, proof: Proof, heard: Heard) {
        let spot = self.there(Spot::Finger(finger), at);
        (spot.proof, spot.heard, spot.heard_at) = (Some(proof), Some(heard), Some(at));
        spot.bridge_moved_mm = 0.0;
        let cents = match heard {
            Heard::True => Some(0.0),
            Heard::Cents(cents) => Some(cents.abs()),
            Heard::High | Heard::Low => None,
        };
        if let Some(cents) = cents {
            spot.best_cents = Some(spot.best_cents.map_or(cents, |best| best.min(cents)));
            self.good_at = Some(at);
        }
    }

    fn held(&mut self, at: DateTime<Utc>) {
        for (_, known) in self.spots.iter_mut().filter(|(_, known)| known.presence == Presence::Loose) {
            (known.presence, known.since) = (Presence::On, at);
        }
        for known in self.spots.values_mut().filter(|known| known.presence == Presence::On) {
            (known.edge_mm, known.edge_at) = (None, None);
            // What was never proved is not proved by a glance.
            if known.heard.is_some() {
                (known.heard, known.heard_at, known.best_cents) = (Some(Heard::True), Some(at), Some(0.0));
                known.bridge_moved_mm = 0.0;
            }
        }
        (self.held_at, self.good_at) = (Some(at), Some(at));
    }

    fn turn(&mut self, at: DateTime<Utc>, spots: &BTreeSet<Spot>, presence: Presence) {
        for spot in spots {
            let known = self.spots.entry(*spot).or_default();
            (known.presence, known.since) = (presence, at);
        }
    }

    /// Markers that are there, coming off ones too.
    pub fn on(&self) -> impl Iterator<Item = Spot> {
        let on = |known: &SpotRecord| matches!(known.presence, Presence::On | Presence::Loose);
        self.spots.iter().filter(move |(_, known)| on(known)).map(|(spot, _)| *spot)
    }

    pub(crate) fn presence(&self, spot: Spot) -> Presence {
        self.spots.get(&spot).map_or(Presence::Never, |known| known.presence)
    }
}
