//! Where markers go on a string of some length, how they are proved, and what a measured miss comes to: the same rule as
//! everywhere, without a database.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts, Size};
use bright_row_core::tapes::ear_checks::{ear_checks, step_check, stopped_notes};
use bright_row_core::tapes::finger::Finger;
use bright_row_core::tapes::layout::{LayoutFault, MarkerPosition, positions};
use bright_row_core::tapes::settings::{Align, MarkerSettings, Temperament, Tolerance, Verdict};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::extract::Body;
use crate::routes::tapes::settings::field_of;
use crate::error::{ApiError, FieldError, Problem};
use crate::routes::views::InstrumentView;
use crate::state::App;
use crate::auth::guard::SignedIn;

/// More fingers than any hand has places for.
const MOST_FINGERS: usize = 12;

/// How the octave is divided.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum TemperamentView {
    /// Twelve equal semitones.
    Equal,
    /// On pure fifths.
    Pythagorean,
}

/// What of a strip lies on the computed line.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum AlignView {
    /// Its edge nearer the nut.
    NutEdge,
    /// Its middle.
    Middle,
    /// Its edge nearer the bridge.
    BridgeEdge,
}

impl From<TemperamentView> for Temperament {
    fn from(view: TemperamentView) -> Self {
        match view {
            TemperamentView::Equal => Self::Equal,
            TemperamentView::Pythagorean => Self::Pythagorean,
        }
    }
}

impl From<Temperament> for TemperamentView {
    fn from(temperament: Temperament) -> Self {
        match temperament {
            Temperament::Equal => Self::Equal,
            Temperament::Pythagorean => Self::Pythagorean,
        }
    }
}

impl From<AlignView> for Align {
    fn from(view: AlignView) -> Self {
        match view {
            AlignView::NutEdge => Self::NutEdge,
            AlignView::Middle => Self::Middle,
            AlignView::BridgeEdge => Self::BridgeEdge,
        }
    }
}

impl From<Align> for AlignView {
    fn from(align: Align) -> Self {
        match align {
            Align::NutEdge => Self::NutEdge,
            Align::Middle => Self::Middle,
            Align::BridgeEdge => Self::BridgeEdge,
        }
    }
}

/// How far off still counts, in cents.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct ToleranceView {
    /// Up to this a marker is true; 6 unless told otherwise.
    #[serde(rename = "true")]
    true_cents: f64,
    /// Up to this it is close; 12 unless told otherwise.
    close: f64,
}

impl From<ToleranceView> for Tolerance {
    fn from(view: ToleranceView) -> Self {
        Self { true_cents: view.true_cents, close_cents: view.close }
    }
}

impl From<Tolerance> for ToleranceView {
    fn from(tolerance: Tolerance) -> Self {
        Self { true_cents: tolerance.true_cents, close: tolerance.close_cents }
    }
}

/// What markers are asked for.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct TapesQuestion {
    instrument: InstrumentView,
    /// Nut to bridge, 150 to 1300.
    string_length_mm: f64,
    temperament: TemperamentView,
    /// `low1`, `1`, `low2`, `2`, `x2`, `3`, `4`, `x4`.
    fingers: Vec<String>,
    /// Middle unless told otherwise.
    align: Option<AlignView>,
    /// 2 to 6; 3 unless told otherwise.
    strip_mm: Option<f64>,
    /// Towards the nut, -5 to 5; 0 unless told otherwise.
    offset_mm: Option<f64>,
    #[serde(default)]
    measured: Vec<MeasuredEdge>,
    tolerance_cents: Option<ToleranceView>,
    /// 430 to 450; 440 unless told otherwise.
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

/// One marker.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MarkerView {
    finger: String,
    /// Above the open string.
    semitones: u8,
    /// The pitch line, from the nut's edge.
    distance_mm: f64,
    /// Where the strip's nut-side edge goes.
    edge_mm: f64,
    /// From the pitch line before; the first from the nut.
    gap_mm: f64,
    /// How much of the string one cent is here.
    mm_per_cent: f64,
    /// What it sounds like on each string, low to high.
    notes: Vec<StoppedNote>,
    /// Comparisons with open strings, the nearest first.
    ear_checks: Vec<EarCheckView>,
    /// Where no open string can be compared with: from another marker of these.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    step_check: Option<StepCheckView>,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    measured: Option<MeasuredView>,
}

/// A note on a string.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StoppedNote {
    /// The open string, `D4`.
    string: String,
    /// What sounds, `E4`.
    note: String,
    hz: f64,
}

/// A comparison with an open string.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct EarCheckView {
    /// The string that is stopped.
    string: String,
    /// What sounds.
    note: String,
    /// The open string to compare with.
    open_string: String,
    /// How the stopped note lies to it: `unison`, `octave above`, `octave below`, `two octaves above` ...
    relation: String,
    /// Allowed beside the tolerance.
    allow_cents: f64,
}

/// A comparison with a marker that is proved.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StepCheckView {
    from_finger: String,
    /// From there; negative for lower.
    semitones: i8,
}

/// What a miss comes to.
#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum VerdictView {
    /// Within tolerance.
    True,
    /// Nearly.
    Close,
    /// Wants to be moved.
    Move,
}

impl From<Verdict> for VerdictView {
    fn from(verdict: Verdict) -> Self {
        match verdict {
            Verdict::True => Self::True,
            Verdict::Close => Self::Close,
            Verdict::Move => Self::Move,
        }
    }
}

