//! What of an entry on its way into a tape log can be: lengths, edges, moves of a bridge, and what was heard. What cannot be
//! was read or typed otherwise than meant, and the fault says what may be meant.

use std::collections::BTreeMap;

use crate::craft::instrument::{Instrument, InstrumentFacts, Size};
use crate::number::MM_PER_INCH;
use crate::tapes::ear_checks::ear_checks;
use crate::tapes::finger::Finger;
use crate::tapes::layout::{LayoutFault, MAX_STRING_MM, MIN_STRING_MM, MarkerPosition, positions};
use crate::tapes::settings::MarkerSettings;

/// A bridge that moves farther, in millimetres, has fallen.
pub const MAX_BRIDGE_MOVE_MM: f64 = 30.0;
/// What a tuner shows at most of one note, in cents either way.
pub const MAX_HEARD_CENTS: f64 = 60.0;
/// A string's length farther than this share from what is usual for its size was mistyped, or the size is another.
pub const FAR_LENGTH: f64 = 0.15;

/// What somebody probably meant who typed a length that is far from usual.
#[derive(Clone, Debug, PartialEq)]
pub enum MeantLength {
    /// Inches: so many millimetres.
    Inches(f64),
    /// Centimetres: so many millimetres.
    Centimetres(f64),
    /// The length of another instrument or size.
    OtherInstrument(Instrument, String),
}

impl std::fmt::Display for MeantLength {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::Inches(mm) => write!(f, "In inches it would be {mm:.1} mm."),
            Self::Centimetres(mm) => write!(f, "In centimetres it would be {mm:.0} mm."),
            Self::OtherInstrument(instrument, size) => {
                write!(f, "That is usual for a {} {size}: is it the right instrument on record?", instrument.name())
            }
        }
    }
}

/// Whether a length lies within [`FAR_LENGTH`] of what is usual.
#[must_use]
pub fn is_near(usual_mm: f64, length_mm: f64) -> bool {
    (length_mm - usual_mm).abs() <= usual_mm * FAR_LENGTH
}

/// What a length of `length_mm` probably means for an instrument, and a size where one is known; `None` where nothing fits.
#[must_use]
pub fn meant_length(
    all: &BTreeMap<Instrument, InstrumentFacts>,
    instrument: Instrument,
    size: Option<&str>,
    length_mm: f64,
) -> Option<MeantLength> {
    let facts = &all[&instrument];
    let sizes = || facts.sizes.iter().filter(|known| size.is_none_or(|size| known.name == size));
    let fits = |mm: f64| sizes().any(|known| is_near(known.string_length_mm, mm));
    let (inches, centimetres) = (length_mm * MM_PER_INCH, length_mm * 10.0);
    if fits(inches) {
        return Some(MeantLength::Inches(inches));
    }
    if fits(centimetres) {
        return Some(MeantLength::Centimetres(centimetres));
    }
    let others = all.values().filter(|other| other.instrument != instrument);
    let known = std::iter::once(facts).chain(others).flat_map(|of| of.sizes.iter().map(move |size| (of, size)));
    let off = |(_, size): &(&InstrumentFacts, &Size)| (size.string_length_mm - length_mm).abs();
    let (of, nearest) = known.min_by(|a, b| off(a).total_cmp(&off(b)))?;
    let fits = is_near(nearest.string_length_mm, length_mm);
    fits.then(|| MeantLength::OtherInstrument(of.instrument, nearest.name.clone()))
}

/// Why measured edges cannot be taken.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum EdgeFault {
    /// There is none.
    #[error("`edges` says where markers lie.")]
    None,
    /// They cannot be laid out at all.
    #[error(transparent)]
    Layout(#[from] LayoutFault),
    /// Farther from its target than the room to the next finger: it was read or typed wrongly, or is another finger's.
    #[error("Marker {} belongs near {:.1} mm: measure from the nut's edge again.", .0.spoken(), .1)]
    Far(Finger, f64),
}

/// Says what of measured edges (nut side, millimetres from the nut) cannot be.
///
/// # Errors
/// [`EdgeFault`], the first that is found up the string.
pub fn check_edges(
    instrument: Instrument,
    length_mm: f64,
    settings: &MarkerSettings,
    edges: &BTreeMap<Finger, f64>,
) -> Result<(), EdgeFault> {
    if edges.is_empty() {
        return Err(EdgeFault::None);
    }
    let fingers: Vec<Finger> = edges.keys().copied().collect();
    let found = positions(instrument, length_mm, settings, &fingers, edges)?;
    let is_far = |position: &&MarkerPosition| {
        let off = position.measured.map_or(0.0, |measured| measured.move_mm).abs();
        off > position.gap_mm.max(position.distance_mm / 2.0)
    };
    found.iter().find(is_far).map_or(Ok(()), |position| Err(EdgeFault::Far(position.finger, position.edge_mm)))
}

/// Whether a bridge can have moved by so much on a string of this length, positive for a longer string.
#[must_use]
pub fn bridge_can_move(length_mm: Option<f64>, moved_mm: f64) -> bool {
    let after = length_mm.map_or(MIN_STRING_MM, |length| length + moved_mm);
    moved_mm.is_finite() && moved_mm.abs() <= MAX_BRIDGE_MOVE_MM && (MIN_STRING_MM..=MAX_STRING_MM).contains(&after)
}

/// Whether a finger's marker can be compared with an open string: nothing to compare with is never a proof.
#[must_use]
pub fn has_open_string(facts: &InstrumentFacts, finger: Finger) -> bool {
    finger.semitones(facts.instrument).is_some_and(|semitones| !ear_checks(facts, semitones).is_empty())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_length_is_near_within_its_share_and_a_bridge_moves_no_farther_than_it_can() {
        assert!(is_near(328.0, 328.0 * (1.0 - FAR_LENGTH)) && !is_near(328.0, 328.0 * 1.16));
        assert!(bridge_can_move(Some(328.0), -3.0) && bridge_can_move(None, 0.0));
        for moved in [f64::NAN, f64::INFINITY, MAX_BRIDGE_MOVE_MM + 0.1, -MAX_BRIDGE_MOVE_MM - 0.1] {
            assert!(!bridge_can_move(Some(328.0), moved), "{moved}");
        }
        assert!(!bridge_can_move(Some(MAX_STRING_MM), 1.0), "no string is that long");
    }

    #[test]
    fn an_edge_far_from_its_target_was_read_wrongly_and_none_is_no_measure() {
        let settings = MarkerSettings::default();
        let edges = |edge_mm: f64| [(Finger::parse("1").expect("a finger"), edge_mm)].into();
        let check = |edges: &BTreeMap<Finger, f64>| check_edges(Instrument::Violin, 328.0, &settings, edges);
        assert_eq!(check(&BTreeMap::new()), Err(EdgeFault::None));
        assert_eq!(check(&edges(34.0)), Ok(()));
        assert!(matches!(check(&edges(80.0)), Err(EdgeFault::Far(..))), "{:?}", check(&edges(80.0)));
        assert!(check(&edges(-4.0)).is_err() && check(&edges(f64::NAN)).is_err());
    }
}
