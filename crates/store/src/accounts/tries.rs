//! Tries to sign in, counted by whom they were for and from where, so that guessing is slow and nobody is locked out.

use chrono::{DateTime, Duration, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QuerySelect, TransactionSession, TransactionTrait,
};

use crate::entity::sign_in_pause;
use crate::error::StoreError;

/// What tries are counted for: the hash of an address, of a known device, of a network; and how many in a row are free of a
/// pause.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Counter {
    /// Whose.
    pub hash: Vec<u8>,
    /// How many are free.
    pub free: i32,
}

/// The longest pause, in seconds.
const MAX_PAUSE_SECONDS: i64 = 60;
/// After so many hours without a failure a count is forgotten.
const FORGOTTEN_AFTER_HOURS: i64 = 24;

/// Counts a try to sign in with each counter, or says until when to wait: after some failures 1 s, then doubling up to a minute.
///
/// The try is counted before the password is looked at, in a step of its own, so that tries side by side gain nothing;
/// [`went_well`] forgets them.
pub async fn begin(
    db: &impl TransactionTrait,
    counters: &[Counter],
    now: DateTime<Utc>,
) -> Result<Option<DateTime<Utc>>, StoreError> {
    let tx = db.begin().await?;
    let mut wait: Option<DateTime<Utc>> = None;
    // In one order, so that two tries never wait for each other in a circle.
    let mut counters = counters.to_vec();
    counters.sort();
    for counter in &counters {
        wait = wait.max(count(&tx, counter, now).await?);
    }
    if wait.is_none() {
        tx.commit().await?;
    }
    Ok(wait)
}

async fn count(
    db: &impl ConnectionTrait,
    counter: &Counter,
    now: DateTime<Utc>,
) -> Result<Option<DateTime<Utc>>, StoreError> {
    let fresh =
        sign_in_pause::ActiveModel { whose_hash: Set(counter.hash.clone()), failures: Set(1), last_failure: Set(now) };
    let unless_known = OnConflict::column(sign_in_pause::Column::WhoseHash).do_nothing().to_owned();
    let insert = sign_in_pause::Entity::insert(fresh).on_conflict(unless_known);
    if insert.exec_without_returning(db).await? > 0 {
        return Ok(None);
    }
    let row = sign_in_pause::Entity::find_by_id(counter.hash.clone()).lock_exclusive().one(db).await?;
    let Some(row) = row else { return Ok(None) };
    let forgotten = row.last_failure + Duration::hours(FORGOTTEN_AFTER_HOURS) < now;
    let failures = if forgotten { 0 } else { row.failures };
    let over = u32::try_from(failures - counter.free).ok();
    let pause = over.map_or(0, |over| 1_i64.checked_shl(over).unwrap_or(MAX_PAUSE_SECONDS).clamp(1, MAX_PAUSE_SECONDS));
    let until = row.last_failure + Duration::seconds(pause);
    if until > now {
        return Ok(Some(until));
    }
    let counted = sign_in_pause::ActiveModel {
        whose_hash: Set(row.whose_hash),
        failures: Set(failures.saturating_add(1)),
        last_failure: Set(now),
    };
    sign_in_pause::Entity::update(counted).exec(db).await?;
    Ok(None)
}

/// Forgets failed tries after one that went well.
pub async fn went_well(db: &impl ConnectionTrait, counters: &[Counter]) -> Result<(), StoreError> {
    let hashes = counters.iter().map(|counter| counter.hash.clone());
    sign_in_pause::Entity::delete_many().filter(sign_in_pause::Column::WhoseHash.is_in(hashes)).exec(db).await?;
    Ok(())
}

/// Clears counts that would be forgotten with the next try.
pub async fn clear_old(db: &impl ConnectionTrait, now: DateTime<Utc>) -> Result<(), StoreError> {
    let since = now - Duration::hours(FORGOTTEN_AFTER_HOURS);
    sign_in_pause::Entity::delete_many().filter(sign_in_pause::Column::LastFailure.lt(since)).exec(db).await?;
    Ok(())
}
