//! The lesson of a day, kept.

use bright_row_core::lessons::plan::LessonPlan;
use bright_row_store::lessons;
use chrono::NaiveDate;

use super::{begin_alone, commit};
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// Keeps the lesson of a day in the place of the one before, if `allow` lets that one be changed.
///
/// # Errors
/// What `allow` says; [`ApiError::Store`].
pub async fn keep_lesson(
    app: &App,
    member: &Member,
    (day, plan): (NaiveDate, &LessonPlan),
    allow: impl FnOnce(Option<&LessonPlan>) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    allow(lessons::of_day(&tx, key, day).await?.as_ref())?;
    lessons::keep(&tx, key, day, plan, member.account).await?;
    commit(app, tx, [key.class]).await
}
