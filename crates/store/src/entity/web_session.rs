//! Table `web_session`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "web_session")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub session_hash: Vec<u8>,
    pub data: Json,
    pub expires_at: DateTimeUtc,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
