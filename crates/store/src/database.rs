//! Connecting, migrating, and refusing a schema that is not this build's.

use std::collections::BTreeSet;
use std::time::Duration;

use sea_orm::{ConnectOptions, ConnectionTrait, Database, DatabaseConnection, FromQueryResult, Statement};
use sea_orm_migration::MigratorTrait;

use crate::entity::expected_columns;
use crate::error::StoreError;
use crate::migration::Migrator;

/// How many connections one server process keeps at most for what pages ask.
pub const MAX_CONNECTIONS: u32 = 10;
/// How many it keeps at most for sessions: who is signed in is known however busy the others are.
pub const MAX_SESSION_CONNECTIONS: u32 = 3;
/// How long a request waits for a connection before it is asked to come again.
const WAITS_FOR_CONNECTION: Duration = Duration::from_secs(5);
/// How long one statement may take, one may wait for a lock, and a transaction may stand idle. Maintenance takes its time.
const TIMEOUTS: [(&str, &str); 3] =
    [("statement_timeout", "15s"), ("lock_timeout", "5s"), ("idle_in_transaction_session_timeout", "10s")];

fn options(url: &str, connections: u32) -> ConnectOptions {
    let mut options = ConnectOptions::new(url);
    options
        .max_connections(connections)
        .connect_timeout(Duration::from_secs(5))
        .acquire_timeout(WAITS_FOR_CONNECTION)
        .test_before_acquire(false)
        .sqlx_logging(false);
    options
}

async fn serving(url: &str, connections: u32) -> Result<DatabaseConnection, StoreError> {
    let mut options = options(url, connections);
    options.map_sqlx_postgres_opts(|postgres| postgres.options(TIMEOUTS));
    Ok(Database::connect(options).await?)
}

/// Opens the pool of connections for what pages ask.
pub async fn connect(url: &str) -> Result<DatabaseConnection, StoreError> {
    serving(url, MAX_CONNECTIONS).await
}

/// Opens the small pool for sessions.
pub async fn connect_for_sessions(url: &str) -> Result<DatabaseConnection, StoreError> {
    serving(url, MAX_SESSION_CONNECTIONS).await
}

/// Opens a pool for work on the whole database, which takes as long as it takes.
pub async fn maintain(url: &str) -> Result<DatabaseConnection, StoreError> {
    Ok(Database::connect(options(url, 2)).await?)
}

/// Whether the database answers at all.
pub async fn ping(db: &DatabaseConnection) -> Result<(), StoreError> {
    db.execute_unprepared("select 1").await?;
    Ok(())
}

/// How the schema that was found compares with the one this build knows.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Schema {
    /// No table at all.
    Empty,
    /// This build's.
    Current,
    /// Some migrations are still to be run.
    Behind,
    /// Made by a newer build: it has migrations that this one does not know.
    Newer(Vec<String>),
    /// Not this application's, or changed by hand.
    Foreign(String),
}

/// Looks at the schema without changing it.
pub async fn schema(db: &DatabaseConnection) -> Result<Schema, StoreError> {
    let found = columns(db).await?;
    if found.is_empty() {
        return Ok(Schema::Empty);
    }
    if !found.iter().any(|(table, _)| table == "seaql_migrations") {
        return Ok(Schema::Foreign("it holds tables of something else".to_owned()));
    }
    let applied: BTreeSet<String> = applied(db).await?.into_iter().collect();
    let known: BTreeSet<String> = Migrator::migrations().iter().map(|m| m.name().to_owned()).collect();
    let newer: Vec<String> = applied.difference(&known).cloned().collect();
    if !newer.is_empty() {
        return Ok(Schema::Newer(newer));
    }
    if applied.len() < known.len() {
        return Ok(Schema::Behind);
    }
    match expected_columns().into_iter().find(|column| !found.contains(column)) {
        Some((table, column)) => Ok(Schema::Foreign(format!("the column {table}.{column} is missing"))),
        None => Ok(Schema::Current),
    }
}

/// Brings an empty or older schema up to date; the caller has refused any other with [`schema`].
pub async fn migrate(db: &DatabaseConnection) -> Result<(), StoreError> {
    Ok(Migrator::up(db, None).await?)
}

#[derive(FromQueryResult)]
struct Column {
    table_name: String,
    column_name: String,
}

async fn columns(db: &DatabaseConnection) -> Result<BTreeSet<(String, String)>, StoreError> {
    let sql = "select table_name::text, column_name::text from information_schema.columns \
               where table_schema = current_schema()";
    let rows = Column::find_by_statement(Statement::from_string(db.get_database_backend(), sql)).all(db).await?;
    Ok(rows.into_iter().map(|row| (row.table_name, row.column_name)).collect())
}

#[derive(FromQueryResult)]
struct Applied {
    version: String,
}

async fn applied(db: &DatabaseConnection) -> Result<Vec<String>, StoreError> {
    let sql = "select version::text from seaql_migrations";
    let rows = Applied::find_by_statement(Statement::from_string(db.get_database_backend(), sql)).all(db).await?;
    Ok(rows.into_iter().map(|row| row.version).collect())
}
