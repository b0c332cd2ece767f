//! Where marks go on one very instrument, and what a miss in millimetres means in pitch.
//!
//! A string of length L that is stopped at distance d from the nut sounds with L - d. Everything here follows from that:
//! lengths in millimetres, pitches in cents (a hundredth of an equal semitone), positive towards the bridge and sharp.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::finger::Finger;
use crate::instrument::{Instrument, InstrumentFacts};

/// The shortest string that any instrument of the class has, in millimetres.
pub const SHORTEST_MM: f64 = 150.0;
/// The longest.
pub const LONGEST_MM: f64 = 1300.0;
/// The narrowest strip of tape, in millimetres.
pub const STRIP_LEAST_MM: f64 = 2.0;
/// The widest.
pub const STRIP_MOST_MM: f64 = 6.0;
/// The largest offset either way, in millimetres.
pub const OFFSET_MOST_MM: f64 = 5.0;
/// The lowest A4 that a class tunes to, in hertz.
pub const A4_LEAST_HZ: f64 = 430.0;
/// The highest.
pub const A4_MOST_HZ: f64 = 450.0;
/// MIDI note number of A4.
pub const A4_MIDI: u8 = 69;

/// How the octave is divided.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub enum Temperament {
    /// Twelve equal semitones.
    #[default]
    Equal,
    /// Built on pure fifths, as string players tune.
    Pythagorean,
}

impl Temperament {
    /// How much higher a note `semitones` above the open string sounds; Pythagorean ratios up to the fifth, built on
    /// octaves above.
    #[must_use]
    pub fn ratio(self, semitones: u8) -> f64 {
        /// From the unison to the major seventh: a chain of pure fifths, folded into one octave.
        const PURE: [(f64, f64); 12] = [
            (1.0, 1.0),
            (256.0, 243.0),
            (9.0, 8.0),
            (32.0, 27.0),
            (81.0, 64.0),
            (4.0, 3.0),
            (729.0, 512.0),
            (3.0, 2.0),
            (128.0, 81.0),
            (27.0, 16.0),
            (16.0, 9.0),
            (243.0, 128.0),
        ];
        match self {
            Self::Equal => (f64::from(semitones) / 12.0).exp2(),
            Self::Pythagorean => {
                let (above, below) = PURE[usize::from(semitones % 12)];
                above / below * f64::from(semitones / 12).exp2()
            }
        }
    }
}

/// Which part of a strip lies on the computed line.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub enum Align {
    /// Its edge nearer the nut.
    NutEdge,
    /// Its middle.
    #[default]
    Middle,
    /// Its edge nearer the bridge.
    BridgeEdge,
}

impl Align {
    /// How much of the strip's width lies on the nut's side of the line, 0 to 1.
    #[must_use]
    pub const fn share(self) -> f64 {
        match self {
            Self::NutEdge => 0.0,
            Self::Middle => 0.5,
            Self::BridgeEdge => 1.0,
        }
    }
}

/// How marks are laid in a class.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase", default)]
pub struct Laying {
    /// How the octave is divided.
    pub temperament: Temperament,
    /// What lies on the line.
    pub align: Align,
    /// Width of a strip, [`STRIP_LEAST_MM`] to [`STRIP_MOST_MM`].
    pub strip_mm: f64,
    /// Towards the nut, up to [`OFFSET_MOST_MM`] either way: how fingertips stop the string.
    pub offset_mm: f64,
    /// How far off still counts.
    pub tolerance: Tolerance,
    /// What the class tunes A4 to, in hertz; distances do not depend on it.
    pub a4_hz: f64,
}

impl Default for Laying {
    fn default() -> Self {
        Self {
            temperament: Temperament::Equal,
            align: Align::Middle,
            strip_mm: 3.0,
            offset_mm: 0.0,
            tolerance: Tolerance::default(),
            a4_hz: 440.0,
        }
    }
}

/// How far off still counts, in cents.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase", default)]
pub struct Tolerance {
    /// Up to this a mark is true.
    pub true_cents: f64,
    /// Up to this it is close.
    pub close_cents: f64,
}

