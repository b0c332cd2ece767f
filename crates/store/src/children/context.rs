//! What counts for a child besides its observations: accommodations, overrides, stages opened anyway, pain that wants an answer.

use crate::accounts::Made;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::ChildId;
use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::id::{CheckpointId, StageId};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::{Expr, OnConflict};
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, QueryOrder, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::{accommodation, child_choice, stage_opened};
use crate::error::StoreError;

/// What counts for a child instead of the shared look-for.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Accommodation {
    /// At which checkpoint.
    pub checkpoint: CheckpointId,
    /// What is looked for; empty: the checkpoint does not apply.
    pub look_for: String,
    /// Why; not shown on cards.
    pub reason: String,
    /// Since when, by whom.
    pub made: Made,
}

/// The checkpoints at which something else is looked for, by child; all children of a class.
pub async fn accommodated(
    db: &impl ConnectionTrait,
    class: ClassKey,
) -> Result<BTreeMap<ChildId, BTreeSet<CheckpointId>>, StoreError> {
    #[derive(FromQueryResult)]
    struct Row {
        child_id: Uuid,
        checkpoint_id: String,
    }
    let sql = "select a.child_id, a.checkpoint_id from accommodation a join child c using (program_id, child_id)
               where c.program_id = $1 and c.class_id = $2 and a.ended_at is null and a.look_for <> ''";
    let values = [class.program.uuid().into(), class.class.uuid().into()];
    let rows = Row::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let mut by_child: BTreeMap<ChildId, BTreeSet<CheckpointId>> = BTreeMap::new();
    for row in rows.all(db).await? {
        by_child.entry(row.child_id.into()).or_default().insert(CheckpointId::new(row.checkpoint_id));
    }
    Ok(by_child)
}

/// The accommodations of a child, by checkpoint.
pub async fn accommodations(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
) -> Result<Vec<Accommodation>, StoreError> {
    let rows = accommodation::Entity::find()
        .filter(accommodation::Column::ProgramId.eq(class.program.uuid()))
        .filter(accommodation::Column::ChildId.eq(child.uuid()))
        .filter(accommodation::Column::EndedAt.is_null())
        .order_by_asc(accommodation::Column::CheckpointId)
        .all(db)
        .await?;
    let read = |row: accommodation::Model| Accommodation {
        checkpoint: CheckpointId::new(row.checkpoint_id),
        look_for: row.look_for,
        reason: row.reason,
        made: Made { by: row.made_by.into(), at: row.made_at },
    };
    Ok(rows.into_iter().map(read).collect())
}

/// What is looked for in children of a program instead of the shared look-for, by child and checkpoint; where a checkpoint
/// does not apply there is none.
pub async fn own_look_fors(
    db: &impl ConnectionTrait,
    class: ClassKey,
) -> Result<BTreeMap<(ChildId, CheckpointId), String>, StoreError> {
    let rows = accommodation::Entity::find()
        .filter(accommodation::Column::ProgramId.eq(class.program.uuid()))
        .filter(accommodation::Column::EndedAt.is_null())
        .filter(accommodation::Column::LookFor.ne(""))
        .all(db)
        .await?;
    let read = |row: accommodation::Model| ((row.child_id.into(), CheckpointId::new(row.checkpoint_id)), row.look_for);
    Ok(rows.into_iter().map(read).collect())
}

