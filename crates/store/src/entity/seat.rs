//! Table `seat`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "seat")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub class_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub row_number: i16,
    #[sea_orm(primary_key, auto_increment = false)]
    pub seat_number: i16,
    pub child_id: Uuid,
    pub locked: bool,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
