//! Which pitches are listened for.

use crate::instrument::Instrument;

/// From the lowest to the highest pitch that is listened for, in hertz.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Range {
    pub(super) lowest: f64,
    pub(super) highest: f64,
    /// Seconds that are looked at together: at least three periods of the lowest pitch.
    pub(super) window: f64,
}

impl Range {
    /// An instrument's strings in first position, two semitones flat to six above the fourth finger.
    #[must_use]
    pub const fn of(instrument: Instrument) -> Self {
        match instrument {
            Instrument::Violin => Self { lowest: 174.0, highest: 1_400.0, window: 0.046 },
            Instrument::Viola => Self { lowest: 116.0, highest: 940.0, window: 0.055 },
            Instrument::Cello => Self { lowest: 58.0, highest: 630.0, window: 0.08 },
            Instrument::Bass => Self { lowest: 36.5, highest: 330.0, window: 0.125 },
        }
    }

    /// All four instruments together.
    #[must_use]
    pub const fn all() -> Self {
        Self { lowest: 36.5, highest: 1_400.0, window: 0.125 }
    }
}
