//! Every table there is, in an order in which each comes after those that it refers to. Asked of the database itself, so that no
//! list has to be kept true.

use std::collections::{BTreeMap, BTreeSet};

use sea_orm::{ConnectionTrait, FromQueryResult, Statement};

use crate::error::StoreError;

/// The table in which the database notes its migrations.
pub const MIGRATIONS: &str = "seaql_migrations";

/// A table.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Table {
    /// Its name.
    pub name: String,
    /// Its rows belong to a program.
    pub of_program: bool,
    /// Its columns, in order.
    pub columns: Vec<String>,
    /// The columns of its key, in order.
    pub key: Vec<String>,
}

#[derive(FromQueryResult)]
struct Row {
    name: String,
    columns: Vec<String>,
    key: Vec<String>,
    refers_to: Vec<String>,
}

/// Every table of the application, those that are referred to first.
pub async fn all(db: &impl ConnectionTrait) -> Result<Vec<Table>, StoreError> {
    const SQL: &str = "
        select c.relname::text as name,
          array(select a.attname::text from pg_attribute a
                where a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped order by a.attnum) as columns,
          array(select a.attname::text from pg_index i join pg_attribute a on a.attrelid = c.oid and a.attnum = any(i.indkey)
                where i.indrelid = c.oid and i.indisprimary order by array_position(i.indkey::int2[], a.attnum)) as key,
          array(select distinct o.relname::text from pg_constraint f join pg_class o on o.oid = f.confrelid
                where f.conrelid = c.oid and f.contype = 'f' and f.confrelid <> c.oid) as refers_to
        from pg_class c join pg_namespace n on n.oid = c.relnamespace
        where n.nspname = current_schema() and c.relkind = 'r' and c.relname <> $1
        order by c.relname";
    let statement = Statement::from_sql_and_values(db.get_database_backend(), SQL, [MIGRATIONS.into()]);
    let rows = Row::find_by_statement(statement).all(db).await?;
    Ok(in_order(rows))
}

fn in_order(rows: Vec<Row>) -> Vec<Table> {
    let mut waiting: BTreeMap<String, Row> = rows.into_iter().map(|row| (row.name.clone(), row)).collect();
    let mut done: BTreeSet<String> = BTreeSet::new();
    let mut tables = Vec::new();
    while !waiting.is_empty() {
        let ready = |row: &&Row| row.refers_to.iter().all(|other| done.contains(other));
        // Tables that refer to each other in a circle would never be ready: the first is taken as it is.
        let next = waiting.values().find(ready).or(waiting.values().next()).map(|row| row.name.clone());
        let Some(row) = next.and_then(|name| waiting.remove(&name)) else { break };
        done.insert(row.name.clone());
        let of_program = row.columns.iter().any(|column| column == "program_id");
        tables.push(Table { name: row.name, of_program, columns: row.columns, key: row.key });
    }
    tables
}

#[derive(FromQueryResult)]
struct Names {
    name: String,
    columns: Vec<String>,
}

/// By table, the columns that name an account.
pub async fn account_columns(db: &impl ConnectionTrait) -> Result<BTreeMap<String, Vec<String>>, StoreError> {
    const SQL: &str = "
        select c.relname::text as name, array_agg(a.attname::text order by a.attnum) as columns
        from pg_constraint f join pg_class c on c.oid = f.conrelid join pg_attribute a on a.attrelid = c.oid and a.attnum = any(f.conkey)
        where f.contype = 'f' and f.confrelid = 'account'::regclass group by 1";
    let found = Names::find_by_statement(Statement::from_string(db.get_database_backend(), SQL)).all(db).await?;
    Ok(found.into_iter().map(|found| (found.name, found.columns)).collect())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_table_comes_after_those_it_refers_to_and_a_circle_ends() {
        let row = |name: &str, refers_to: &[&str]| Row {
            name: name.to_owned(),
            columns: vec!["program_id".to_owned()],
            key: Vec::new(),
            refers_to: refers_to.iter().map(|other| (*other).to_owned()).collect(),
        };
        let names = |rows| in_order(rows).into_iter().map(|table| table.name).collect::<Vec<_>>().join(" ");
        assert_eq!(names(vec![row("a", &["b"]), row("b", &["c"]), row("c", &[])]), "c b a");
        assert_eq!(names(vec![row("a", &["b"]), row("b", &["a"])]), "a b");
    }
}
