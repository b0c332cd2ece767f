//! Where markers go on one very instrument, and what a miss in millimetres means in pitch.
//!
//! A string of length L that is stopped at distance d from the nut sounds with L - d. Everything here follows from that:
//! lengths in millimetres, pitches in cents (a hundredth of an equal semitone), positive towards the bridge and sharp.

use crate::craft::pitch::A4_MIDI;
use serde::Serialize;
use std::collections::BTreeMap;

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::tapes::finger::Finger;
use crate::tapes::settings::{MarkerSettings, SettingsFault, Temperament, Verdict};

/// The shortest string that any instrument of the class has, in millimetres.
pub const MIN_STRING_MM: f64 = 150.0;
/// The longest.
pub const MAX_STRING_MM: f64 = 1300.0;
/// Why markers cannot be computed.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum LayoutFault {
    /// No instrument has such a string.
    #[error("A string is {MIN_STRING_MM} to {MAX_STRING_MM} mm long, nut to bridge.")]
    Length,
    /// Markers cannot be laid so.
    #[error(transparent)]
    Settings(#[from] SettingsFault),
    /// The instrument does not use this finger.
    #[error("The {} has no marker for finger {} in first position.", .0.name(), .1.spoken())]
    Finger(Instrument, Finger),
    /// The same finger twice.
    #[error("Finger {} is there twice.", .0.spoken())]
    Twice(Finger),
    /// A measured marker that is not on the string.
    #[error("Marker {}: its edge lies between the nut (0 mm) and the bridge ({} mm).", .0.spoken(), .1)]
    Outside(Finger, f64),
    /// Two measured markers in the wrong order.
    #[error("Marker {} is nearer the nut than marker {}: one of the two was read or typed wrongly.", .1.spoken(), .0.spoken())]
    Order(Finger, Finger),
    /// A measured marker that is not among those asked for.
    #[error("Marker {} was measured but is not among the fingers asked for.", .0.spoken())]
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
pub fn edge_mm(settings: &MarkerSettings, line_mm: f64) -> f64 {
    line_mm - settings.offset_mm - settings.align.share() * settings.strip_mm
}

/// Where a strip whose nut-side edge lies at `edge_mm` stops the string: the way back from [`edge_mm`].
#[must_use]
pub fn stops_at_mm(settings: &MarkerSettings, edge_mm: f64) -> f64 {
    edge_mm + settings.align.share() * settings.strip_mm + settings.offset_mm
}

/// The frequency of an open string: from A4 by equal semitones, or string by string in pure intervals from its A.
#[must_use]
pub fn open_hz(facts: &InstrumentFacts, string: usize, settings: &MarkerSettings) -> f64 {
    let midi = facts.strings[string].midi;
    let equal = |midi: u8| settings.a4_hz * ((f64::from(midi) - f64::from(A4_MIDI)) / 12.0).exp2();
    let a = facts.strings.iter().find(|open| open.midi % 12 == A4_MIDI % 12);
    match (settings.temperament, a) {
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

/// A measured marker against its target.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct MeasuredPosition {
    /// Its nut-side edge, from the nut.
    pub edge_mm: f64,
    /// How far off it sounds; positive = sharp.
    pub cents: f64,
    /// What that comes to.
    pub verdict: Verdict,
    /// How far to move it; positive = towards the bridge.
    pub move_mm: f64,
}

/// One marker on one string length.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct MarkerPosition {
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
    pub measured: Option<MeasuredPosition>,
}

/// Says what of a length cannot be.
pub fn check_length(length_mm: f64) -> Result<(), LayoutFault> {
    if (MIN_STRING_MM..=MAX_STRING_MM).contains(&length_mm) { Ok(()) } else { Err(LayoutFault::Length) }
}

/// The markers of these fingers on a string of `length_mm`, up the string, with what was measured of them (nut-side edges).
///
/// # Errors
/// [`LayoutFault`] for a length, setting or finger that cannot be, and for measured markers off the string or out of order.
pub fn positions(
    instrument: Instrument,
    length_mm: f64,
    settings: &MarkerSettings,
    fingers: &[Finger],
    measured: &BTreeMap<Finger, f64>,
) -> Result<Vec<MarkerPosition>, LayoutFault> {
    check_length(length_mm)?;
    settings.check()?;
    let mut wanted: Vec<(u8, Finger)> = Vec::with_capacity(fingers.len());
    for finger in fingers {
        if wanted.iter().any(|(_, known)| known == finger) {
            return Err(LayoutFault::Twice(*finger));
        }
        wanted.push((finger.semitones(instrument).ok_or(LayoutFault::Finger(instrument, *finger))?, *finger));
    }
    wanted.sort_by_key(|(semitones, _)| *semitones);
    if let Some(finger) = measured.keys().find(|finger| !fingers.contains(finger)) {
        return Err(LayoutFault::NotAsked(*finger));
    }
    let mut before = 0.0;
    let mut found = Vec::with_capacity(wanted.len());
    for (semitones, finger) in wanted {
        let line = distance_mm(length_mm, semitones, settings.temperament);
        let target = edge_mm(settings, line);
        let measured = measured.get(&finger).map(|edge| {
            let at = stops_at_mm(settings, *edge);
            if !(*edge >= 0.0 && at > 0.0 && at < length_mm) {
                return Err(LayoutFault::Outside(finger, length_mm));
            }
            let cents = cents_off(length_mm, line, at);
            let verdict = settings.tolerance.verdict(cents);
            Ok(MeasuredPosition { edge_mm: *edge, cents, verdict, move_mm: target - edge })
        });
        found.push(MarkerPosition {
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

/// Higher markers were measured farther from the nut.
fn check_order(places: &[MarkerPosition]) -> Result<(), LayoutFault> {
    let measured: Vec<(&MarkerPosition, f64)> =
        places.iter().filter_map(|place| Some((place, place.measured?.edge_mm))).collect();
    for pair in measured.windows(2) {
        let [(lower, low), (higher, high)] = pair else { continue };
        if lower.semitones < higher.semitones && high <= low {
            return Err(LayoutFault::Order(lower.finger, higher.finger));
        }
    }
    Ok(())
}

/// What a moved bridge does to a marker that stays where it is.
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

/// What becomes of true markers when the bridge moves by `moved_mm`, positive for a longer string.
///
/// # Errors
/// [`LayoutFault`] as for [`positions`], of the string before or after.
pub fn bridge_shift(
    instrument: Instrument,
    length_mm: f64,
    moved_mm: f64,
    settings: &MarkerSettings,
    fingers: &[Finger],
) -> Result<Vec<Shifted>, LayoutFault> {
    let now = length_mm + moved_mm;
    check_length(now)?;
    let before = positions(instrument, length_mm, settings, fingers, &BTreeMap::new())?;
    let shifted = before.into_iter().map(|place| {
        let moved = moved_mm * place.distance_mm / length_mm;
        let cents = cents_off(now, place.distance_mm + moved, place.distance_mm);
        let verdict = settings.tolerance.verdict(cents);
        Shifted { finger: place.finger, target_moved_mm: moved, cents, verdict }
    });
    Ok(shifted.collect())
}
