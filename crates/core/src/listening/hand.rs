//! How a hand lies: what the notes of a run on one string say together.

/// So many cents off, a stopped note still counts as in tune.
const IN_TUNE_CENTS: f64 = 12.0;
/// Fingers that lie as they should to each other are within so many cents.
const TOGETHER_CENTS: f64 = 12.0;
/// One finger is the odd one if it is so far from the others, in cents.
const ODD_CENTS: f64 = 20.0;

/// A stopped note of a run.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct StoppedNote {
    /// Which finger, 1 to 4.
    pub finger: u8,
    /// How far above its note it sounds, in cents.
    pub cents: f64,
}

/// What a run says.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum HandPattern {
    /// Every note is near enough.
    InTune,
    /// All are low alike: the hand lies too near the nut, or the string is low. Cents, below 0.
    AllLow(f64),
    /// All are high alike. Cents, above 0.
    AllHigh(f64),
    /// One finger is off, and the others are right with each other: by how many cents from them.
    OneOff {
        /// Which.
        finger: u8,
        /// How far above the others.
        cents: f64,
    },
    /// They differ from each other.
    Spread,
}

/// The pattern of a run of at least two stopped notes; `None` for fewer, or where one is no number.
#[must_use]
pub fn hand_pattern(run: &[StoppedNote]) -> Option<HandPattern> {
    if run.len() < 2 || run.iter().any(|note| !note.cents.is_finite()) {
        return None;
    }
    if run.iter().all(|note| note.cents.abs() <= IN_TUNE_CENTS) {
        return Some(HandPattern::InTune);
    }
    let (middle, width) = middle_and_width(run.iter().map(|note| note.cents));
    if width <= 2.0 * TOGETHER_CENTS {
        return Some(if middle < 0.0 { HandPattern::AllLow(middle) } else { HandPattern::AllHigh(middle) });
    }
    let odd = run.iter().enumerate().filter(|_| run.len() > 2).filter_map(|(at, note)| {
        let others = run.iter().enumerate().filter(|(other, _)| *other != at).map(|(_, note)| note.cents);
        let (middle, width) = middle_and_width(others);
        let cents = note.cents - middle;
        (width <= 2.0 * TOGETHER_CENTS && cents.abs() > ODD_CENTS).then_some((note.finger, cents))
    });
    let most = odd.max_by(|(_, a), (_, b)| a.abs().total_cmp(&b.abs()));
    Some(most.map_or(HandPattern::Spread, |(finger, cents)| HandPattern::OneOff { finger, cents }))
}

/// Halfway between the lowest and the highest, and how far they are apart.
fn middle_and_width(cents: impl Iterator<Item = f64>) -> (f64, f64) {
    let (low, high) = cents.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), at| (low.min(at), high.max(at)));
    (f64::midpoint(low, high), high - low)
}
