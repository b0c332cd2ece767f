//! Observations added without holding anything while what they go on from is read: two statements, the second of which writes only where
//! nothing has changed since the first.
//!
//! That is how it is nearly always: somebody looks at a child, and what is seen is newer than all that was seen of it. Whatever else
//! (undos, tapes, what comes late or twice, somebody else at the same child) is added by [`super::add_holding`].

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::{ChildId, ClassId, ProgramId};
use sea_orm::{ConnectionTrait, DatabaseConnection, QueryResult, Statement};
use uuid::Uuid;

use crate::classes::{LetIn, confirming, confirming_values};
use crate::error::StoreError;
use crate::observations::renewing::{AsSet, Checklists, carry_on};
use crate::observations::rows::{insert_from, row};
use crate::observations::standings::{NEWEST, Newest, StandingsSoFar, keep_from, newest_values, read_newest, rows};
use crate::observations::{AddedParts, Outcome, Part};
use crate::rows::as_json;

/// Adds observations as [`super::add_parts`] does, or adds nothing and answers `None`.
pub(super) async fn add_parts(
    db: &DatabaseConnection,
    program: ProgramId,
    checklists: &impl Checklists,
    parts: &[Part<'_>],
) -> Result<Option<AddedParts>, StoreError> {
    let Some(mut set) = presumed(db, program, checklists, parts).await? else { return Ok(None) };
    let all: Vec<_> = parts.iter().flat_map(|part| part.observations).collect();
    let newest = set.newest(db, program, checklists, all.iter().copied()).await?;
    // Whatever is no news of a checkpoint that is known is not looked for by the statement.
    if newest.values().map(|one| one.ids.len()).sum::<usize>() < all.len() {
        return Ok(None);
    }
    let Some(before) = read(db, program, &set, parts, &newest).await? else { return Ok(None) };
    let children: BTreeSet<ChildId> = newest.into_keys().collect();
    let mut fresh = StandingsSoFar::new();
    for class in &set.read {
        fresh.extend(carry_on(class, checklists, &before.standings, &set.in_class(class.key.class, &children), &all));
    }
    Ok(write(db, program, &set, parts, &before, &fresh).await?.then(|| AddedParts {
        outcomes: parts.iter().map(|part| Some(vec![Outcome::Stored; part.observations.len()])).collect(),
        changed: set.classes.into_values().collect(),
    }))
}

/// What is set, if everybody is in the class that the observations say and nothing was set since those classes were read.
async fn presumed(
    db: &impl ConnectionTrait,
    program: ProgramId,
    checklists: &impl Checklists,
    parts: &[Part<'_>],
) -> Result<Option<AsSet>, StoreError> {
    let mut classes: BTreeMap<ChildId, ClassId> = BTreeMap::new();
    let mut ids = BTreeSet::new();
    for part in parts {
        for observation in part.observations {
            let class = part.class.class;
            if !ids.insert(observation.id) || *classes.entry(observation.child).or_insert(class) != class {
                return Ok(None);
            }
        }
    }
    AsSet::presumed(db, program, classes, checklists).await
}

/// How children stood when it was read.
struct Before {
    standings: StandingsSoFar,
    /// See [`crate::classes::touch`].
    touched: BTreeMap<ChildId, Uuid>,
}

/// How these children stand, if everybody is let in and in the class presumed, and what comes is newer than all that is there.
async fn read(
    db: &impl ConnectionTrait,
    program: ProgramId,
    set: &AsSet,
    parts: &[Part<'_>],
    newest: &BTreeMap<ChildId, Newest>,
) -> Result<Option<Before>, StoreError> {
    let sql = format!(
        "select c.child_id as child, c.class_id as class, c.touched, array({}) as let_in,
           exists (select from observation k where k.program_id = $1 and k.observation_id = any($5)) as is_known, kept.*
         from child c
         left join ({NEWEST}) kept on kept.newest = c.child_id
         where c.program_id = $1 and c.child_id = any($2)",
        confirming(6)
    );
    let let_in: Vec<(ClassId, &LetIn)> =
        parts.iter().filter_map(|part| Some((part.class.class, part.let_in?))).collect();
    let values = newest_values(program, newest).into_iter().chain(confirming_values(&let_in));
    let found = db.query_all_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    let mut touched = BTreeMap::new();
    for row in &found {
        let child: ChildId = row.try_get::<Uuid>("", "child")?.into();
        let is_as_presumed = set.classes.get(&child).map(|class| class.uuid()) == Some(row.try_get("", "class")?)
            && row.try_get::<Vec<i64>>("", "let_in")?.len() == let_in.len()
            && !row.try_get::<bool>("", "is_known")?
            && row.try_get::<Option<Uuid>>("", "newest")?.is_some();
        if !is_as_presumed {
            return Ok(None);
        }
        touched.insert(child, row.try_get("", "touched")?);
    }
    let standings = read_newest(&found)?;
    Ok((touched.len() == newest.len()).then_some(Before { standings, touched }))
}

/// Writes, where nothing was set and nobody of these was touched since it was read, and nobody else is at any of it; answers whether it
/// did. Locks are those of [`crate::locks`], but nobody waits for one. The statement is shown what was committed when it began, and rows
/// that it locks or changes as they are then: what the settings and the standings follow from is asked of such rows.
async fn write(
    db: &impl ConnectionTrait,
    program: ProgramId,
    set: &AsSet,
    parts: &[Part<'_>],
    before: &Before,
    fresh: &StandingsSoFar,
) -> Result<bool, StoreError> {
    let sql = format!(
        "with held as materialized (
           select from (select pg_try_advisory_xact_lock_shared(hashtextextended($1::uuid::text, 1)) as is_held offset 0) as program
           where is_held),
         these as materialized (select * from unnest($3::uuid[], $4::uuid[]) as given (child_id, touched)),
         alone as materialized (
           select bool_and(pg_try_advisory_xact_lock(hashtextextended(these.child_id::text, 0))) as is_held from held, these),
         as_set as materialized (
           select p.program_id from alone, program p
           where alone.is_held and p.program_id = $1 and p.settled = $2
           for key share of p skip locked),
         as_read as (
           update child c set touched = gen_random_uuid() from as_set, these
           where c.program_id = $1 and c.child_id = these.child_id and c.touched = these.touched
           returning c.child_id),
         go as materialized (select where (select count(*) from as_read) = (select count(*) from these)),
         added as ({}),
         kept as ({})
         select exists (select from go) as is_written",
        insert_from("go, jsonb_populate_recordset(null::observation, $5)"),
        keep_from("go, jsonb_populate_recordset(null::standing, $6)"),
    );
    let (children, touched): (Vec<Uuid>, Vec<Uuid>) =
        before.touched.iter().map(|(child, touched)| (child.uuid(), *touched)).unzip();
    let added: Vec<_> = parts
        .iter()
        .flat_map(|part| part.observations.iter().map(|observation| row(part.class, observation)))
        .collect();
    let values = [
        program.uuid().into(),
        set.settled.into(),
        children.into(),
        touched.into(),
        as_json(&added)?,
        as_json(&rows(program, fresh))?,
    ];
    let written = db.query_one_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await;
    match written.map_err(StoreError::from) {
        Ok(row) => {
            Ok(row.as_ref().map(|row: &QueryResult| row.try_get("", "is_written")).transpose()?.unwrap_or(false))
        }
        // Nothing is written: whoever holds it while adding finds out which of them it is about.
        Err(StoreError::Conflict | StoreError::Reference | StoreError::Database(_)) => Ok(false),
        Err(error) => Err(error),
    }
}
