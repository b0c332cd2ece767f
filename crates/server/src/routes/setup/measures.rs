//! Measures of children, and what was found right: what comes in, checked field by field, and kept.

use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::setup::sizing::{Measure, Measures};
use bright_row_store::children::measures::{self, Finding, Part};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::extract::Body;
use crate::error::{ApiError, FieldError, ForDirectorsWriting};
use crate::state::App;
use crate::auth::guard::DirectorOfChild;

/// Measures in millimetres.
#[derive(Clone, Copy, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
// The API says in each name what is measured in.
#[allow(clippy::struct_field_names)]
pub struct MeasuresView {
    /// From the side of the neck to the middle of the palm, outstretched.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    arm_mm: Option<f64>,
    /// Standing height.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    height_mm: Option<f64>,
    /// From the tip of finger 1 to the tip of finger 4, stretched.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    span_mm: Option<f64>,
    /// From the floor to the crease behind the knee.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    knee_mm: Option<f64>,
    /// From the floor to the lips, standing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    lip_mm: Option<f64>,
    /// From the floor to the forehead, standing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    forehead_mm: Option<f64>,
}

/// The measures by their keys.
#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum MeasureKey {
    /// See [`MeasuresView`].
    ArmMm,
    /// See [`MeasuresView`].
    HeightMm,
    /// See [`MeasuresView`].
    SpanMm,
    /// See [`MeasuresView`].
    KneeMm,
    /// See [`MeasuresView`].
    LipMm,
    /// See [`MeasuresView`].
    ForeheadMm,
}

impl From<Measure> for MeasureKey {
    fn from(measure: Measure) -> Self {
        match measure {
            Measure::Arm => Self::ArmMm,
            Measure::Height => Self::HeightMm,
            Measure::Span => Self::SpanMm,
            Measure::Knee => Self::KneeMm,
            Measure::Lip => Self::LipMm,
            Measure::Forehead => Self::ForeheadMm,
        }
    }
}

pub(super) fn field(measure: Measure) -> &'static str {
    match measure {
        Measure::Arm => "armMm",
        Measure::Height => "heightMm",
        Measure::Span => "spanMm",
        Measure::Knee => "kneeMm",
        Measure::Lip => "lipMm",
        Measure::Forehead => "foreheadMm",
    }
}

impl From<Measures> for MeasuresView {
    fn from(measures: Measures) -> Self {
        let Measures { arm_mm, height_mm, span_mm, knee_mm, lip_mm, forehead_mm } = measures;
        Self { arm_mm, height_mm, span_mm, knee_mm, lip_mm, forehead_mm }
    }
}

impl MeasuresView {
    pub(super) fn read(self) -> Result<Measures, ApiError> {
        let Self { arm_mm, height_mm, span_mm, knee_mm, lip_mm, forehead_mm } = self;
        let measures = Measures { arm_mm, height_mm, span_mm, knee_mm, lip_mm, forehead_mm };
        let checked = Measure::ALL.iter().filter_map(|measure| Some((*measure, measures.get(*measure)?)));
        let errors: Vec<FieldError> = checked
            .filter_map(|(measure, mm)| measure.check(mm).err())
            .map(|error| FieldError::new(field(error.measure), error.to_string()))
            .collect();
        if errors.is_empty() { Ok(measures) } else { Err(ApiError::Invalid(errors)) }
    }
}

/// A measuring to keep.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewMeasuring {
    /// Made by the page; the same id twice is one measuring.
    id: Uuid,
    #[serde(flatten)]
    measures: MeasuresView,
}

/// Keeps what was measured on a child; directors only.
#[utoipa::path(post, path = "/api/classes/{class}/children/{child}/measurings", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    request_body = NewMeasuring,
    responses(
        (status = 201, description = "Kept"),
        ForDirectorsWriting,
    ))]
pub async fn add_measuring(
    State(app): State<App>,
    DirectorOfChild { member, child }: DirectorOfChild,
    Body(body): Body<NewMeasuring>,
) -> Result<StatusCode, ApiError> {
    let measures = body.measures.read()?;
    if Measure::ALL.iter().all(|measure| measures.get(*measure).is_none()) {
        return Err(ApiError::Invalid(vec![FieldError::new("heightMm", "Type at least one measure.")]));
    }
    let today = member.class.calendar.day_of(app.now());
    measures::add(&app.db, member.class.key, child.id, body.id, today, &measures).await?;
    app.live.changed(member.class.key.class);
    Ok(StatusCode::CREATED)
}

/// A part of the body set-up.
#[derive(Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum SetUpPart {
    /// Seat height.
    Seat,
    /// How far the pin is out.
    Pin,
    /// The middle of the stand's desk above the floor.
    Stand,
    /// What supports the instrument.
    Support,
}

/// What was found right in the end.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewFinding {
    /// Made by the page; the same id twice is one finding.
    id: Uuid,
    part: SetUpPart,
    /// In millimetres, where it is a length.
    mm: Option<f64>,
    #[serde(default)]
    words: String,
}

/// Keeps what was found right for a child; directors only.
#[utoipa::path(post, path = "/api/classes/{class}/children/{child}/findings", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    request_body = NewFinding,
    responses(
        (status = 201, description = "Kept"),
        ForDirectorsWriting,
    ))]
pub async fn add_finding(
    State(app): State<App>,
    DirectorOfChild { member, child }: DirectorOfChild,
    Body(body): Body<NewFinding>,
) -> Result<StatusCode, ApiError> {
    let words = body.words.trim().to_owned();
    let mut errors = Vec::new();
    if body.mm.is_some_and(|mm| !(0.0..=2000.0).contains(&mm)) {
        errors.push(FieldError::new("mm", "A length here is 0 to 2000 mm."));
    }
    if words.chars().count() > 80 || words.chars().any(char::is_control) {
        errors.push(FieldError::new("words", "At most 80 plain characters."));
    }
    if body.mm.is_none() && words.is_empty() {
        errors.push(FieldError::new("mm", "Type what was found right."));
    }
    if !errors.is_empty() {
        return Err(ApiError::Invalid(errors));
    }
    let part = match body.part {
        SetUpPart::Seat => Part::Seat,
        SetUpPart::Pin => Part::Pin,
        SetUpPart::Stand => Part::Stand,
        SetUpPart::Support => Part::Support,
    };
    let finding = Finding { mm: body.mm, words, at: app.now() };
    measures::add_finding(&app.db, member.class.key, child.id, body.id, part, &finding).await?;
    app.live.changed(member.class.key.class);
    Ok(StatusCode::CREATED)
}
