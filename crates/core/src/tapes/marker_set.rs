//! The markers that a class calls for on an instrument, how they are laid, and in which order they go again.

use crate::craft::approach::{Choices, MARKERS, NO_MARKERS};
use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::tapes::colour::Colour;
use crate::tapes::finger::{Finger, Spot};
use crate::tapes::layout::distance_mm;
use crate::tapes::log::Strips;
use crate::tapes::settings::MarkerSettings;
use serde::{Deserialize, Serialize};

/// The choice of a colour for each finger.
pub const COLOURS: &str = "marker-colours";
/// The choice of a felt spot for the thumb.
pub const THUMB_PAD: &str = "thumb-pad";

/// The choice of where a cellist's thumb lies.
pub const CELLO_THUMB: &str = "cello-thumb";

/// What markers are made of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum MarkerKind {
    /// Strips of tape across the fingerboard.
    Tapes,
    /// Small dots.
    Dots,
    /// A printed overlay.
    Overlay,
    /// Pencil markers.
    Pencil,
    /// Nothing, by choice.
    None,
}

/// The markers of a class on one instrument.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct MarkerSet {
    /// On which instrument.
    pub instrument: Instrument,
    /// What is known of it.
    pub facts: InstrumentFacts,
    /// What they are made of.
    pub kind: MarkerKind,
    /// Whether only those are laid that the hand is built from.
    pub short: bool,
    /// Which markers, up the string; the thumb pad and the line on the hand last.
    pub spots: Vec<Spot>,
    /// Whether each finger has its own colour.
    pub colours: bool,
    /// How they are laid.
    pub settings: MarkerSettings,
}

impl MarkerSet {
    /// The set that these choices call for.
    #[must_use]
    pub fn new(facts: &InstrumentFacts, choices: &Choices, settings: MarkerSettings) -> Self {
        let chosen = |key: &str| choices.get(key).map_or("", String::as_str);
        let (kind, short) = match chosen(MARKERS) {
            NO_MARKERS => (MarkerKind::None, false),
            "short-set" => (MarkerKind::Tapes, true),
            "dots" => (MarkerKind::Dots, false),
            "overlay" => (MarkerKind::Overlay, false),
            "pencil" => (MarkerKind::Pencil, false),
            _ => (MarkerKind::Tapes, false),
        };
        let usual = facts.markers.iter().filter_map(|marker| Finger::parse(marker));
        let mut fingers: Vec<Finger> = if kind == MarkerKind::None { Vec::new() } else { usual.collect() };
        if let (true, [first, .., last]) = (short, fingers.as_slice()) {
            fingers = vec![*first, *last];
        }
        let mut spots: Vec<Spot> = fingers.into_iter().map(Spot::Finger).collect();
        let instrument = facts.instrument;
        if chosen(THUMB_PAD) == "on" && Spot::Thumb.is_on(instrument) {
            spots.push(Spot::Thumb);
        }
        Self { instrument, facts: facts.clone(), kind, short, spots, colours: chosen(COLOURS) == "on", settings }
    }

    /// The colour of the markers of fingers 1 to 4, as they really are.
    #[must_use]
    pub const fn finger_colours(&self) -> [Colour; 4] {
        let colours = self.settings.colours;
        if self.colours { colours.fingers } else { [colours.plain; 4] }
    }

    /// How its strips lie; none where its markers are something else.
    #[must_use]
    pub fn strips(&self) -> Option<Strips> {
        let strips = Strips { width_mm: self.settings.strip_mm, align: self.settings.align };
        (self.kind == MarkerKind::Tapes).then_some(strips)
    }

    /// Where the thumb's pad goes under the neck of a string of `length_mm`, in millimetres from the nut, by how the class
    /// places the thumb; `None` on instruments without one.
    #[must_use]
    pub fn thumb_mm(&self, length_mm: f64, choices: &Choices) -> Option<f64> {
        let line = |finger: Finger| {
            let semitones = finger.semitones(self.instrument)?;
            Some(distance_mm(length_mm, semitones, self.settings.temperament))
        };
        let (first, second) = (line(Finger::One)?, line(Finger::Two)?);
        if !Spot::Thumb.is_on(self.instrument) {
            return None;
        }
        Some(match choices.get(CELLO_THUMB).map(String::as_str) {
            Some("between") => f64::midpoint(first, second),
            Some("level-1") => first,
            _ => second,
        })
    }

    /// The fingers that get a marker, up the string.
    #[must_use]
    pub fn fingers(&self) -> Vec<Finger> {
        let finger = |spot: &Spot| if let Spot::Finger(finger) = spot { Some(*finger) } else { None };
        self.spots.iter().filter_map(finger).collect()
    }
}
