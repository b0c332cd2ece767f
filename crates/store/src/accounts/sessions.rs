//! Server-side web sessions. Kept by the hash of their secret: a copy of the table signs nobody in.

use bright_row_core::AccountId;
use chrono::{DateTime, Duration, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, Condition, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder};
use serde_json::Value;
use uuid::Uuid;

use crate::entity::web_session;
use crate::error::StoreError;

/// The last use of a session is noted once in so many seconds.
const NOTED_EVERY_SECONDS: i64 = 60;

/// A session as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct Kept {
    /// Known to its owner by this; the secret is another.
    pub id: Uuid,
    /// Whose.
    pub account: Option<AccountId>,
    /// What kind of device.
    pub device: String,
    /// What the session layer keeps.
    pub data: Value,
    /// When it began.
    pub begun_at: DateTime<Utc>,
    /// When it was last used, to the minute.
    pub last_used_at: DateTime<Utc>,
    /// Its end, however much it is used.
    pub expires_at: DateTime<Utc>,
}

impl From<web_session::Model> for Kept {
    fn from(row: web_session::Model) -> Self {
        Self {
            id: row.session_id,
            account: row.account_id.map(Into::into),
            device: row.device,
            data: row.data,
            begun_at: row.begun_at,
            last_used_at: row.last_used_at,
            expires_at: row.expires_at,
        }
    }
}

fn row(hash: &[u8], session: &Kept) -> web_session::ActiveModel {
    web_session::ActiveModel {
        session_hash: Set(hash.to_vec()),
        session_id: Set(session.id),
        account_id: Set(session.account.map(AccountId::uuid)),
        device: Set(session.device.clone()),
        data: Set(session.data.clone()),
        begun_at: Set(session.begun_at),
        last_used_at: Set(session.last_used_at),
        expires_at: Set(session.expires_at),
    }
}

/// Adds a session; [`StoreError::Conflict`] when the hash is taken.
pub async fn add(db: &impl ConnectionTrait, hash: &[u8], session: &Kept) -> Result<(), StoreError> {
    web_session::Entity::insert(row(hash, session)).exec_without_returning(db).await?;
    Ok(())
}

/// Keeps a session's data, new or changed.
pub async fn keep(db: &impl ConnectionTrait, hash: &[u8], session: &Kept) -> Result<(), StoreError> {
    let replace = OnConflict::column(web_session::Column::SessionHash)
        .update_columns([
            web_session::Column::AccountId,
            web_session::Column::Device,
            web_session::Column::Data,
            web_session::Column::ExpiresAt,
        ])
        .to_owned();
    let insert = web_session::Entity::insert(row(hash, session)).on_conflict(replace);
    insert.exec_without_returning(db).await?;
    Ok(())
}

/// A session that has not ended and was used less than `quiet` ago; that it is used now is noted.
pub async fn load(
    db: &impl ConnectionTrait,
    hash: &[u8],
    now: DateTime<Utc>,
    quiet: Duration,
) -> Result<Option<Kept>, StoreError> {
    let row = web_session::Entity::find_by_id(hash.to_vec())
        .filter(web_session::Column::ExpiresAt.gt(now))
        .filter(web_session::Column::LastUsedAt.gt(now - quiet))
        .one(db)
        .await?;
    let Some(row) = row else { return Ok(None) };
    if row.last_used_at + Duration::seconds(NOTED_EVERY_SECONDS) < now {
        web_session::Entity::update_many()
            .set(web_session::ActiveModel { last_used_at: Set(now), ..Default::default() })
            .filter(web_session::Column::SessionHash.eq(hash.to_vec()))
            .exec(db)
            .await?;
    }
    Ok(Some(row.into()))
}

/// Ends a session.
pub async fn end(db: &impl ConnectionTrait, hash: &[u8]) -> Result<(), StoreError> {
    web_session::Entity::delete_by_id(hash.to_vec()).exec(db).await?;
    Ok(())
}

/// The sessions of an account that have not ended, the last used first.
pub async fn of_account(
    db: &impl ConnectionTrait,
    account: AccountId,
    now: DateTime<Utc>,
    quiet: Duration,
) -> Result<Vec<Kept>, StoreError> {
    let rows = web_session::Entity::find()
        .filter(web_session::Column::AccountId.eq(account.uuid()))
        .filter(web_session::Column::ExpiresAt.gt(now))
        .filter(web_session::Column::LastUsedAt.gt(now - quiet))
        .order_by_desc(web_session::Column::LastUsedAt)
        .all(db)
        .await?;
    Ok(rows.into_iter().map(Kept::from).collect())
}

/// Ends one session of an account, or all but one; answers how many ended.
pub async fn end_of_account(db: &impl ConnectionTrait, account: AccountId, which: Which) -> Result<u64, StoreError> {
    let of_this = web_session::Entity::delete_many().filter(web_session::Column::AccountId.eq(account.uuid()));
    let these = match which {
        Which::One(id) => of_this.filter(web_session::Column::SessionId.eq(id)),
        Which::AllBut(id) => of_this.filter(web_session::Column::SessionId.ne(id)),
        Which::All => of_this,
    };
    Ok(these.exec(db).await?.rows_affected)
}

/// Which sessions of an account end.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Which {
    /// This one.
    One(Uuid),
    /// Every other.
    AllBut(Uuid),
    /// Every one.
    All,
}

/// Clears sessions that have ended.
pub async fn clear_expired(db: &impl ConnectionTrait, now: DateTime<Utc>, quiet: Duration) -> Result<(), StoreError> {
    web_session::Entity::delete_many()
        .filter(
            Condition::any()
                .add(web_session::Column::ExpiresAt.lte(now))
                .add(web_session::Column::LastUsedAt.lte(now - quiet)),
        )
        .exec(db)
        .await?;
    Ok(())
}
