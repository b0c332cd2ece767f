//! Observations: added, never changed; each addition brings the standings that follow from it up to date in the same step.

pub mod attribution;
pub mod history;
pub(crate) mod rows;
pub mod standings;

use crate::observations::rows::read_all;
use crate::observations::rows::row;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::checklist::{Checklist, Stage};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::id::Target;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::progress::standing::standings;
use bright_row_core::{ChildId, ObservationId};
use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, Statement, TransactionSession,
    TransactionTrait,
};
use uuid::Uuid;

use crate::children;
use crate::classes::{Class, ClassKey};
use crate::entity::observation;
use crate::error::StoreError;
use crate::observations::attribution::{TAPE, attributed, current_holders};
use crate::observations::standings::{Standings, replace};

/// What became of an observation.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Outcome {
    /// Added now.
    Stored,
    /// Was there already, the same.
    Known,
    /// Not added.
    Refused(Refusal),
}

/// Why an observation was not added.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Refusal {
    /// The child is not in this class (any more).
    NotInClass,
    /// Another observation has this id.
    IdTaken,
    /// It takes back an observation of another child or target.
    RetractsOther,
    /// It takes back an observation that is itself an undo.
    RetractsUndo,
}

/// Adds observations to a class and brings its standings up to date, in one step: all of it is kept or nothing.
///
/// Answers for each observation in order. Observations of the same child wait for each other, so that standings follow from all of
/// them; observations of different children do not.
pub async fn add(
    db: &impl TransactionTrait,
    class: &Class,
    checklist: &Checklist,
    observations: &[Observation],
) -> Result<Vec<Outcome>, StoreError> {
    let tx = db.begin().await?;
    // Of a look at tapes may follow how the one stands who has the instrument now.
    let tapes = observations.iter().any(|observation| observation.target.id().starts_with(TAPE));
    let here = lock_children(&tx, class.key, observations.iter().map(|observation| observation.child), tapes).await?;
    let mut refusals = refuse_retractions(&tx, class.key, observations).await?;
    for observation in observations.iter().filter(|observation| !here.contains(&observation.child)) {
        refusals.insert(observation.id, Refusal::NotInClass);
    }
    let wanted: BTreeMap<ObservationId, &Observation> = observations
        .iter()
        .rev()
        .filter(|observation| !refusals.contains_key(&observation.id))
        .map(|observation| (observation.id, observation))
        .collect();
    let mut added = insert(&tx, class.key, wanted.values().copied()).await?;
    if added.len() < wanted.len() {
        let known = wanted.keys().filter(|id| !added.contains(*id)).copied().collect();
        refusals.extend(taken(&tx, class.key, &wanted, known).await?);
    }
    let touched: Vec<&Observation> = added.iter().map(|id| wanted[id]).collect();
    bring_up_to_date(&tx, class, checklist, &touched).await?;
    tx.commit().await?;
    let outcome = |observation: &Observation| match refusals.get(&observation.id) {
        Some(refusal) => Outcome::Refused(*refusal),
        // An id that comes twice in one batch is stored once.
        None if added.remove(&observation.id) => Outcome::Stored,
        None => Outcome::Known,
    };
    Ok(observations.iter().map(outcome).collect())
}

/// Recomputes a class's standings from its observations, without touching what is stored.
pub async fn rebuild(db: &impl ConnectionTrait, class: &Class, checklist: &Checklist) -> Result<Standings, StoreError> {
    let children = children::of_class(db, class.key).await?.into_iter().map(|child| child.id).collect();
    let standings = attributed(db, class.key, &children, None)
        .await?
        .into_iter()
        .map(|(child, observations)| (child, standings(checklist, &observations, &class.calendar, &class.rhythm)))
        .filter(|(_, standings)| !standings.is_empty());
    Ok(standings.collect())
}

/// Recomputes everything that stands for these children, who are in this class now: after an instrument changed hands,
/// or a child came from a class with another calendar. To be called in a transaction.
pub async fn renew(
    db: &impl ConnectionTrait,
    class: &Class,
    checklist: &Checklist,
    children: &BTreeSet<ChildId>,
) -> Result<(), StoreError> {
    let here = lock_children(db, class.key, children.iter().copied(), false).await?;
    let fresh: Standings = attributed(db, class.key, &here, None)
        .await?
        .into_iter()
        .map(|(child, observations)| (child, standings(checklist, &observations, &class.calendar, &class.rhythm)))
        .collect();
    let checkpoints = checklist.checkpoints().iter().map(|checkpoint| checkpoint.id.clone()).collect();
    replace(db, class.key, &here, &checkpoints, &fresh).await
}

/// Every observation that stands for these children of a program: their own, but of the tapes those of the instrument each
/// has now. In no order, what was taken back and undos included, without notes.
pub async fn standing_for(
    db: &impl ConnectionTrait,
    class: ClassKey,
    children: &BTreeSet<ChildId>,
) -> Result<BTreeMap<ChildId, Vec<Observation>>, StoreError> {
    attributed(db, class, children, None).await
}

#[derive(FromQueryResult)]
struct Locked {
    child_id: Uuid,
}

