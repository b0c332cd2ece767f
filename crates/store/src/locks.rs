//! Who waits for whom in a program.
//!
//! Standings follow from observations, and from what is set: who is in which class, who has which instrument, how a class
//! looks at things. Whoever adds observations shares a program with others who do, child by child one after the other;
//! whoever changes what is set has the program alone. So what an addition reads of settings, members and holders cannot change
//! before its transaction ends.
//!
//! Locks come first, and reads in statements after them: PostgreSQL shows a statement what was committed when it began, and a
//! statement that waited for a lock began before.

use std::collections::BTreeSet;

use bright_row_core::{ChildId, ProgramId};
use sea_orm::{ConnectionTrait, Statement};
use uuid::Uuid;

use crate::error::StoreError;

/// How a transaction has a program until it ends.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Hold {
    /// Together with others who add to it.
    Shared,
    /// Alone.
    Alone,
}

/// Waits until the transaction has a program so; its first statement. Whoever has it alone may change what is set in it: what was kept
/// of that is asked for anew afterwards (`settled`).
pub async fn hold(db: &impl ConnectionTrait, program: ProgramId, hold: Hold) -> Result<(), StoreError> {
    let sql = match hold {
        Hold::Shared => "select pg_advisory_xact_lock_shared(hashtextextended($1, 1))",
        Hold::Alone => "select pg_advisory_xact_lock(hashtextextended($1, 1))",
    };
    let values = [program.uuid().to_string().into()];
    db.query_one_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    if hold == Hold::Alone {
        let sql = "update program set settled = gen_random_uuid() where program_id = $1";
        db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, [program.uuid().into()])).await?;
    }
    Ok(())
}

/// Waits until the transaction has a program together with others ([`Hold::Shared`]), and then until nobody else adds observations
/// of these children of it. In the order of their ids, so that two transactions never wait for each other in a circle.
pub(crate) async fn hold_children(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
) -> Result<(), StoreError> {
    // The program's lock is a row of its own, which is there before the first child's.
    const SQL: &str = "
        with held as materialized (select pg_advisory_xact_lock_shared(hashtextextended($1, 1)))
        select count(pg_advisory_xact_lock(hashtextextended(child_id::text, 0)))
        from held, (select child_id from unnest($2::uuid[]) as given (child_id) order by child_id offset 0) as ordered";
    let ids: Vec<Uuid> = children.iter().map(|child| child.uuid()).collect();
    let values = [program.uuid().to_string().into(), ids.into()];
    db.query_one_raw(Statement::from_sql_and_values(db.get_database_backend(), SQL, values)).await?;
    Ok(())
}
