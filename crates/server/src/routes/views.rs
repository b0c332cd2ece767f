//! Shapes that several answers share, made from core values.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::ladder::{Flag, StrandView};
use bright_row_core::progress::observation::Says;
use bright_row_core::progress::rhythm::Recheck;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// One of the four instruments.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum InstrumentView {
    /// Violin.
    Violin,
    /// Viola.
    Viola,
    /// Cello.
    Cello,
    /// Double bass.
    Bass,
}

impl From<InstrumentView> for Instrument {
    fn from(view: InstrumentView) -> Self {
        match view {
            InstrumentView::Violin => Self::Violin,
            InstrumentView::Viola => Self::Viola,
            InstrumentView::Cello => Self::Cello,
            InstrumentView::Bass => Self::Bass,
        }
    }
}

impl From<Instrument> for InstrumentView {
    fn from(instrument: Instrument) -> Self {
        match instrument {
            Instrument::Violin => Self::Violin,
            Instrument::Viola => Self::Viola,
            Instrument::Cello => Self::Cello,
            Instrument::Bass => Self::Bass,
        }
    }
}

/// One of the four strings of the string glyph.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum StrandKey {
    /// Hold.
    Hold,
    /// Bow grip.
    Bow,
    /// Left-hand frame.
    Frame,
    /// Tapes.
    Tape,
}

impl From<Strand> for StrandKey {
    fn from(strand: Strand) -> Self {
        match strand {
            Strand::Hold => Self::Hold,
            Strand::Bow => Self::Bow,
            Strand::Frame => Self::Frame,
            Strand::Tape => Self::Tape,
        }
    }
}

/// What a child says when asked.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum SaysView {
    /// Comfortable.
    Easy,
    /// Tight somewhere.
    Tight,
    /// It hurts.
    Hurts,
}

impl From<Says> for SaysView {
    fn from(says: Says) -> Self {
        match says {
            Says::Easy => Self::Easy,
            Says::Tight => Self::Tight,
            Says::Hurts => Self::Hurts,
        }
    }
}

impl From<SaysView> for Says {
    fn from(view: SaysView) -> Self {
        match view {
            SaysView::Easy => Self::Easy,
            SaysView::Tight => Self::Tight,
            SaysView::Hurts => Self::Hurts,
        }
    }
}

/// Whether something wants another look.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum RecheckState {
    /// Not yet.
    Fresh,
    /// Its meeting is reached.
    Due,
    /// Its meeting is past.
    Overdue,
}

/// When something wants another look.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RecheckView {
    /// Fresh, due or overdue.
    pub state: RecheckState,
    /// Meetings until it is due, or since it was; 0 when it is due now.
    pub meetings: u32,
}

impl From<Recheck> for RecheckView {
    fn from(recheck: Recheck) -> Self {
        let (state, meetings) = match recheck {
            Recheck::Fresh(meetings) => (RecheckState::Fresh, meetings),
            Recheck::Due => (RecheckState::Due, 0),
            Recheck::Overdue(meetings) => (RecheckState::Overdue, meetings),
        };
        Self { state, meetings }
    }
}

/// Something that wants the director's eye.
#[derive(Clone, Copy, Debug, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum FlagView {
    /// The child said that it hurts.
    Pain,
    /// A slip is being worked on.
    Slip,
    /// Tapes drifted, lost or another instrument's.
    Tape,
}

/// One string of a child's string glyph.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StringView {
    /// Which strand.
    pub strand: StrandKey,
    /// How far it rings, 0 to 1.
    pub glow: f64,
    /// Whether anybody has looked at it.
    pub seen: bool,
    /// The most pressing recheck; absent when nothing has to be looked at again.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub recheck: Option<RecheckView>,
    /// What is flagged.
    pub flags: Vec<FlagView>,
}

impl From<&StrandView> for StringView {
    fn from(view: &StrandView) -> Self {
        let flags = view.flags.iter().map(|flag| match flag {
            Flag::Pain => FlagView::Pain,
            Flag::Slip => FlagView::Slip,
            Flag::Tape => FlagView::Tape,
        });
        Self {
            strand: view.strand.into(),
            glow: rounded(view.glow),
            seen: view.seen,
            recheck: view.recheck.map(Into::into),
            flags: flags.collect(),
        }
    }
}

/// A share of one, to three places: finer than any screen.
#[must_use]
pub fn rounded(share: f64) -> f64 {
    (share * 1000.0).round() / 1000.0
}
