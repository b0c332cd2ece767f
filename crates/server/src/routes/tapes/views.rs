//! A class's set of markers, as several answers show it.

use bright_row_core::tapes::colour::Colour;
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
    /// Whether each finger has its own colour.
    colours: bool,
    /// The colours of the markers of fingers 1 to 4; all the same where no finger has its own.
    finger_colours: Vec<ColourView>,
}

/// A colour that markers really have.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ColourView {
    key: Colour,
    /// As it is said.
    name: &'static str,
    /// As it is drawn, `#rrggbb`.
    hex: &'static str,
    /// Of letters that read on it, `#rrggbb`.
    ink: &'static str,
}

impl From<Colour> for ColourView {
    fn from(key: Colour) -> Self {
        Self { key, name: key.name(), hex: key.hex(), ink: key.ink() }
    }
}

impl From<&MarkerSet> for MarkerSetView {
    fn from(set: &MarkerSet) -> Self {
        Self { kind: set.kind, short: set.short, colours: set.colours, finger_colours: finger_colours(set) }
    }
}

/// The colours of the markers of fingers 1 to 4.
pub(super) fn finger_colours(set: &MarkerSet) -> Vec<ColourView> {
    set.finger_colours().map(Into::into).into()
}
