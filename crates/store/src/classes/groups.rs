//! The small groups of a class, those that ended too.

use std::collections::BTreeMap;

use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::term::group::SmallGroup;
use bright_row_core::{AccountId, GroupId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::{small_group, small_group_child};
use crate::error::StoreError;

/// The groups of a class, the newest first.
///
/// # Errors
/// [`StoreError`].
pub async fn of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<Vec<SmallGroup>, StoreError> {
    let rows = small_group::Entity::find()
        .filter(small_group::Column::ProgramId.eq(class.program.uuid()))
        .filter(small_group::Column::ClassId.eq(class.class.uuid()))
        .order_by_desc(small_group::Column::BeganAt)
        .order_by_desc(small_group::Column::GroupId)
        .all(db)
        .await?;
    let ids = rows.iter().map(|row| row.group_id);
    let children = small_group_child::Entity::find()
        .filter(small_group_child::Column::ProgramId.eq(class.program.uuid()))
        .filter(small_group_child::Column::GroupId.is_in(ids))
        .all(db)
        .await?;
    let mut of: BTreeMap<Uuid, Vec<Uuid>> = BTreeMap::new();
    for row in children {
        of.entry(row.group_id).or_default().push(row.child_id);
    }
    let group = |row: small_group::Model| SmallGroup {
        id: row.group_id.into(),
        checkpoint: CheckpointId::new(row.checkpoint_id),
        slip: row.slip_id.map(SlipId::new),
        children: of.remove(&row.group_id).unwrap_or_default().into_iter().map(Into::into).collect(),
        began_at: row.began_at,
        ended_at: row.ended_at,
    };
    Ok(rows.into_iter().map(group).collect())
}

/// Whether a group of any class has this id.
///
/// # Errors
/// [`StoreError`].
pub async fn is_taken(db: &impl ConnectionTrait, class: ClassKey, group: GroupId) -> Result<bool, StoreError> {
    Ok(small_group::Entity::find_by_id((class.program.uuid(), group.uuid())).one(db).await?.is_some())
}

/// Keeps a new group; to be called in a transaction.
///
/// # Errors
/// [`StoreError::Conflict`] if a child is not in the program.
pub async fn add(
    db: &impl ConnectionTrait,
    class: ClassKey,
    group: &SmallGroup,
    by: AccountId,
) -> Result<(), StoreError> {
    let row = small_group::ActiveModel {
        program_id: Set(class.program.uuid()),
        group_id: Set(group.id.uuid()),
        class_id: Set(class.class.uuid()),
        checkpoint_id: Set(group.checkpoint.to_string()),
        slip_id: Set(group.slip.as_ref().map(ToString::to_string)),
        began_at: Set(group.began_at),
        ended_at: Set(group.ended_at),
        kept_by: Set(by.uuid()),
    };
    small_group::Entity::insert(row).exec_without_returning(db).await?;
    let child = |child: &bright_row_core::ChildId| small_group_child::ActiveModel {
        program_id: Set(class.program.uuid()),
        group_id: Set(group.id.uuid()),
        child_id: Set(child.uuid()),
    };
    small_group_child::Entity::insert_many(group.children.iter().map(child)).exec_without_returning(db).await?;
    Ok(())
}

/// Ends a group that goes on; whether the class has one of this id.
///
/// # Errors
/// [`StoreError`].
pub async fn end(
    db: &impl ConnectionTrait,
    class: ClassKey,
    group: GroupId,
    at: DateTime<Utc>,
) -> Result<bool, StoreError> {
    let here = small_group::Entity::find_by_id((class.program.uuid(), group.uuid()))
        .filter(small_group::Column::ClassId.eq(class.class.uuid()))
        .one(db)
        .await?;
    let Some(row) = here else { return Ok(false) };
    if row.ended_at.is_none() {
        let ended = small_group::ActiveModel { ended_at: Set(Some(at.max(row.began_at))), ..Default::default() };
        small_group::Entity::update_many()
            .set(ended)
            .filter(small_group::Column::ProgramId.eq(class.program.uuid()))
            .filter(small_group::Column::GroupId.eq(group.uuid()))
            .exec(db)
            .await?;
    }
    Ok(true)
}
