//! Shapes of tapes that several answers share: the state of a child's tapes, a class's set, and how each marker stands.

use bright_row_core::AssetId;
use bright_row_core::progress::ladder::Ladder;
use bright_row_core::tapes::assessment::SpotStatus;
use bright_row_core::tapes::marker_set::{MarkerKind, MarkerSet};
use bright_row_core::tapes::status::{TapeState, TapeTrouble};
use bright_row_store::children::stored_context::StoredContext;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use bright_row_core::progress::rhythm::Recheck;

/// The tapes of a child.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapesView {
    state: TapeState,
    trouble: Option<TapeTrouble>,
    /// When to look again.
    recheck: Option<Recheck>,
    /// The instrument that it has.
    asset: Option<AssetId>,
    /// Marker by marker, as far as the instrument's log tells.
    spots: Vec<SpotStatus>,
}

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

/// The tapes of a child.
pub(crate) fn tapes(ladder: &Ladder, context: &StoredContext) -> TapesView {
    let markers = context.context.tapes.as_ref();
    TapesView {
        state: ladder.tapes.state,
        trouble: ladder.tapes.trouble,
        recheck: ladder.tapes.recheck,
        asset: context.markers.as_ref().map(|markers| markers.asset),
        spots: markers.map(|markers| markers.spots.clone()).unwrap_or_default(),
    }
}
