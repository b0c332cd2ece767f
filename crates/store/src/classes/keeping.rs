//! A class renamed, archived and ended, and a program ended: everything of it goes.

use bright_row_core::ProgramId;
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, Statement, Value};

use crate::announced::announce;
use crate::children::removal;
use crate::classes::{ClassKey, calendar_address};
use crate::entity::{child, class};
use crate::error::StoreError;
use crate::tables;

async fn set(db: &impl ConnectionTrait, key: ClassKey, change: class::ActiveModel) -> Result<(), StoreError> {
    class::Entity::update_many()
        .set(change)
        .filter(class::Column::ProgramId.eq(key.program.uuid()))
        .filter(class::Column::ClassId.eq(key.class.uuid()))
        .exec(db)
        .await?;
    Ok(())
}

/// Gives a class another name.
pub async fn rename(db: &impl ConnectionTrait, key: ClassKey, name: &str) -> Result<(), StoreError> {
    set(db, key, class::ActiveModel { name: Set(name.to_owned()), ..Default::default() }).await
}

/// Archives a class, or opens it again with `None`. An archived class has no address for its calendar.
pub async fn archive(db: &impl ConnectionTrait, key: ClassKey, at: Option<DateTime<Utc>>) -> Result<(), StoreError> {
    if at.is_some() {
        calendar_address::end(db, key).await?;
    }
    set(db, key, class::ActiveModel { archived_at: Set(at), ..Default::default() }).await
}

async fn run(db: &impl ConnectionTrait, sql: &str, values: impl IntoIterator<Item = Value>) -> Result<(), StoreError> {
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    Ok(())
}

/// What belongs to a class itself, those that refer to others first.
const TABLES_OF_A_CLASS: [&str; 12] = [
    "round_event",
    "small_group",
    "roster_import",
    "seat",
    "lesson",
    "short_day",
    "day_off",
    "class_choice",
    "class_member",
    "invitation_class",
    "calendar_address",
    "class",
];

/// Removes a class with its children and everything that is kept about them; to be called in a transaction that has the
/// program alone. Instruments are the program's and stay; so do children who moved to another class, with what was seen of them.
pub async fn delete(db: &impl ConnectionTrait, key: ClassKey) -> Result<(), StoreError> {
    let ids = || [Value::from(key.program.uuid()), Value::from(key.class.uuid())];
    announce(db, "bright_row.removing_class", key.class.uuid()).await?;
    let children = child::Entity::find()
        .filter(child::Column::ProgramId.eq(key.program.uuid()))
        .filter(child::Column::ClassId.eq(key.class.uuid()))
        .all(db)
        .await?;
    for child in children {
        removal::remove(db, key, child.child_id.into()).await?;
    }
    for sql in [
        "delete from round_event_child where program_id = $1 and event_id in
           (select event_id from round_event where program_id = $1 and class_id = $2)",
        "delete from small_group_child where program_id = $1 and group_id in
           (select group_id from small_group where program_id = $1 and class_id = $2)",
        "delete from roster_change where program_id = $1 and import_id in
           (select import_id from roster_import where program_id = $1 and class_id = $2)",
        "update observation o set class_id = c.class_id from child c
           where o.program_id = $1 and o.class_id = $2 and c.program_id = $1 and c.child_id = o.child_id",
        "update family_answer f set class_id = c.class_id from child c
           where f.program_id = $1 and f.class_id = $2 and c.program_id = $1 and c.child_id = f.child_id",
    ] {
        run(db, sql, ids()).await?;
    }
    for table in TABLES_OF_A_CLASS {
        run(db, &format!("delete from {table} where program_id = $1 and class_id = $2"), ids()).await?;
    }
    Ok(())
}

/// Accounts of people who belong to no program any more and are named by none.
const ALONE: &str = "
    delete from account a where not demo
      and not exists (select from membership m where m.account_id = a.account_id)
      and not exists (select from observation o where o.observer = a.account_id)
      and not exists (select from round_event e where e.account_id = a.account_id)
      and not exists (select from tape_event t where t.account_id = a.account_id)
      and not exists (select from audit d where d.account_id = a.account_id)
      and not exists (select from invitation i where a.account_id in (i.made_by, i.used_by))
      and not exists (select from roster_import r where r.imported_by = a.account_id)
      and not exists (select from lesson l where l.kept_by = a.account_id)
      and not exists (select from small_group g where g.kept_by = a.account_id)
      and not exists (select from accommodation c where a.account_id in (c.made_by, c.ended_by))
      and not exists (select from stage_opened s where a.account_id in (s.opened_by, s.ended_by))
      and not exists (select from pain_answer p where p.answered_by = a.account_id)
      and not exists (select from family_answer f where a.account_id in (f.noted_by, f.done_by))
      and not exists (select from calendar_address c where c.made_by = a.account_id)
      and not exists (select from password_link k where k.made_by = a.account_id)";

/// Removes a program with everything of it, and the accounts of people who belong to no other; to be called in a transaction
/// that has the program alone.
pub async fn delete_program(db: &impl ConnectionTrait, program: ProgramId) -> Result<(), StoreError> {
    announce(db, "bright_row.clearing", program.uuid()).await?;
    for table in tables::all(db).await?.into_iter().rev().filter(|table| table.of_program) {
        // Names of tables come from the database itself.
        let sql = format!("delete from \"{}\" where program_id = $1", table.name);
        run(db, &sql, [program.uuid().into()]).await?;
    }
    // Whoever is still named by another program, as the one who observed something, stays as a name.
    db.execute_unprepared(ALONE).await?;
    Ok(())
}
