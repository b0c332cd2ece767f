//! The body set-up of a child: first numbers for seat, pin and stand. The reference points decide, and what was found
//! right is recorded and goes before every estimate.

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::number::tens;
use crate::setup::measures::Measures;
use crate::worded::worded;

/// Seat height without a knee measure, as a share of the height.
const SEAT_OF_HEIGHT: f64 = 0.25;
/// Lips below the top of the head, in millimetres.
const LIP_BELOW_TOP_MM: f64 = 145.0;
/// The eyebrow below the top of the head, in millimetres: a bass's nut is between eyes and hairline, and a beginner's back stays
/// straighter with it at the eyebrow.
const FOREHEAD_BELOW_TOP_MM: f64 = 90.0;
/// A pin estimate from here to 0 mm means: all the way in.
const PIN_IN_FROM_MM: f64 = -20.0;
/// No pin comes out further.
/// The longest length that is found right at a set-up, in millimetres.
pub const MAX_SET_UP_MM: f64 = 2000.0;
/// The longest words for what was found right, in characters.
pub const MAX_FINDING_LENGTH: usize = 80;
const MAX_PIN_MM: f64 = 300.0;
/// A seat may be so far from its number.
pub const SEAT_TOLERANCE_MM: f64 = 10.0;
/// A pin may be so far from its number.
pub const PIN_TOLERANCE_MM: f64 = 20.0;

worded! {
    /// A part of the body set-up.
    SetUpPart {
        /// Seat height.
        Seat = "seat",
        /// How far the pin is out.
        Pin = "pin",
        /// The middle of the stand's desk above the floor.
        Stand = "stand",
        /// What supports the instrument.
        Support = "support",
    }
}

/// What the pin estimate says.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Pin {
    /// So many millimetres out.
    Out(f64),
    /// Pushed all the way in.
    AllTheWayIn,
    /// Even all the way in it is too long: a size smaller, if there is one.
    SmallerSize,
    /// Longer than any pin: a size larger, if there is one; otherwise the reference points decide.
    LargerSize,
}

/// First numbers for a child, in millimetres; absent where a measure is wanted or it does not apply.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct BodySetup {
    /// Floor to the front of the seat.
    pub seat_mm: Option<f64>,
    /// The seat follows from the height, since the knee was not measured.
    pub seat_from_height: bool,
    /// How far the pin comes out.
    pub pin: Option<Pin>,
    /// The pin follows from the height, since lip or forehead was not measured.
    pub pin_from_height: bool,
}

/// The first numbers for a child with these measures on an instrument of this size.
///
/// Seat: the knee height, else a quarter of the height, to 10 mm (violins and violas too: they sit when they are not
/// standing). Pin: lip height (cello) or forehead height (bass) less the instrument's length without pin.
#[must_use]
pub fn body_setup(facts: &InstrumentFacts, size: &str, measures: &Measures) -> BodySetup {
    let without_pin = facts.sizes.iter().find(|known| known.name == size).and_then(|known| known.without_pin_mm);
    let (reference, below_top) = match facts.instrument {
        Instrument::Violin | Instrument::Viola | Instrument::Cello => (measures.lip_mm, LIP_BELOW_TOP_MM),
        Instrument::Bass => (measures.forehead_mm, FOREHEAD_BELOW_TOP_MM),
    };
    let to_reference = reference.or(measures.height_mm.map(|height| height - below_top));
    let pin = to_reference.zip(without_pin).map(|(to, length)| Pin::from_estimate(to - length));
    // A bass stands, or leans against a stool whose height is found, not computed.
    let sits = facts.instrument != Instrument::Bass;
    let seat = measures.knee_mm.or(measures.height_mm.map(|height| height * SEAT_OF_HEIGHT)).filter(|_| sits);
    BodySetup {
        seat_mm: seat.map(tens),
        seat_from_height: seat.is_some() && measures.knee_mm.is_none(),
        pin,
        pin_from_height: pin.is_some() && reference.is_none(),
    }
}

impl Pin {
    fn from_estimate(mm: f64) -> Self {
        if mm < PIN_IN_FROM_MM {
            Self::SmallerSize
        } else if mm <= 0.0 {
            Self::AllTheWayIn
        } else if mm > MAX_PIN_MM {
            Self::LargerSize
        } else {
            Self::Out(mm)
        }
    }
}
