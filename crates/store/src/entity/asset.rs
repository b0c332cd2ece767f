//! Table `asset`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "asset")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub asset_id: Uuid,
    pub tag: String,
    pub instrument: String,
    pub size: String,
    pub string_length_mm: Option<f64>,
    pub string_height_mm: Option<f64>,
    pub condition: String,
    pub condition_note: String,
    pub condition_since: Date,
    pub bow: bool,
    pub support: String,
    pub pin_anchor: String,
    pub has_case: bool,
    pub created_at: DateTimeUtc,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
