//! Table `class`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "class")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub class_id: Uuid,
    pub name: String,
    pub time_zone: String,
    pub first_day: Date,
    pub last_day: Date,
    pub weekdays: Vec<i16>,
    pub recheck_alone: i32,
    pub recheck_lasting: i32,
    pub recheck_longest: i32,
    pub tapes_first: i32,
    pub tapes_later: i32,
    pub must_see_after: i32,
    pub room_width_mm: i32,
    pub room_depth_mm: i32,
    pub row_chairs: Vec<i16>,
    pub checklist_edits: Json,
    pub round_visit_seconds: i32,
    pub round_max_checks: i32,
    pub marker_settings: Json,
    pub home_settings: Json,
    pub rules: String,
    pub archived_at: Option<DateTimeUtc>,
    pub created_at: DateTimeUtc,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
