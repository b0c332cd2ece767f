//! The standings of a class: a cache of what follows from the marks, rebuilt whenever a mark is added.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::ChildId;
use bright_row_core::checklist::{CheckpointId, SlipId};
use bright_row_core::mark::{Level, Says};
use bright_row_core::standing::Standing;
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::{ExprTrait, OnConflict};
use sea_orm::{ColumnTrait, Condition, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::standing;
use crate::error::StoreError;

/// The standings of children at checkpoints.
pub type Standings = BTreeMap<ChildId, BTreeMap<CheckpointId, Standing>>;

/// One row a child: reading a class is mostly rows and columns, so that arrays cost a fraction of them.
#[derive(FromQueryResult)]
struct OfChild {
    child_id: Uuid,
    checkpoints: Vec<String>,
    levels: Vec<i16>,
    peaks: Vec<i16>,
    looked: Vec<DateTime<Utc>>,
    /// The beginning of 1970 for never: arrays are read without nulls.
    visited: Vec<DateTime<Utc>>,
    intervals: Vec<i32>,
    slipped: Vec<bool>,
    /// The slips of each checkpoint with a space between them; ids hold none.
    slips: Vec<String>,
    /// Empty for not asked.
    says: Vec<String>,
}

impl OfChild {
    fn read(self) -> Result<(ChildId, BTreeMap<CheckpointId, Standing>), StoreError> {
        let mut standings = BTreeMap::new();
        // The arrays are made from the same rows: they are of one length and in one order.
        for (index, checkpoint) in self.checkpoints.into_iter().enumerate() {
            let standing = Standing {
                level: read_level(self.levels[index])?,
                peak: read_level(self.peaks[index])?,
                looked_at: self.looked[index],
                visited_at: Some(self.visited[index]).filter(|at| *at > DateTime::UNIX_EPOCH),
                interval: read_interval(self.intervals[index])?,
                slipped: self.slipped[index],
                slips: self.slips[index].split_whitespace().map(SlipId::new).collect(),
                says: read_says(Some(self.says[index].clone()).filter(|says| !says.is_empty()))?,
            };
            standings.insert(CheckpointId::new(checkpoint), standing);
        }
        Ok((self.child_id.into(), standings))
    }
}

/// The standings of everybody in a class; children nobody looked at are left out.
pub async fn of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<Standings, StoreError> {
    const SQL: &str = "
        select s.child_id, array_agg(s.checkpoint_id) as checkpoints, array_agg(s.level) as levels,
               array_agg(s.peak) as peaks, array_agg(s.looked_at) as looked, 
               array_agg(coalesce(s.visited_at, to_timestamp(0))) as visited,
               array_agg(s.interval_meetings) as intervals, array_agg(s.slipped) as slipped,
               array_agg(array_to_string(s.slips, ' ')) as slips, 
               array_agg(coalesce(s.says, '')) as says
        from child c
        join standing s on s.program_id = c.program_id and s.child_id = c.child_id
        where c.program_id = $1 and c.class_id = $2 and c.left_on is null
        group by s.child_id";
    let values = [class.program.uuid().into(), class.class.uuid().into()];
    let rows = OfChild::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), SQL, values));
    rows.all(db).await?.into_iter().map(OfChild::read).collect()
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
        looked_at: Set(standing.looked_at),
        visited_at: Set(standing.visited_at),
        interval_meetings: Set(i32::try_from(standing.interval).unwrap_or(i32::MAX)),
        slipped: Set(standing.slipped),
        slips: Set(standing.slips.iter().map(|slip| slip.as_str().to_owned()).collect()),
        says: Set(standing.says.map(|says| says.word().to_owned())),
    }
}

pub(crate) fn read_level(number: i16) -> Result<Level, StoreError> {
    u8::try_from(number)
        .ok()
        .and_then(|number| Level::try_from(number).ok())
        .ok_or_else(|| StoreError::Unreadable { what: "level", value: number.to_string() })
}

pub(crate) fn read_says(word: Option<String>) -> Result<Option<Says>, StoreError> {
    word.map(|word| Says::parse(&word).ok_or(StoreError::Unreadable { what: "word", value: word })).transpose()
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
