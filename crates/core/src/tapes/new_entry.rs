//! An entry on its way into an instrument's tape log: what of it can be, on that very instrument.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::tapes::finger::{Finger, Spot};
use crate::tapes::layout::{MAX_STRING_MM, MIN_STRING_MM};
use crate::tapes::log::{Heard, Proof, TapeEvent, TapeWork};
use crate::tapes::marker_set::MarkerSet;
use crate::tapes::plausible::{
    MAX_BRIDGE_MOVE_MM, MAX_HEARD_CENTS, bridge_can_move, check_edges, has_open_string, is_near, meant_length,
};
use crate::worded::worded;
use crate::{AssetId, TapeEventId};

worded! {
    /// What was done to an instrument's markers; each says which fields of an entry it reads.
    TapeWorkKind {
        /// `lengthMm`.
        Measured = "measured",
        /// `spots`.
        Placed = "placed",
        /// `edges`.
        Positions = "positions",
        /// `finger`, `proof`, `heard` or `cents`, `microphone`.
        Heard = "heard",
        /// Everything still there and true.
        Held = "held",
        /// `spots`.
        Loose = "loose",
        /// `spots`.
        Missing = "missing",
        /// `movedMm` if it is known.
        Bridge = "bridge",
        /// New strings.
        Strings = "strings",
        /// `spots`.
        Thinned = "thinned",
        /// `spots`.
        Back = "back",
        /// Every marker taken away.
        Bare = "bare",
        /// `event` does not count.
        Undone = "undone",
    }
}

worded! {
    /// What an ear says.
    EarVerdict {
        /// In tune.
        True = "true",
        /// Too high.
        High = "high",
        /// Too low.
        Low = "low",
    }
}

/// One entry for an instrument's log.
#[serde_with::skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct NewTapeEntry {
    /// A `UUIDv7` made by the device; the same id twice is one entry.
    pub id: TapeEventId,
    /// Which instrument.
    pub asset: AssetId,
    /// When, by the device's clock.
    #[serde(deserialize_with = "crate::day::moment")]
    pub at: DateTime<Utc>,
    /// What was done.
    pub kind: TapeWorkKind,
    /// Fingers, `thumb`, `line`.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub spots: Vec<String>,
    /// Nut to bridge.
    pub length_mm: Option<f64>,
    /// Nut-side edges by finger, from the nut.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub edges: BTreeMap<String, f64>,
    /// Whose marker was heard.
    pub finger: Option<String>,
    /// How it was proved.
    pub proof: Option<Proof>,
    /// What the ear said.
    pub heard: Option<EarVerdict>,
    /// Instead of `heard`: how far off, positive = sharp.
    pub cents: Option<f64>,
    /// The device's microphone heard it: `cents` are its number.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub microphone: bool,
    /// Positive for a longer string.
    pub moved_mm: Option<f64>,
    /// The entry that does not count any more.
    pub event: Option<TapeEventId>,
}

/// The instrument that an entry is about.
#[derive(Clone, Copy, Debug)]
pub struct Subject<'a> {
    /// What is known of every instrument.
    pub all: &'a BTreeMap<Instrument, InstrumentFacts>,
    /// The markers that the class calls for on it.
    pub set: &'a MarkerSet,
    /// Its size.
    pub size: &'a str,
    /// Its string length on record, in millimetres.
    pub length_mm: Option<f64>,
}

impl NewTapeEntry {
    /// The event of the log.
    ///
    /// # Errors
    /// What of it cannot be, and what to do.
    pub fn check(&self, on: &Subject<'_>) -> Result<TapeEvent, String> {
        Ok(TapeEvent { id: self.id, at: self.at, work: self.work(on)? })
    }

    fn work(&self, on: &Subject<'_>) -> Result<TapeWork, String> {
        let instrument = on.set.instrument;
        Ok(match self.kind {
            TapeWorkKind::Measured => TapeWork::Measured { length_mm: self.length(on)? },
            TapeWorkKind::Placed => TapeWork::Placed { spots: self.spots(instrument)?, strips: on.set.strips() },
            TapeWorkKind::Positions => TapeWork::Positions { edges: self.edges(on)? },
            TapeWorkKind::Heard => self.heard(&on.set.facts)?,
            TapeWorkKind::Held => TapeWork::Held,
            TapeWorkKind::Loose => TapeWork::Loose { spots: self.spots(instrument)? },
            TapeWorkKind::Missing => TapeWork::Missing { spots: self.spots(instrument)? },
            TapeWorkKind::Bridge => TapeWork::Bridge { moved_mm: self.moved(on.length_mm)? },
            TapeWorkKind::Strings => TapeWork::Strings,
            TapeWorkKind::Thinned => TapeWork::Thinned { spots: self.spots(instrument)? },
            TapeWorkKind::Back => TapeWork::Back { spots: self.spots(instrument)? },
            TapeWorkKind::Bare => TapeWork::Bare,
            TapeWorkKind::Undone => {
                let event = self.event.ok_or("`event` says which entry does not count any more.")?;
                TapeWork::Undone { event }
            }
        })
    }

