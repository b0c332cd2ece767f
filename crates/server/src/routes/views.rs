//! Shapes that several answers share, made from core values.

use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::ladder::{Flag, StrandView};
use bright_row_core::progress::rhythm::Recheck;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

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

/// One string of a child's string glyph.
#[skip_serializing_none]
#[derive(Clone, Debug, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StringView {
    /// Which strand.
    pub strand: Strand,
    /// How far it rings, 0 to 1.
    pub glow: f64,
    /// Whether anybody has looked at it.
    pub seen: bool,
    /// The most pressing recheck; absent when nothing has to be looked at again.
    pub recheck: Option<RecheckView>,
    /// What is flagged.
    pub flags: Vec<Flag>,
}

impl From<&StrandView> for StringView {
    fn from(view: &StrandView) -> Self {
        let flags = view.flags.iter().map(|flag| match flag {
            Flag::Pain => Flag::Pain,
            Flag::Slip => Flag::Slip,
            Flag::Tape => Flag::Tape,
        });
        Self {
            strand: view.strand,
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
