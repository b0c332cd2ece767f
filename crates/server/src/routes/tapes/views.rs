//! Shapes of tapes that several answers share: the state of a child's tapes, a class's set, and how each marker stands.

use bright_row_core::progress::ladder::Ladder;
use bright_row_core::tapes::assessment::SpotStatus;
use bright_row_core::tapes::marker_set::{MarkerKind, MarkerSet};
use bright_row_core::tapes::record::Presence;
use bright_row_core::tapes::status::{TapeState, TapeTrouble};
use bright_row_store::children::stored_context::StoredContext;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::routes::calc::tapes::VerdictView;
use crate::routes::views::RecheckView;

/// How far the tapes are.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum TapeStateView {
    /// Not measured.
    NotMeasured,
    /// Measured: ready to place.
    ReadyToPlace,
    /// On.
    Placed,
    /// Proved by ear.
    Heard,
    /// Still true.
    Holding,
    /// Some taken away.
    Thinning,
    /// None left.
    Bare,
    /// The class has none, by choice.
    NoneByChoice,
}

/// What to put right first.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum TapeTroubleView {
    /// No longer true.
    Drifted,
    /// Come off.
    LooseOrMissing,
    /// Another instrument's.
    WrongInstrument,
}

/// The tapes of a child.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapesView {
    state: TapeStateView,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    trouble: Option<TapeTroubleView>,
    /// When to look again.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    recheck: Option<RecheckView>,
    /// The instrument that it has.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    asset: Option<Uuid>,
    /// Marker by marker, as far as the instrument's log tells.
    spots: Vec<SpotView>,
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
        Self { kind: set.kind.into(), short: set.short, colours: set.colours }
    }
}

/// What markers are made of.
#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum MarkerKind {
    /// Strips of tape.
    Tapes,
    /// Dots.
    Dots,
    /// A printed overlay.
    Overlay,
    /// Pencil.
    Pencil,
    /// Nothing.
    None,
}

impl From<MarkerKind> for MarkerKind {
    fn from(kind: MarkerKind) -> Self {
        match kind {
            MarkerKind::Tapes => Self::Tapes,
            MarkerKind::Dots => Self::Dots,
            MarkerKind::Overlay => Self::Overlay,
            MarkerKind::Pencil => Self::Pencil,
            MarkerKind::None => Self::None,
        }
    }
}

/// How a marker stands.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SpotView {
    /// A finger, `thumb` or `line`.
    spot: String,
    /// As it is said.
    name: String,
    /// Whether the class's set has it.
    wanted: bool,
    presence: PresenceView,
    /// How far off it is, as far as is known; positive = sharp.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    cents: Option<f64>,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    verdict: Option<VerdictView>,
    /// Proved by ear, and nothing happened since that would put it in doubt.
    proved: bool,
}

/// Whether a marker is there.
#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum PresenceView {
    /// Never laid.
    Never,
    /// On.
    On,
    /// Coming off.
    Loose,
    /// Gone.
    Missing,
    /// Taken away on purpose.
    Taken,
}

impl From<Presence> for PresenceView {
    fn from(presence: Presence) -> Self {
        match presence {
            Presence::Never => Self::Never,
            Presence::On => Self::On,
            Presence::Loose => Self::Loose,
            Presence::Missing => Self::Missing,
            Presence::Taken => Self::Taken,
        }
    }
}

impl From<&SpotStatus> for SpotView {
    fn from(told: &SpotStatus) -> Self {
        Self {
            spot: told.spot.id().to_owned(),
            name: told.spot.spoken().to_owned(),
            wanted: told.wanted,
            presence: told.presence.into(),
            cents: told.cents,
            verdict: told.verdict.map(Into::into),
            proved: told.proved,
        }
    }
}

impl From<TapeState> for TapeStateView {
    fn from(state: TapeState) -> Self {
        match state {
            TapeState::NotMeasured => Self::NotMeasured,
            TapeState::ReadyToPlace => Self::ReadyToPlace,
            TapeState::Placed => Self::Placed,
            TapeState::Heard => Self::Heard,
            TapeState::Holding => Self::Holding,
            TapeState::Thinning => Self::Thinning,
            TapeState::Bare => Self::Bare,
            TapeState::NoneByChoice => Self::NoneByChoice,
        }
    }
}

impl From<TapeTrouble> for TapeTroubleView {
    fn from(trouble: TapeTrouble) -> Self {
        match trouble {
            TapeTrouble::Drifted => Self::Drifted,
            TapeTrouble::LooseOrMissing => Self::LooseOrMissing,
            TapeTrouble::WrongInstrument => Self::WrongInstrument,
        }
    }
}

/// The tapes of a child.
pub(super) fn tapes(ladder: &Ladder, known: &StoredContext) -> TapesView {
    let markers = known.context.tapes.as_ref();
    TapesView {
        state: ladder.tapes.state.into(),
        trouble: ladder.tapes.trouble.map(Into::into),
        recheck: ladder.tapes.recheck.map(Into::into),
        asset: known.markers.as_ref().map(|taped| taped.asset.uuid()),
        spots: markers.map(|told| told.spots.iter().map(Into::into).collect()).unwrap_or_default(),
    }
}
