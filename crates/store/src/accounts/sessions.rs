//! Server-side web sessions. Kept by the hash of their secret: a copy of the table signs nobody in.

use std::collections::BTreeMap;

use bright_row_core::AccountId;
use chrono::{DateTime, Duration, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::extension::postgres::PgFunc;
use sea_orm::sea_query::{Expr, ExprTrait, OnConflict};
use sea_orm::{ColumnTrait, Condition, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, Statement};
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

/// Those of these sessions that have not ended and were used less than `quiet` ago, by the hashes they are kept by; that they are used
/// now is noted.
pub async fn load(
    db: &impl ConnectionTrait,
    hashes: &[Vec<u8>],
    now: DateTime<Utc>,
    quiet: Duration,
) -> Result<BTreeMap<Vec<u8>, Kept>, StoreError> {
    let these = |hashes: Vec<Vec<u8>>| Expr::col(web_session::Column::SessionHash).eq(PgFunc::any(hashes));
    let rows = web_session::Entity::find()
        .filter(these(hashes.to_vec()))
        .filter(web_session::Column::ExpiresAt.gt(now))
        .filter(web_session::Column::LastUsedAt.gt(now - quiet))
        .all(db)
        .await?;
    let long_ago = |row: &&web_session::Model| row.last_used_at + Duration::seconds(NOTED_EVERY_SECONDS) < now;
    let noted: Vec<Vec<u8>> = rows.iter().filter(long_ago).map(|row| row.session_hash.clone()).collect();
    if !noted.is_empty() {
        // Another process notes the use of the same sessions at the same moment: nobody waits for that.
        const NOTE: &str = "
            update web_session w set last_used_at = $1
            from (select session_hash from web_session where session_hash = any($2) for update skip locked) these
            where w.session_hash = these.session_hash";
        let values = [now.into(), noted.into()];
        db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), NOTE, values)).await?;
    }
    Ok(rows.into_iter().map(|row| (row.session_hash.clone(), row.into())).collect())
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
