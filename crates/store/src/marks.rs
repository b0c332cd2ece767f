//! Marks: added, never changed; each addition brings the standings that follow from it up to date in the same step.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::checklist::{Checklist, CheckpointId, SlipId, Stage};
use bright_row_core::mark::{Mark, Seen, Target, Via};
use bright_row_core::standing::standings;
use bright_row_core::{ChildId, MarkId};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, Statement, TransactionSession,
    TransactionTrait,
};
use uuid::Uuid;

use crate::children;
use crate::classes::{Class, ClassKey};
use crate::entity::mark;
use crate::error::StoreError;
use crate::standings::{Standings, read_level, read_says, replace};
use crate::stands_for::{TAPE, heirs, standing_for};

/// What became of a mark.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Outcome {
    /// Added now.
    Stored,
    /// Was there already, the same.
    Known,
    /// Not added.
    Refused(Refusal),
}

/// Why a mark was not added.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Refusal {
    /// The child is not in this class (any more).
    NotInClass,
    /// Another mark has this id.
    IdTaken,
    /// It takes back a mark of another child or target.
    RetractsOther,
    /// It takes back a mark that is itself an undo.
    RetractsUndo,
}

/// Adds marks to a class and brings its standings up to date, in one step: all of it is kept or nothing.
///
/// Answers for each mark in order. Marks of the same child wait for each other, so that standings follow from all of
/// them; marks of different children do not.
pub async fn add(
    db: &impl TransactionTrait,
    class: &Class,
    checklist: &Checklist,
    marks: &[Mark],
) -> Result<Vec<Outcome>, StoreError> {
    let step = db.begin().await?;
    // Of a look at tapes may follow how the one stands who has the instrument now.
    let tapes = marks.iter().any(|mark| mark.target.id().starts_with(TAPE));
    let here = lock_children(&step, class.key, marks.iter().map(|mark| mark.child), tapes).await?;
    let mut refusals = refuse_retractions(&step, class.key, marks).await?;
    for mark in marks.iter().filter(|mark| !here.contains(&mark.child)) {
        refusals.insert(mark.id, Refusal::NotInClass);
    }
    let wanted: BTreeMap<MarkId, &Mark> =
        marks.iter().rev().filter(|mark| !refusals.contains_key(&mark.id)).map(|mark| (mark.id, mark)).collect();
    let mut added = insert(&step, class.key, wanted.values().copied()).await?;
    if added.len() < wanted.len() {
        let known = wanted.keys().filter(|id| !added.contains(*id)).copied().collect();
        refusals.extend(taken(&step, class.key, &wanted, known).await?);
    }
    let touched: Vec<&Mark> = added.iter().map(|id| wanted[id]).collect();
    bring_up_to_date(&step, class, checklist, &touched).await?;
    step.commit().await?;
    let outcome = |mark: &Mark| match refusals.get(&mark.id) {
        Some(refusal) => Outcome::Refused(*refusal),
        // An id that comes twice in one batch is stored once.
        None if added.remove(&mark.id) => Outcome::Stored,
        None => Outcome::Known,
    };
    Ok(marks.iter().map(outcome).collect())
}

/// Recomputes a class's standings from its marks, without touching what is stored.
pub async fn rebuild(db: &impl ConnectionTrait, class: &Class, checklist: &Checklist) -> Result<Standings, StoreError> {
    let children = children::of_class(db, class.key).await?.into_iter().map(|child| child.id).collect();
    let standings = standing_for(db, class.key, &children, None)
        .await?
        .into_iter()
        .map(|(child, marks)| (child, standings(checklist, &marks, &class.calendar, &class.rhythm)))
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
    let fresh: Standings = standing_for(db, class.key, &here, None)
        .await?
        .into_iter()
        .map(|(child, marks)| (child, standings(checklist, &marks, &class.calendar, &class.rhythm)))
        .collect();
    let checkpoints = checklist.checkpoints().iter().map(|checkpoint| checkpoint.id.clone()).collect();
    replace(db, class.key, &here, &checkpoints, &fresh).await
}

#[derive(FromQueryResult)]
struct Locked {
    child_id: Uuid,
}

