//! The colours that markers really have: tape, dots and felt as they are sold, named by the director.

use serde::{Deserialize, Serialize};

/// A colour of tape.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Colour {
    /// White or cream.
    White,
    /// Yellow.
    Yellow,
    /// Orange.
    Orange,
    /// Red.
    Red,
    /// Pink.
    Pink,
    /// Purple.
    Purple,
    /// Blue.
    Blue,
    /// Light blue.
    LightBlue,
    /// Green.
    Green,
    /// Light green.
    LightGreen,
    /// Brown.
    Brown,
    /// Grey or silver.
    Grey,
    /// Black.
    Black,
}

impl Colour {
    /// All of them, in the order in which they are offered.
    pub const ALL: [Self; 13] = [
        Self::White,
        Self::Yellow,
        Self::Orange,
        Self::Red,
        Self::Pink,
        Self::Purple,
        Self::Blue,
        Self::LightBlue,
        Self::Green,
        Self::LightGreen,
        Self::Brown,
        Self::Grey,
        Self::Black,
    ];

    /// As it is said: `light blue`.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::White => "white",
            Self::Yellow => "yellow",
            Self::Orange => "orange",
            Self::Red => "red",
            Self::Pink => "pink",
            Self::Purple => "purple",
            Self::Blue => "blue",
            Self::LightBlue => "light blue",
            Self::Green => "green",
            Self::LightGreen => "light green",
            Self::Brown => "brown",
            Self::Grey => "grey",
            Self::Black => "black",
        }
    }

    /// As it is drawn, `#rrggbb`. White is a light cream, so that an outline still shows on white paper.
    #[must_use]
    pub const fn hex(self) -> &'static str {
        match self {
            Self::White => "#f3ead6",
            Self::Yellow => "#f0c332",
            Self::Orange => "#e07b28",
            Self::Red => "#b93636",
            Self::Pink => "#e79ab8",
            Self::Purple => "#75509b",
            Self::Blue => "#3f6c9e",
            Self::LightBlue => "#93c4e2",
            Self::Green => "#2f7d62",
            Self::LightGreen => "#9bc96f",
            Self::Brown => "#7b5236",
            Self::Grey => "#a5a5a5",
            Self::Black => "#2b2420",
        }
    }

    /// The colour of letters that read on it, `#rrggbb`: dark on light colours, white on dark ones.
    #[must_use]
    pub const fn ink(self) -> &'static str {
        match self {
            Self::Red | Self::Purple | Self::Blue | Self::Green | Self::Brown | Self::Black => "#ffffff",
            _ => "#2b2420",
        }
    }
}

/// The colours of a class's markers.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", default, deny_unknown_fields)]
pub struct MarkerColours {
    /// Where all markers look the same.
    pub plain: Colour,
    /// Where each finger has its own, finger 1 to 4; low, high and stretched ones have that of their finger.
    pub fingers: [Colour; 4],
}

impl Default for MarkerColours {
    fn default() -> Self {
        Self { plain: Colour::White, fingers: [Colour::Green, Colour::Yellow, Colour::Red, Colour::Blue] }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Relative luminance of sRGB, 0 to 1 (WCAG 2.2).
    fn luminance(hex: &str) -> f64 {
        let part = |at: usize| {
            let value = f64::from(u8::from_str_radix(&hex[at..at + 2], 16).expect("two digits")) / 255.0;
            if value <= 0.040_45 { value / 12.92 } else { ((value + 0.055) / 1.055).powf(2.4) }
        };
        0.2126 * part(1) + 0.7152 * part(3) + 0.0722 * part(5)
    }

    #[test]
    fn letters_read_on_every_colour() {
        for colour in Colour::ALL {
            let (ground, ink) = (luminance(colour.hex()), luminance(colour.ink()));
            let ratio = (ground.max(ink) + 0.05) / (ground.min(ink) + 0.05);
            assert!(ratio >= 4.5, "{}: {ratio:.2}", colour.name());
        }
    }

    #[test]
    fn no_two_colours_share_a_name_or_a_tone() {
        let mut seen = std::collections::BTreeSet::new();
        assert!(Colour::ALL.iter().all(|colour| seen.insert(colour.name()) && seen.insert(colour.hex())));
    }
}
