//! Table `setup_found`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "setup_found")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub found_id: Uuid,
    pub child_id: Uuid,
    pub kind: String,
    pub mm: Option<f64>,
    pub words: String,
    pub found_at: DateTimeUtc,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
