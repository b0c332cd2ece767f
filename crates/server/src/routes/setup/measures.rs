//! Measures of children, and what was found right: what comes in, checked field by field, and kept.

use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::setup::body::{MAX_FINDING_LENGTH, MAX_SET_UP_MM, SetUpPart};
use bright_row_core::setup::measures::{Measure, Measures};
use bright_row_store::children::measures::{self, Finding};
use bright_row_store::live::Topic;
use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::guard::DirectorOfChild;
use crate::error::answers::ForDirectorsWriting;
use crate::error::{ApiError, FieldError};
use crate::extract::Body;
use crate::extract::fields::Fields;
use crate::state::App;
use crate::use_cases::observe_set_up;

/// Measures that can be a child's; of the others the fault by field.
pub(crate) fn checked(measures: Measures) -> Result<Measures, ApiError> {
    let mut fields = Fields::default();
    for measure in Measure::ALL {
        if let Some(Err(error)) = measures.get(*measure).map(|mm| measure.check(mm)) {
            fields.fault(measure.word(), error.to_string());
        }
    }
    fields.finish()?;
    Ok(measures)
}

/// A measuring to keep.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewMeasuring {
    /// Made by the page; the same id twice is one measuring.
    id: Uuid,
    #[serde(flatten)]
    measures: Measures,
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
    let measures = checked(body.measures)?;
    if Measure::ALL.iter().all(|measure| measures.get(*measure).is_none()) {
        return Err(ApiError::Invalid(vec![FieldError::new("heightMm", "Type at least one measure.")]));
    }
    let today = member.class.calendar.day_of(app.now());
    measures::add(&app.db, member.class.key, child.id, body.id, today, &measures).await?;
    observe_set_up::sizes(&app, &member, &[child.id].into()).await?;
    app.live.changed(member.class.key.class, Topic::Class);
    Ok(StatusCode::CREATED)
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
    let mut fields = Fields::default();
    fields.require(
        body.mm.is_none_or(|mm| (0.0..=MAX_SET_UP_MM).contains(&mm)),
        "mm",
        "A length here is 0 to 2000 mm.",
    );
    let words = fields.line::<MAX_FINDING_LENGTH>("words", &body.words);
    fields.require(body.mm.is_some() || !body.words.trim().is_empty(), "mm", "Type what was found right.");
    fields.finish()?;
    let finding = Finding { mm: body.mm, words, at: app.now() };
    measures::add_finding(&app.db, member.class.key, child.id, body.id, body.part, &finding).await?;
    observe_set_up::finding(&app, &member, (body.id, child.id, body.part)).await?;
    app.live.changed(member.class.key.class, Topic::Class);
    Ok(StatusCode::CREATED)
}
