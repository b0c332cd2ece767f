//! Table `heading`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "heading")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub file: String,
    #[sea_orm(primary_key, auto_increment = false)]
    pub heading: String,
    pub means: String,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
