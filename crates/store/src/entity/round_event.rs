//! Table `round_event`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "round_event")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub event_id: Uuid,
    pub class_id: Uuid,
    pub round_id: Uuid,
    pub kind: String,
    pub device: String,
    pub detail: Json,
    pub happened_at: DateTimeUtc,
    pub recorded_at: DateTimeUtc,
    pub account_id: Uuid,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
