//! Changes of one child's entry in a roster.

use bright_row_core::setup::roster::{MembershipStatus, RosterEntry};
use bright_row_core::{ChildId, ImportId};
use bright_row_store::children::imports::{self, Done};
use bright_row_store::children::{self, Child, removal};
use bright_row_store::{StoreError, classes, observations};

use super::{begin, commit};
use crate::auth::guard::Member;
use crate::error::{ApiError, FieldError};
use crate::state::App;

/// Writes a child's entry. A change of instrument keeps the history.
///
/// # Errors
/// [`ApiError::Invalid`] if another child has its school number.
pub async fn write_entry(app: &App, member: &Member, child: &Child, entry: &RosterEntry) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    children::write_entry(&tx, key, child, entry, app.now()).await.map_err(number_taken)?;
    commit(app, tx, [key.class]).await
}

/// Lets a child leave, come back, or move to another class of the program, where its standings are computed by that class's
/// own settings.
///
/// # Errors
/// [`ApiError::NotFound`] for another class that is not the program's; [`ApiError::Invalid`] as [`write_entry`].
pub async fn set_membership(
    app: &App,
    member: &Member,
    child: ChildId,
    status: MembershipStatus,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let today = member.class.calendar.day_of(app.now());
    let tx = begin(app).await?;
    let mut changed = vec![key.class];
    match status {
        MembershipStatus::Left => children::set_left(&tx, key, child, Some(today)).await?,
        MembershipStatus::Here => children::set_left(&tx, key, child, None).await?,
        MembershipStatus::Class(other) => {
            let other = classes::for_account(&tx, member.account, other).await?;
            let other = other.filter(|other| other.key.program == key.program).ok_or(ApiError::NotFound("class"))?;
            children::move_to(&tx, key, child, other.key.class).await.map_err(number_taken)?;
            Box::pin(observations::renew(&tx, &other, &app.checklist(&other), &[child].into())).await?;
            changed.push(other.key.class);
        }
    }
    commit(app, tx, changed).await
}

/// Removes everything that is kept about a child, for good.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn remove_child(app: &App, member: &Member, child: ChildId) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin(app).await?;
    removal::remove(&tx, key, child).await?;
    commit(app, tx, [key.class]).await
}

/// Undoes an import as one step.
///
/// # Errors
/// [`ApiError::NotFound`] for an import that cannot be undone (any more).
pub async fn undo_import(app: &App, member: &Member, import: ImportId) -> Result<Done, ApiError> {
    let key = member.class.key;
    let when = (app.now(), member.class.calendar.day_of(app.now()));
    let tx = begin(app).await?;
    let done = imports::undo(&tx, key, import, when).await?.ok_or(ApiError::NotFound("import that can be undone"))?;
    commit(app, tx, [key.class]).await?;
    Ok(done)
}

fn number_taken(error: StoreError) -> ApiError {
    match error {
        StoreError::Conflict => {
            let words = "Another child of the class has this school number. Give each its own.";
            ApiError::Invalid(vec![FieldError::new("number", words)])
        }
        other => ApiError::Store(other),
    }
}
