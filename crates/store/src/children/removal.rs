//! Removing everything that is kept about a child.

use crate::classes::ClassKey;
use crate::error::StoreError;
use bright_row_core::ChildId;
use sea_orm::ConnectionTrait;
use sea_orm::Statement;

/// Every table that names a child, those that refer to others first.
const TABLES_OF_A_CHILD: [&str; 14] = [
    "round_event_child",
    "roster_change",
    "setup_found",
    "measuring",
    "loan",
    "seat",
    "standing",
    "accommodation",
    "child_choice",
    "stage_opened",
    "pain_answer",
    "observation",
    "played",
    "child",
];

/// Removes everything that is kept about a child, in every table; to be called in a transaction.
pub async fn remove(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<(), StoreError> {
    // Observations are append-only but for this: the trigger wants to hear whose are meant.
    let backend = db.get_database_backend();
    let naming = "select set_config('bright_row.removing_child', $1, true)";
    db.execute_raw(Statement::from_sql_and_values(backend, naming, [child.uuid().to_string().into()])).await?;
    for table in TABLES_OF_A_CHILD {
        let sql = format!("delete from {table} where program_id = $1 and child_id = $2");
        let values = [class.program.uuid().into(), child.uuid().into()];
        db.execute_raw(Statement::from_sql_and_values(backend, sql, values)).await?;
    }
    Ok(())
}
