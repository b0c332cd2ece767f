//! What can be asked of the database about itself.

use chrono::{DateTime, Utc};
use sea_orm::{ConnectionTrait, FromQueryResult, Statement};

use crate::error::StoreError;

/// What the application's role may do.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DatabaseRole {
    /// Everything in every database of the server.
    Superuser,
    /// Make databases or roles, or copy the whole server.
    MayMore,
    /// It does not own every table of its schema.
    OwnsLess,
    /// What it should: it owns its schema.
    Owner,
}

#[derive(FromQueryResult)]
struct Row {
    version: i32,
    tls: bool,
    role: String,
    clock: DateTime<Utc>,
    bytes: i64,
}

/// How the database is, and what the application's role may do in it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Health {
    /// PostgreSQL's version as a number: 150018 is 15.18.
    pub version: i32,
    /// The connection is encrypted.
    pub tls: bool,
    /// What the application's role may do.
    pub role: DatabaseRole,
    /// What the database's clock says.
    pub clock: DateTime<Utc>,
    /// How large the database is, in bytes.
    pub bytes: i64,
}

/// Asks the database how it is.
///
/// # Errors
/// [`StoreError`].
pub async fn health(db: &impl ConnectionTrait) -> Result<Health, StoreError> {
    const SQL: &str = "
        select current_setting('server_version_num')::int as version,
          coalesce((select ssl from pg_stat_ssl where pid = pg_backend_pid()), false) as tls,
          case when r.rolsuper then 'superuser'
            when r.rolcreatedb or r.rolcreaterole or r.rolreplication or r.rolbypassrls then 'more'
            when exists (select from pg_class c where c.relnamespace = current_schema()::regnamespace
              and c.relkind = 'r' and c.relowner <> r.oid) then 'less'
            else 'owner' end as role,
          clock_timestamp() as clock, pg_database_size(current_database()) as bytes
        from pg_roles r where r.rolname = current_user";
    let row = Row::find_by_statement(Statement::from_string(db.get_database_backend(), SQL)).one(db).await?;
    let row = row.ok_or(StoreError::Unreadable { what: "role", value: String::new() })?;
    let role = match row.role.as_str() {
        "superuser" => DatabaseRole::Superuser,
        "more" => DatabaseRole::MayMore,
        "less" => DatabaseRole::OwnsLess,
        _ => DatabaseRole::Owner,
    };
    Ok(Health { version: row.version, tls: row.tls, role, clock: row.clock, bytes: row.bytes })
}
