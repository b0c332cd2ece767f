//! Rounds: what happened in them, event by event, as devices tell it.
//!
//! Events are only ever added, each id once; how a round stands follows from all of them, whatever order they came in.

use crate::versioned;
use bright_row_core::round::detail::RoundDetail;
use bright_row_core::round::event::RoundEventKind;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::{AccountId, ChildId, RoundId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, QueryOrder, Statement, TransactionSession,
    TransactionTrait,
};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::{child, observation, round_event, round_event_child};
use crate::error::StoreError;
use crate::locks::{Hold, hold};
use crate::observations::{Outcome, Refusal};

/// One thing that happened in a round.
#[derive(Clone, Debug, PartialEq)]
pub struct RoundEvent {
    /// Made by the device; the same id twice is one event.
    pub id: Uuid,
    /// In which round.
    pub round: RoundId,
    /// What kind of thing.
    pub kind: RoundEventKind,
    /// The device that walked.
    pub device: String,
    /// What the kind needs beside children.
    pub detail: RoundDetail,
    /// When, by the device's clock.
    pub happened_at: DateTime<Utc>,
    /// Who was signed in.
    pub account: AccountId,
    /// The children it speaks of, in order, each with checks.
    pub children: Vec<(ChildId, Vec<String>)>,
}

/// Adds events, all of them or none; says what became of each. Children who are not in the program (any more) are left out
/// of what is kept.
pub async fn add(
    db: &impl TransactionTrait,
    class: ClassKey,
    events: &[RoundEvent],
    now: DateTime<Utc>,
) -> Result<Vec<Outcome>, StoreError> {
    let tx = db.begin().await?;
    // Nobody whom an event names is removed meanwhile.
    hold(&tx, class.program, Hold::Shared).await?;
    let named: BTreeSet<Uuid> =
        events.iter().flat_map(|event| &event.children).map(|(child, _)| child.uuid()).collect();
    let there: BTreeSet<Uuid> = child::Entity::find()
        .filter(child::Column::ProgramId.eq(class.program.uuid()))
        .filter(child::Column::ChildId.is_in(named))
        .all(&tx)
        .await?
        .into_iter()
        .map(|child| child.child_id)
        .collect();
    let mut added = insert(&tx, class, events, now).await?;
    let rows = events.iter().filter(|event| added.contains(&event.id)).flat_map(|event| {
        let children = event.children.iter().filter(|(child, _)| there.contains(&child.uuid()));
        (0_i16..).zip(children).map(|(position, (child, checks))| round_event_child::ActiveModel {
            program_id: Set(class.program.uuid()),
            event_id: Set(event.id),
            position: Set(position),
            child_id: Set(child.uuid()),
            checks: Set(checks.clone()),
        })
    });
    let rows: BTreeMap<(Uuid, i16), _> =
        rows.map(|row| ((*row.event_id.as_ref(), *row.position.as_ref()), row)).collect();
    let rows: Vec<_> = rows.into_values().collect();
    for rows in rows.chunks(5000) {
        round_event_child::Entity::insert_many(rows.to_vec()).exec_without_returning(&tx).await?;
    }
    let known: Vec<Uuid> = events.iter().map(|event| event.id).filter(|id| !added.contains(id)).collect();
    let other = elsewhere(&tx, class, events, known).await?;
    tx.commit().await?;
    let outcome = |event: &RoundEvent| match added.remove(&event.id) {
        true => Outcome::Stored,
        false if other.contains(&event.id) => Outcome::Refused(Refusal::IdTaken),
        false => Outcome::Known,
    };
    Ok(events.iter().map(outcome).collect())
}

/// Inserts what is not there yet and says which those were.
async fn insert(
    db: &impl ConnectionTrait,
    class: ClassKey,
    events: &[RoundEvent],
    now: DateTime<Utc>,
) -> Result<BTreeSet<Uuid>, StoreError> {
    let once: BTreeMap<Uuid, &RoundEvent> = events.iter().rev().map(|event| (event.id, event)).collect();
    let rows: Vec<_> = once
        .into_values()
        .map(|event| round_event::ActiveModel {
            program_id: Set(class.program.uuid()),
            event_id: Set(event.id),
            class_id: Set(class.class.uuid()),
            round_id: Set(event.round.uuid()),
            kind: Set(event.kind.word().to_owned()),
            device: Set(event.device.clone()),
            detail: Set(versioned::write(&event.detail)),
            happened_at: Set(event.happened_at),
            recorded_at: Set(now),
            account_id: Set(event.account.uuid()),
        })
        .collect();
    if rows.is_empty() {
        return Ok(BTreeSet::new());
    }
    let once =
        OnConflict::columns([round_event::Column::ProgramId, round_event::Column::EventId]).do_nothing().to_owned();
    let added = round_event::Entity::insert_many(rows).on_conflict(once).exec_with_returning_keys(db).await?;
    Ok(added.into_iter().map(|(_, id)| id).collect())
}

