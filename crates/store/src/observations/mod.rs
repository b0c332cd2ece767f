//! Observations: added, never changed; each addition brings the standings that follow from it up to date in the same step.

pub mod attribution;
pub mod history;
mod optimistic;
pub mod renewing;
pub(crate) mod rows;
pub mod standings;

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::{ChildId, ClassId, ObservationId, ProgramId};
use sea_orm::{
    ColumnTrait, ConnectionTrait, DatabaseConnection, EntityTrait, QueryFilter, Statement, TransactionSession,
    TransactionTrait,
};
use uuid::Uuid;

use crate::children::membership;
use crate::classes::{ClassKey, LetIn, confirmed};
use crate::entity::observation;
use crate::error::StoreError;
use crate::locks::{Hold, hold, hold_children};
use crate::observations::attribution::{TAPE, attributed, holders_after};
use crate::observations::renewing::{AsSet, Checklists, bring_up_to_date};
use crate::observations::rows::{insert_from, read_all, row};
use crate::observations::standings::{NEWEST, Newest, StandingsSoFar, newest_values, read_newest};
use crate::rows::as_json;

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

/// What became of observations that were added.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Added {
    /// Of each, in order.
    pub outcomes: Vec<Outcome>,
    /// The classes in which somebody stands otherwise now: of a look at tapes follows how the one stands who has the
    /// instrument now.
    pub changed: BTreeSet<ClassId>,
}

/// Observations that came together, of one class.
#[derive(Clone, Copy, Debug)]
pub struct Part<'a> {
    /// The class.
    pub class: ClassKey,
    /// In the order in which they are answered.
    pub observations: &'a [Observation],
    /// Who was let in before and is yet to be asked whether that still holds; `None` where it has been asked.
    pub let_in: Option<&'a LetIn>,
}

/// What became of observations of several parts that were added in one step.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct AddedParts {
    /// Of each observation of each part, in order; `None` of a part whose sender is not let in any more, of which nothing is added.
    pub outcomes: Vec<Option<Vec<Outcome>>>,
    /// See [`Added::changed`].
    pub changed: BTreeSet<ClassId>,
}

/// Adds observations to a class, in a transaction that may have begun: [`add_parts`] of one part.
pub async fn add(
    db: &impl TransactionTrait,
    class: ClassKey,
    checklists: &impl Checklists,
    observations: &[Observation],
) -> Result<Added, StoreError> {
    let added = add_holding(db, class.program, checklists, &[Part { class, observations, let_in: None }]).await?;
    Ok(Added { outcomes: added.outcomes.into_iter().flatten().flatten().collect(), changed: added.changed })
}

