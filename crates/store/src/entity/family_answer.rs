//! Table `family_answer`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "family_answer")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub answer_id: Uuid,
    pub class_id: Uuid,
    pub child_id: Uuid,
    pub days: Option<i16>,
    pub says: Option<String>,
    pub target: Option<String>,
    pub retracts: Option<Uuid>,
    pub answered_at: DateTimeUtc,
    pub recorded_at: DateTimeUtc,
    pub noted_by: Uuid,
    pub done: Option<String>,
    pub done_at: Option<DateTimeUtc>,
    pub done_by: Option<Uuid>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
