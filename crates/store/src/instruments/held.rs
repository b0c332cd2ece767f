//! The instruments that the children of a class have or had, and what was done to their markers.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::tapes::log::TapeEvent;
use bright_row_core::{AssetId, ChildId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::{ColumnTrait, ConnectionTrait, FromQueryResult, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::tape_event;
use crate::error::StoreError;
use crate::instruments::tapes::find;

/// An instrument that a child has or had.
#[derive(Clone, Debug, PartialEq)]
pub struct Holding {
    /// Whose.
    pub child: ChildId,
    /// Which.
    pub asset: AssetId,
    /// The school's tag of it.
    pub tag: String,
    /// What it is.
    pub instrument: Instrument,
    /// Its size, as it is spoken of.
    pub size: String,
    /// Its string length, in millimetres.
    pub length_mm: Option<f64>,
    /// Since when.
    pub since: DateTime<Utc>,
    /// Until when; `None` for now.
    pub until: Option<DateTime<Utc>>,
}

#[derive(FromQueryResult)]
struct Row {
    child_id: Uuid,
    asset_id: Uuid,
    tag: String,
    instrument: String,
    size: String,
    string_length_mm: Option<f64>,
    since: DateTime<Utc>,
    until: Option<DateTime<Utc>>,
}

/// What the children of a class and these others have and had, the oldest first.
///
/// # Errors
/// [`StoreError`].
pub async fn of_class(
    db: &impl ConnectionTrait,
    class: ClassKey,
    others: &BTreeSet<ChildId>,
) -> Result<Vec<Holding>, StoreError> {
    const SQL: &str = "
        select l.child_id, l.asset_id, a.tag, a.instrument, a.size, a.string_length_mm, l.since, l.until
        from child c
        join loan l on l.program_id = c.program_id and l.child_id = c.child_id
        join asset a on a.program_id = l.program_id and a.asset_id = l.asset_id
        where c.program_id = $1 and (c.class_id = $2 or c.child_id = any($3))
        order by l.since, l.loan_id";
    let others: Vec<Uuid> = others.iter().map(|child| child.uuid()).collect();
    let values = [class.program.uuid().into(), class.class.uuid().into(), others.into()];
    let rows = Row::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), SQL, values));
    let read = |row: Row| {
        let unreadable = StoreError::Unreadable { what: "instrument", value: row.instrument.clone() };
        Ok(Holding {
            child: row.child_id.into(),
            asset: row.asset_id.into(),
            tag: row.tag,
            instrument: Instrument::parse(&row.instrument).ok_or(unreadable)?,
            size: row.size,
            length_mm: row.string_length_mm,
            since: row.since,
            until: row.until,
        })
    };
    rows.all(db).await?.into_iter().map(read).collect()
}

/// The logs of these instruments, each in the order of (moment, id), what was taken back included.
///
/// # Errors
/// [`StoreError`].
pub async fn logs(
    db: &impl ConnectionTrait,
    program: ProgramId,
    assets: &BTreeSet<AssetId>,
) -> Result<BTreeMap<AssetId, Vec<TapeEvent>>, StoreError> {
    let mut logs: BTreeMap<AssetId, Vec<TapeEvent>> = BTreeMap::new();
    let which = tape_event::Column::AssetId.is_in(assets.iter().map(|asset| asset.uuid()));
    for (asset, event) in find(db, program, which).await? {
        logs.entry(asset).or_default().push(event);
    }
    Ok(logs)
}
