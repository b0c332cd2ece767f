//! Table `known_device`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "known_device")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub device_hash: Vec<u8>,
    #[sea_orm(primary_key, auto_increment = false)]
    pub account_id: Uuid,
    pub last_used_at: DateTimeUtc,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
