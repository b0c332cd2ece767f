//! The address under which a class's calendar can be subscribed to: one for each class, kept by the hash of its secret.

use bright_row_core::ProgramId;
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryTrait};

use crate::accounts::Made;
use crate::classes::ClassKey;
use crate::entity::calendar_address::{ActiveModel, Column, Entity};
use crate::error::StoreError;

/// By whom and when the class's address was made; `None` where it has none.
///
/// # Errors
/// [`StoreError`].
pub async fn of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<Option<Made>, StoreError> {
    let found = Entity::find_by_id((class.program.uuid(), class.class.uuid())).one(db).await?;
    Ok(found.map(|row| Made { by: row.made_by.into(), at: row.made_at }))
}

/// Keeps a new address in place of the one before.
///
/// # Errors
/// [`StoreError`].
pub async fn set(db: &impl ConnectionTrait, class: ClassKey, hash: &[u8], made: Made) -> Result<(), StoreError> {
    let row = ActiveModel {
        program_id: Set(class.program.uuid()),
        class_id: Set(class.class.uuid()),
        secret_hash: Set(hash.to_vec()),
        made_at: Set(made.at),
        made_by: Set(made.by.uuid()),
    };
    let instead = OnConflict::columns([Column::ProgramId, Column::ClassId])
        .update_columns([Column::SecretHash, Column::MadeAt, Column::MadeBy])
        .to_owned();
    Entity::insert(row).on_conflict(instead).exec_without_returning(db).await?;
    Ok(())
}

/// Ends the class's address; answers whether there was one.
///
/// # Errors
/// [`StoreError`].
pub async fn end(db: &impl ConnectionTrait, class: ClassKey) -> Result<bool, StoreError> {
    let gone = Entity::delete_by_id((class.program.uuid(), class.class.uuid())).exec(db).await?;
    Ok(gone.rows_affected > 0)
}

/// The class of a secret; of one that names no program every program is asked.
///
/// # Errors
/// [`StoreError`].
pub async fn class_of(
    db: &impl ConnectionTrait,
    program: Option<ProgramId>,
    hash: &[u8],
) -> Result<Option<ClassKey>, StoreError> {
    let found = Entity::find()
        .apply_if(program, |found, program| found.filter(Column::ProgramId.eq(program.uuid())))
        .filter(Column::SecretHash.eq(hash.to_vec()))
        .one(db)
        .await?;
    Ok(found.map(|row| ClassKey { program: row.program_id.into(), class: row.class_id.into() }))
}