/// A measured marker against its target.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MeasuredView {
    edge_mm: f64,
    /// Positive = sharp.
    cents: f64,
    verdict: VerdictView,
    /// Positive = towards the bridge.
    move_mm: f64,
}

/// The markers as they are told: with what each sounds like and how it is proved.
pub(super) fn views(facts: &InstrumentFacts, laying: &MarkerSettings, places: &[MarkerPosition]) -> Vec<MarkerView> {
    let fingers: Vec<Finger> = places.iter().map(|place| place.finger).collect();
    let open = |string: usize| facts.strings[string].note.clone();
    let view = |place: &MarkerPosition| {
        let notes = stopped_notes(facts, place.semitones, laying).into_iter().map(|stopped| StoppedNote {
            string: open(stopped.string),
            note: stopped.note(),
            hz: stopped.hz,
        });
        let checks = ear_checks(facts, place.semitones).into_iter().map(|check| EarCheckView {
            string: open(check.string),
            note: bright_row_core::craft::pitch::note_name(check.midi),
            open_string: open(check.open),
            relation: check.relation.words(),
            allow_cents: check.allows_cents(laying.temperament),
        });
        MarkerView {
            finger: place.finger.id().to_owned(),
            semitones: place.semitones,
            distance_mm: place.distance_mm,
            edge_mm: place.edge_mm,
            gap_mm: place.gap_mm,
            mm_per_cent: place.mm_per_cent,
            notes: notes.collect(),
            ear_checks: checks.collect(),
            step_check: step_check(facts, place.finger, &fingers)
                .map(|step| StepCheckView { from_finger: step.from.id().to_owned(), semitones: step.semitones }),
            measured: place.measured.map(|measured| MeasuredView {
                edge_mm: measured.edge_mm,
                cents: measured.cents,
                verdict: measured.verdict.into(),
                move_mm: measured.move_mm,
            }),
        }
    };
    places.iter().map(view).collect()
}

/// The field that a fault is about, with what else it may mean.
fn field_error(
    fault: &LayoutFault,
    all: &BTreeMap<Instrument, InstrumentFacts>,
    instrument: Instrument,
    length_mm: f64,
) -> FieldError {
    let mut error = field_of(fault);
    if let Some(also) = likely(all, instrument, None, length_mm).filter(|_| matches!(fault, LayoutFault::Length)) {
        error.detail = format!("{} {also}", error.detail);
    }
    error
}

/// What somebody who typed this length for such an instrument probably meant: inches, or another instrument.
pub(super) fn likely(
    all: &BTreeMap<Instrument, InstrumentFacts>,
    instrument: Instrument,
    size: Option<&str>,
    length_mm: f64,
) -> Option<String> {
    let facts = &all[&instrument];
    let near = |usual: f64, mm: f64| (mm - usual).abs() <= usual * bright_row_core::setup::sizing::FAR_LENGTH;
    let sizes = || facts.sizes.iter().filter(|known| size.is_none_or(|size| known.name == size));
    let inches = length_mm * bright_row_core::number::MM_PER_INCH;
    if sizes().any(|known| near(known.string_length_mm, inches)) {
        return Some(format!("In inches it would be {inches:.1} mm."));
    }
    let centimetres = length_mm * 10.0;
    if sizes().any(|known| near(known.string_length_mm, centimetres)) {
        return Some(format!("In centimetres it would be {centimetres:.0} mm."));
    }
    let others = all.values().filter(|other| other.instrument != instrument);
    let known =
        std::iter::once(facts).chain(others).flat_map(|facts| facts.sizes.iter().map(move |size| (facts, size)));
    let off = |(_, size): &(&InstrumentFacts, &Size)| (size.string_length_mm - length_mm).abs();
    let (of, nearest) = known.min_by(|a, b| off(a).total_cmp(&off(b)))?;
    near(nearest.string_length_mm, length_mm).then(|| {
        format!("That is usual for a {} {}: is it the right instrument on record?", of.instrument.name(), nearest.name)
    })
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
    let instrument = Instrument::from(question.instrument);
    let facts = &app.content.instruments[&instrument];
    let laying = question.laying();
    let (fingers, measured) = question.markers()?;
    let found = positions(instrument, question.string_length_mm, &laying, &fingers, &measured).map_err(|fault| {
        let error = field_error(&fault, &app.content.instruments, instrument, question.string_length_mm);
        ApiError::Invalid(vec![error])
    })?;
    Ok(Json(TapesAnswer { tapes: views(facts, &laying, &found) }))
}

impl TapesQuestion {
    fn laying(&self) -> MarkerSettings {
        let usual = MarkerSettings::default();
        MarkerSettings {
            temperament: self.temperament.into(),
            align: self.align.map_or(usual.align, Into::into),
            strip_mm: self.strip_mm.unwrap_or(usual.strip_mm),
            offset_mm: self.offset_mm.unwrap_or(usual.offset_mm),
            tolerance: self.tolerance_cents.map_or(usual.tolerance, Into::into),
            a4_hz: self.a4_hz.unwrap_or(usual.a4_hz),
        }
    }

    fn markers(&self) -> Result<(Vec<Finger>, BTreeMap<Finger, f64>), ApiError> {
        let one = |field: &str, id: &str| {
            let words = format!("There is no finger “{id}”: low1, 1, low2, 2, x2, 3, 4 or x4.");
            Finger::parse(id).ok_or_else(|| ApiError::Invalid(vec![FieldError::new(field, words)]))
        };
        if self.fingers.len() > MOST_FINGERS || self.measured.len() > MOST_FINGERS {
            let words = format!("At most {MOST_FINGERS} markers.");
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
