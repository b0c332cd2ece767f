//! Supplies in the program's store room.

use std::collections::BTreeMap;

use bright_row_core::ProgramId;
use bright_row_core::setup::supplies::Item;
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};

use crate::entity::stock;
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
