//! What can go wrong between the application and its database.

use sea_orm::{ConnAcquireErr, DbErr, RuntimeErr, SqlErr, sqlx};

/// One error for the whole crate.
#[derive(Clone, Debug, thiserror::Error)]
pub enum StoreError {
    /// Something with this key is there already.
    #[error("already there")]
    Conflict,
    /// Something it refers to is not there, or still needed.
    #[error("refers to something that is not there")]
    Reference,
    /// A row that this build cannot read; the database was changed by hand or by another build.
    #[error("a stored {what} cannot be read: {value}")]
    Unreadable {
        /// Which kind of value.
        what: &'static str,
        /// The value found.
        value: String,
    },
    /// The database's address cannot be used.
    #[error("the address cannot be used: {0}")]
    Address(&'static str),
    /// The disk of the database is full.
    #[error("the database's disk is full")]
    DiskFull,
    /// The database undid the transaction because of another one: the same again may well go through.
    #[error("another transaction came in between")]
    TryAgain(#[source] DbErr),
    /// No connection was free in time, or a statement took or waited too long.
    #[error("the database is busy")]
    Busy(#[source] DbErr),
    /// The database does not answer.
    #[error("the database does not answer")]
    Unavailable(#[source] DbErr),
    /// Anything else.
    #[error("the database refused")]
    Database(#[source] DbErr),
}

impl StoreError {
    /// Whether it is the database that fails, whatever it was asked.
    #[must_use]
    pub const fn is_the_databases(&self) -> bool {
        matches!(self, Self::DiskFull | Self::Busy(_) | Self::Unavailable(_))
    }
}

impl From<DbErr> for StoreError {
    fn from(error: DbErr) -> Self {
        match error.sql_err() {
            Some(SqlErr::UniqueConstraintViolation(_)) => return Self::Conflict,
            Some(SqlErr::ForeignKeyConstraintViolation(_)) => return Self::Reference,
            _ => {}
        }
        let code = match &error {
            DbErr::Conn(RuntimeErr::SqlxError(cause))
            | DbErr::Exec(RuntimeErr::SqlxError(cause))
            | DbErr::Query(RuntimeErr::SqlxError(cause)) => match cause.as_ref() {
                sqlx::Error::PoolTimedOut => return Self::Busy(error),
                sqlx::Error::Io(_) | sqlx::Error::PoolClosed => return Self::Unavailable(error),
                sqlx::Error::Database(database) => database.code().map(std::borrow::Cow::into_owned),
                _ => None,
            },
            DbErr::ConnectionAcquire(ConnAcquireErr::Timeout) => return Self::Busy(error),
            DbErr::ConnectionAcquire(ConnAcquireErr::ConnectionClosed) => return Self::Unavailable(error),
            _ => None,
        };
        match code.as_deref() {
            // disk_full
            Some("53100") => Self::DiskFull,
            // serialization_failure, deadlock_detected
            Some("40001" | "40P01") => Self::TryAgain(error),
            // lock_not_available, query_canceled (by a timeout), idle_in_transaction_session_timeout, too_many_connections
            Some("55P03" | "57014" | "25P03" | "53300") => Self::Busy(error),
            // Class 08: connection exceptions; class 57P: shutting down or starting up.
            Some(code) if code.starts_with("08") || code.starts_with("57P") => Self::Unavailable(error),
            _ => Self::Database(error),
        }
    }
}

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> Self {
        DbErr::Query(RuntimeErr::SqlxError(error.into())).into()
    }
}
