//! What is append-only is touched by a few deeds only, and each says beforehand what it does and to whom: the triggers want to
//! hear it.

use sea_orm::{ConnectionTrait, Statement};
use uuid::Uuid;

use crate::error::StoreError;

/// Says what the transaction does, until it ends.
pub(crate) async fn announce(db: &impl ConnectionTrait, what: &str, id: Uuid) -> Result<(), StoreError> {
    let values = [what.into(), id.to_string().into()];
    let sql = "select set_config($1, $2, true)";
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    Ok(())
}