/// Those among `ids` whose stored event is of another class or round.
async fn elsewhere(
    db: &impl ConnectionTrait,
    class: ClassKey,
    events: &[RoundEvent],
    ids: Vec<Uuid>,
) -> Result<BTreeSet<Uuid>, StoreError> {
    if ids.is_empty() {
        return Ok(BTreeSet::new());
    }
    let rounds: BTreeMap<Uuid, Uuid> = events.iter().map(|event| (event.id, event.round.uuid())).collect();
    let stored = round_event::Entity::find()
        .filter(round_event::Column::ProgramId.eq(class.program.uuid()))
        .filter(round_event::Column::EventId.is_in(ids))
        .all(db)
        .await?;
    let other = |row: &round_event::Model| {
        row.class_id != class.class.uuid() || rounds.get(&row.event_id) != Some(&row.round_id)
    };
    Ok(stored.iter().filter(|row| other(row)).map(|row| row.event_id).collect())
}

/// What happened in a class's rounds since a moment, oldest first.
pub async fn since(
    db: &impl ConnectionTrait,
    class: ClassKey,
    since: DateTime<Utc>,
) -> Result<Vec<RoundEvent>, StoreError> {
    let rows = round_event::Entity::find()
        .filter(round_event::Column::ProgramId.eq(class.program.uuid()))
        .filter(round_event::Column::ClassId.eq(class.class.uuid()))
        .filter(round_event::Column::HappenedAt.gte(since))
        .order_by_asc(round_event::Column::HappenedAt)
        .order_by_asc(round_event::Column::EventId)
        .all(db)
        .await?;
    let ids: Vec<Uuid> = rows.iter().map(|row| row.event_id).collect();
    let children = if ids.is_empty() {
        Vec::new()
    } else {
        round_event_child::Entity::find()
            .filter(round_event_child::Column::ProgramId.eq(class.program.uuid()))
            .filter(round_event_child::Column::EventId.is_in(ids))
            .order_by_asc(round_event_child::Column::Position)
            .all(db)
            .await?
    };
    let mut of: BTreeMap<Uuid, Vec<(ChildId, Vec<String>)>> = BTreeMap::new();
    for row in children {
        of.entry(row.event_id).or_default().push((row.child_id.into(), row.checks));
    }
    let event = |row: round_event::Model| {
        Ok(RoundEvent {
            id: row.event_id,
            round: row.round_id.into(),
            kind: read_kind(row.kind)?,
            device: row.device,
            detail: versioned::read(row.detail)?,
            happened_at: row.happened_at,
            account: row.account_id.into(),
            children: of.remove(&row.event_id).unwrap_or_default(),
        })
    };
    rows.into_iter().map(event).collect()
}

#[derive(FromQueryResult)]
struct PresenceRow {
    child_id: Uuid,
    kind: String,
    happened_at: DateTime<Utc>,
}

/// What rounds of a class said of who was there: marked as away, marked as here, visited; in no order.
///
/// # Errors
/// [`StoreError`].
pub async fn presence(
    db: &impl ConnectionTrait,
    class: ClassKey,
) -> Result<Vec<(ChildId, RoundEventKind, DateTime<Utc>)>, StoreError> {
    let sql = "select c.child_id, e.kind, e.happened_at from round_event e
        join round_event_child c on c.program_id = e.program_id and c.event_id = e.event_id
        where e.program_id = $1 and e.class_id = $2 and e.kind in ('absent', 'present', 'visited')";
    let values = [class.program.uuid().into(), class.class.uuid().into()];
    let statement = Statement::from_sql_and_values(db.get_database_backend(), sql, values);
    let rows = PresenceRow::find_by_statement(statement).all(db).await?;
    rows.into_iter().map(|row| Ok((row.child_id.into(), read_kind(row.kind)?, row.happened_at))).collect()
}

/// The detail of the latest start of a round of this class.
pub async fn latest_start(db: &impl ConnectionTrait, class: ClassKey) -> Result<Option<RoundDetail>, StoreError> {
    let row = round_event::Entity::find()
        .filter(round_event::Column::ProgramId.eq(class.program.uuid()))
        .filter(round_event::Column::ClassId.eq(class.class.uuid()))
        .filter(round_event::Column::Kind.eq("start"))
        .order_by_desc(round_event::Column::HappenedAt)
        .one(db)
        .await?;
    row.map(|row| versioned::read(row.detail)).transpose()
}

/// The observations made in some rounds, oldest first.
pub async fn observations(
    db: &impl ConnectionTrait,
    class: ClassKey,
    rounds: &BTreeSet<RoundId>,
) -> Result<Vec<bright_row_core::progress::observation::Observation>, StoreError> {
    if rounds.is_empty() {
        return Ok(Vec::new());
    }
    let rows = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(class.program.uuid()))
        .filter(observation::Column::ClassId.eq(class.class.uuid()))
        .filter(observation::Column::RoundId.is_in(rounds.iter().map(|round| round.uuid())))
        .order_by_asc(observation::Column::ObservedAt)
        .order_by_asc(observation::Column::ObservationId)
        .all(db)
        .await?;
    rows.into_iter().map(crate::observations::rows::read).collect()
}

fn read_kind(word: String) -> Result<RoundEventKind, StoreError> {
    RoundEventKind::parse(&word).ok_or(StoreError::Unreadable { what: "kind of event", value: word })
}
