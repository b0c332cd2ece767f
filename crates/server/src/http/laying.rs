//! How a class lays its marks, as it is told and taken.

use bright_row_core::fingerboard::Fault;
use bright_row_core::laying::Laying;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::calc_tapes::{AlignView, TemperamentView, ToleranceView};
use super::problem::FieldError;

/// How marks are laid.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct LayingView {
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

impl From<Laying> for LayingView {
    fn from(laying: Laying) -> Self {
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

impl From<LayingView> for Laying {
    fn from(view: LayingView) -> Self {
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
pub(super) fn field_of(fault: &Fault) -> FieldError {
    let field = match fault {
        Fault::Length => "stringLengthMm",
        Fault::Strip => "stripMm",
        Fault::Offset => "offsetMm",
        Fault::Tolerance => "toleranceCents",
        Fault::A4 => "a4Hz",
        Fault::Finger(..) | Fault::Twice(_) => "fingers",
        Fault::Outside(..) | Fault::Order(..) | Fault::NotAsked(_) => "measured",
    };
    FieldError::new(field, fault.to_string())
}