/// The children of the class among these, each locked against other additions until the transaction ends; `with_heirs`
/// locks those too who have an instrument that one of these had.
async fn lock_children(
    db: &impl ConnectionTrait,
    class: ClassKey,
    children: impl Iterator<Item = ChildId>,
    with_heirs: bool,
) -> Result<BTreeSet<ChildId>, StoreError> {
    // In the order of their ids, so that two batches never wait for each other in a circle.
    const HEIRS: &str = "
        or child_id in (select h.child_id from loan l
                        join loan h on h.program_id = l.program_id and h.asset_id = l.asset_id and h.until is null
                        where l.program_id = $1 and l.child_id = any($3))";
    let sql = format!(
        "select child_id, pg_advisory_xact_lock(hashtextextended(child_id::text, 0)) is null
         from (select child_id from child
               where program_id = $1 and (class_id = $2 and child_id = any($3) {})
               order by child_id offset 0) as ordered",
        if with_heirs { HEIRS } else { "" }
    );
    let ids: BTreeSet<Uuid> = children.map(ChildId::uuid).collect();
    let values = [class.program.uuid().into(), class.class.uuid().into(), Vec::from_iter(ids.clone()).into()];
    let found = Locked::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let locked = found.all(db).await?.into_iter().map(|row| row.child_id);
    Ok(locked.filter(|child| ids.contains(child)).map(ChildId::from).collect())
}

