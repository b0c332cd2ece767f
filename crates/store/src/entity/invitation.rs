//! Table `invitation`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "invitation")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub program_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub invitation_id: Uuid,
    pub secret_hash: Vec<u8>,
    pub role: String,
    pub name: String,
    pub until: Option<DateTimeUtc>,
    pub made_at: DateTimeUtc,
    pub made_by: Uuid,
    pub expires_at: DateTimeUtc,
    pub used_at: Option<DateTimeUtc>,
    pub used_by: Option<Uuid>,
    pub revoked_at: Option<DateTimeUtc>,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
