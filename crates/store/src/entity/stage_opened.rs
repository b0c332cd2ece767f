//! Table `stage_opened`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "stage_opened")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub opened_id: Uuid,
    pub child_id: Uuid,
    pub stage_id: String,
    pub opened_at: DateTimeUtc,
    pub opened_by: Uuid,
    pub ended_at: Option<DateTimeUtc>,
    pub ended_by: Option<Uuid>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
