//! Table `web_session`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "web_session")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub session_hash: Vec<u8>,
    pub session_id: Uuid,
    pub account_id: Option<Uuid>,
    pub device: String,
    pub data: Json,
    pub begun_at: DateTimeUtc,
    pub last_used_at: DateTimeUtc,
    pub expires_at: DateTimeUtc,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