/// Adds observations to classes of a program and brings the standings that follow up to date, in one step: all of it is kept or
/// nothing. No id stands in two parts.
///
/// Observations of the same child wait for each other, so that standings follow from all of them; observations of different
/// children do not. Everybody is computed by the settings of the own class.
pub async fn add_parts(
    db: &DatabaseConnection,
    program: ProgramId,
    checklists: &impl Checklists,
    parts: &[Part<'_>],
) -> Result<AddedParts, StoreError> {
    match optimistic::add_parts(db, program, checklists, parts).await? {
        Some(added) => Ok(added),
        None => add_holding(db, program, checklists, parts).await,
    }
}

/// Adds them while nobody else adds anything of the same children, whatever they are.
async fn add_holding(
    db: &impl TransactionTrait,
    program: ProgramId,
    checklists: &impl Checklists,
    parts: &[Part<'_>],
) -> Result<AddedParts, StoreError> {
    let mut all: Vec<(ClassKey, &Observation)> = Vec::new();
    for part in parts {
        all.extend(part.observations.iter().map(|observation| (part.class, observation)));
    }
    let tx = db.begin().await?;
    let mut set = hold_concerned(&tx, program, &all).await?;
    let turned_away = turned_away(&tx, program, parts).await?;
    all.retain(|(_, observation)| !turned_away.contains(&observation.id));
    let mut refusals = refuse_retractions(&tx, program, &all).await?;
    for (class, observation) in &all {
        if set.classes.get(&observation.child) != Some(&class.class) {
            refusals.insert(observation.id, Refusal::NotInClass);
        }
    }
    let wanted: BTreeMap<ObservationId, (ClassKey, &Observation)> = all
        .iter()
        .rev()
        .filter(|(_, observation)| !refusals.contains_key(&observation.id))
        .map(|(class, observation)| (observation.id, (*class, *observation)))
        .collect();
    let newest = set.newest(&tx, program, checklists, wanted.values().map(|(_, observation)| *observation)).await?;
    let (mut added, mut before) = insert(&tx, program, wanted.values().copied(), &newest).await?;
    if added.len() < wanted.len() {
        let known = wanted.keys().filter(|id| !added.contains(*id)).copied().collect();
        refusals.extend(taken(&tx, program, &wanted, known).await?);
        // What was there already may be newer than what came with it.
        before = StandingsSoFar::new();
    }
    let touched: Vec<&Observation> = added.iter().map(|id| wanted[id].1).collect();
    let changed = bring_up_to_date(&tx, program, &mut set, checklists, &touched, before).await?;
    tx.commit().await?;
    let mut outcome = |observation: &Observation| match refusals.get(&observation.id) {
        Some(refusal) => Outcome::Refused(*refusal),
        // An id that comes twice in one batch is stored once.
        None if added.remove(&observation.id) => Outcome::Stored,
        None => Outcome::Known,
    };
    let outcomes = parts.iter().map(|part| {
        let is_away = part.observations.iter().any(|observation| turned_away.contains(&observation.id));
        (!is_away).then(|| part.observations.iter().map(&mut outcome).collect())
    });
    Ok(AddedParts { outcomes: outcomes.collect(), changed })
}

/// The observations of those who are not let in any more.
async fn turned_away(
    db: &impl ConnectionTrait,
    program: ProgramId,
    parts: &[Part<'_>],
) -> Result<BTreeSet<ObservationId>, StoreError> {
    let let_in: Vec<(&Part<'_>, &LetIn)> = parts.iter().filter_map(|part| Some((part, part.let_in?))).collect();
    let asked: Vec<(ClassId, &LetIn)> = let_in.iter().map(|(part, let_in)| (part.class.class, *let_in)).collect();
    let confirmed = confirmed(db, program, &asked).await?;
    let away = let_in.iter().zip(confirmed).filter(|(_, confirmed)| !confirmed);
    Ok(away.flat_map(|((part, _), _)| part.observations).map(|observation| observation.id).collect())
}

/// Every observation that stands for these children of a program: their own, but of the tapes those of the instrument each
/// has now. In no order, what was taken back and undos included, without notes.
pub async fn standing_for(
    db: &impl ConnectionTrait,
    class: ClassKey,
    children: &BTreeSet<ChildId>,
) -> Result<BTreeMap<ChildId, Vec<Observation>>, StoreError> {
    attributed(db, class.program, children, None).await
}

/// Waits until nobody else adds observations of the children of these, or of who has an instrument now that one of them had;
/// answers their classes, without those who are not in the program, as it is set now.
async fn hold_concerned(
    db: &impl ConnectionTrait,
    program: ProgramId,
    observations: &[(ClassKey, &Observation)],
) -> Result<AsSet, StoreError> {
    let mut children: BTreeSet<ChildId> = observations.iter().map(|(_, observation)| observation.child).collect();
    if observations.iter().any(|(_, observation)| observation.target.id().starts_with(TAPE)) {
        // Who has an instrument does not change any more.
        hold(db, program, Hold::Shared).await?;
        children.extend(holders_after(db, program, &children).await?);
    }
    hold_children(db, program, &children).await?;
    let (classes, settled) = membership::classes_as_set(db, program, &children).await?;
    Ok(AsSet { classes, settled, read: Vec::new() })
}

/// Which retractions cannot be. One whose observation has not arrived yet is kept: it will count when it does.
async fn refuse_retractions(
    db: &impl ConnectionTrait,
    program: ProgramId,
    observations: &[(ClassKey, &Observation)],
) -> Result<BTreeMap<ObservationId, Refusal>, StoreError> {
    let retracted = |observation: &Observation| match observation.seen {
        Observed::Retracts(id) => Some(id),
        Observed::Level { .. } | Observed::Holds { .. } => None,
    };
    let ids: Vec<Uuid> = observations.iter().filter_map(|(_, one)| retracted(one)).map(ObservationId::uuid).collect();
    if ids.is_empty() {
        return Ok(BTreeMap::new());
    }
    let stored = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(program.uuid()))
        .filter(observation::Column::ObservationId.is_in(ids))
        .all(db)
        .await?;
    let known: BTreeMap<ObservationId, Observation> = read_all(stored)?
        .into_iter()
        .chain(observations.iter().map(|(_, observation)| (*observation).clone()))
        .map(|observation| (observation.id, observation))
        .collect();
    let refused = observations.iter().filter_map(|(_, observation)| {
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

/// Inserts what is not there yet and says which those were; answers also what was kept before of the children that can go on from there,
/// see [`NEWEST`].
async fn insert(
    db: &impl ConnectionTrait,
    program: ProgramId,
    observations: impl Iterator<Item = (ClassKey, &Observation)>,
    newest: &BTreeMap<ChildId, Newest>,
) -> Result<(BTreeSet<ObservationId>, StandingsSoFar), StoreError> {
    let rows: Vec<_> = observations.map(|(class, observation)| row(class, observation)).collect();
    if rows.is_empty() {
        return Ok((BTreeSet::new(), StandingsSoFar::new()));
    }
    let sql = format!(
        "with added as (
           {}
           on conflict (program_id, observation_id) do nothing
           returning observation_id)
         select a.added, kept.*
         from (select coalesce(array_agg(observation_id), '{{}}') as added from added) a
         left join ({NEWEST}) kept on true",
        insert_from("jsonb_populate_recordset(null::observation, $6)")
    );
    let values = newest_values(program, newest).into_iter().chain([as_json(&rows)?]);
    let rows = db.query_all_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    let added: Vec<Uuid> = rows.first().map(|row| row.try_get("", "added")).transpose()?.unwrap_or_default();
    Ok((added.into_iter().map(Into::into).collect(), read_newest(&rows)?))
}

/// Those among `ids`, which are stored already, whose observation is another one.
async fn taken(
    db: &impl ConnectionTrait,
    program: ProgramId,
    wanted: &BTreeMap<ObservationId, (ClassKey, &Observation)>,
    ids: BTreeSet<ObservationId>,
) -> Result<Vec<(ObservationId, Refusal)>, StoreError> {
    let stored = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(program.uuid()))
        .filter(observation::Column::ObservationId.is_in(ids.into_iter().map(ObservationId::uuid)))
        .all(db)
        .await?;
    let other = |stored: &Observation| {
        let (_, wanted) = wanted[&stored.id];
        (stored.child, &stored.target, &stored.seen) != (wanted.child, &wanted.target, &wanted.seen)
    };
    Ok(read_all(stored)?
        .iter()
        .filter(|observation| other(observation))
        .map(|observation| (observation.id, Refusal::IdTaken))
        .collect())
}
