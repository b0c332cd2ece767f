//! A new class, and children of its first list.

use bright_row_core::AccountId;
use bright_row_core::deed::Deed;
use bright_row_store::StoreError;
use bright_row_store::accounts::people;
use bright_row_store::children::membership;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, Class, NewClass};

use super::{begin_alone, commit};
use crate::auth::client::Client;
use crate::auth::deeds::note;
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// Adds a class with its calendar and gives it to whoever adds it; answers it. One that was added under this id before is answered as it is.
///
/// # Errors
/// [`ApiError::Conflict`] if a class of another program has this id.
pub async fn add_class(app: &App, new: &NewClass, by: AccountId, client: &Client) -> Result<Class, ApiError> {
    let tx = begin_alone(app, new.key.program).await?;
    if let Some(there) = classes::of_program(&tx, new.key.program, Some([new.key.class].into())).await?.pop() {
        return Ok(there);
    }
    if classes::is_taken(&tx, new.key.class).await? {
        return Err(ApiError::Conflict("Another class has this id. Load the page again."));
    }
    classes::add(&tx, new).await?;
    people::give_class(&tx, new.key.program, by, new.key.class).await?;
    let added = (Deed::ClassAdded, "class", Some(new.key.class.uuid()));
    note(&tx, new.key.program, app.now(), Some(by), added, Some(client)).await?;
    commit(app, tx, []).await?;
    Ok(classes::one(&app.db, new.key).await?)
}

/// Adds children with their seats, all or none. Those who were added under these ids before stay as they are.
///
/// # Errors
/// [`ApiError::Conflict`] if a child or a seat is there already.
pub async fn add_children(app: &App, member: &Member, new: &[Child]) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let there = membership::classes_of(&tx, key.program, &new.iter().map(|child| child.id).collect()).await?;
    let fresh: Vec<Child> = new.iter().filter(|child| there.get(&child.id) != Some(&key.class)).cloned().collect();
    children::add(&tx, key, &fresh).await.map_err(|error| match error {
        StoreError::Conflict => ApiError::Conflict("A seat or a child of these is there already. Nothing was changed."),
        other => ApiError::Store(other),
    })?;
    commit(app, tx, [key.class]).await
}