    fn length(&self, on: &Subject<'_>) -> Result<f64, String> {
        let usual = || format!("A string is {MIN_STRING_MM} to {MAX_STRING_MM} mm long, nut to bridge.");
        let length = self.length_mm.filter(|mm| mm.is_finite() && *mm > 0.0).ok_or_else(usual)?;
        if let Some(fault) = length_fault(on.all, on.set.instrument, on.size, length) {
            return Err(fault);
        }
        if (MIN_STRING_MM..=MAX_STRING_MM).contains(&length) { Ok(length) } else { Err(usual()) }
    }

    fn edges(&self, on: &Subject<'_>) -> Result<BTreeMap<Finger, f64>, String> {
        let instrument = on.set.instrument;
        let edges = self.edges.iter().map(|(id, mm)| Ok((finger(id, instrument)?, *mm)));
        let edges: BTreeMap<Finger, f64> = edges.collect::<Result<_, String>>()?;
        let length = on.length_mm.ok_or("Measure the string first: from the nut to the bridge.")?;
        check_edges(instrument, length, &on.set.settings, &edges).map_err(|fault| fault.to_string())?;
        Ok(edges)
    }

    fn spots(&self, on: Instrument) -> Result<BTreeSet<Spot>, String> {
        let spot = |id: &String| {
            let spot = Spot::parse(id).filter(|spot| spot.is_on(on));
            spot.ok_or_else(|| format!("The {} has no marker “{id}”.", on.name()))
        };
        let spots: BTreeSet<Spot> = self.spots.iter().map(spot).collect::<Result<_, _>>()?;
        if spots.is_empty() { Err("`spots` says which markers.".to_owned()) } else { Ok(spots) }
    }

    fn heard(&self, facts: &InstrumentFacts) -> Result<TapeWork, String> {
        let finger = finger(self.finger.as_deref().unwrap_or_default(), facts.instrument)?;
        // Nothing to compare with is never a pass.
        let proof = self.proof.ok_or("`proof` says what it was compared with.")?;
        let heard = match (self.heard, self.cents) {
            (None, Some(cents)) if cents.abs() <= MAX_HEARD_CENTS => Heard::Cents(cents),
            (None, Some(_)) => {
                return Err(format!("More than {MAX_HEARD_CENTS} cents off is another note: tune first."));
            }
            (Some(EarVerdict::True), None) => Heard::True,
            (Some(EarVerdict::High), None) => Heard::High,
            (Some(EarVerdict::Low), None) => Heard::Low,
            _ => return Err("`heard` or `cents`, one of them.".to_owned()),
        };
        if self.microphone && !matches!(heard, Heard::Cents(_)) {
            return Err("What the microphone heard comes as `cents`.".to_owned());
        }
        if proof == Proof::OpenString && !has_open_string(facts, finger) {
            let marker = finger.spoken();
            return Err(format!("Marker {marker} has no open string to compare with: use steps, a tone or a tuner."));
        }
        Ok(TapeWork::Heard { finger, proof, heard, microphone: self.microphone })
    }

    fn moved(&self, length_mm: Option<f64>) -> Result<Option<f64>, String> {
        match self.moved_mm {
            Some(moved) if !bridge_can_move(length_mm, moved) => {
                Err(format!("A bridge moves by at most {MAX_BRIDGE_MOVE_MM} mm; one that fell is a luthier's work."))
            }
            moved => Ok(moved),
        }
    }
}

fn finger(id: &str, on: Instrument) -> Result<Finger, String> {
    let finger = Finger::parse(id).filter(|finger| finger.semitones(on).is_some());
    finger.ok_or_else(|| format!("The {} has no marker “{id}” in first position.", on.name()))
}

/// A string is near the usual length of its size; far from it something was mistyped or the size is another. `None` where the
/// length is near, or the size is not known.
#[must_use]
pub fn length_fault(
    all: &BTreeMap<Instrument, InstrumentFacts>,
    instrument: Instrument,
    size: &str,
    length_mm: f64,
) -> Option<String> {
    let usual = all[&instrument].size(size)?.string_length_mm;
    if is_near(usual, length_mm) {
        return None;
    }
    let meant = meant_length(all, instrument, Some(size), length_mm).map(|meant| format!(" {meant}"));
    let (name, meant) = (instrument.name(), meant.unwrap_or_default());
    Some(format!("A {name} {size} has some {usual:.0} mm from nut to bridge: measure again.{meant}"))
}
