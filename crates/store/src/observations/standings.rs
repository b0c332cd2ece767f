//! The standings of a class: a cache of what follows from the observations, rebuilt whenever an observation is added.

use crate::observations::rows::read_level;
use crate::rows::read_says;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::progress::standing::{Standing, StandingSoFar};
use bright_row_core::{ChildId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, QueryResult, Statement, Value};
use uuid::Uuid;

use crate::classes::{ClassKey, TOUCH, touch_values};
use crate::entity::standing;
use crate::error::StoreError;
use crate::rows::{as_json, as_stored, small};

/// The standings of children at checkpoints.
pub type Standings = BTreeMap<ChildId, BTreeMap<CheckpointId, Standing>>;

/// The same, each with what its next observations need to know of those before.
pub type StandingsSoFar = BTreeMap<ChildId, BTreeMap<CheckpointId, StandingSoFar>>;

/// Everything that is kept of everybody of a class, as [`super::renewing::rebuild`] computes it anew.
pub async fn kept_of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<StandingsSoFar, StoreError> {
    let of_class = crate::entity::child::Entity::find()
        .filter(crate::entity::child::Column::ProgramId.eq(class.program.uuid()))
        .filter(crate::entity::child::Column::ClassId.eq(class.class.uuid()));
    let children: Vec<Uuid> = of_class.all(db).await?.into_iter().map(|child| child.child_id).collect();
    let rows = standing::Entity::find()
        .filter(standing::Column::ProgramId.eq(class.program.uuid()))
        .filter(standing::Column::ChildId.is_in(children))
        .all(db)
        .await?;
    collect(rows)
}

/// New observations of a child, and all that what is kept of it could follow from there.
#[derive(Clone, Debug, Default)]
pub(super) struct Newest {
    /// The observations.
    pub ids: Vec<Uuid>,
    /// The moment of the first of them.
    pub first_at: DateTime<Utc>,
    /// The checkpoints that they speak of, and the stages of these.
    pub targets: BTreeSet<String>,
}

/// What is kept of those children whose every observation here was made after all others on these targets, and was not taken back
/// before it came: what stands goes on from there. To be a part of a statement that names a program first; children from `$2`, moments, targets
/// and ids after it. Ids of checkpoints and stages hold no space. Of each child one row is looked for, by index, whatever the planner knows of
/// them.
pub(super) const NEWEST: &str = "
    select n.child_id as newest, s.*
    from (select child_id, first_at, string_to_array(targets, ' ') as targets
          from unnest($2::uuid[], $3::timestamptz[], $4::text[]) as u (child_id, first_at, targets)) n
    left join standing s on s.program_id = $1 and s.child_id = n.child_id and s.checkpoint_id = any(n.targets)
    where (select o.observation_id from observation o
           where o.program_id = $1 and o.child_id = n.child_id and o.target = any(n.targets)
             and o.observed_at >= n.first_at and o.observation_id <> all($5) limit 1) is null
      and not exists (select from observation r where r.program_id = $1 and r.retracts = any($5)
                        and r.child_id = n.child_id)";

/// The first five values of a statement with [`NEWEST`].
pub(super) fn newest_values(program: ProgramId, newest: &BTreeMap<ChildId, Newest>) -> [Value; 5] {
    let children: Vec<Uuid> = newest.keys().map(|child| child.uuid()).collect();
    let moments: Vec<DateTime<Utc>> = newest.values().map(|one| one.first_at).collect();
    let targets: Vec<String> =
        newest.values().map(|one| one.targets.iter().map(String::as_str).collect::<Vec<_>>().join(" ")).collect();
    let ids: Vec<Uuid> = newest.values().flat_map(|one| one.ids.iter().copied()).collect();
    [program.uuid().into(), children.into(), moments.into(), targets.into(), ids.into()]
}

/// Reads rows of [`NEWEST`], those without a child left out; other children than these rows name are left out too.
pub(super) fn read_newest(rows: &[QueryResult]) -> Result<StandingsSoFar, StoreError> {
    let mut found = StandingsSoFar::new();
    for row in rows {
        let Some(child) = row.try_get::<Option<Uuid>>("", "newest")? else { continue };
        let of_child = found.entry(child.into()).or_default();
        // A child of whom nothing is kept yet has no standing beside it.
        if let Some(kept) = standing::Model::from_query_result_optional(row, "")? {
            let (checkpoint, so_far) = read(kept)?;
            of_child.insert(checkpoint, so_far);
        }
    }
    Ok(found)
}

