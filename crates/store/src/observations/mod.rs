//! Observations: added, never changed; each addition brings the standings that follow from it up to date in the same step.

pub mod attribution;
pub mod history;
pub mod renewing;
pub(crate) mod rows;
pub mod standings;

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::{ChildId, ClassId, ObservationId, ProgramId};
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, TransactionSession, TransactionTrait};
use uuid::Uuid;

use crate::children::membership;
use crate::classes::{self, ClassKey};
use crate::entity::observation;
use crate::error::StoreError;
use crate::locks::{Hold, hold, hold_children};
use crate::observations::attribution::{TAPE, attributed, holders_after};
use crate::observations::renewing::{AsSet, Checklists, bring_up_to_date};
use crate::observations::rows::{read_all, row};

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
}

/// What became of observations of several parts that were added in one step.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct AddedParts {
    /// Of each observation of each part, in order.
    pub outcomes: Vec<Vec<Outcome>>,
    /// See [`Added::changed`].
    pub changed: BTreeSet<ClassId>,
}

/// Adds observations to a class: [`add_parts`] of one part.
pub async fn add(
    db: &impl TransactionTrait,
    class: ClassKey,
    checklists: &impl Checklists,
    observations: &[Observation],
) -> Result<Added, StoreError> {
    let added = add_parts(db, class.program, checklists, &[Part { class, observations }]).await?;
    Ok(Added { outcomes: added.outcomes.into_iter().flatten().collect(), changed: added.changed })
}

/// Adds observations to classes of a program and brings the standings that follow up to date, in one step: all of it is kept or
/// nothing. No id stands in two parts.
///
/// Observations of the same child wait for each other, so that standings follow from all of them; observations of different
/// children do not. Everybody is computed by the settings of the own class.
pub async fn add_parts(
    db: &impl TransactionTrait,
    program: ProgramId,
    checklists: &impl Checklists,
    parts: &[Part<'_>],
) -> Result<AddedParts, StoreError> {
    let all: Vec<(ClassKey, &Observation)> =
        parts.iter().flat_map(|part| part.observations.iter().map(|observation| (part.class, observation))).collect();
    let tx = db.begin().await?;
    hold(&tx, program, Hold::Shared).await?;
    let set = hold_concerned(&tx, program, &all).await?;
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
    let mut added = insert(&tx, wanted.values().copied()).await?;
    if added.len() < wanted.len() {
        let known = wanted.keys().filter(|id| !added.contains(*id)).copied().collect();
        refusals.extend(taken(&tx, program, &wanted, known).await?);
    }
    let touched: Vec<&Observation> = added.iter().map(|id| wanted[id].1).collect();
    let changed = bring_up_to_date(&tx, program, &set, checklists, &touched).await?;
    if !changed.is_empty() {
        classes::touch(&tx, program, &changed).await?;
    }
    tx.commit().await?;
    let mut outcome = |observation: &Observation| match refusals.get(&observation.id) {
        Some(refusal) => Outcome::Refused(*refusal),
        // An id that comes twice in one batch is stored once.
        None if added.remove(&observation.id) => Outcome::Stored,
        None => Outcome::Known,
    };
    let outcomes = parts.iter().map(|part| part.observations.iter().map(&mut outcome).collect()).collect();
    Ok(AddedParts { outcomes, changed })
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
        children.extend(holders_after(db, program, &children).await?);
    }
    hold_children(db, &children).await?;
    let (classes, settled) = membership::classes_as_set(db, program, &children).await?;
    Ok(AsSet { classes, settled })
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

/// Inserts what is not there yet and says which those were.
async fn insert(
    db: &impl ConnectionTrait,
    observations: impl Iterator<Item = (ClassKey, &Observation)>,
) -> Result<BTreeSet<ObservationId>, StoreError> {
    let rows: Vec<_> = observations.map(|(class, observation)| row(class, observation)).collect();
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
