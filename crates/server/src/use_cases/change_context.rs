//! What counts for one child, changed.

use bright_row_core::ChildId;
use bright_row_core::craft::approach::Choices;
use bright_row_store::children::context::{self, Accommodation};
use uuid::Uuid;

use super::{begin_alone, commit};
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// Lets something else count for a child at a checkpoint, if `allow` lets what counts now be changed. What counts already stays
/// with the one who decided it.
///
/// # Errors
/// What `allow` says; [`ApiError::Store`].
pub async fn accommodate(
    app: &App,
    member: &Member,
    child: ChildId,
    accommodation: &Accommodation,
    allow: impl FnOnce(Option<&Accommodation>) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let there = context::accommodations(&tx, key, child).await?;
    let there = there.iter().find(|there| there.checkpoint == accommodation.checkpoint);
    allow(there)?;
    if there.is_some_and(|there| there.look_for == accommodation.look_for && there.reason == accommodation.reason) {
        return Ok(());
    }
    context::accommodate(&tx, key, child, Uuid::now_v7(), accommodation).await?;
    commit(app, tx, [key.class]).await
}

/// Sets in which choices a child goes its own way, if `allow` lets those that are set be changed.
///
/// # Errors
/// What `allow` says; [`ApiError::Store`].
pub async fn set_overrides(
    app: &App,
    member: &Member,
    child: ChildId,
    choices: &Choices,
    allow: impl FnOnce(&Choices) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    allow(&context::overrides(&tx, key, child).await?)?;
    context::set_overrides(&tx, key, child, choices).await?;
    commit(app, tx, [key.class]).await
}
