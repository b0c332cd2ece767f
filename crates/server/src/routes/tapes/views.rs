//! A class's set of markers, as several answers show it.

use bright_row_core::tapes::marker_set::{MarkerKind, MarkerSet};
use serde::Serialize;
use utoipa::ToSchema;

/// What a class's markers are made of.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MarkerSetView {
    kind: MarkerKind,
    /// Only those that the hand is built from.
    short: bool,
    colours: bool,
}

impl From<&MarkerSet> for MarkerSetView {
    fn from(set: &MarkerSet) -> Self {
        Self { kind: set.kind, short: set.short, colours: set.colours }
    }
}
