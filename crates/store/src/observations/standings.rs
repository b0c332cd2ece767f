//! The standings of a class: a cache of what follows from the observations, rebuilt whenever an observation is added.

use crate::observations::rows::read_level;
use crate::rows::read_says;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::progress::standing::Standing;
use bright_row_core::{ChildId, ProgramId};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::standing;
use crate::error::StoreError;
use crate::rows::small;

/// The standings of children at checkpoints.
pub type Standings = BTreeMap<ChildId, BTreeMap<CheckpointId, Standing>>;

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
    Ok(collect(rows)?.remove(&child).unwrap_or_default())
}

/// The most rows that one statement takes: PostgreSQL counts its values in 16 bits.
const ROWS_AT_ONCE: usize = 4000;

/// Puts `fresh` in the place of everything known about its children, at these checkpoints or at all.
pub(crate) async fn replace(
    db: &impl ConnectionTrait,
    program: ProgramId,
    fresh: &Standings,
    checkpoints: Option<&BTreeSet<CheckpointId>>,
) -> Result<(), StoreError> {
    let mut rows = Vec::new();
    let mut kept = (Vec::new(), Vec::new());
    for (child, of_child) in fresh {
        for (checkpoint, standing) in of_child {
            rows.push(row(program, *child, checkpoint, standing));
            kept.0.push(child.uuid());
            kept.1.push(checkpoint.as_str().to_owned());
        }
    }
    delete_others(db, program, fresh.keys().map(|child| child.uuid()).collect(), checkpoints, kept).await?;
    let update =
        OnConflict::columns([standing::Column::ProgramId, standing::Column::ChildId, standing::Column::CheckpointId])
            .update_columns([
                standing::Column::Level,
                standing::Column::Peak,
                standing::Column::PassedAt,
                standing::Column::LookedAt,
                standing::Column::VisitedAt,
                standing::Column::IntervalMeetings,
                standing::Column::Tries,
                standing::Column::Slipped,
                standing::Column::Slips,
                standing::Column::Says,
            ])
            .to_owned();
    for rows in rows.chunks(ROWS_AT_ONCE) {
        let insert = standing::Entity::insert_many(rows.to_vec()).on_conflict(update.clone());
        insert.exec_without_returning(db).await?;
    }
    Ok(())
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

fn row(program: ProgramId, child: ChildId, checkpoint: &CheckpointId, standing: &Standing) -> standing::ActiveModel {
    standing::ActiveModel {
        program_id: Set(program.uuid()),
        child_id: Set(child.uuid()),
        checkpoint_id: Set(checkpoint.as_str().to_owned()),
        level: Set(i16::from(standing.level.number())),
        peak: Set(i16::from(standing.peak.number())),
        passed_at: Set(standing.passed_at),
        looked_at: Set(standing.looked_at),
        visited_at: Set(standing.visited_at),
        interval_meetings: Set(standing.interval.map(small)),
        tries: Set(small(standing.tries)),
        slipped: Set(standing.slipped),
        slips: Set(standing.slips.iter().map(|slip| slip.as_str().to_owned()).collect()),
        says: Set(standing.says.map(|says| says.word().to_owned())),
    }
}

fn read_count(number: i32) -> Result<u32, StoreError> {
    u32::try_from(number).map_err(|_| StoreError::Unreadable { what: "count", value: number.to_string() })
}

fn collect(rows: Vec<standing::Model>) -> Result<Standings, StoreError> {
    let mut standings = Standings::new();
    for row in rows {
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
        standings.entry(row.child_id.into()).or_default().insert(CheckpointId::new(row.checkpoint_id), standing);
    }
    Ok(standings)
}
