//! The fingers of first position, what each stops, and the spots on an instrument that may bear a marker.

use serde::{Deserialize, Serialize};

use crate::craft::instrument::Instrument;

/// A finger of first position; low, high and stretched ones are places of their own.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub enum Finger {
    /// First finger drawn back by a semitone (violin, viola, cello).
    #[serde(rename = "low1")]
    Low1,
    /// First finger.
    #[serde(rename = "1")]
    One,
    /// Second finger beside the first (violin, viola).
    #[serde(rename = "low2")]
    Low2,
    /// Second finger; beside the third on violin and viola.
    #[serde(rename = "2")]
    Two,
    /// Second finger of the stretched hand (cello).
    #[serde(rename = "x2")]
    Stretched2,
    /// Third finger; on the bass it helps the fourth and stops nothing alone.
    #[serde(rename = "3")]
    Three,
    /// Third finger reaching up by a semitone (violin, viola).
    #[serde(rename = "high3")]
    High3,
    /// Fourth finger.
    #[serde(rename = "4")]
    Four,
    /// Fourth finger of the stretched hand (cello).
    #[serde(rename = "x4")]
    Stretched4,
}

impl Finger {
    /// All of them.
    pub const ALL: [Self; 9] = [
        Self::Low1,
        Self::One,
        Self::Low2,
        Self::Two,
        Self::Stretched2,
        Self::Three,
        Self::High3,
        Self::Four,
        Self::Stretched4,
    ];

    /// As it is written in files and sent: `low1`, `1`, `x4`.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Low1 => "low1",
            Self::One => "1",
            Self::Low2 => "low2",
            Self::Two => "2",
            Self::Stretched2 => "x2",
            Self::Three => "3",
            Self::High3 => "high3",
            Self::Four => "4",
            Self::Stretched4 => "x4",
        }
    }

    /// As it is said: `low 1`, `1`, `stretched 4`.
    #[must_use]
    pub const fn spoken(self) -> &'static str {
        match self {
            Self::Low1 => "low 1",
            Self::One => "1",
            Self::Low2 => "low 2",
            Self::Two => "2",
            Self::Stretched2 => "stretched 2",
            Self::Three => "3",
            Self::High3 => "high 3",
            Self::Four => "4",
            Self::Stretched4 => "stretched 4",
        }
    }

    /// Which finger of the hand, 1 to 4.
    #[must_use]
    pub const fn number(self) -> u8 {
        match self {
            Self::Low1 | Self::One => 1,
            Self::Low2 | Self::Two | Self::Stretched2 => 2,
            Self::Three | Self::High3 => 3,
            Self::Four | Self::Stretched4 => 4,
        }
    }

    /// The finger of an id.
    #[must_use]
    pub fn parse(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|finger| finger.id() == id)
    }

    /// Semitones above the open string in first position; `None` where the instrument does not use it.
    #[must_use]
    pub const fn semitones(self, on: Instrument) -> Option<u8> {
        match (on, self) {
            (Instrument::Violin | Instrument::Viola | Instrument::Cello, Self::Low1) => Some(1),
            (_, Self::One) => Some(2),
            (Instrument::Violin | Instrument::Viola, Self::Low2)
            | (Instrument::Cello | Instrument::Bass, Self::Two) => Some(3),
            (Instrument::Violin | Instrument::Viola, Self::Two)
            | (Instrument::Cello, Self::Stretched2 | Self::Three)
            | (Instrument::Bass, Self::Four) => Some(4),
            (Instrument::Violin | Instrument::Viola, Self::Three) | (Instrument::Cello, Self::Four) => Some(5),
            (Instrument::Violin | Instrument::Viola, Self::High3) | (Instrument::Cello, Self::Stretched4) => Some(6),
            (Instrument::Violin | Instrument::Viola, Self::Four) => Some(7),
            _ => None,
        }
    }

    /// The fingers of an instrument, the plain ones before the low, high and stretched ones, each group up the string.
    #[must_use]
    pub const fn of(instrument: Instrument) -> &'static [Self] {
        match instrument {
            Instrument::Violin | Instrument::Viola => {
                &[Self::One, Self::Two, Self::Three, Self::Four, Self::Low1, Self::Low2, Self::High3]
            }
            Instrument::Cello => {
                &[Self::One, Self::Two, Self::Three, Self::Four, Self::Low1, Self::Stretched2, Self::Stretched4]
            }
            Instrument::Bass => &[Self::One, Self::Two, Self::Four],
        }
    }
}

/// A spot that may bear a marker: where a finger stops the string, under the neck, or on the hand itself.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Spot {
    /// Across the fingerboard.
    Finger(Finger),
    /// The felt pad for the thumb under the neck of a cello or bass.
    Thumb,
    /// The line at the base of the child's first finger.
    FingerLine,
}

impl Spot {
    /// As it is written in files and sent: a finger's id, `thumb` or `line`.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Finger(finger) => finger.id(),
            Self::Thumb => "thumb",
            Self::FingerLine => "line",
        }
    }

    /// The spot of an id.
    #[must_use]
    pub fn parse(id: &str) -> Option<Self> {
        match id {
            "thumb" => Some(Self::Thumb),
            "line" => Some(Self::FingerLine),
            other => Finger::parse(other).map(Self::Finger),
        }
    }

    /// As it is said: `3`, `thumb pad`.
    #[must_use]
    pub const fn spoken(self) -> &'static str {
        match self {
            Self::Finger(finger) => finger.spoken(),
            Self::Thumb => "thumb pad",
            Self::FingerLine => "line on finger 1",
        }
    }

    /// Whether it can be on this instrument.
    #[must_use]
    pub const fn is_on(self, instrument: Instrument) -> bool {
        match self {
            Self::Finger(finger) => finger.semitones(instrument).is_some(),
            Self::Thumb => matches!(instrument, Instrument::Cello | Instrument::Bass),
            Self::FingerLine => true,
        }
    }

    /// Whether it sounds: only what stops a string can be proved by ear.
    #[must_use]
    pub const fn sounds(self) -> bool {
        matches!(self, Self::Finger(_))
    }
}

impl From<Spot> for String {
    fn from(spot: Spot) -> Self {
        spot.id().to_owned()
    }
}

/// A text that names no spot.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("there is no marker “{0}”")]
pub struct NoSpot(pub String);

impl TryFrom<String> for Spot {
    type Error = NoSpot;

    fn try_from(id: String) -> Result<Self, NoSpot> {
        Self::parse(&id).ok_or(NoSpot(id))
    }
}

#[cfg(feature = "schema")]
impl utoipa::PartialSchema for Spot {
    fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
        let spots = Finger::ALL.map(Self::Finger).into_iter().chain([Self::Thumb, Self::FingerLine]);
        let ids = spots.map(Spot::id).collect::<Vec<_>>();
        let text = utoipa::openapi::ObjectBuilder::new().schema_type(utoipa::openapi::schema::Type::String);
        text.description(Some("A spot that may bear a marker.")).enum_values(Some(ids)).into()
    }
}

#[cfg(feature = "schema")]
impl utoipa::ToSchema for Spot {}

impl Serialize for Spot {
    fn serialize<S: serde::Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        to.serialize_str(self.id())
    }
}

impl<'de> Deserialize<'de> for Spot {
    fn deserialize<D: serde::Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        Self::try_from(String::deserialize(from)?).map_err(serde::de::Error::custom)
    }
}
