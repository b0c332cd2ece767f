//! Supplies in the program's store room, and what a class chose where teachers disagree.

use std::collections::BTreeMap;

use bright_row_core::ProgramId;
use bright_row_core::supplies::Item;
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};

use crate::classes::ClassKey;
use crate::entity::{class_choice, stock};
use crate::error::StoreError;

/// What was counted, by item; items that this build does not know are passed over.
pub async fn of_program(db: &impl ConnectionTrait, program: ProgramId) -> Result<BTreeMap<Item, f64>, StoreError> {
    let rows = stock::Entity::find().filter(stock::Column::ProgramId.eq(program.uuid())).all(db).await?;
    Ok(rows.into_iter().filter_map(|row| Some((Item::parse(&row.item)?, row.quantity))).collect())
}

/// Writes what was counted of an item.
pub async fn set(db: &impl ConnectionTrait, program: ProgramId, item: Item, quantity: f64) -> Result<(), StoreError> {
    let row = stock::ActiveModel { program_id: Set(program.uuid()), item: Set(item.key()), quantity: Set(quantity) };
    let replace = OnConflict::columns([stock::Column::ProgramId, stock::Column::Item])
        .update_column(stock::Column::Quantity)
        .to_owned();
    stock::Entity::insert(row).on_conflict(replace).exec_without_returning(db).await?;
    Ok(())
}

/// What a class chose, by key; what is not here has its default.
pub async fn choices(db: &impl ConnectionTrait, class: ClassKey) -> Result<BTreeMap<String, String>, StoreError> {
    let rows = class_choice::Entity::find()
        .filter(class_choice::Column::ProgramId.eq(class.program.uuid()))
        .filter(class_choice::Column::ClassId.eq(class.class.uuid()))
        .all(db)
        .await?;
    Ok(rows.into_iter().map(|row| (row.key, row.choice)).collect())
}

/// Writes what a class chose.
pub async fn choose(db: &impl ConnectionTrait, class: ClassKey, key: &str, choice: &str) -> Result<(), StoreError> {
    let row = class_choice::ActiveModel {
        program_id: Set(class.program.uuid()),
        class_id: Set(class.class.uuid()),
        key: Set(key.to_owned()),
        choice: Set(choice.to_owned()),
    };
    let replace = OnConflict::columns([
        class_choice::Column::ProgramId,
        class_choice::Column::ClassId,
        class_choice::Column::Key,
    ])
    .update_column(class_choice::Column::Choice)
    .to_owned();
    class_choice::Entity::insert(row).on_conflict(replace).exec_without_returning(db).await?;
    Ok(())
}
