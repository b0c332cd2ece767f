//! Table `accommodation`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "accommodation")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub accommodation_id: Uuid,
    pub child_id: Uuid,
    pub checkpoint_id: String,
    pub look_for: String,
    pub reason: String,
    pub made_at: DateTimeUtc,
    pub made_by: Uuid,
    pub ended_at: Option<DateTimeUtc>,
    pub ended_by: Option<Uuid>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