/// Which retractions cannot be. One whose mark has not arrived yet is kept: it will count when it does.
async fn refuse_retractions(
    db: &impl ConnectionTrait,
    class: ClassKey,
    marks: &[Mark],
) -> Result<BTreeMap<MarkId, Refusal>, StoreError> {
    let retracted = |mark: &Mark| match mark.seen {
        Seen::Retracts(id) => Some(id),
        Seen::Level { .. } | Seen::Holds { .. } => None,
    };
    let ids: Vec<Uuid> = marks.iter().filter_map(retracted).map(MarkId::uuid).collect();
    if ids.is_empty() {
        return Ok(BTreeMap::new());
    }
    let stored = mark::Entity::find()
        .filter(mark::Column::ProgramId.eq(class.program.uuid()))
        .filter(mark::Column::MarkId.is_in(ids))
        .all(db)
        .await?;
    let known: BTreeMap<MarkId, Mark> =
        read_all(stored)?.into_iter().chain(marks.iter().cloned()).map(|mark| (mark.id, mark)).collect();
    let refused = marks.iter().filter_map(|mark| {
        let taken_back = known.get(&retracted(mark)?)?;
        if taken_back.child != mark.child || taken_back.target != mark.target {
            Some((mark.id, Refusal::RetractsOther))
        } else if matches!(taken_back.seen, Seen::Retracts(_)) {
            Some((mark.id, Refusal::RetractsUndo))
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
    marks: impl Iterator<Item = &Mark>,
) -> Result<BTreeSet<MarkId>, StoreError> {
    let rows: Vec<_> = marks.map(|mark| row(class, mark)).collect();
    if rows.is_empty() {
        return Ok(BTreeSet::new());
    }
    let once = OnConflict::columns([mark::Column::ProgramId, mark::Column::MarkId]).do_nothing().to_owned();
    let added = mark::Entity::insert_many(rows).on_conflict(once).exec_with_returning_keys(db).await?;
    Ok(added.into_iter().map(|(_, id)| id.into()).collect())
}

/// Those among `ids`, which are stored already, whose mark is another one.
async fn taken(
    db: &impl ConnectionTrait,
    class: ClassKey,
    wanted: &BTreeMap<MarkId, &Mark>,
    ids: BTreeSet<MarkId>,
) -> Result<Vec<(MarkId, Refusal)>, StoreError> {
    let stored = mark::Entity::find()
        .filter(mark::Column::ProgramId.eq(class.program.uuid()))
        .filter(mark::Column::MarkId.is_in(ids.into_iter().map(MarkId::uuid)))
        .all(db)
        .await?;
    let other = |stored: &Mark| {
        let wanted = wanted[&stored.id];
        (stored.child, &stored.target, &stored.seen) != (wanted.child, &wanted.target, &wanted.seen)
    };
    Ok(read_all(stored)?.iter().filter(|mark| other(mark)).map(|mark| (mark.id, Refusal::IdTaken)).collect())
}

/// Recomputes the standings of the stages that these marks speak of.
async fn bring_up_to_date(
    db: &impl ConnectionTrait,
    class: &Class,
    checklist: &Checklist,
    touched: &[&Mark],
) -> Result<(), StoreError> {
    let stage_of = |target: &Target| -> Option<&Stage> {
        match target {
            Target::Checkpoint(id) => checklist.stage(checklist.checkpoint(id.as_str())?.stage.as_str()),
            Target::Stage(id) => checklist.stage(id.as_str()),
        }
    };
    let stages: BTreeMap<_, _> =
        touched.iter().filter_map(|mark| stage_of(&mark.target)).map(|stage| (&stage.id, stage)).collect();
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
    let mut children: BTreeSet<ChildId> = touched.iter().map(|mark| mark.child).collect();
    if targets.iter().any(|target| target.starts_with(TAPE)) {
        children.extend(heirs(db, class.key, touched).await?);
    }
    let fresh: Standings = standing_for(db, class.key, &children, Some(targets))
        .await?
        .into_iter()
        .map(|(child, marks)| (child, standings(checklist, &marks, &class.calendar, &class.rhythm)))
        .collect();
    replace(db, class.key, &children, &checkpoints, &fresh).await
}

fn row(class: ClassKey, mark: &Mark) -> mark::ActiveModel {
    let (level, retracts, slips, except) = match &mark.seen {
        Seen::Level { level, slips } => (Some(i16::from(level.number())), None, texts(slips, SlipId::as_str), vec![]),
        Seen::Holds { except } => (None, None, vec![], texts(except, CheckpointId::as_str)),
        Seen::Retracts(id) => (None, Some(id.uuid()), vec![], vec![]),
    };
    mark::ActiveModel {
        program_id: Set(class.program.uuid()),
        mark_id: Set(mark.id.uuid()),
        class_id: Set(class.class.uuid()),
        child_id: Set(mark.child.uuid()),
        target: Set(mark.target.id().to_owned()),
        level: Set(level),
        retracts: Set(retracts),
        slips: Set(slips),
        except_checkpoints: Set(except),
        says: Set(mark.says.map(|says| says.word().to_owned())),
        note: Set(mark.note.clone()),
        via: Set(mark.via.word().to_owned()),
        observed_at: Set(mark.observed_at),
        recorded_at: Set(mark.recorded_at),
        observer: Set(mark.observer.uuid()),
        round_id: Set(mark.round.map(bright_row_core::RoundId::uuid)),
    }
}

fn texts<T>(ids: &BTreeSet<T>, text: impl Fn(&T) -> &str) -> Vec<String> {
    ids.iter().map(|id| text(id).to_owned()).collect()
}

pub(crate) fn read_all(rows: Vec<mark::Model>) -> Result<Vec<Mark>, StoreError> {
    rows.into_iter().map(read).collect()
}

pub(crate) fn read(row: mark::Model) -> Result<Mark, StoreError> {
    let seen = match (row.level, row.retracts) {
        (Some(level), _) => {
            Seen::Level { level: read_level(level)?, slips: row.slips.into_iter().map(SlipId::new).collect() }
        }
        (None, Some(id)) => Seen::Retracts(id.into()),
        (None, None) => Seen::Holds { except: row.except_checkpoints.into_iter().map(CheckpointId::new).collect() },
    };
    Ok(Mark {
        id: row.mark_id.into(),
        child: row.child_id.into(),
        target: Target::from_id(&row.target),
        seen,
        says: read_says(row.says)?,
        note: row.note,
        via: Via::parse(&row.via).ok_or(StoreError::Unreadable { what: "way of looking", value: row.via })?,
        observed_at: row.observed_at,
        recorded_at: row.recorded_at,
        observer: row.observer.into(),
        round: row.round_id.map(Into::into),
    })
}
