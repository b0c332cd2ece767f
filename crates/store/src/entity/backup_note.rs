//! Table `backup_note`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "backup_note")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub made_at: DateTimeUtc,
    pub file: String,
    pub bytes: i64,
    pub proved_at: Option<DateTimeUtc>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
