//! One string after the other: which is meant, how far off it is, which way to turn, and which are done.

use super::listener::Heard;
use super::note::open_string;

/// So near, a string is in tune, in cents.
pub const IN_TUNE_CENTS: f64 = 5.0;
/// So near, a fine tuner reaches it; further off it takes the peg.
const FINE_CENTS: f64 = 100.0;
/// Further off than this no string is meant.
const MEANT_CENTS: f64 = 600.0;
/// Moments in a row that settle it: 0.4 s.
const STEADY: u32 = 20;
/// A string that was in tune and is so far off is not any more.
const SLIPPED_CENTS: f64 = 10.0;

/// What to do with a string.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Turn {
    /// Nothing.
    Stay,
    /// The fine tuner, higher.
    FineUp,
    /// The fine tuner, lower.
    FineDown,
    /// The peg or the machine, higher.
    PegUp,
    /// The peg or the machine, lower.
    PegDown,
}

impl Turn {
    /// What brings a string back that is so many cents too high.
    #[must_use]
    pub fn from_cents(cents: f64) -> Self {
        match cents {
            off if off.abs() <= IN_TUNE_CENTS => Self::Stay,
            off if off < -FINE_CENTS => Self::PegUp,
            off if off > FINE_CENTS => Self::PegDown,
            off if off < 0.0 => Self::FineUp,
            _ => Self::FineDown,
        }
    }
}

/// A string that is heard while one tunes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Tuned {
    /// Its place among the open strings, low to high.
    pub place: usize,
    /// How far above its note it is.
    pub cents: f64,
    /// What to do with it.
    pub turn: Turn,
}

/// Follows the four strings of an instrument while they are tuned.
#[derive(Clone, Debug)]
pub struct Tuner {
    open_hz: [f64; 4],
    done: [bool; 4],
    /// The string that was heard last, and for how many moments it was in tune, or off, in a row.
    last: Option<(usize, bool)>,
    steady: u32,
}

impl Tuner {
    /// For four open strings, low to high, in hertz.
    #[must_use]
    pub const fn new(open_hz: [f64; 4]) -> Self {
        Self { open_hz, done: [false; 4], last: None, steady: 0 }
    }

    /// Takes a moment; which string is meant, where one is heard.
    pub fn hear(&mut self, heard: &Heard) -> Option<Tuned> {
        let (place, cents) = open_string(heard.pitch?.hz, &self.open_hz)?;
        if cents.abs() > MEANT_CENTS {
            return None;
        }
        let right = cents.abs() <= IN_TUNE_CENTS;
        self.steady = if self.last == Some((place, right)) { self.steady + 1 } else { 1 };
        self.last = Some((place, right));
        if self.steady >= STEADY && (right || cents.abs() > SLIPPED_CENTS) {
            self.done[place] = right;
        }
        Some(Tuned { place, cents, turn: Turn::from_cents(cents) })
    }

    /// Which strings are done, low to high.
    #[must_use]
    pub const fn done(&self) -> [bool; 4] {
        self.done
    }
}
