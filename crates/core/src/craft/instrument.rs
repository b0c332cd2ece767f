//! What the four instruments are like: open strings and nominal string lengths.

use std::ops::RangeInclusive;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

pub use crate::instrument::Instrument;

/// An open string.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct OpenString {
    /// Letter and octave, `G3`; the bass as it sounds.
    pub note: String,
    /// MIDI note number, 69 = A4.
    pub midi: u8,
}

/// A size with its nominal vibrating string length, nut to bridge.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Size {
    /// The size as it is spoken of: `3/4`, for the viola the body length in inches, `15.5`.
    pub name: String,
    /// Vibrating length in millimetres.
    pub string_length_mm: f64,
    /// The arm or height from which a child takes it, in millimetres; a size without is never proposed.
    pub from_mm: Option<f64>,
    /// The finger span that decides for it when the height is just below, in millimetres.
    pub span_from_mm: Option<f64>,
    /// The instrument's length without its pin (cello), or the nut's height without it (bass), in millimetres.
    pub without_pin_mm: Option<f64>,
}

/// The measure that finds the size.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum MainMeasure {
    /// The outstretched arm.
    Arm,
    /// The child's height.
    Height,
}

/// What a child plays, and what it played before.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Playing {
    /// Now.
    pub now: Instrument,
    /// Until when it played what, oldest first.
    pub before: Vec<(DateTime<Utc>, Instrument)>,
}

impl From<Instrument> for Playing {
    fn from(now: Instrument) -> Self {
        Self { now, before: Vec::new() }
    }
}

impl Playing {
    /// What it played at a moment.
    #[must_use]
    pub fn at(&self, moment: DateTime<Utc>) -> Instrument {
        self.before.iter().find(|(until, _)| moment < *until).map_or(self.now, |(_, instrument)| *instrument)
    }

    /// When it took up what it plays now; `None` if it never changed.
    #[must_use]
    pub fn since(&self) -> Option<DateTime<Utc>> {
        self.before.last().map(|(until, _)| *until)
    }
}

/// What content says about one instrument.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct InstrumentFacts {
    /// Which instrument.
    pub instrument: Instrument,
    /// Four open strings, low to high.
    pub strings: Vec<OpenString>,
    /// Sizes, largest first.
    pub sizes: Vec<Size>,
    /// The measure that finds the size.
    pub measure: MainMeasure,
    /// The fingers that usually get a marker.
    pub markers: Vec<String>,
    /// The length of one strip of tape: across the fingerboard and down both sides, in millimetres.
    pub strip_mm: u32,
    /// The usual height of the strings over the fingerboard at the third finger, in millimetres.
    pub string_height_mm: Option<f64>,
}

/// The height of strings over the fingerboard that is kept, in millimetres.
pub const STRING_HEIGHTS_MM: RangeInclusive<f64> = 0.5..=20.0;
/// From this many times the usual height on, strings are well above it.
const WELL_ABOVE: f64 = 4.0 / 3.0;

impl InstrumentFacts {
    /// The size of a name.
    #[must_use]
    pub fn size(&self, name: &str) -> Option<&Size> {
        self.sizes.iter().find(|size| size.name == name)
    }

    /// Whether strings of this height are well above the usual one; unknown on instruments without a usual one.
    #[must_use]
    pub fn has_high_strings(&self, height_mm: f64) -> bool {
        self.string_height_mm.is_some_and(|usual| height_mm >= usual * WELL_ABOVE)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_instrument_is_found_by_its_name_and_by_its_content_key() {
        for instrument in Instrument::ALL {
            assert_eq!(Instrument::parse(instrument.name()), Some(instrument));
            assert_eq!(Instrument::parse(instrument.key()), Some(instrument));
        }
        assert_eq!(Instrument::parse("tuba"), None);
    }
}
