//! Server-side web sessions. Kept by the hash of their secret: a copy of the table signs nobody in.

use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};
use serde_json::Value;

use crate::entity::web_session;
use crate::error::StoreError;

fn row(hash: &[u8], data: Value, expires_at: DateTime<Utc>) -> web_session::ActiveModel {
    web_session::ActiveModel { session_hash: Set(hash.to_vec()), data: Set(data), expires_at: Set(expires_at) }
}

/// Adds a session; [`StoreError::Conflict`] when the hash is taken.
pub async fn add(
    db: &impl ConnectionTrait,
    hash: &[u8],
    data: Value,
    expires_at: DateTime<Utc>,
) -> Result<(), StoreError> {
    web_session::Entity::insert(row(hash, data, expires_at)).exec_without_returning(db).await?;
    Ok(())
}

/// Keeps a session's data, new or changed.
pub async fn keep(
    db: &impl ConnectionTrait,
    hash: &[u8],
    data: Value,
    expires_at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let replace = OnConflict::column(web_session::Column::SessionHash)
        .update_columns([web_session::Column::Data, web_session::Column::ExpiresAt])
        .to_owned();
    let insert = web_session::Entity::insert(row(hash, data, expires_at)).on_conflict(replace);
    insert.exec_without_returning(db).await?;
    Ok(())
}

/// The data and the end of a session that has not expired.
pub async fn load(
    db: &impl ConnectionTrait,
    hash: &[u8],
    now: DateTime<Utc>,
) -> Result<Option<(Value, DateTime<Utc>)>, StoreError> {
    let row =
        web_session::Entity::find_by_id(hash.to_vec()).filter(web_session::Column::ExpiresAt.gt(now)).one(db).await?;
    Ok(row.map(|row| (row.data, row.expires_at)))
}

/// Ends a session.
pub async fn end(db: &impl ConnectionTrait, hash: &[u8]) -> Result<(), StoreError> {
    web_session::Entity::delete_by_id(hash.to_vec()).exec(db).await?;
    Ok(())
}

/// Clears sessions that expired.
pub async fn clear_expired(db: &impl ConnectionTrait, now: DateTime<Utc>) -> Result<(), StoreError> {
    web_session::Entity::delete_many().filter(web_session::Column::ExpiresAt.lte(now)).exec(db).await?;
    Ok(())
}
