//! How a class lays its markers, as it is told and taken.

use bright_row_core::tapes::layout::LayoutFault;
use bright_row_core::tapes::settings::MarkerSettings;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::routes::calc::tapes::{AlignView, TemperamentView, ToleranceView};
use crate::error::FieldError;

/// How markers are laid.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct MarkerSettings {
    temperament: TemperamentView,
    align: AlignView,
    /// 2 to 6.
    strip_mm: f64,
    /// Towards the nut, -5 to 5.
    offset_mm: f64,
    tolerance_cents: ToleranceView,
    /// What the class tunes A4 to, 430 to 450 Hz.
    a4_hz: f64,
}

impl From<MarkerSettings> for MarkerSettings {
    fn from(laying: MarkerSettings) -> Self {
        Self {
            temperament: laying.temperament.into(),
            align: laying.align.into(),
            strip_mm: laying.strip_mm,
            offset_mm: laying.offset_mm,
            tolerance_cents: laying.tolerance.into(),
            a4_hz: laying.a4_hz,
        }
    }
}

impl From<MarkerSettings> for MarkerSettings {
    fn from(view: MarkerSettings) -> Self {
        Self {
            temperament: view.temperament.into(),
            align: view.align.into(),
            strip_mm: view.strip_mm,
            offset_mm: view.offset_mm,
            tolerance: view.tolerance_cents.into(),
            a4_hz: view.a4_hz,
        }
    }
}

/// The field of a laying that a fault is about.
pub(super) fn field_of(fault: &LayoutFault) -> FieldError {
    let field = match fault {
        LayoutFault::Length => "stringLengthMm",
        LayoutFault::Strip => "stripMm",
        LayoutFault::Offset => "offsetMm",
        LayoutFault::Tolerance => "toleranceCents",
        LayoutFault::A4 => "a4Hz",
        LayoutFault::Finger(..) | LayoutFault::Twice(_) => "fingers",
        LayoutFault::Outside(..) | LayoutFault::Order(..) | LayoutFault::NotAsked(_) => "measured",
    };
    FieldError::new(field, fault.to_string())
}
