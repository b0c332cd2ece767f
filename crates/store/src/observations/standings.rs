//! The standings of a class: a cache of what follows from the observations, rebuilt whenever an observation is added.

use crate::observations::rows::read_level;
use crate::observations::rows::read_says;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::ChildId;
use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::progress::standing::Standing;
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::{ExprTrait, OnConflict};
use sea_orm::{ColumnTrait, Condition, ConnectionTrait, EntityTrait, QueryFilter, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::standing;
use crate::error::StoreError;

/// The standings of children at checkpoints.
pub type Standings = BTreeMap<ChildId, BTreeMap<CheckpointId, Standing>>;

/// The standings of everybody in a class; children nobody looked at are left out.
///
/// Columns are read by their place: a class has hundreds of rows, and looking each column up by its name costs more than
/// reading it.
pub async fn of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<Standings, StoreError> {
    const SQL: &str = "
        select s.child_id, s.checkpoint_id, s.level, s.peak, s.looked_at, s.visited_at, s.interval_meetings, s.slipped,
               array_to_string(s.slips, ' '), s.says, s.passed_at
        from child c
        join standing s on s.program_id = c.program_id and s.child_id = c.child_id
        where c.program_id = $1 and c.class_id = $2 and c.left_on is null";
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
            interval: read_interval(row.try_get_by_index(6)?)?,
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

/// Puts `fresh` in the place of everything known about these children at these checkpoints.
pub(crate) async fn replace(
    db: &impl ConnectionTrait,
    class: ClassKey,
    children: &BTreeSet<ChildId>,
    checkpoints: &BTreeSet<CheckpointId>,
    fresh: &Standings,
) -> Result<(), StoreError> {
    let gone: Vec<(Uuid, String)> = children
        .iter()
        .flat_map(|child| checkpoints.iter().map(move |checkpoint| (child, checkpoint)))
        .filter(|(child, checkpoint)| !fresh.get(child).is_some_and(|of_child| of_child.contains_key(*checkpoint)))
        .map(|(child, checkpoint)| (child.uuid(), checkpoint.as_str().to_owned()))
        .collect();
    if !gone.is_empty() {
        let any = gone.into_iter().fold(Condition::any(), |any, (child, checkpoint)| {
            any.add(standing::Column::ChildId.eq(child).and(standing::Column::CheckpointId.eq(checkpoint)))
        });
        standing::Entity::delete_many()
            .filter(standing::Column::ProgramId.eq(class.program.uuid()))
            .filter(any)
            .exec(db)
            .await?;
    }
    let rows: Vec<_> = fresh
        .iter()
        .flat_map(|(child, of_child)| of_child.iter().map(move |(checkpoint, standing)| (child, checkpoint, standing)))
        .map(|(child, checkpoint, standing)| row(class, *child, checkpoint, standing))
        .collect();
    if rows.is_empty() {
        return Ok(());
    }
    let update =
        OnConflict::columns([standing::Column::ProgramId, standing::Column::ChildId, standing::Column::CheckpointId])
            .update_columns([
                standing::Column::Level,
                standing::Column::Peak,
                standing::Column::PassedAt,
                standing::Column::LookedAt,
                standing::Column::VisitedAt,
                standing::Column::IntervalMeetings,
                standing::Column::Slipped,
                standing::Column::Slips,
                standing::Column::Says,
            ])
            .to_owned();
    standing::Entity::insert_many(rows).on_conflict(update).exec_without_returning(db).await?;
    Ok(())
}

fn row(class: ClassKey, child: ChildId, checkpoint: &CheckpointId, standing: &Standing) -> standing::ActiveModel {
    standing::ActiveModel {
        program_id: Set(class.program.uuid()),
        child_id: Set(child.uuid()),
        checkpoint_id: Set(checkpoint.as_str().to_owned()),
        level: Set(i16::from(standing.level.number())),
        peak: Set(i16::from(standing.peak.number())),
        passed_at: Set(standing.passed_at),
        looked_at: Set(standing.looked_at),
        visited_at: Set(standing.visited_at),
        interval_meetings: Set(i32::try_from(standing.interval).unwrap_or(i32::MAX)),
        slipped: Set(standing.slipped),
        slips: Set(standing.slips.iter().map(|slip| slip.as_str().to_owned()).collect()),
        says: Set(standing.says.map(|says| says.word().to_owned())),
    }
}

fn read_interval(meetings: i32) -> Result<u32, StoreError> {
    u32::try_from(meetings).map_err(|_| StoreError::Unreadable { what: "interval", value: meetings.to_string() })
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
            interval: read_interval(row.interval_meetings)?,
            slipped: row.slipped,
            slips: row.slips.into_iter().map(SlipId::new).collect(),
            says: read_says(row.says)?,
        };
        standings.entry(row.child_id.into()).or_default().insert(CheckpointId::new(row.checkpoint_id), standing);
    }
    Ok(standings)
}
