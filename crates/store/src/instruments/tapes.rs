//! The tape logs of instruments: only ever added to, each entry once; what follows from a log is kept beside it.

use crate::versioned;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::tapes::log::{TapeEvent, TapeWork};
use bright_row_core::tapes::record::TapeRecord;
use bright_row_core::{AccountId, AssetId, ProgramId, TapeEventId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect, TransactionSession,
    TransactionTrait,
};
use uuid::Uuid;

use crate::entity::{account, asset, tape_event, tape_record};
use crate::error::StoreError;

/// An entry on its way into a log.
#[derive(Clone, Debug, PartialEq)]
pub struct Entry {
    /// Of which instrument.
    pub asset: AssetId,
    /// What happened.
    pub event: TapeEvent,
    /// Who was signed in.
    pub account: AccountId,
}

/// An entry as the log shows it.
#[derive(Clone, Debug, PartialEq)]
pub struct Logged {
    /// What happened.
    pub event: TapeEvent,
    /// The name of who did it.
    pub by: String,
}

/// What became of an entry.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Outcome {
    /// Added now.
    Stored,
    /// Was there already, the same.
    Known,
    /// Another entry has this id.
    IdTaken,
    /// The instrument is not in the store room.
    NoInstrument,
}

/// Adds entries and brings the records up to date, in one step: all of it is kept or nothing. Answers for each in order.
pub async fn add(
    db: &impl TransactionTrait,
    program: ProgramId,
    entries: &[Entry],
    now: DateTime<Utc>,
) -> Result<Vec<Outcome>, StoreError> {
    let tx = db.begin().await?;
    let there = hold(&tx, program, entries.iter().map(|entry| entry.asset)).await?;
    let wanted: Vec<&Entry> = entries.iter().filter(|entry| there.contains(&entry.asset)).collect();
    let mut added = insert(&tx, program, &wanted, now).await?;
    let known: Vec<Uuid> = wanted.iter().map(|entry| entry.event.id.uuid()).filter(|id| !added.contains(id)).collect();
    let stored = find(&tx, program, tape_event::Column::EventId.is_in(known)).await?;
    let other = |entry: &Entry| {
        stored.iter().any(|(asset, event)| {
            event.id == entry.event.id && (*asset, event.work.as_sent()) != (entry.asset, entry.event.work.as_sent())
        })
    };
    let touched: BTreeSet<AssetId> =
        wanted.iter().filter(|entry| added.contains(&entry.event.id.uuid())).map(|entry| entry.asset).collect();
    renew(&tx, program, &touched).await?;
    tx.commit().await?;
    let outcome = |entry: &Entry| match added.remove(&entry.event.id.uuid()) {
        true => Outcome::Stored,
        false if !there.contains(&entry.asset) => Outcome::NoInstrument,
        false if other(entry) => Outcome::IdTaken,
        false => Outcome::Known,
    };
    Ok(entries.iter().map(outcome).collect())
}

/// Writes into the logs that these lengths are on record from now on; to be called in a transaction, once the instruments
/// are there.
pub(crate) async fn measured(
    db: &impl ConnectionTrait,
    program: ProgramId,
    lengths: &[(AssetId, f64)],
    by: AccountId,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let entries = lengths.iter().map(|(asset, length_mm)| {
        let work = TapeWork::Measured { length_mm: *length_mm };
        Entry { asset: *asset, event: TapeEvent { id: Uuid::now_v7().into(), at, work }, account: by }
    });
    let entries: Vec<Entry> = entries.collect();
    for entries in entries.chunks(2000) {
        insert(db, program, &entries.iter().collect::<Vec<_>>(), at).await?;
    }
    renew(db, program, &lengths.iter().map(|(asset, _)| *asset).collect()).await
}

/// The instruments of the program among these, each held against other entries and changes until the transaction ends.
pub async fn hold(
    db: &impl ConnectionTrait,
    program: ProgramId,
    assets: impl Iterator<Item = AssetId>,
) -> Result<BTreeSet<AssetId>, StoreError> {
    let ids: BTreeSet<Uuid> = assets.map(AssetId::uuid).collect();
    let rows = asset::Entity::find()
        .filter(asset::Column::ProgramId.eq(program.uuid()))
        .filter(asset::Column::AssetId.is_in(ids))
        .order_by_asc(asset::Column::AssetId)
        .lock_exclusive()
        .all(db)
        .await?;
    Ok(rows.into_iter().map(|row| row.asset_id.into()).collect())
}

async fn insert(
    db: &impl ConnectionTrait,
    program: ProgramId,
    entries: &[&Entry],
    now: DateTime<Utc>,
) -> Result<BTreeSet<Uuid>, StoreError> {
    let once: BTreeMap<TapeEventId, &&Entry> = entries.iter().rev().map(|entry| (entry.event.id, entry)).collect();
    let rows: Vec<_> = once
        .into_values()
        .map(|entry| tape_event::ActiveModel {
            program_id: Set(program.uuid()),
            event_id: Set(entry.event.id.uuid()),
            asset_id: Set(entry.asset.uuid()),
            kind: Set(entry.event.work.word().to_owned()),
            work: Set(versioned::write(&entry.event.work)),
            happened_at: Set(entry.event.at),
            recorded_at: Set(now),
            account_id: Set(entry.account.uuid()),
        })
        .collect();
    if rows.is_empty() {
        return Ok(BTreeSet::new());
    }
    let once =
        OnConflict::columns([tape_event::Column::ProgramId, tape_event::Column::EventId]).do_nothing().to_owned();
    let added = tape_event::Entity::insert_many(rows).on_conflict(once).exec_with_returning_keys(db).await?;
    Ok(added.into_iter().map(|(_, id)| id).collect())
}

