//! The four strands of the checklist.

use serde::{Deserialize, Serialize};

/// One of the four strings of a child's string glyph, in the order they are drawn.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Strand {
    /// How the instrument is fitted, raised and held.
    Hold,
    /// The right hand, from plucking to the string.
    Bow,
    /// The left hand's frame.
    Frame,
    /// The tapes on the fingerboard.
    Tape,
}

impl Strand {
    /// All four, in the order of the string glyph.
    pub const ALL: [Self; 4] = [Self::Hold, Self::Bow, Self::Frame, Self::Tape];

    /// Its place among all four.
    #[must_use]
    pub(crate) const fn place(self) -> usize {
        match self {
            Self::Hold => 0,
            Self::Bow => 1,
            Self::Frame => 2,
            Self::Tape => 3,
        }
    }

    /// The first part of the strand's ids: `hold`, `bow`, `frame`, `tape`.
    #[must_use]
    pub const fn key(self) -> &'static str {
        match self {
            Self::Hold => "hold",
            Self::Bow => "bow",
            Self::Frame => "frame",
            Self::Tape => "tape",
        }
    }

    /// The strand of a key.
    #[must_use]
    pub fn parse(key: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|strand| strand.key() == key)
    }
}
