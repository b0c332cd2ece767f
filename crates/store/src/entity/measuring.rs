//! Table `measuring`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "measuring")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub measuring_id: Uuid,
    pub child_id: Uuid,
    pub measured_on: Date,
    pub arm_mm: Option<f64>,
    pub height_mm: Option<f64>,
    pub span_mm: Option<f64>,
    pub knee_mm: Option<f64>,
    pub lip_mm: Option<f64>,
    pub forehead_mm: Option<f64>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