/// The standings of everybody of a class, those who left among them; children nobody looked at are left out.
///
/// Columns are read by their place: a class has hundreds of rows, and looking each column up by its name costs more than
/// reading it.
pub async fn of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<Standings, StoreError> {
    const SQL: &str = "
        select s.child_id, s.checkpoint_id, s.level, s.peak, s.looked_at, s.visited_at, s.interval_meetings, s.slipped,
               array_to_string(s.slips, ' '), s.says, s.passed_at, s.tries
        from child c
        join standing s on s.program_id = c.program_id and s.child_id = c.child_id
        where c.program_id = $1 and c.class_id = $2";
    let values = [class.program.uuid().into(), class.class.uuid().into()];
    let mut standings = Standings::new();
    for row in db.query_all_raw(Statement::from_sql_and_values(db.get_database_backend(), SQL, values)).await? {
        let child: Uuid = row.try_get_by_index(0)?;
        let checkpoint: String = row.try_get_by_index(1)?;
        // Ids of slips hold no space.
        let slips: String = row.try_get_by_index(8)?;
        let standing = Standing {
            level: read_level(row.try_get_by_index(2)?)?,
            peak: read_level(row.try_get_by_index(3)?)?,
            passed_at: row.try_get_by_index(10)?,
            looked_at: row.try_get_by_index(4)?,
            visited_at: row.try_get_by_index(5)?,
            interval: row.try_get_by_index::<Option<i32>>(6)?.map(read_count).transpose()?,
            tries: read_count(row.try_get_by_index(11)?)?,
            slipped: row.try_get_by_index(7)?,
            slips: slips.split_whitespace().map(SlipId::new).collect(),
            says: read_says(row.try_get_by_index(9)?)?,
        };
        standings.entry(child.into()).or_default().insert(CheckpointId::new(checkpoint), standing);
    }
    Ok(standings)
}

/// The standings of one child.
pub async fn of_child(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
) -> Result<BTreeMap<CheckpointId, Standing>, StoreError> {
    let rows = standing::Entity::find()
        .filter(standing::Column::ProgramId.eq(class.program.uuid()))
        .filter(standing::Column::ChildId.eq(child.uuid()))
        .all(db)
        .await?;
    let kept = collect(rows)?.remove(&child).unwrap_or_default();
    Ok(kept.into_iter().map(|(checkpoint, so_far)| (checkpoint, so_far.standing)).collect())
}

/// The most rows that one statement takes.
const ROWS_AT_ONCE: usize = 4000;

/// Puts `fresh` in the place of everything known about its children, at these checkpoints or at all.
pub(crate) async fn replace(
    db: &impl ConnectionTrait,
    program: ProgramId,
    fresh: &StandingsSoFar,
    checkpoints: Option<&BTreeSet<CheckpointId>>,
) -> Result<(), StoreError> {
    let mut kept = (Vec::new(), Vec::new());
    for (child, of_child) in fresh {
        for checkpoint in of_child.keys() {
            kept.0.push(child.uuid());
            kept.1.push(checkpoint.as_str().to_owned());
        }
    }
    delete_others(db, program, fresh.keys().map(|child| child.uuid()).collect(), checkpoints, kept).await?;
    let sql = keep_from("jsonb_populate_recordset(null::standing, $2)");
    for rows in rows(program, fresh).chunks(ROWS_AT_ONCE) {
        let values = [program.uuid().into(), as_json(rows)?];
        db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), &sql, values)).await?;
    }
    Ok(())
}

/// Keeps these, in the place of what is kept of the same children at the same checkpoints, and says who stands otherwise; see
/// [`TOUCH`].
pub(super) async fn keep_and_touch(
    db: &impl ConnectionTrait,
    program: ProgramId,
    fresh: &StandingsSoFar,
    touched: &BTreeSet<ChildId>,
) -> Result<(), StoreError> {
    let sql = format!("with kept as ({}) {TOUCH}", keep_from("jsonb_populate_recordset(null::standing, $3)"));
    let values = touch_values(program, touched).into_iter().chain([as_json(&rows(program, fresh))?]);
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    Ok(())
}

pub(super) fn rows(program: ProgramId, fresh: &StandingsSoFar) -> Vec<standing::Model> {
    let mut rows = Vec::new();
    for (child, of_child) in fresh {
        rows.extend(of_child.iter().map(|(checkpoint, so_far)| row(program, *child, checkpoint, so_far)));
    }
    rows
}

