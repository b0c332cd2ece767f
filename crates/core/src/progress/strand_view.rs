//! One strand of one child at a glance: what its string of the glyph shows.

use std::collections::BTreeSet;

use serde::Serialize;

use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::rhythm::Recheck;

/// Something that wants the director's eye.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Flag {
    /// The child said that it hurts, and nobody has said yet what was done.
    Pain,
    /// A slip is being worked on.
    Slip,
    /// Tapes drifted, lost or another instrument's.
    Tape,
}

/// One strand of one child: one string of the string glyph.
#[serde_with::skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct StrandView {
    /// Which strand.
    pub strand: Strand,
    /// How far it is learned, 0 to 1; three places go over the wire.
    #[serde(serialize_with = "crate::number::as_share")]
    pub glow: f64,
    /// Whether anybody has looked at anything in it.
    pub seen: bool,
    /// Whether somebody has begun and there is more to learn.
    pub in_work: bool,
    /// The most pressing look at what stands in it.
    pub recheck: Option<Recheck>,
    /// What is flagged in it.
    pub flags: BTreeSet<Flag>,
}

/// How far a strand is learned, 0 to 1: the levels of the required checkpoints asked of a child, out of four each; 0 where there
/// is none.
#[must_use]
pub fn glow(required: impl Iterator<Item = Option<Level>>) -> f64 {
    let (sum, most) = required.fold((0_u32, 0_u32), |(sum, most), level| {
        (sum + u32::from(level.map_or(0, Level::number)), most + u32::from(Level::Lasting.number()))
    });
    if most == 0 { 0.0 } else { f64::from(sum) / f64::from(most) }
}
