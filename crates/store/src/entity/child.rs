//! Table `child`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "child")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub child_id: Uuid,
    pub class_id: Uuid,
    pub name: String,
    pub instrument: String,
    pub joined_on: Date,
    pub grade: String,
    pub school_number: String,
    pub near_front: bool,
    pub near_aisle: bool,
    pub left_on: Option<Date>,
    pub created_at: DateTimeUtc,
    pub touched: Uuid,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
