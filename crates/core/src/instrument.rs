//! The four instruments of a mixed class: open strings and nominal string lengths.

use serde::{Deserialize, Serialize};

/// One of the four instruments of the class.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Instrument {
    /// Violin.
    Violin,
    /// Viola.
    Viola,
    /// Cello.
    Cello,
    /// Double bass.
    Bass,
}

impl Instrument {
    /// All four, in score order.
    pub const ALL: [Self; 4] = [Self::Violin, Self::Viola, Self::Cello, Self::Bass];

    /// The lower-case English name, as it is stored and sent.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::Violin => "violin",
            Self::Viola => "viola",
            Self::Cello => "cello",
            Self::Bass => "bass",
        }
    }

    /// The two-letter key used in content files: `vn`, `va`, `vc`, `db`.
    #[must_use]
    pub const fn key(self) -> &'static str {
        match self {
            Self::Violin => "vn",
            Self::Viola => "va",
            Self::Cello => "vc",
            Self::Bass => "db",
        }
    }

    /// The instrument of a name (`violin`) or a content key (`vn`).
    #[must_use]
    pub fn parse(text: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|i| i.name() == text || i.key() == text)
    }
}

/// An open string.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct OpenString {
    /// Letter and octave, `G3`; the bass as it sounds.
    pub note: String,
    /// MIDI note number, 69 = A4.
    pub midi: u8,
}

/// A size with its nominal vibrating string length, nut to bridge.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Size {
    /// The size as it is spoken of: `3/4`, for the viola the body length in inches, `15.5`.
    pub name: String,
    /// Vibrating length in millimetres.
    pub string_length_mm: f64,
}

/// What content says about one instrument.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct InstrumentFacts {
    /// Which instrument.
    pub instrument: Instrument,
    /// Four open strings, low to high.
    pub strings: Vec<OpenString>,
    /// Sizes, largest first.
    pub sizes: Vec<Size>,
}

/// The MIDI number of a note written as letter, optional `#` or `b`, and octave (`C#3`); `None` if it is not one.
#[must_use]
pub fn midi_of(note: &str) -> Option<u8> {
    let mut letters = note.chars();
    let step = match letters.next()? {
        'C' => 0,
        'D' => 2,
        'E' => 4,
        'F' => 5,
        'G' => 7,
        'A' => 9,
        'B' => 11,
        _ => return None,
    };
    let rest = letters.as_str();
    let (bend, octave) = match rest.chars().next()? {
        '#' => (1, &rest[1..]),
        'b' => (-1, &rest[1..]),
        _ => (0, rest),
    };
    let octave: i16 = octave.parse().ok()?;
    u8::try_from((octave + 1) * 12 + step + bend).ok().filter(|midi| *midi < 128)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn notes_are_read_with_their_octave_and_sharp_or_flat() {
        assert_eq!(midi_of("A4"), Some(69));
        assert_eq!(midi_of("C2"), Some(36));
        assert_eq!(midi_of("F#3"), Some(54));
        assert_eq!(midi_of("Bb3"), Some(58));
        assert_eq!(midi_of("H4"), None);
        assert_eq!(midi_of("A"), None);
        assert_eq!(midi_of("C99"), None);
    }

    #[test]
    fn an_instrument_is_found_by_its_name_and_by_its_content_key() {
        for instrument in Instrument::ALL {
            assert_eq!(Instrument::parse(instrument.name()), Some(instrument));
            assert_eq!(Instrument::parse(instrument.key()), Some(instrument));
        }
        assert_eq!(Instrument::parse("tuba"), None);
    }
}
