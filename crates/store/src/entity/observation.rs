//! Table `observation`.

use sea_orm::entity::prelude::*;
use serde::Serialize;

#[derive(Clone, Debug, PartialEq, Serialize, DeriveEntityModel)]
#[sea_orm(table_name = "observation")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub observation_id: Uuid,
    pub class_id: Uuid,
    pub child_id: Uuid,
    pub target: String,
    pub level: Option<i16>,
    pub retracts: Option<Uuid>,
    pub slips: Vec<String>,
    pub except_checkpoints: Vec<String>,
    pub says: Option<String>,
    pub note: Option<String>,
    pub via: String,
    pub observed_at: DateTimeUtc,
    pub recorded_at: DateTimeUtc,
    pub observer: Uuid,
    pub round_id: Option<Uuid>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
