//! Connecting, migrating, and refusing a schema that is not this build's.

use std::collections::BTreeSet;
use std::time::{Duration, Instant};

use sea_orm::{ConnectOptions, ConnectionTrait, Database, DatabaseConnection, FromQueryResult, Statement};
use sea_orm_migration::MigratorTrait;
use sqlx::postgres::{PgConnectOptions, PgSslMode};

use crate::entity::expected_columns;
use crate::error::StoreError;
use crate::migration::Migrator;

/// How many connections one server process keeps at most for what pages ask.
pub const MAX_CONNECTIONS: u32 = 10;
/// How many it keeps at most for sessions: who is signed in is known however busy the others are.
pub const MAX_SESSION_CONNECTIONS: u32 = 3;
/// How long a request waits for a connection before it is asked to come again.
const WAITS_FOR_CONNECTION: Duration = Duration::from_secs(5);
/// A database that starts beside the server, or on a machine that is busy with starting everything, is asked for so long.
const WAITS_FOR_START: Duration = Duration::from_secs(15);
const ASKS_AGAIN_AFTER: Duration = Duration::from_millis(200);
/// How long one statement may take, one may wait for a lock, and a transaction may stand idle. Maintenance takes its time.
const TIMEOUTS: [(&str, &str); 3] =
    [("statement_timeout", "15s"), ("lock_timeout", "5s"), ("idle_in_transaction_session_timeout", "10s")];

/// A connection that stood idle for so long is tried before it is used: the database may have been started anew meanwhile.
const TRIED_AFTER: Duration = Duration::from_secs(2);

fn options(url: &str, connections: u32) -> Result<ConnectOptions, StoreError> {
    check_address(url)?;
    let mut options = ConnectOptions::new(url);
    options
        .max_connections(connections)
        .connect_timeout(Duration::from_secs(5))
        .acquire_timeout(WAITS_FOR_CONNECTION)
        .test_before_acquire_if_idle_for(TRIED_AFTER)
        .sqlx_logging(false);
    Ok(options)
}

/// Refuses an address that cannot be read, and one by which children's data would cross a network in clear without anybody having
/// said so: another machine is reached with `sslmode=verify-full` (or `verify-ca`, `require`), or with `sslmode=disable` in so
/// many words.
///
/// # Errors
/// [`StoreError::Address`].
pub fn check_address(url: &str) -> Result<(), StoreError> {
    let options: PgConnectOptions = url.parse().map_err(|_| StoreError::Address("it cannot be read"))?;
    match options.get_ssl_mode() {
        PgSslMode::Allow | PgSslMode::Prefer if !leads_here(&options) => {
            Err(StoreError::Address("it leads to another machine and does not say how: add sslmode=verify-full to it"))
        }
        _ => Ok(()),
    }
}

fn leads_here(options: &PgConnectOptions) -> bool {
    let host = options.get_host();
    options.get_socket().is_some()
        || host == "localhost"
        || host.starts_with('/')
        || host.trim_matches(['[', ']']).parse().is_ok_and(|address: std::net::IpAddr| address.is_loopback())
}

/// Whether an address leads to a database on this machine.
#[must_use]
pub fn is_here(url: &str) -> bool {
    url.parse().is_ok_and(|options| leads_here(&options))
}

/// Connections of a pool.
#[derive(Clone, Copy, Debug)]
pub struct Pool {
    /// All of them.
    pub open: u32,
    /// Those that nobody uses.
    pub idle: u32,
}

/// How many connections a pool has.
#[must_use]
pub fn pool(db: &DatabaseConnection) -> Pool {
    let pool = db.get_postgres_connection_pool();
    Pool { open: pool.size(), idle: u32::try_from(pool.num_idle()).unwrap_or(u32::MAX) }
}

async fn serving(url: &str, connections: u32) -> Result<DatabaseConnection, StoreError> {
    let mut options = options(url, connections)?;
    options.map_sqlx_postgres_opts(|postgres| postgres.options(TIMEOUTS));
    let since = Instant::now();
    loop {
        match Database::connect(options.clone()).await.map_err(StoreError::from) {
            Err(StoreError::Busy(_) | StoreError::Unavailable(_)) if since.elapsed() < WAITS_FOR_START => {
                tracing::warn!("the database does not answer yet: asking again");
                tokio::time::sleep(ASKS_AGAIN_AFTER).await;
            }
            answer => return answer,
        }
    }
}

/// Opens the pool of connections for what pages ask.
pub async fn connect(url: &str) -> Result<DatabaseConnection, StoreError> {
    serving(url, MAX_CONNECTIONS).await
}

/// Opens the small pool for sessions.
pub async fn connect_for_sessions(url: &str) -> Result<DatabaseConnection, StoreError> {
    serving(url, MAX_SESSION_CONNECTIONS).await
}

/// Opens a pool of one connection, for hearing notices.
pub async fn connect_for_notices(url: &str) -> Result<DatabaseConnection, StoreError> {
    serving(url, 1).await
}

/// Opens a pool for work on the whole database, which takes as long as it takes.
pub async fn maintain(url: &str) -> Result<DatabaseConnection, StoreError> {
    Ok(Database::connect(options(url, 2)?).await?)
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn another_machine_is_reached_by_tls_or_by_somebodys_word() {
        for (allowed, url) in [
            (true, "postgres://a:b@127.0.0.1:5432/c"),
            (true, "postgres://a:b@[::1]:5432/c?sslmode=prefer"),
            (true, "postgres://a:b@localhost/c"),
            (true, "postgres:///c?host=/run/postgresql"),
            (true, "postgres://a:b@db.school.example/c?sslmode=verify-full"),
            (true, "postgres://a:b@db.school.example/c?sslmode=require"),
            (true, "postgres://a:b@db.school.example/c?sslmode=disable"),
            (false, "postgres://a:b@db.school.example/c"),
            (false, "postgres://a:b@db.school.example/c?sslmode=prefer"),
            (false, "postgres://a:b@10.0.0.1/c?sslmode=allow"),
            (false, "db.school.example"),
            (false, ""),
            (false, "postgres://a:b@h/c?sslmode=%00"),
        ] {
            assert_eq!(check_address(url).is_ok(), allowed, "{url}");
        }
    }
}
