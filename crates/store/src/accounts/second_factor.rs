//! The second factor of an account: the secret that codes follow from, and codes for when it is lost.

use bright_row_core::AccountId;
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, PaginatorTrait, QueryFilter, Statement};

use crate::entity::{account, recovery_code};
use crate::error::StoreError;

/// The secret that somebody's codes follow from; `None`: no second factor is asked for.
pub async fn secret(db: &impl ConnectionTrait, account: AccountId) -> Result<Option<Vec<u8>>, StoreError> {
    Ok(account::Entity::find_by_id(account.uuid()).one(db).await?.and_then(|row| row.totp_secret))
}

/// Asks somebody for codes of this secret from now on, or for none; the recovery codes of before are not good any more.
pub async fn set(
    db: &impl ConnectionTrait,
    account: AccountId,
    secret: Option<&[u8]>,
    recovery_hashes: &[Vec<u8>],
) -> Result<(), StoreError> {
    set_secret(db, account, secret).await?;
    set_recovery_codes(db, account, recovery_hashes).await
}

/// Asks somebody for codes of this secret from now on, or for none.
pub async fn set_secret(
    db: &impl ConnectionTrait,
    account: AccountId,
    secret: Option<&[u8]>,
) -> Result<(), StoreError> {
    let change = account::ActiveModel {
        account_id: Set(account.uuid()),
        totp_secret: Set(secret.map(<[u8]>::to_vec)),
        totp_step: Set(None),
        ..Default::default()
    };
    account::Entity::update(change).exec(db).await?;
    Ok(())
}

/// These recovery codes are good from now on; those of before are not any more.
pub async fn set_recovery_codes(
    db: &impl ConnectionTrait,
    account: AccountId,
    recovery_hashes: &[Vec<u8>],
) -> Result<(), StoreError> {
    recovery_code::Entity::delete_many().filter(recovery_code::Column::AccountId.eq(account.uuid())).exec(db).await?;
    let rows = recovery_hashes
        .iter()
        .map(|hash| recovery_code::ActiveModel { account_id: Set(account.uuid()), code_hash: Set(hash.clone()) });
    let rows: Vec<_> = rows.collect();
    if !rows.is_empty() {
        recovery_code::Entity::insert_many(rows).exec_without_returning(db).await?;
    }
    Ok(())
}

/// Takes the code of a step of time, once: answers whether no code of this step or a later one was taken before.
pub async fn take_step(db: &impl ConnectionTrait, account: AccountId, step: i64) -> Result<bool, StoreError> {
    const SQL: &str =
        "update account set totp_step = $2 where account_id = $1 and (totp_step is null or totp_step < $2)";
    let values = [account.uuid().into(), step.into()];
    let done = db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), SQL, values)).await?;
    Ok(done.rows_affected() > 0)
}

/// Takes a recovery code, once: answers whether it was one.
pub async fn take_recovery_code(
    db: &impl ConnectionTrait,
    account: AccountId,
    code_hash: &[u8],
) -> Result<bool, StoreError> {
    let done = recovery_code::Entity::delete_by_id((account.uuid(), code_hash.to_vec())).exec(db).await?;
    Ok(done.rows_affected > 0)
}

/// How many recovery codes are left.
pub async fn codes_left(db: &impl ConnectionTrait, account: AccountId) -> Result<u64, StoreError> {
    let of_this = recovery_code::Entity::find().filter(recovery_code::Column::AccountId.eq(account.uuid()));
    Ok(of_this.count(db).await?)
}
