//! The passkeys of an account. What the authenticator's library keeps of one is its own; here it is JSON.

use bright_row_core::AccountId;
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder};
use serde_json::Value;
use uuid::Uuid;

use crate::entity::passkey;
use crate::error::StoreError;

/// A passkey.
#[derive(Clone, Debug, PartialEq)]
pub struct Passkey {
    /// By which its owner names it to the application.
    pub id: Uuid,
    /// What the authenticator calls it.
    pub credential: Vec<u8>,
    /// As the library keeps it.
    pub kept: Value,
    /// As its owner calls it.
    pub name: String,
    /// Since when.
    pub added_at: DateTime<Utc>,
    /// When it was used last.
    pub last_used_at: Option<DateTime<Utc>>,
}

/// The passkeys of an account, the oldest first.
///
/// # Errors
/// [`StoreError`].
pub async fn of_account(db: &impl ConnectionTrait, account: AccountId) -> Result<Vec<Passkey>, StoreError> {
    let rows = passkey::Entity::find()
        .filter(passkey::Column::AccountId.eq(account.uuid()))
        .order_by_asc(passkey::Column::AddedAt)
        .order_by_asc(passkey::Column::PasskeyId)
        .all(db)
        .await?;
    let passkey = |row: passkey::Model| Passkey {
        id: row.passkey_id,
        credential: row.credential_id,
        kept: row.kept,
        name: row.name,
        added_at: row.added_at,
        last_used_at: row.last_used_at,
    };
    Ok(rows.into_iter().map(passkey).collect())
}

/// How many passkeys an account has.
///
/// # Errors
/// [`StoreError`].
pub async fn count(db: &impl ConnectionTrait, account: AccountId) -> Result<u64, StoreError> {
    Ok(passkey::Entity::find().filter(passkey::Column::AccountId.eq(account.uuid())).count(db).await?)
}

/// Adds a passkey to an account.
///
/// # Errors
/// [`StoreError::Conflict`] if somebody has it already.
pub async fn add(db: &impl ConnectionTrait, account: AccountId, new: &Passkey) -> Result<(), StoreError> {
    let row = passkey::ActiveModel {
        account_id: Set(account.uuid()),
        passkey_id: Set(new.id),
        credential_id: Set(new.credential.clone()),
        kept: Set(new.kept.clone()),
        name: Set(new.name.clone()),
        added_at: Set(new.added_at),
        last_used_at: Set(new.last_used_at),
    };
    passkey::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

/// Keeps what the library keeps of a passkey after it was used.
///
/// # Errors
/// [`StoreError`].
pub async fn used(
    db: &impl ConnectionTrait,
    account: AccountId,
    id: Uuid,
    kept: Value,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let change = passkey::ActiveModel {
        account_id: Set(account.uuid()),
        passkey_id: Set(id),
        kept: Set(kept),
        last_used_at: Set(Some(at)),
        ..Default::default()
    };
    passkey::Entity::update(change).exec(db).await?;
    Ok(())
}

/// Takes a passkey from an account; answers whether it was there.
///
/// # Errors
/// [`StoreError`].
pub async fn remove(db: &impl ConnectionTrait, account: AccountId, id: Uuid) -> Result<bool, StoreError> {
    Ok(passkey::Entity::delete_by_id((account.uuid(), id)).exec(db).await?.rows_affected > 0)
}

/// Takes every passkey from an account.
///
/// # Errors
/// [`StoreError`].
pub async fn remove_all(db: &impl ConnectionTrait, account: AccountId) -> Result<(), StoreError> {
    passkey::Entity::delete_many().filter(passkey::Column::AccountId.eq(account.uuid())).exec(db).await?;
    Ok(())
}
