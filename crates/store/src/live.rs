//! Who hears of a change: `NOTIFY` to every server process beside this database.
//!
//! A notice says which class changed, and nothing about anybody. It is sent after the change is stored, in a statement
//! of its own: a notice inside the transaction would make every write of the whole server wait its turn, since
//! PostgreSQL commits transactions with a notice one after the other. The price: a process that dies in between stores
//! a change without a notice; pages catch up with their next regular reading.

use std::collections::BTreeSet;

use bright_row_core::ClassId;
use sea_orm::sqlx::postgres::PgListener;
use sea_orm::{ConnectionTrait, DatabaseConnection, Statement};
use uuid::Uuid;

use crate::error::StoreError;

const CHANNEL: &str = "bright_row_class";

/// Tells every process that these classes changed.
pub async fn tell(db: &impl ConnectionTrait, classes: &BTreeSet<ClassId>) -> Result<(), StoreError> {
    const SQL: &str = "select pg_notify($1, id::text) from unnest($2::uuid[]) as id";
    let ids: Vec<Uuid> = classes.iter().map(|class| class.uuid()).collect();
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), SQL, [CHANNEL.into(), ids.into()]))
        .await?;
    Ok(())
}

/// One connection that hears every notice.
pub struct Listener(PgListener);

/// What a [`Listener`] heard.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Heard {
    /// This class changed.
    Changed(ClassId),
    /// The connection was lost and is back: anything may have changed meanwhile.
    Gap,
}

impl Listener {
    /// Begins to listen.
    pub async fn begin(db: &DatabaseConnection) -> Result<Self, StoreError> {
        let mut listener = PgListener::connect_with(db.get_postgres_connection_pool()).await?;
        listener.listen(CHANNEL).await?;
        Ok(Self(listener))
    }

    /// Waits for the next notice.
    pub async fn hear(&mut self) -> Result<Heard, StoreError> {
        loop {
            // `try_recv` answers `None` when the connection broke; the next call opens it again.
            let Some(notice) = self.0.try_recv().await? else { return Ok(Heard::Gap) };
            if let Ok(id) = notice.payload().parse::<Uuid>() {
                return Ok(Heard::Changed(id.into()));
            }
        }
    }
}