impl Default for Tolerance {
    fn default() -> Self {
        Self { true_cents: 6.0, close_cents: 12.0 }
    }
}

/// What a miss comes to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub enum Verdict {
    /// Within tolerance.
    True,
    /// Nearly; worth an ear.
    Close,
    /// Wants to be moved.
    Move,
}

impl Tolerance {
    /// The verdict on a miss of so many cents.
    #[must_use]
    pub fn verdict(self, cents: f64) -> Verdict {
        if cents.abs() <= self.true_cents {
            Verdict::True
        } else if cents.abs() <= self.close_cents {
            Verdict::Close
        } else {
            Verdict::Move
        }
    }
}

/// Why marks cannot be computed.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum Fault {
    /// No instrument has such a string.
    #[error("A string is {SHORTEST_MM} to {LONGEST_MM} mm long, nut to bridge.")]
    Length,
    /// Not a width of tape.
    #[error("A strip is {STRIP_LEAST_MM} to {STRIP_MOST_MM} mm wide.")]
    Strip,
    /// Not an offset.
    #[error("The offset is at most {OFFSET_MOST_MM} mm either way.")]
    Offset,
    /// True and close are not in order.
    #[error("True is above 0 cents, close at least as much, and neither above 100.")]
    Tolerance,
    /// Not a tuning.
    #[error("A4 is {A4_LEAST_HZ} to {A4_MOST_HZ} Hz.")]
    A4,
    /// The instrument does not use this finger.
    #[error("The {} has no mark for finger {} in first position.", .0.name(), .1.spoken())]
    Finger(Instrument, Finger),
    /// The same finger twice.
    #[error("Finger {} is there twice.", .0.spoken())]
    Twice(Finger),
    /// A measured mark that is not on the string.
    #[error("Mark {}: its edge lies between the nut (0 mm) and the bridge ({} mm).", .0.spoken(), .1)]
    Outside(Finger, f64),
    /// Two measured marks in the wrong order.
    #[error("Mark {} is nearer the nut than mark {}: one of the two was read or typed wrongly.", .1.spoken(), .0.spoken())]
    Order(Finger, Finger),
    /// A measured mark that is not among those asked for.
    #[error("Mark {} was measured but is not among the fingers asked for.", .0.spoken())]
    NotAsked(Finger),
}

/// Distance of the pitch line from the nut on a string of `length_mm`, `semitones` above the open string, in
/// millimetres: L (1 - 1/r), r the note's ratio to the open string.
#[must_use]
pub fn distance_mm(length_mm: f64, semitones: u8, temperament: Temperament) -> f64 {
    length_mm * (1.0 - 1.0 / temperament.ratio(semitones))
}

/// How far off, in cents, a string of `length_mm` sounds that is stopped at `at_mm` instead of `line_mm`:
/// 1200 log2((L - line) / (L - at)), positive = sharp.
#[must_use]
pub fn cents_off(length_mm: f64, line_mm: f64, at_mm: f64) -> f64 {
    1200.0 * ((length_mm - line_mm) / (length_mm - at_mm)).log2()
}

/// Where a string of `length_mm` is stopped that sounds `cents` off the note at `line_mm`: the way back from
/// [`cents_off`], in millimetres from the nut.
#[must_use]
pub fn stopped_at_mm(length_mm: f64, line_mm: f64, cents: f64) -> f64 {
    length_mm - (length_mm - line_mm) / (cents / 1200.0).exp2()
}

/// Millimetres for one cent at `line_mm`: the slope of [`stopped_at_mm`] there, (L - d) ln 2 / 1200.
#[must_use]
pub fn mm_per_cent(length_mm: f64, line_mm: f64) -> f64 {
    (length_mm - line_mm) * std::f64::consts::LN_2 / 1200.0
}

/// Where the nut-side edge of a strip goes for a pitch line at `line_mm`.
#[must_use]
pub fn edge_mm(laying: &Laying, line_mm: f64) -> f64 {
    line_mm - laying.offset_mm - laying.align.share() * laying.strip_mm
}

/// Where a strip whose nut-side edge lies at `edge_mm` stops the string: the way back from [`edge_mm`].
#[must_use]
pub fn stops_at_mm(laying: &Laying, edge_mm: f64) -> f64 {
    edge_mm + laying.align.share() * laying.strip_mm + laying.offset_mm
}

