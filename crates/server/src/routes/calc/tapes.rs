//! Where markers go on a string of some length, how they are proved, and what a measured miss comes to: the same rule as
//! everywhere, without a database.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::tapes::finger::Finger;
use bright_row_core::tapes::layout::{LayoutFault, positions};
use bright_row_core::tapes::marker_view::{MarkerView, marker_views};
use bright_row_core::tapes::plausible::meant_length;
use bright_row_core::tapes::settings::{Align, MarkerSettings, Temperament, Tolerance};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::error::{ApiError, FieldError, Problem};
use crate::extract::Body;
use crate::routes::tapes::settings::layout_field;

use crate::auth::guard::SignedIn;
use crate::state::App;

/// More fingers than any hand has places for.
const MAX_FINGERS: usize = 12;

/// What markers are asked for.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct TapesQuestion {
    instrument: Instrument,
    /// Nut to bridge, 150 to 1300.
    string_length_mm: f64,
    temperament: Temperament,
    /// `low1`, `1`, `low2`, `2`, `x2`, `3`, `high3`, `4`, `x4`.
    fingers: Vec<String>,
    /// Middle by default.
    align: Option<Align>,
    /// 2 to 6; 3 by default.
    strip_mm: Option<f64>,
    /// Towards the nut, -5 to 5; 0 by default.
    offset_mm: Option<f64>,
    #[serde(default)]
    measured: Vec<MeasuredEdge>,
    tolerance_cents: Option<Tolerance>,
    /// 430 to 450; 440 by default.
    a4_hz: Option<f64>,
}

/// Where a marker was found.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct MeasuredEdge {
    /// Whose.
    pub finger: String,
    /// Its nut-side edge, from the nut's edge.
    pub edge_mm: f64,
}

/// Markers, up the string.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapesAnswer {
    tapes: Vec<MarkerView>,
}

/// The field that a fault is about, with what else it may mean.
fn field_error(
    fault: &LayoutFault,
    all: &BTreeMap<Instrument, InstrumentFacts>,
    instrument: Instrument,
    length_mm: f64,
) -> FieldError {
    let mut error = layout_field(fault);
    if let Some(also) = meant_length(all, instrument, None, length_mm).filter(|_| matches!(fault, LayoutFault::Length))
    {
        error.detail = format!("{} {also}", error.detail);
    }
    error
}

/// Where markers go on one string length, how each is proved, and what was measured comes to.
#[utoipa::path(post, path = "/api/calc/tapes", tag = "calc", request_body = TapesQuestion, responses(
    (status = 200, body = TapesAnswer),
    (status = 401, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
))]
pub async fn calc_tapes(
    State(app): State<App>,
    _signed_in: SignedIn,
    Body(question): Body<TapesQuestion>,
) -> Result<Json<TapesAnswer>, ApiError> {
    let instrument = question.instrument;
    let facts = &app.content.instruments[&instrument];
    let settings = question.settings();
    let (fingers, measured) = question.markers()?;
    let found = positions(instrument, question.string_length_mm, &settings, &fingers, &measured).map_err(|fault| {
        let error = field_error(&fault, &app.content.instruments, instrument, question.string_length_mm);
        ApiError::Invalid(vec![error])
    })?;
    Ok(Json(TapesAnswer { tapes: marker_views(facts, &settings, &found) }))
}

impl TapesQuestion {
    fn settings(&self) -> MarkerSettings {
        let usual = MarkerSettings::default();
        MarkerSettings {
            temperament: self.temperament,
            align: self.align.unwrap_or(usual.align),
            strip_mm: self.strip_mm.unwrap_or(usual.strip_mm),
            offset_mm: self.offset_mm.unwrap_or(usual.offset_mm),
            tolerance: self.tolerance_cents.unwrap_or(usual.tolerance),
            a4_hz: self.a4_hz.unwrap_or(usual.a4_hz),
            ..usual
        }
    }

    fn markers(&self) -> Result<(Vec<Finger>, BTreeMap<Finger, f64>), ApiError> {
        let one = |field: &str, id: &str| {
            let words = format!("There is no finger “{id}”: low1, 1, low2, 2, x2, 3, high3, 4 or x4.");
            Finger::parse(id).ok_or_else(|| ApiError::Invalid(vec![FieldError::new(field, words)]))
        };
        if self.fingers.len() > MAX_FINGERS || self.measured.len() > MAX_FINGERS {
            let words = format!("At most {MAX_FINGERS} markers.");
            return Err(ApiError::Invalid(vec![FieldError::new("fingers", words)]));
        }
        let fingers = self.fingers.iter().map(|id| one("fingers", id)).collect::<Result<_, _>>()?;
        let mut measured = BTreeMap::new();
        for edge in &self.measured {
            if measured.insert(one("measured", &edge.finger)?, edge.edge_mm).is_some() {
                let words = format!("Finger {} was measured twice.", edge.finger);
                return Err(ApiError::Invalid(vec![FieldError::new("measured", words)]));
            }
        }
        Ok((fingers, measured))
    }
}
