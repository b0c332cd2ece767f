//! The whole database as rows of JSON, and back: what a backup holds.

use sea_orm::{
    AccessMode, ConnectionTrait, DatabaseConnection, DatabaseTransaction, FromQueryResult, IsolationLevel, Statement,
    TransactionTrait,
};

use crate::error::StoreError;
use crate::tables::{self, Table};

/// Rows read or written at once.
const BATCH: usize = 2_000;
/// What only matters while the server runs: who is signed in, tries, links under way, what was noted of backups.
pub(crate) const NOT_COPIED: [&str; 5] =
    ["web_session", "sign_in_pause", "password_link", "known_device", "backup_note"];

#[derive(FromQueryResult)]
struct Text {
    text: String,
}

async fn texts(db: &impl ConnectionTrait, sql: &str) -> Result<Vec<String>, StoreError> {
    let rows = Text::find_by_statement(Statement::from_string(db.get_database_backend(), sql)).all(db).await?;
    Ok(rows.into_iter().map(|row| row.text).collect())
}

/// The migrations that a database has had, in order.
pub async fn migrations(db: &impl ConnectionTrait) -> Result<Vec<String>, StoreError> {
    texts(db, "select version::text as text from seaql_migrations order by version").await
}

/// The tables that are copied, those that are referred to first.
pub async fn copied(db: &impl ConnectionTrait) -> Result<Vec<Table>, StoreError> {
    let all = tables::all(db).await?;
    Ok(all.into_iter().filter(|table| !NOT_COPIED.contains(&table.name.as_str())).collect())
}

/// Hands every row of every table to `take`, by table, as it was at one moment however long it takes.
///
/// # Errors
/// [`StoreError`], or what `take` fails with.
pub async fn dump<E: From<StoreError>>(
    db: &DatabaseConnection,
    mut take: impl FnMut(&str, &str) -> Result<(), E> + Send,
) -> Result<(), E> {
    let tx = at_one_moment(db).await?;
    for table in copied(&tx).await? {
        each_row(&tx, &table, "to_jsonb(t)", "true", &mut |row| take(&table.name, row)).await?;
    }
    tx.commit().await.map_err(|error| E::from(error.into()))?;
    Ok(())
}

/// A transaction that sees everything as it is at this moment, and changes nothing.
pub(crate) async fn at_one_moment(db: &DatabaseConnection) -> Result<DatabaseTransaction, StoreError> {
    Ok(db.begin_with_config(Some(IsolationLevel::RepeatableRead), Some(AccessMode::ReadOnly)).await?)
}

/// Hands rows of a table `t` to `take`, each as the text of a JSON value, in the order of its key and some at a time. `row` and
/// `condition` are SQL made by this crate, never of what comes in.
pub(crate) async fn each_row<E: From<StoreError>>(
    tx: &DatabaseTransaction,
    table: &Table,
    row: &str,
    condition: &str,
    take: &mut (impl FnMut(&str) -> Result<(), E> + Send),
) -> Result<(), E> {
    let key: Vec<String> = table.key.iter().map(|column| format!("t.\"{column}\"")).collect();
    let cursor = format!(
        "declare rows no scroll cursor for select ({row})::text as text from \"{}\" t where {condition} order by {}",
        table.name,
        key.join(", ")
    );
    tx.execute_unprepared(&cursor).await.map_err(|error| E::from(error.into()))?;
    loop {
        let rows = texts(tx, &format!("fetch {BATCH} from rows")).await?;
        for row in &rows {
            take(row)?;
        }
        if rows.len() < BATCH {
            break;
        }
    }
    tx.execute_unprepared("close rows").await.map_err(|error| E::from(error.into()))?;
    Ok(())
}

/// Inserts rows of a table, each a JSON object of its columns; to be called in a transaction, table by table in the order of
/// [`copied`].
pub async fn insert(db: &impl ConnectionTrait, table: &Table, rows: &[String]) -> Result<(), StoreError> {
    for rows in rows.chunks(BATCH) {
        // Names of tables come from the database itself.
        let sql = format!(
            "insert into \"{0}\" select r.* from unnest($1::text[]) as given (row),
             jsonb_populate_record(null::\"{0}\", given.row::jsonb) as r",
            table.name
        );
        let values = [rows.to_vec().into()];
        db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    }
    Ok(())
}

/// Whether a database that was migrated holds anything yet.
pub async fn is_empty(db: &impl ConnectionTrait) -> Result<bool, StoreError> {
    Ok(texts(db, "select 'some' as text where exists (select from program) or exists (select from account)")
        .await?
        .is_empty())
}