pub(super) async fn find(
    db: &impl ConnectionTrait,
    program: ProgramId,
    which: sea_orm::sea_query::SimpleExpr,
) -> Result<Vec<(AssetId, TapeEvent)>, StoreError> {
    let rows = tape_event::Entity::find()
        .filter(tape_event::Column::ProgramId.eq(program.uuid()))
        .filter(which)
        .order_by_asc(tape_event::Column::HappenedAt)
        .order_by_asc(tape_event::Column::EventId)
        .all(db)
        .await?;
    rows.into_iter().map(|row| Ok((row.asset_id.into(), read(row)?))).collect()
}

fn read(row: tape_event::Model) -> Result<TapeEvent, StoreError> {
    let work = versioned::read(row.work)?;
    Ok(TapeEvent { id: row.event_id.into(), at: row.happened_at, work })
}

/// Folds every log of a program anew; to be called in a transaction that has the program alone.
pub async fn renew_all(db: &impl ConnectionTrait, program: ProgramId) -> Result<(), StoreError> {
    let rows = asset::Entity::find().filter(asset::Column::ProgramId.eq(program.uuid())).all(db).await?;
    let there = hold(db, program, rows.into_iter().map(|row| row.asset_id.into())).await?;
    renew(db, program, &there).await
}

/// Folds the logs of these instruments anew; the length that follows is the instrument's.
async fn renew(db: &impl ConnectionTrait, program: ProgramId, assets: &BTreeSet<AssetId>) -> Result<(), StoreError> {
    for (id, record) in fold(db, program, assets).await? {
        let length = asset::ActiveModel { string_length_mm: Set(record.length_mm), ..Default::default() };
        asset::Entity::update_many()
            .set(length)
            .filter(asset::Column::ProgramId.eq(program.uuid()))
            .filter(asset::Column::AssetId.eq(id.uuid()))
            .exec(db)
            .await?;
        let row = tape_record::ActiveModel {
            program_id: Set(program.uuid()),
            asset_id: Set(id.uuid()),
            record: Set(versioned::write(&record)),
        };
        let replace = OnConflict::columns([tape_record::Column::ProgramId, tape_record::Column::AssetId])
            .update_column(tape_record::Column::Record)
            .to_owned();
        tape_record::Entity::insert(row).on_conflict(replace).exec_without_returning(db).await?;
    }
    Ok(())
}

async fn fold(
    db: &impl ConnectionTrait,
    program: ProgramId,
    assets: &BTreeSet<AssetId>,
) -> Result<BTreeMap<AssetId, TapeRecord>, StoreError> {
    let ids = assets.iter().map(|asset| asset.uuid());
    let mut logs: BTreeMap<AssetId, Vec<TapeEvent>> = BTreeMap::new();
    for (asset, event) in find(db, program, tape_event::Column::AssetId.is_in(ids)).await? {
        logs.entry(asset).or_default().push(event);
    }
    Ok(logs.into_iter().map(|(asset, events)| (asset, TapeRecord::of(&events))).collect())
}

/// What follows from the logs of a program, computed anew without touching what is kept.
pub async fn rebuild(
    db: &impl ConnectionTrait,
    program: ProgramId,
) -> Result<BTreeMap<AssetId, TapeRecord>, StoreError> {
    let rows = asset::Entity::find().filter(asset::Column::ProgramId.eq(program.uuid())).all(db).await?;
    fold(db, program, &rows.into_iter().map(|row| row.asset_id.into()).collect()).await
}

/// What follows from the logs of a program, as it is kept; instruments without an entry are left out.
pub async fn records(
    db: &impl ConnectionTrait,
    program: ProgramId,
) -> Result<BTreeMap<AssetId, TapeRecord>, StoreError> {
    let rows = tape_record::Entity::find().filter(tape_record::Column::ProgramId.eq(program.uuid())).all(db).await?;
    rows.into_iter().map(|row| Ok((row.asset_id.into(), versioned::read(row.record)?))).collect()
}

/// An instrument's log, newest first, what was taken back included.
pub async fn log(db: &impl ConnectionTrait, program: ProgramId, asset: AssetId) -> Result<Vec<Logged>, StoreError> {
    let rows = tape_event::Entity::find()
        .find_also_related(account::Entity)
        .filter(tape_event::Column::ProgramId.eq(program.uuid()))
        .filter(tape_event::Column::AssetId.eq(asset.uuid()))
        .order_by_desc(tape_event::Column::HappenedAt)
        .order_by_desc(tape_event::Column::EventId)
        .all(db)
        .await?;
    let logged = |(row, by): (tape_event::Model, Option<account::Model>)| {
        Ok(Logged { event: read(row)?, by: by.map_or_else(String::new, |account| account.display_name) })
    };
    rows.into_iter().map(logged).collect()
}
