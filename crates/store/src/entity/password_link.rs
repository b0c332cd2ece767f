//! Table `password_link`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "password_link")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub secret_hash: Vec<u8>,
    pub account_id: Uuid,
    pub made_by: Option<Uuid>,
    pub expires_at: DateTimeUtc,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
