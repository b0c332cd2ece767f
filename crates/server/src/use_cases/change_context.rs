//! What counts for one child, changed.

use bright_row_core::ChildId;
use bright_row_core::craft::approach::Choices;
use bright_row_store::children::context::{self, Accommodation};
use uuid::Uuid;

use super::{begin, commit};
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// Lets something else count for a child at a checkpoint.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn accommodate(
    app: &App,
    member: &Member,
    child: ChildId,
    accommodation: &Accommodation,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    context::accommodate(&tx, key, child, Uuid::now_v7(), accommodation).await?;
    commit(app, tx, [key.class]).await
}

/// Sets in which choices a child goes its own way.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn set_overrides(app: &App, member: &Member, child: ChildId, choices: &Choices) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    context::set_overrides(&tx, key, child, choices).await?;
    commit(app, tx, [key.class]).await
}
