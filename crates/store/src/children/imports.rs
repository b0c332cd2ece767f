//! Imports of rosters: stored all or nothing, remembered so that each can be undone as one step.

use crate::children::membership;
use crate::children::removal;
use crate::versioned;
use std::collections::BTreeMap;

use bright_row_core::setup::roster::{ImportPlan, RowAction};
use bright_row_core::{AccountId, ChildId, ImportId};
use chrono::{DateTime, NaiveDate, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder};
use serde_json::Value;
use uuid::Uuid;

use crate::children::{self, Child};
use crate::classes::ClassKey;
use crate::entity::{observation, roster_change, roster_import};
use crate::error::StoreError;

/// What an import did, or its undoing.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Done {
    /// Children added; undone: removed again.
    pub added: usize,
    /// Children changed; undone: put back.
    pub changed: usize,
    /// Undone only: children that somebody has marked or measured since, who leave the class but keep their history.
    pub left: usize,
}

/// Stores a plan; to be called in a transaction, with the children of the class that it was made from.
pub async fn store(
    db: &impl ConnectionTrait,
    class: ClassKey,
    plan: &ImportPlan,
    known: &[Child],
    import: (ImportId, AccountId),
    when: (DateTime<Utc>, NaiveDate),
) -> Result<Done, StoreError> {
    let ((id, by), (now, today)) = (import, when);
    let row = roster_import::ActiveModel {
        program_id: Set(class.program.uuid()),
        import_id: Set(id.uuid()),
        class_id: Set(class.class.uuid()),
        imported_at: Set(now),
        imported_by: Set(by.uuid()),
        undone_at: Set(None),
    };
    roster_import::Entity::insert(row).exec_without_returning(db).await?;
    let by_id: BTreeMap<ChildId, &Child> = known.iter().map(|child| (child.id, child)).collect();
    let mut added = Vec::new();
    let mut changes = Vec::new();
    let change = |child: ChildId, before: Option<Value>| roster_change::ActiveModel {
        program_id: Set(class.program.uuid()),
        import_id: Set(id.uuid()),
        child_id: Set(child.uuid()),
        before: Set(before),
    };
    for (_, action) in &plan.rows {
        match action {
            RowAction::New(entry) => {
                let child = Child::from_entry(Uuid::now_v7().into(), entry.clone(), today);
                changes.push(change(child.id, None));
                added.push(child);
            }
            RowAction::Changed { id, entry, .. } => {
                let before = by_id.get(id).ok_or(StoreError::Reference)?;
                children::write_entry(db, class, before, entry, now).await?;
                changes.push(change(*id, Some(versioned::write(&before.entry()))));
            }
            RowAction::Same(_) | RowAction::Refused(_) => {}
        }
    }
    let done = Done { added: added.len(), changed: changes.len() - added.len(), left: 0 };
    if !added.is_empty() {
        children::add(db, class, &added).await?;
    }
    for changes in changes.chunks(2000) {
        roster_change::Entity::insert_many(changes.to_vec()).exec_without_returning(db).await?;
    }
    Ok(done)
}

/// Whether an import into a class was stored, also if it has been undone since.
pub async fn is_there(db: &impl ConnectionTrait, class: ClassKey, import: ImportId) -> Result<bool, StoreError> {
    let row = roster_import::Entity::find_by_id((class.program.uuid(), import.uuid())).one(db).await?;
    Ok(row.is_some_and(|row| row.class_id == class.class.uuid()))
}

/// The last import into a class that has not been undone.
pub async fn last(db: &impl ConnectionTrait, class: ClassKey) -> Result<Option<(ImportId, DateTime<Utc>)>, StoreError> {
    let row = roster_import::Entity::find()
        .filter(roster_import::Column::ProgramId.eq(class.program.uuid()))
        .filter(roster_import::Column::ClassId.eq(class.class.uuid()))
        .filter(roster_import::Column::UndoneAt.is_null())
        .order_by_desc(roster_import::Column::ImportedAt)
        .one(db)
        .await?;
    Ok(row.map(|row| (row.import_id.into(), row.imported_at)))
}

/// Undoes an import; to be called in a transaction. `None` when it is not there or undone already.
///
/// Children it added are removed; one that somebody has marked, measured or given an instrument since leaves the class
/// instead and keeps its history. Children it changed are put back.
pub async fn undo(
    db: &impl ConnectionTrait,
    class: ClassKey,
    import: ImportId,
    when: (DateTime<Utc>, NaiveDate),
) -> Result<Option<Done>, StoreError> {
    let (now, today) = when;
    let over = roster_import::Entity::update_many()
        .set(roster_import::ActiveModel { undone_at: Set(Some(now)), ..Default::default() })
        .filter(roster_import::Column::ProgramId.eq(class.program.uuid()))
        .filter(roster_import::Column::ClassId.eq(class.class.uuid()))
        .filter(roster_import::Column::ImportId.eq(import.uuid()))
        .filter(roster_import::Column::UndoneAt.is_null())
        .exec(db)
        .await?;
    if over.rows_affected == 0 {
        return Ok(None);
    }
    let changes = roster_change::Entity::find()
        .filter(roster_change::Column::ProgramId.eq(class.program.uuid()))
        .filter(roster_change::Column::ImportId.eq(import.uuid()))
        .all(db)
        .await?;
    let mut done = Done::default();
    for change in changes {
        let id = ChildId::from(change.child_id);
        // Somebody who moved to another class meanwhile is left alone.
        let Some(child) = children::one(db, class, id).await? else { continue };
        match change.before {
            Some(before) => {
                children::write_entry(db, class, &child, &versioned::read(before)?, now).await?;
                done.changed += 1;
            }
            None if has_history(db, class, id).await? => {
                membership::set_left(db, class, id, Some(today)).await?;
                done.left += 1;
            }
            None => {
                removal::remove(db, class, id).await?;
                done.added += 1;
            }
        }
    }
    Ok(Some(done))
}

async fn has_history(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<bool, StoreError> {
    use crate::entity::{loan, measuring, setup_found};
    let (program, child) = (class.program.uuid(), child.uuid());
    macro_rules! any {
        ($table:ident) => {
            $table::Entity::find()
                .filter($table::Column::ProgramId.eq(program))
                .filter($table::Column::ChildId.eq(child))
                .one(db)
                .await?
                .is_some()
        };
    }
    Ok(any!(observation) || any!(measuring) || any!(setup_found) || any!(loan))
}
