//! What ears say of how markers are laid: one heard error, and the offset that a class's instruments propose.

use crate::craft::instrument::Instrument;
use crate::tapes::finger::Spot;
use crate::tapes::layout::{distance_mm, stopped_at_mm};
use crate::tapes::log::{Heard, Proof};
use crate::tapes::record::{Presence, TapeRecord};
use crate::tapes::settings::{MAX_OFFSET_MM, Temperament};

/// How far off a stopped note was heard.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct HeardError {
    /// The nearest note, in semitones above the open string.
    pub semitones: u8,
    /// How far off it, positive = sharp.
    pub cents: f64,
    /// How far the marker has to move, in millimetres; positive = towards the bridge.
    pub move_mm: f64,
}

/// What two frequencies tell: the open string's and the stopped note's, on a string of `length_mm`. `None` where the
/// stopped note is not above the open string by up to an octave.
#[must_use]
pub fn heard_error(length_mm: f64, open_hz: f64, stopped_hz: f64, temperament: Temperament) -> Option<HeardError> {
    let ratio = stopped_hz / open_hz;
    if !(ratio > 1.0 && ratio.is_finite() && open_hz > 0.0) {
        return None;
    }
    let off = |semitones: &u8| 1200.0 * (ratio / temperament.ratio(*semitones)).log2();
    let semitones = (1..=12_u8).min_by(|a, b| off(a).abs().total_cmp(&off(b).abs()))?;
    let cents = off(&semitones);
    if cents.abs() > 60.0 {
        return None;
    }
    let line = distance_mm(length_mm, semitones, temperament);
    Some(HeardError { semitones, cents, move_mm: line - stopped_at_mm(length_mm, line, cents) })
}

/// An offset that the class's ears propose.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OffsetProposal {
    /// The offset to use from now on, in millimetres towards the nut.
    pub offset_mm: f64,
    /// The middle of what the instruments wanted to be moved, positive towards the bridge.
    pub median_move_mm: f64,
    /// The least of them.
    pub least_move_mm: f64,
    /// The most.
    pub most_move_mm: f64,
    /// How many instruments were heard.
    pub instruments: usize,
}

/// From so many instruments on the class's offset is learned.
pub const MIN_INSTRUMENTS_FOR_OFFSET: usize = 5;

/// The offset that what was heard proposes: the one in use minus the median of the instruments' moves (markers heard sharp
/// want to move towards the nut, which is more offset). `None` below [`MIN_INSTRUMENTS_FOR_OFFSET`] instruments.
#[must_use]
pub fn propose_offset(in_use_mm: f64, moves_mm: &[f64]) -> Option<OffsetProposal> {
    let mut moves: Vec<f64> = moves_mm.iter().copied().filter(|mm| mm.is_finite()).collect();
    if moves.len() < MIN_INSTRUMENTS_FOR_OFFSET {
        return None;
    }
    moves.sort_by(f64::total_cmp);
    let median = median(&moves)?;
    Some(OffsetProposal {
        offset_mm: (in_use_mm - median).clamp(-MAX_OFFSET_MM, MAX_OFFSET_MM),
        median_move_mm: median,
        least_move_mm: moves[0],
        most_move_mm: moves[moves.len() - 1],
        instruments: moves.len(),
    })
}

/// The middle of numbers in order; of an even count the mean of the two in the middle.
#[must_use]
pub fn median(sorted: &[f64]) -> Option<f64> {
    let upper = sorted.get(sorted.len() / 2)?;
    if sorted.len() % 2 == 1 { Some(*upper) } else { Some(f64::midpoint(*upper, sorted[sorted.len() / 2 - 1])) }
}

/// An offset that differs by less than this, in millimetres, is the same to anybody's hand.
pub const MIN_OFFSET_CHANGE_MM: f64 = 0.2;

impl OffsetProposal {
    /// Whether anybody could lay markers any better with it than with the offset in use.
    #[must_use]
    pub fn is_worth_taking(&self, in_use_mm: f64) -> bool {
        (self.offset_mm - in_use_mm).abs() >= MIN_OFFSET_CHANGE_MM
    }
}

/// How far one instrument's markers want to move, in millimetres: the median of those that are on and were heard with a
/// tuner; `None` where none was.
#[must_use]
pub fn wanted_move_mm(
    record: &TapeRecord,
    instrument: Instrument,
    length_mm: f64,
    temperament: Temperament,
) -> Option<f64> {
    let heard =
        record.spots.iter().filter(|(_, spot)| spot.proof == Some(Proof::Tuner) && spot.presence == Presence::On);
    let moves = heard.filter_map(|(spot, known)| {
        let (Spot::Finger(finger), Some(Heard::Cents(cents))) = (spot, known.heard) else { return None };
        let line = distance_mm(length_mm, finger.semitones(instrument)?, temperament);
        Some(line - stopped_at_mm(length_mm, line, cents))
    });
    let mut moves: Vec<f64> = moves.collect();
    moves.sort_by(f64::total_cmp);
    median(&moves)
}
