//! The devices from which somebody has signed in before, by the hash of what each keeps.

use bright_row_core::AccountId;
use chrono::{DateTime, Duration, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};

use crate::entity::known_device;
use crate::error::StoreError;

/// A device that was not used for so many days is not known any more.
const FORGOTTEN_AFTER_DAYS: i64 = 400;

/// Whether somebody has signed in from this device.
pub async fn is_known(db: &impl ConnectionTrait, account: AccountId, device_hash: &[u8]) -> Result<bool, StoreError> {
    Ok(known_device::Entity::find_by_id((device_hash.to_vec(), account.uuid())).one(db).await?.is_some())
}

/// Notes that somebody signed in from this device.
pub async fn know(
    db: &impl ConnectionTrait,
    account: AccountId,
    device_hash: &[u8],
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    let row = known_device::ActiveModel {
        device_hash: Set(device_hash.to_vec()),
        account_id: Set(account.uuid()),
        last_used_at: Set(now),
    };
    let again = OnConflict::columns([known_device::Column::AccountId, known_device::Column::DeviceHash])
        .update_column(known_device::Column::LastUsedAt)
        .to_owned();
    known_device::Entity::insert(row).on_conflict(again).exec_without_returning(db).await?;
    Ok(())
}

/// No device of somebody is known any more: after a change of password each has to show itself anew.
pub async fn forget(db: &impl ConnectionTrait, account: AccountId) -> Result<(), StoreError> {
    known_device::Entity::delete_many().filter(known_device::Column::AccountId.eq(account.uuid())).exec(db).await?;
    Ok(())
}

/// Clears devices that were not used for a long time.
pub async fn clear_old(db: &impl ConnectionTrait, now: DateTime<Utc>) -> Result<(), StoreError> {
    let since = now - Duration::days(FORGOTTEN_AFTER_DAYS);
    known_device::Entity::delete_many().filter(known_device::Column::LastUsedAt.lt(since)).exec(db).await?;
    Ok(())
}
