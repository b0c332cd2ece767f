//! Table `standing`.

use sea_orm::entity::prelude::*;
use serde::Serialize;

#[derive(Clone, Debug, PartialEq, Serialize, DeriveEntityModel)]
#[sea_orm(table_name = "standing")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub child_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub checkpoint_id: String,
    pub level: i16,
    pub peak: i16,
    pub passed_at: Option<DateTimeUtc>,
    pub looked_at: DateTimeUtc,
    pub visited_at: Option<DateTimeUtc>,
    pub interval_meetings: Option<i32>,
    pub tries: i32,
    pub slipped: bool,
    pub slips: Vec<String>,
    pub says: Option<String>,
    pub lasting_run: i32,
    pub held_at: Option<i32>,
    pub tried_at: Option<i32>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
