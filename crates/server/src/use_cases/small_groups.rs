//! Small groups, kept and ended.

use std::collections::BTreeSet;

use bright_row_core::progress::overview::{MAX_GROUP, MIN_GROUP};
use bright_row_core::term::group::{MAX_GROUPS, SmallGroup};
use bright_row_core::{ChildId, GroupId};
use bright_row_store::children;
use bright_row_store::classes::{self, groups};

use super::{begin_alone, commit};
use crate::auth::guard::Member;
use crate::error::{ApiError, FieldError};
use crate::state::App;

/// Keeps a small group of children of the class. One that was kept under this id before stays as it is.
///
/// # Errors
/// [`ApiError::Invalid`] for a group that cannot be; [`ApiError::Conflict`] where the class has too many.
pub async fn keep(app: &App, member: &Member, group: &SmallGroup) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    if groups::is_taken(&tx, key, group.id).await? {
        return Ok(());
    }
    let class = classes::one(&tx, key).await?;
    let here: BTreeSet<ChildId> = children::of_class(&tx, key).await?.iter().map(|child| child.id).collect();
    let checklist = app.checklist(&class);
    let mut faults = Vec::new();
    if !(MIN_GROUP..=MAX_GROUP).contains(&group.children.len()) {
        faults.push(FieldError::new("children", format!("{MIN_GROUP} to {MAX_GROUP} children.")));
    }
    if !group.children.is_subset(&here) {
        faults.push(FieldError::new("children", "Only children who are in the class."));
    }
    if checklist.checkpoint(group.checkpoint.as_str()).is_none() {
        faults.push(FieldError::new("checkpoint", "A checkpoint of the class's checklist."));
    }
    let belongs = |slip: &bright_row_core::craft::id::SlipId| {
        checklist.slip(slip.as_str()).is_some_and(|slip| slip.checkpoint == group.checkpoint)
    };
    if !group.slip.as_ref().is_none_or(belongs) {
        faults.push(FieldError::new("slip", "A slip of that checkpoint."));
    }
    if !faults.is_empty() {
        return Err(ApiError::Invalid(faults));
    }
    let kept = groups::of_class(&tx, key).await?;
    if kept.iter().filter(|group| group.ended_at.is_none()).count() >= MAX_GROUPS {
        return Err(ApiError::Conflict("This class has as many small groups as can go on at once. End one first."));
    }
    groups::add(&tx, key, group, member.account).await?;
    commit(app, tx, [key.class]).await
}

/// Ends a small group of the class, if it goes on.
///
/// # Errors
/// [`ApiError::NotFound`] where the class has no such group.
pub async fn end(app: &App, member: &Member, group: GroupId) -> Result<(), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    if !groups::end(&tx, key, group, app.now()).await? {
        return Err(ApiError::NotFound("group"));
    }
    commit(app, tx, [key.class]).await
}
