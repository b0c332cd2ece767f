//! Table `small_group`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "small_group")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub group_id: Uuid,
    pub class_id: Uuid,
    pub checkpoint_id: String,
    pub slip_id: Option<String>,
    pub began_at: DateTimeUtc,
    pub ended_at: Option<DateTimeUtc>,
    pub kept_by: Uuid,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
