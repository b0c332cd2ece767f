//! Table `retention`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "retention")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    pub archive_after_days: i32,
    pub delete_after_days: i32,
    pub notes_days: i32,
    pub audit_days: i32,
    pub left_days: i32,
    pub second_factor: bool,
    pub mirror: bool,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