/// Writes an accommodation in the place of the one before; to be called in a transaction.
pub async fn accommodate(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    id: Uuid,
    new: &Accommodation,
) -> Result<(), StoreError> {
    end_accommodation(db, class, child, new.checkpoint.as_str(), new.made).await?;
    let row = accommodation::ActiveModel {
        program_id: Set(class.program.uuid()),
        accommodation_id: Set(id),
        child_id: Set(child.uuid()),
        checkpoint_id: Set(new.checkpoint.as_str().to_owned()),
        look_for: Set(new.look_for.clone()),
        reason: Set(new.reason.clone()),
        made_at: Set(new.made.at),
        made_by: Set(new.made.by.uuid()),
        ended_at: Set(None),
        ended_by: Set(None),
    };
    accommodation::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

/// The shared look-for counts again; answers whether there was anything to end.
pub async fn end_accommodation(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    checkpoint: &str,
    made: Made,
) -> Result<bool, StoreError> {
    let ended = accommodation::Entity::update_many()
        .col_expr(accommodation::Column::EndedAt, Expr::value(made.at))
        .col_expr(accommodation::Column::EndedBy, Expr::value(made.by.uuid()))
        .filter(accommodation::Column::ProgramId.eq(class.program.uuid()))
        .filter(accommodation::Column::ChildId.eq(child.uuid()))
        .filter(accommodation::Column::CheckpointId.eq(checkpoint))
        .filter(accommodation::Column::EndedAt.is_null())
        .exec(db)
        .await?;
    Ok(ended.rows_affected > 0)
}

/// A child's overrides.
pub async fn overrides(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<Choices, StoreError> {
    let rows = child_choice::Entity::find()
        .filter(child_choice::Column::ProgramId.eq(class.program.uuid()))
        .filter(child_choice::Column::ChildId.eq(child.uuid()))
        .all(db)
        .await?;
    Ok(rows.into_iter().map(|row| (row.key, row.choice)).collect())
}

/// Writes a child's overrides, all of them; to be called in a transaction.
pub async fn set_overrides(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    overrides: &Choices,
) -> Result<(), StoreError> {
    child_choice::Entity::delete_many()
        .filter(child_choice::Column::ProgramId.eq(class.program.uuid()))
        .filter(child_choice::Column::ChildId.eq(child.uuid()))
        .exec(db)
        .await?;
    let rows: Vec<_> = overrides
        .iter()
        .map(|(key, choice)| child_choice::ActiveModel {
            program_id: Set(class.program.uuid()),
            child_id: Set(child.uuid()),
            key: Set(key.clone()),
            choice: Set(choice.clone()),
        })
        .collect();
    if !rows.is_empty() {
        child_choice::Entity::insert_many(rows).exec_without_returning(db).await?;
    }
    Ok(())
}

/// The stages that were opened anyway for a child, with who did it.
pub async fn opened(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
) -> Result<BTreeMap<StageId, Made>, StoreError> {
    let rows = stage_opened::Entity::find()
        .filter(stage_opened::Column::ProgramId.eq(class.program.uuid()))
        .filter(stage_opened::Column::ChildId.eq(child.uuid()))
        .filter(stage_opened::Column::EndedAt.is_null())
        .all(db)
        .await?;
    let read =
        |row: stage_opened::Model| (StageId::new(row.stage_id), Made { by: row.opened_by.into(), at: row.opened_at });
    Ok(rows.into_iter().map(read).collect())
}

/// Opens a stage for a child although it waits for others; one that is opened already stays so.
pub async fn open_stage(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    id: Uuid,
    stage: &StageId,
    made: Made,
) -> Result<(), StoreError> {
    let row = stage_opened::ActiveModel {
        program_id: Set(class.program.uuid()),
        opened_id: Set(id),
        child_id: Set(child.uuid()),
        stage_id: Set(stage.as_str().to_owned()),
        opened_at: Set(made.at),
        opened_by: Set(made.by.uuid()),
        ended_at: Set(None),
        ended_by: Set(None),
    };
    stage_opened::Entity::insert(row)
        .on_conflict(OnConflict::new().do_nothing().to_owned())
        .exec_without_returning(db)
        .await?;
    Ok(())
}

/// A stage waits for others again; answers whether it had been opened.
pub async fn leave_stage(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    stage: &str,
    made: Made,
) -> Result<bool, StoreError> {
    let ended = stage_opened::Entity::update_many()
        .col_expr(stage_opened::Column::EndedAt, Expr::value(made.at))
        .col_expr(stage_opened::Column::EndedBy, Expr::value(made.by.uuid()))
        .filter(stage_opened::Column::ProgramId.eq(class.program.uuid()))
        .filter(stage_opened::Column::ChildId.eq(child.uuid()))
        .filter(stage_opened::Column::StageId.eq(stage))
        .filter(stage_opened::Column::EndedAt.is_null())
        .exec(db)
        .await?;
    Ok(ended.rows_affected > 0)
}