/// The children of the class among these, each locked against other additions until the transaction ends; `with_current_holders`
/// locks those too who have an instrument that one of these had.
async fn lock_children(
    db: &impl ConnectionTrait,
    class: ClassKey,
    children: impl Iterator<Item = ChildId>,
    with_current_holders: bool,
) -> Result<BTreeSet<ChildId>, StoreError> {
    // In the order of their ids, so that two batches never wait for each other in a circle.
    const CURRENT_HOLDERS: &str = "
        or child_id in (select h.child_id from loan l
                        join loan h on h.program_id = l.program_id and h.asset_id = l.asset_id and h.until is null
                        where l.program_id = $1 and l.child_id = any($3))";
    let sql = format!(
        "select child_id, pg_advisory_xact_lock(hashtextextended(child_id::text, 0)) is null
         from (select child_id from child
               where program_id = $1 and (class_id = $2 and child_id = any($3) {})
               order by child_id offset 0) as ordered",
        if with_current_holders { CURRENT_HOLDERS } else { "" }
    );
    let ids: BTreeSet<Uuid> = children.map(ChildId::uuid).collect();
    let values = [class.program.uuid().into(), class.class.uuid().into(), Vec::from_iter(ids.clone()).into()];
    let found = Locked::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let locked = found.all(db).await?.into_iter().map(|row| row.child_id);
    Ok(locked.filter(|child| ids.contains(child)).map(ChildId::from).collect())
}

/// Which retractions cannot be. One whose observation has not arrived yet is kept: it will count when it does.
async fn refuse_retractions(
    db: &impl ConnectionTrait,
    class: ClassKey,
    observations: &[Observation],
) -> Result<BTreeMap<ObservationId, Refusal>, StoreError> {
    let retracted = |observation: &Observation| match observation.seen {
        Observed::Retracts(id) => Some(id),
        Observed::Level { .. } | Observed::Holds { .. } => None,
    };
    let ids: Vec<Uuid> = observations.iter().filter_map(retracted).map(ObservationId::uuid).collect();
    if ids.is_empty() {
        return Ok(BTreeMap::new());
    }
    let stored = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(class.program.uuid()))
        .filter(observation::Column::ObservationId.is_in(ids))
        .all(db)
        .await?;
    let known: BTreeMap<ObservationId, Observation> = read_all(stored)?
        .into_iter()
        .chain(observations.iter().cloned())
        .map(|observation| (observation.id, observation))
        .collect();
    let refused = observations.iter().filter_map(|observation| {
        let taken_back = known.get(&retracted(observation)?)?;
        if taken_back.child != observation.child || taken_back.target != observation.target {
            Some((observation.id, Refusal::RetractsOther))
        } else if matches!(taken_back.seen, Observed::Retracts(_)) {
            Some((observation.id, Refusal::RetractsUndo))
        } else {
            None
        }
    });
    Ok(refused.collect())
}

/// Inserts what is not there yet and says which those were.
async fn insert(
    db: &impl ConnectionTrait,
    class: ClassKey,
    observations: impl Iterator<Item = &Observation>,
) -> Result<BTreeSet<ObservationId>, StoreError> {
    let rows: Vec<_> = observations.map(|observation| row(class, observation)).collect();
    if rows.is_empty() {
        return Ok(BTreeSet::new());
    }
    let once = OnConflict::columns([observation::Column::ProgramId, observation::Column::ObservationId])
        .do_nothing()
        .to_owned();
    let added = observation::Entity::insert_many(rows).on_conflict(once).exec_with_returning_keys(db).await?;
    Ok(added.into_iter().map(|(_, id)| id.into()).collect())
}

/// Those among `ids`, which are stored already, whose observation is another one.
async fn taken(
    db: &impl ConnectionTrait,
    class: ClassKey,
    wanted: &BTreeMap<ObservationId, &Observation>,
    ids: BTreeSet<ObservationId>,
) -> Result<Vec<(ObservationId, Refusal)>, StoreError> {
    let stored = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(class.program.uuid()))
        .filter(observation::Column::ObservationId.is_in(ids.into_iter().map(ObservationId::uuid)))
        .all(db)
        .await?;
    let other = |stored: &Observation| {
        let wanted = wanted[&stored.id];
        (stored.child, &stored.target, &stored.seen) != (wanted.child, &wanted.target, &wanted.seen)
    };
    Ok(read_all(stored)?
        .iter()
        .filter(|observation| other(observation))
        .map(|observation| (observation.id, Refusal::IdTaken))
        .collect())
}

/// Recomputes the standings of the stages that these observations speak of.
async fn bring_up_to_date(
    db: &impl ConnectionTrait,
    class: &Class,
    checklist: &Checklist,
    touched: &[&Observation],
) -> Result<(), StoreError> {
    let stage_of = |target: &Target| -> Option<&Stage> {
        match target {
            Target::Checkpoint(id) => checklist.stage(checklist.checkpoint(id.as_str())?.stage.as_str()),
            Target::Stage(id) => checklist.stage(id.as_str()),
        }
    };
    let stages: BTreeMap<_, _> = touched
        .iter()
        .filter_map(|observation| stage_of(&observation.target))
        .map(|stage| (&stage.id, stage))
        .collect();
    let checkpoints: BTreeSet<CheckpointId> = stages
        .keys()
        .flat_map(|stage| checklist.checkpoints_of(stage))
        .map(|checkpoint| checkpoint.id.clone())
        .collect();
    if checkpoints.is_empty() {
        return Ok(());
    }
    let targets = stages.keys().map(|stage| stage.as_str()).chain(checkpoints.iter().map(CheckpointId::as_str));
    let targets: Vec<String> = targets.map(str::to_owned).collect();
    let mut children: BTreeSet<ChildId> = touched.iter().map(|observation| observation.child).collect();
    if targets.iter().any(|target| target.starts_with(TAPE)) {
        children.extend(current_holders(db, class.key, touched).await?);
    }
    let fresh: Standings = attributed(db, class.key, &children, Some(targets))
        .await?
        .into_iter()
        .map(|(child, observations)| (child, standings(checklist, &observations, &class.calendar, &class.rhythm)))
        .collect();
    replace(db, class.key, &children, &checkpoints, &fresh).await
}
