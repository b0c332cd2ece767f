//! Changes of one child's entry in a roster.

use bright_row_core::setup::roster::{MembershipStatus, RosterEntry};
use bright_row_core::{ChildId, ImportId};
use bright_row_store::children;
use bright_row_store::children::imports::{self, Done};
use bright_row_store::children::membership;
use bright_row_store::{StoreError, classes};

use super::{begin_alone, commit, keeping, renew};
use crate::auth::guard::Member;
use crate::error::{ApiError, FieldError};
use crate::state::App;

/// Writes a child's entry, if `allow` lets the one that is there be changed. A change of instrument keeps the history.
///
/// # Errors
/// What `allow` says; [`ApiError::Invalid`] if another child has its school number; [`ApiError::NotFound`] if the child is not
/// in the class any more.
pub async fn write_entry(
    app: &App,
    member: &Member,
    child: ChildId,
    entry: &RosterEntry,
    allow: impl FnOnce(&RosterEntry) -> Result<(), ApiError>,
) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let child = children::one(&tx, key, child).await?.ok_or(ApiError::NotFound("child"))?;
    allow(&child.entry())?;
    children::write_entry(&tx, key, &child, entry, app.now()).await.map_err(number_taken)?;
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
    let tx = begin_alone(app, key.program).await?;
    let mut changed = vec![key.class];
    match status {
        MembershipStatus::Left => membership::set_left(&tx, key, child, Some(today)).await?,
        MembershipStatus::Here => membership::set_left(&tx, key, child, None).await?,
        MembershipStatus::Class(other) => {
            // One that may be changed by whoever moves the child.
            let other = classes::for_account(&tx, member.account, other, app.now()).await?;
            let other = other.filter(|other| other.class.key.program == key.program && other.role.may_change());
            let other = other.ok_or(ApiError::NotFound("class"))?.class;
            if other.archived_at.is_some() {
                return Err(ApiError::Archived);
            }
            let other = other.key.class;
            membership::move_to(&tx, key, child, other).await.map_err(number_taken)?;
            renew(app, &tx, key.program, &[child].into()).await?;
            changed.push(other);
        }
    }
    commit(app, tx, changed).await
}

/// Removes everything that is kept about a child, for good.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn remove_child(app: &App, member: &Member, child: ChildId) -> Result<(), ApiError> {
    let tx = begin_alone(app, member.class.key.program).await?;
    keeping::remove_child_in(app, tx, member.class.key, child).await
}

/// Undoes an import as one step.
///
/// # Errors
/// [`ApiError::NotFound`] for an import that cannot be undone (any more).
pub async fn undo_import(app: &App, member: &Member, import: ImportId) -> Result<Done, ApiError> {
    let key = member.class.key;
    let when = (app.now(), member.class.calendar.day_of(app.now()));
    let tx = begin_alone(app, key.program).await?;
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