/// The statement that keeps standings of the program `$1` that stand in a source, by their names.
pub(super) fn keep_from(source: &str) -> String {
    format!(
        "insert into standing as s (program_id, child_id, checkpoint_id, level, peak, passed_at, looked_at, visited_at,
           interval_meetings, tries, slipped, slips, says, lasting_run, held_at, tried_at)
         select $1, child_id, checkpoint_id, level, peak, passed_at, looked_at, visited_at, interval_meetings, tries, slipped,
           slips, says, lasting_run, held_at, tried_at
         from {source}
         on conflict (program_id, child_id, checkpoint_id) do update set level = excluded.level, peak = excluded.peak,
           passed_at = excluded.passed_at, looked_at = excluded.looked_at, visited_at = excluded.visited_at,
           interval_meetings = excluded.interval_meetings, tries = excluded.tries, slipped = excluded.slipped,
           slips = excluded.slips, says = excluded.says, lasting_run = excluded.lasting_run, held_at = excluded.held_at,
           tried_at = excluded.tried_at"
    )
}

/// Deletes the standings of these children, at these checkpoints or at all, but for those that are `kept`.
async fn delete_others(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: Vec<Uuid>,
    checkpoints: Option<&BTreeSet<CheckpointId>>,
    (kept_children, kept_checkpoints): (Vec<Uuid>, Vec<String>),
) -> Result<(), StoreError> {
    const SQL: &str = "
        delete from standing s
        where s.program_id = $1 and s.child_id = any($2) and ($3::text[] is null or s.checkpoint_id = any($3))
          and not exists (select from unnest($4::uuid[], $5::text[]) as kept (child_id, checkpoint_id)
                          where kept.child_id = s.child_id and kept.checkpoint_id = s.checkpoint_id)";
    let at = checkpoints.map(|all| all.iter().map(|id| id.as_str().to_owned()).collect::<Vec<_>>());
    let values = [program.uuid().into(), children.into(), at.into(), kept_children.into(), kept_checkpoints.into()];
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), SQL, values)).await?;
    Ok(())
}

fn row(program: ProgramId, child: ChildId, checkpoint: &CheckpointId, so_far: &StandingSoFar) -> standing::Model {
    let StandingSoFar { standing, lasting_run, held_at, tried_at } = so_far;
    standing::Model {
        program_id: program.uuid(),
        child_id: child.uuid(),
        checkpoint_id: checkpoint.as_str().to_owned(),
        level: i16::from(standing.level.number()),
        peak: i16::from(standing.peak.number()),
        passed_at: standing.passed_at.map(as_stored),
        looked_at: as_stored(standing.looked_at),
        visited_at: standing.visited_at.map(as_stored),
        interval_meetings: standing.interval.map(small),
        tries: small(standing.tries),
        slipped: standing.slipped,
        slips: standing.slips.iter().map(|slip| slip.as_str().to_owned()).collect(),
        says: standing.says.map(|says| says.word().to_owned()),
        lasting_run: small(*lasting_run),
        held_at: held_at.map(small),
        tried_at: tried_at.map(small),
    }
}

fn read_count(number: i32) -> Result<u32, StoreError> {
    u32::try_from(number).map_err(|_| StoreError::Unreadable { what: "count", value: number.to_string() })
}

fn collect(rows: Vec<standing::Model>) -> Result<StandingsSoFar, StoreError> {
    let mut standings = StandingsSoFar::new();
    for row in rows {
        let child = row.child_id.into();
        let (checkpoint, so_far) = read(row)?;
        standings.entry(child).or_default().insert(checkpoint, so_far);
    }
    Ok(standings)
}

fn read(row: standing::Model) -> Result<(CheckpointId, StandingSoFar), StoreError> {
    let standing = Standing {
        level: read_level(row.level)?,
        peak: read_level(row.peak)?,
        passed_at: row.passed_at,
        looked_at: row.looked_at,
        visited_at: row.visited_at,
        interval: row.interval_meetings.map(read_count).transpose()?,
        tries: read_count(row.tries)?,
        slipped: row.slipped,
        slips: row.slips.into_iter().map(SlipId::new).collect(),
        says: read_says(row.says)?,
    };
    let so_far = StandingSoFar {
        standing,
        lasting_run: read_count(row.lasting_run)?,
        held_at: row.held_at.map(read_count).transpose()?,
        tried_at: row.tried_at.map(read_count).transpose()?,
    };
    Ok((CheckpointId::new(row.checkpoint_id), so_far))
}