/// The frequency of an open string: from A4 by equal semitones, or string by string in pure intervals from its A.
#[must_use]
pub fn open_hz(facts: &InstrumentFacts, string: usize, laying: &Laying) -> f64 {
    let midi = facts.strings[string].midi;
    let equal = |midi: u8| laying.a4_hz * ((f64::from(midi) - f64::from(A4_MIDI)) / 12.0).exp2();
    let a = facts.strings.iter().find(|open| open.midi % 12 == A4_MIDI % 12);
    match (laying.temperament, a) {
        (Temperament::Pythagorean, Some(a)) if a.midi <= midi => equal(a.midi) * pure(midi - a.midi),
        (Temperament::Pythagorean, Some(a)) => equal(a.midi) / pure(a.midi - midi),
        _ => equal(midi),
    }
}

/// The ratio of so many semitones in tuned steps: fifths of 7 and fourths of 5 as they come.
fn pure(semitones: u8) -> f64 {
    if semitones.is_multiple_of(7) {
        1.5_f64.powi(i32::from(semitones / 7))
    } else if semitones.is_multiple_of(5) {
        (4.0_f64 / 3.0).powi(i32::from(semitones / 5))
    } else {
        Temperament::Pythagorean.ratio(semitones)
    }
}

/// A measured mark against its target.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Measured {
    /// Its nut-side edge, from the nut.
    pub edge_mm: f64,
    /// How far off it sounds; positive = sharp.
    pub cents: f64,
    /// What that comes to.
    pub verdict: Verdict,
    /// How far to move it; positive = towards the bridge.
    pub move_mm: f64,
}

/// One mark on one string length.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Place {
    /// Whose.
    pub finger: Finger,
    /// Above the open string.
    pub semitones: u8,
    /// The pitch line, from the nut's edge.
    pub distance_mm: f64,
    /// Where the strip's nut-side edge goes.
    pub edge_mm: f64,
    /// From the pitch line before, the first from the nut.
    pub gap_mm: f64,
    /// Millimetres for one cent here.
    pub mm_per_cent: f64,
    /// What was measured, if it was.
    pub measured: Option<Measured>,
}

/// Says what of a length cannot be.
pub fn check_length(length_mm: f64) -> Result<(), Fault> {
    if (SHORTEST_MM..=LONGEST_MM).contains(&length_mm) { Ok(()) } else { Err(Fault::Length) }
}

impl Laying {
    /// Says what of it cannot be.
    pub fn check(&self) -> Result<(), Fault> {
        let Tolerance { true_cents, close_cents } = self.tolerance;
        if !(STRIP_LEAST_MM..=STRIP_MOST_MM).contains(&self.strip_mm) {
            Err(Fault::Strip)
        } else if !(-OFFSET_MOST_MM..=OFFSET_MOST_MM).contains(&self.offset_mm) {
            Err(Fault::Offset)
        } else if !(true_cents > 0.0 && true_cents <= close_cents && close_cents <= 100.0) {
            Err(Fault::Tolerance)
        } else if !(A4_LEAST_HZ..=A4_MOST_HZ).contains(&self.a4_hz) {
            Err(Fault::A4)
        } else {
            Ok(())
        }
    }
}

