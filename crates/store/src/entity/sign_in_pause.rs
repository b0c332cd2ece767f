//! Table `sign_in_pause`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "sign_in_pause")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub whose_hash: Vec<u8>,
    pub failures: i32,
    pub last_failure: DateTimeUtc,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
