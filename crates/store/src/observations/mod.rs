//! Observations: added, never changed; each addition brings the standings that follow from it up to date in the same step.

pub mod attribution;
pub mod history;
pub(crate) mod rows;
pub mod standings;

use crate::children::membership;
use crate::observations::rows::read_all;
use crate::observations::rows::row;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use bright_row_core::craft::checklist::{Checklist, Stage};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::loader::Content;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::progress::standing::standings;
use bright_row_core::{ChildId, ClassId, ObservationId, ProgramId};
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, TransactionSession, TransactionTrait};
use uuid::Uuid;

use crate::classes::{self, Class, ClassKey};
use crate::entity::observation;
use crate::error::StoreError;
use crate::locks::{Hold, hold, hold_children};
use crate::observations::attribution::{TAPE, attributed, current_holders, holders_after};
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

/// Says how classes read the checklist.
pub trait Checklists: Sync {
    /// The checklist as a class reads it.
    fn of_class(&self, class: &Class) -> Arc<Checklist>;
}

impl Checklists for Content {
    fn of_class(&self, class: &Class) -> Arc<Checklist> {
        Arc::new(self.checklist(&class.choices, &class.edits))
    }
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

/// Adds observations to a class and brings the standings that follow up to date, in one step: all of it is kept or nothing.
///
/// Observations of the same child wait for each other, so that standings follow from all of them; observations of different
/// children do not. Everybody is computed by the settings of the own class.
pub async fn add(
    db: &impl TransactionTrait,
    class: ClassKey,
    checklists: &impl Checklists,
    observations: &[Observation],
) -> Result<Added, StoreError> {
    let tx = db.begin().await?;
    hold(&tx, class.program, Hold::Shared).await?;
    let classes = hold_concerned(&tx, class, observations).await?;
    let here = |child: ChildId| classes.get(&child) == Some(&class.class);
    let mut refusals = refuse_retractions(&tx, class, observations).await?;
    for observation in observations.iter().filter(|observation| !here(observation.child)) {
        refusals.insert(observation.id, Refusal::NotInClass);
    }
    let wanted: BTreeMap<ObservationId, &Observation> = observations
        .iter()
        .rev()
        .filter(|observation| !refusals.contains_key(&observation.id))
        .map(|observation| (observation.id, observation))
        .collect();
    let mut added = insert(&tx, class, wanted.values().copied()).await?;
    if added.len() < wanted.len() {
        let known = wanted.keys().filter(|id| !added.contains(*id)).copied().collect();
        refusals.extend(taken(&tx, class, &wanted, known).await?);
    }
    let touched: Vec<&Observation> = added.iter().map(|id| wanted[id]).collect();
    let changed = bring_up_to_date(&tx, class, &classes, checklists, &touched).await?;
    tx.commit().await?;
    let outcome = |observation: &Observation| match refusals.get(&observation.id) {
        Some(refusal) => Outcome::Refused(*refusal),
        // An id that comes twice in one batch is stored once.
        None if added.remove(&observation.id) => Outcome::Stored,
        None => Outcome::Known,
    };
    Ok(Added { outcomes: observations.iter().map(outcome).collect(), changed })
}

/// Recomputes the standings of everybody of a class, those who left among them, without touching what is stored.
pub async fn rebuild(db: &impl ConnectionTrait, class: &Class, checklist: &Checklist) -> Result<Standings, StoreError> {
    let children = membership::ids_of_class(db, class.key).await?;
    let standings = attributed(db, class.key.program, &children, None)
        .await?
        .into_iter()
        .map(|(child, observations)| (child, standings(checklist, &observations, &class.calendar, &class.rhythm)))
        .filter(|(_, standings)| !standings.is_empty());
    Ok(standings.collect())
}

/// Recomputes everything that stands for these children of a program, each by the settings of its class: after an instrument
/// changed hands, a child came from another class, or a class looks at things otherwise. Answers the classes they are in. To be
/// called in a transaction that has the program alone.
pub async fn renew(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
    checklists: &impl Checklists,
) -> Result<BTreeSet<ClassId>, StoreError> {
    let classes = membership::classes_of(db, program, children).await?;
    let mut found = attributed(db, program, &classes.keys().copied().collect(), None).await?;
    let mut fresh = Standings::new();
    for class in classes::of_program(db, program, Some(classes.values().copied().collect())).await? {
        let checklist = checklists.of_class(&class);
        for (child, _) in classes.iter().filter(|(_, of)| **of == class.key.class) {
            let observations = found.remove(child).unwrap_or_default();
            fresh.insert(*child, standings(&checklist, &observations, &class.calendar, &class.rhythm));
        }
    }
    replace(db, program, &fresh, None).await?;
    Ok(classes.into_values().collect())
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
/// answers their classes, without those who are not in the program.
async fn hold_concerned(
    db: &impl ConnectionTrait,
    class: ClassKey,
    observations: &[Observation],
) -> Result<BTreeMap<ChildId, ClassId>, StoreError> {
    let mut children: BTreeSet<ChildId> = observations.iter().map(|observation| observation.child).collect();
    if observations.iter().any(|observation| observation.target.id().starts_with(TAPE)) {
        children.extend(holders_after(db, class.program, &children).await?);
    }
    hold_children(db, &children).await?;
    membership::classes_of(db, class.program, &children).await
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

/// Recomputes the standings of the stages that these observations speak of, for everybody for whom they stand; answers the
/// classes of those.
async fn bring_up_to_date(
    db: &impl ConnectionTrait,
    class: ClassKey,
    classes: &BTreeMap<ChildId, ClassId>,
    checklists: &impl Checklists,
    touched: &[&Observation],
) -> Result<BTreeSet<ClassId>, StoreError> {
    let mut children: BTreeSet<ChildId> = touched.iter().map(|observation| observation.child).collect();
    if touched.iter().any(|observation| observation.target.id().starts_with(TAPE)) {
        children.extend(current_holders(db, class.program, touched).await?);
    }
    let concerned: BTreeSet<ClassId> = children.iter().filter_map(|child| classes.get(child)).copied().collect();
    if concerned.is_empty() {
        return Ok(concerned);
    }
    for class in classes::of_program(db, class.program, Some(concerned.clone())).await? {
        let of_class = children_in(classes, &children, class.key.class);
        renew_stages(db, &class, &checklists.of_class(&class), &of_class, touched).await?;
    }
    Ok(concerned)
}

/// Those of some children who are in a class.
fn children_in(
    classes: &BTreeMap<ChildId, ClassId>,
    children: &BTreeSet<ChildId>,
    class: ClassId,
) -> BTreeSet<ChildId> {
    children.iter().filter(|child| classes.get(child) == Some(&class)).copied().collect()
}

/// Recomputes how children of a class stand at the stages that these observations speak of.
async fn renew_stages(
    db: &impl ConnectionTrait,
    class: &Class,
    checklist: &Checklist,
    children: &BTreeSet<ChildId>,
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
    let mut found = attributed(db, class.key.program, children, Some(targets)).await?;
    let mut fresh = Standings::new();
    for child in children {
        let observations = found.remove(child).unwrap_or_default();
        fresh.insert(*child, standings(checklist, &observations, &class.calendar, &class.rhythm));
    }
    replace(db, class.key.program, &fresh, Some(&checkpoints)).await
}
