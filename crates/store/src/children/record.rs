//! Everything that is kept about one child, as rows of JSON: asked of the database itself, so that no table is forgotten.

use std::collections::BTreeMap;

use bright_row_core::{ChildId, ProgramId};
use sea_orm::{ConnectionTrait, FromQueryResult, Statement};
use serde_json::Value;

use crate::error::StoreError;
use crate::tables;

/// By table, the rows that name the child, in the order of their keys.
pub type Rows = BTreeMap<String, Vec<Value>>;

#[derive(FromQueryResult)]
struct Row {
    row: Value,
}

/// Reads every row of every table that names the child. Left out: the program's id, and which grown-up did it. Loans say which
/// instrument, visits of rounds say what happened and when.
///
/// # Errors
/// [`StoreError`].
pub async fn of_child(db: &impl ConnectionTrait, program: ProgramId, child: ChildId) -> Result<Rows, StoreError> {
    let grown_ups = tables::account_columns(db).await?;
    let mut rows = Rows::new();
    for table in tables::all(db).await? {
        if !table.of_program || !table.columns.iter().any(|column| column == "child_id") {
            continue;
        }
        let key: Vec<String> = table.key.iter().map(|column| format!("t.\"{column}\"")).collect();
        let more = match table.name.as_str() {
            "loan" => {
                " || (select jsonb_build_object('tag', a.tag, 'instrument', a.instrument, 'size', a.size) from asset a
                where a.program_id = t.program_id and a.asset_id = t.asset_id)"
            }
            "round_event_child" => {
                " || (select jsonb_build_object('kind', e.kind, 'happened_at', e.happened_at) from round_event e
                where e.program_id = t.program_id and e.event_id = t.event_id)"
            }
            _ => "",
        };
        // Names of tables and columns come from the database itself.
        let sql = format!(
            "select (to_jsonb(t) - $3::text[]){more} as row from \"{}\" t where t.program_id = $1 and t.child_id = $2 order by {}",
            table.name,
            key.join(", ")
        );
        let mut left_out = grown_ups.get(&table.name).cloned().unwrap_or_default();
        left_out.push("program_id".to_owned());
        let values = [program.uuid().into(), child.uuid().into(), left_out.into()];
        let found = Row::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
        rows.insert(table.name, found.all(db).await?.into_iter().map(|found| found.row).collect());
    }
    Ok(rows)
}
