//! The four instruments of a mixed class, as every rule and every drawing names them.

use serde::{Deserialize, Serialize};

/// One of the four instruments of the class.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
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

    /// Its place among all four.
    #[must_use]
    pub(crate) const fn place(self) -> usize {
        match self {
            Self::Violin => 0,
            Self::Viola => 1,
            Self::Cello => 2,
            Self::Bass => 3,
        }
    }

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
