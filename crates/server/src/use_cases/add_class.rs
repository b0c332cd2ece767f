//! A new class, and children of its first list.

use bright_row_core::AccountId;
use bright_row_store::StoreError;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, Class, NewClass};

use super::{begin, commit};
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// Adds a class with its calendar; answers it as its director sees it.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn add_class(app: &App, account: AccountId, new: &NewClass) -> Result<Class, ApiError> {
    let tx = begin(app).await?;
    classes::add(&tx, new).await?;
    commit(app, tx, []).await?;
    classes::for_account(&app.db, account, new.key.class).await?.ok_or(ApiError::NotFound("class"))
}

/// Adds children with their seats, all or none.
///
/// # Errors
/// [`ApiError::Conflict`] if a child or a seat is there already.
pub async fn add_children(app: &App, member: &Member, new: &[Child]) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    children::add(&tx, key, new).await.map_err(|error| match error {
        StoreError::Conflict => ApiError::Conflict("A seat or a child of these is there already. Nothing was changed."),
        other => ApiError::Store(other),
    })?;
    commit(app, tx, [key.class]).await
}
