//! Who did what to what, when, from where; never what was in it. Entries are only ever added.

use bright_row_core::{AccountId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::Expr;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect};
use uuid::Uuid;

use crate::announced::announce;
use crate::entity::audit;
use crate::error::StoreError;

/// One entry.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Entry {
    /// A `UUIDv7`.
    pub id: Uuid,
    /// When.
    pub at: DateTime<Utc>,
    /// Who; `None`: the server itself.
    pub by: Option<AccountId>,
    /// What was done, as a word.
    pub deed: String,
    /// The kind of thing it was done to; empty: to the program.
    pub thing: String,
    /// Which one.
    pub thing_id: Option<Uuid>,
    /// The network it came from, without its last part.
    pub network: String,
}

/// Adds an entry to the audit of a program.
pub async fn add(db: &impl ConnectionTrait, program: ProgramId, entry: &Entry) -> Result<(), StoreError> {
    let row = audit::ActiveModel {
        program_id: Set(program.uuid()),
        entry_id: Set(entry.id),
        at: Set(entry.at),
        account_id: Set(entry.by.map(AccountId::uuid)),
        deed: Set(entry.deed.clone()),
        thing: Set(entry.thing.clone()),
        thing_id: Set(entry.thing_id),
        network: Set(entry.network.clone()),
    };
    audit::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

/// Entries of a program, the newest first: so many, those before one if it is named.
pub async fn of_program(
    db: &impl ConnectionTrait,
    program: ProgramId,
    before: Option<Uuid>,
    most: u64,
) -> Result<Vec<Entry>, StoreError> {
    let mut query = audit::Entity::find().filter(audit::Column::ProgramId.eq(program.uuid()));
    if let Some(before) = before {
        // By moment and id: an entry of a moment comes before another of the same moment with a smaller id.
        query = query.filter(Expr::cust_with_values(
            "(at, entry_id) < (select b.at, b.entry_id from audit b where b.program_id = $1 and b.entry_id = $2)",
            [program.uuid(), before],
        ));
    }
    let newest = query.order_by_desc(audit::Column::At).order_by_desc(audit::Column::EntryId).limit(most);
    let rows = newest.all(db).await?;
    let entry = |row: audit::Model| Entry {
        id: row.entry_id,
        at: row.at,
        by: row.account_id.map(Into::into),
        deed: row.deed,
        thing: row.thing,
        thing_id: row.thing_id,
        network: row.network,
    };
    Ok(rows.into_iter().map(entry).collect())
}

/// Clears entries from before a moment; to be called in a transaction. Answers how many.
pub async fn clear_before(
    db: &impl ConnectionTrait,
    program: ProgramId,
    before: DateTime<Utc>,
) -> Result<u64, StoreError> {
    announce(db, "bright_row.clearing", program.uuid()).await?;
    let done = audit::Entity::delete_many()
        .filter(audit::Column::ProgramId.eq(program.uuid()))
        .filter(audit::Column::At.lt(before))
        .exec(db)
        .await?;
    Ok(done.rows_affected)
}
