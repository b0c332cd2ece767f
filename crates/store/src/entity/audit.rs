//! Table `audit`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "audit")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub entry_id: Uuid,
    pub at: DateTimeUtc,
    pub account_id: Option<Uuid>,
    pub deed: String,
    pub thing: String,
    pub thing_id: Option<Uuid>,
    pub network: String,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