/// The marks of these fingers on a string of `length_mm`, up the string, with what was measured of them (nut-side edges).
///
/// # Errors
/// [`Fault`] for a length, laying or finger that cannot be, and for measured marks off the string or out of order.
pub fn places(
    instrument: Instrument,
    length_mm: f64,
    laying: &Laying,
    fingers: &[Finger],
    measured: &BTreeMap<Finger, f64>,
) -> Result<Vec<Place>, Fault> {
    check_length(length_mm)?;
    laying.check()?;
    let mut wanted: Vec<(u8, Finger)> = Vec::with_capacity(fingers.len());
    for finger in fingers {
        if wanted.iter().any(|(_, known)| known == finger) {
            return Err(Fault::Twice(*finger));
        }
        wanted.push((finger.semitones(instrument).ok_or(Fault::Finger(instrument, *finger))?, *finger));
    }
    wanted.sort_by_key(|(semitones, _)| *semitones);
    if let Some(finger) = measured.keys().find(|finger| !fingers.contains(finger)) {
        return Err(Fault::NotAsked(*finger));
    }
    let mut before = 0.0;
    let mut found = Vec::with_capacity(wanted.len());
    for (semitones, finger) in wanted {
        let line = distance_mm(length_mm, semitones, laying.temperament);
        let target = edge_mm(laying, line);
        let measured = measured.get(&finger).map(|edge| {
            let at = stops_at_mm(laying, *edge);
            if !(*edge >= 0.0 && at > 0.0 && at < length_mm) {
                return Err(Fault::Outside(finger, length_mm));
            }
            let cents = cents_off(length_mm, line, at);
            let verdict = laying.tolerance.verdict(cents);
            Ok(Measured { edge_mm: *edge, cents, verdict, move_mm: target - edge })
        });
        found.push(Place {
            finger,
            semitones,
            distance_mm: line,
            edge_mm: target,
            gap_mm: line - before,
            mm_per_cent: mm_per_cent(length_mm, line),
            measured: measured.transpose()?,
        });
        before = line;
    }
    check_order(&found)?;
    Ok(found)
}

/// Higher marks were measured farther from the nut.
fn check_order(places: &[Place]) -> Result<(), Fault> {
    let measured: Vec<(&Place, f64)> =
        places.iter().filter_map(|place| Some((place, place.measured?.edge_mm))).collect();
    for pair in measured.windows(2) {
        let [(lower, low), (higher, high)] = pair else { continue };
        if lower.semitones < higher.semitones && high <= low {
            return Err(Fault::Order(lower.finger, higher.finger));
        }
    }
    Ok(())
}

/// What a moved bridge does to a mark that stays where it is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Shifted {
    /// Whose.
    pub finger: Finger,
    /// How far its target moved, in millimetres: x d / L, in either temperament.
    pub target_moved_mm: f64,
    /// How far off it sounds now, if it was true before.
    pub cents: f64,
    /// What that comes to.
    pub verdict: Verdict,
}

/// What becomes of true marks when the bridge moves by `moved_mm`, positive for a longer string.
///
/// # Errors
/// [`Fault`] as for [`places`], of the string before or after.
pub fn bridge_shift(
    instrument: Instrument,
    length_mm: f64,
    moved_mm: f64,
    laying: &Laying,
    fingers: &[Finger],
) -> Result<Vec<Shifted>, Fault> {
    let now = length_mm + moved_mm;
    check_length(now)?;
    let before = places(instrument, length_mm, laying, fingers, &BTreeMap::new())?;
    let shifted = before.into_iter().map(|place| {
        let moved = moved_mm * place.distance_mm / length_mm;
        let cents = cents_off(now, place.distance_mm + moved, place.distance_mm);
        let verdict = laying.tolerance.verdict(cents);
        Shifted { finger: place.finger, target_moved_mm: moved, cents, verdict }
    });
    Ok(shifted.collect())
}

/// How far off a stopped note was heard.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct HeardError {
    /// The nearest note, in semitones above the open string.
    pub semitones: u8,
    /// How far off it, positive = sharp.
    pub cents: f64,
    /// How far the mark has to move, in millimetres; positive = towards the bridge.
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
pub const OFFSET_FROM: usize = 5;

/// The offset that what was heard proposes: the one in use minus the median of the instruments' moves (marks heard sharp
/// want to move towards the nut, which is more offset). `None` below [`OFFSET_FROM`] instruments.
#[must_use]
pub fn propose_offset(in_use_mm: f64, moves_mm: &[f64]) -> Option<OffsetProposal> {
    let mut moves: Vec<f64> = moves_mm.iter().copied().filter(|mm| mm.is_finite()).collect();
    if moves.len() < OFFSET_FROM {
        return None;
    }
    moves.sort_by(f64::total_cmp);
    let median = median(&moves)?;
    Some(OffsetProposal {
        offset_mm: (in_use_mm - median).clamp(-OFFSET_MOST_MM, OFFSET_MOST_MM),
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
