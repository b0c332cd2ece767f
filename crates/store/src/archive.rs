//! One program as rows of JSON, out of one server and into another.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::{ChildId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, DatabaseConnection, EntityTrait, FromQueryResult, QueryFilter, Statement};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::copy::{self, NOT_COPIED};
use crate::entity::account;
use crate::error::StoreError;
use crate::tables::{self, Table};

/// The table of people, who are not a program's alone.
pub const PEOPLE: &str = "account";
/// Links that let somebody in do not travel.
const STAYS: [&str; 3] = ["invitation", "invitation_class", "calendar_address"];

/// What of a class is handed over to another program: each table, and whether its rows are a child's.
pub const HANDED_OVER: &[(&str, bool)] = &[
    ("class", false),
    ("class_choice", false),
    ("day_off", false),
    ("short_day", false),
    ("child", true),
    ("played", true),
    ("measuring", true),
    ("setup_found", true),
    ("accommodation", true),
    ("child_choice", true),
    ("child_home", true),
    ("stage_opened", true),
    ("observation", true),
    ("pain_answer", true),
    ("family_answer", true),
];

/// Somebody who is named in a program. Passwords and second factors stay where they are.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Person {
    /// Who.
    pub account_id: Uuid,
    /// The address they sign in with; substitutes have none.
    pub email: Option<String>,
    /// As others see it.
    pub display_name: String,
    /// Since when.
    pub created_at: DateTime<Utc>,
}

/// A table with the types of its columns, as the database names them.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Described {
    /// Its name.
    pub name: String,
    /// Each column, its type, and whether it may be null.
    pub columns: Vec<(String, String, bool)>,
}

/// The tables of a program that are taken out, those that are referred to first; people come before all of them.
///
/// # Errors
/// [`StoreError`].
pub async fn of_program(db: &impl ConnectionTrait) -> Result<Vec<Table>, StoreError> {
    let left_out = |name: &str| NOT_COPIED.contains(&name) || STAYS.contains(&name);
    let all = tables::all(db).await?;
    Ok(all.into_iter().filter(|table| table.of_program && !left_out(&table.name)).collect())
}

/// Hands everything of a program to `take`, by table, as it was at one moment: people first.
///
/// # Errors
/// [`StoreError`], or what `take` fails with.
pub async fn dump<E: From<StoreError>>(
    db: &DatabaseConnection,
    program: ProgramId,
    mut take: impl FnMut(&str, &str) -> Result<(), E> + Send,
) -> Result<(), E> {
    let of_program = |_: &Table| Some(format!("t.program_id = '{}'", program.uuid()));
    dump_where(db, of_program, "t.email", &mut take).await
}

/// Hands what of these children and their class goes to another program to `take`, by table, as it was at one moment: the people
/// who are named first, without their addresses.
///
/// # Errors
/// [`StoreError`], or what `take` fails with.
pub async fn dump_class<E: From<StoreError>>(
    db: &DatabaseConnection,
    class: ClassKey,
    children: &BTreeSet<ChildId>,
    mut take: impl FnMut(&str, &str) -> Result<(), E> + Send,
) -> Result<(), E> {
    let (program, class) = (class.program.uuid(), class.class.uuid());
    let ids: Vec<String> = children.iter().map(|child| format!("'{}'", child.uuid())).collect();
    // Only who is in the class now, whoever was asked for.
    let these = format!(
        "t.child_id in (select c.child_id from child c where c.program_id = '{program}' and c.class_id = '{class}'
           and c.child_id = any(array[{}]::uuid[]))",
        ids.join(", ")
    );
    let of_class = |table: &Table| {
        let (_, of_child) = HANDED_OVER.iter().find(|(name, _)| *name == table.name)?;
        let whose = if *of_child { these.clone() } else { format!("t.class_id = '{class}'") };
        Some(format!("t.program_id = '{program}' and {whose}"))
    };
    dump_where(db, of_class, "null", &mut take).await
}

/// Hands the rows for which a table has a condition to `take`, the people named in them first. `condition` is SQL made by this
/// file; what comes in is in it as ids only, which are hexadecimal.
async fn dump_where<E: From<StoreError>>(
    db: &DatabaseConnection,
    condition: impl Fn(&Table) -> Option<String>,
    address: &str,
    take: &mut (impl FnMut(&str, &str) -> Result<(), E> + Send),
) -> Result<(), E> {
    let tx = copy::at_one_moment(db).await?;
    let tables = of_program(&tx).await?;
    let tables: Vec<(&Table, String)> = tables.iter().filter_map(|table| Some((table, condition(table)?))).collect();
    let names = tables::account_columns(&tx).await?;
    let mut named: Vec<String> = Vec::new();
    for (table, whose) in &tables {
        for column in names.get(&table.name).into_iter().flatten() {
            named.push(format!("select t.\"{column}\" from \"{}\" t where {whose}", table.name));
        }
    }
    let people =
        Table { name: PEOPLE.to_owned(), of_program: false, columns: Vec::new(), key: vec!["account_id".to_owned()] };
    let person = format!(
        "jsonb_build_object('account_id', t.account_id, 'email', {address}, 'display_name', t.display_name, \
         'created_at', t.created_at)"
    );
    let is_named = format!("t.account_id in ({})", named.join(" union "));
    copy::each_row(&tx, &people, &person, &is_named, &mut |row| take(PEOPLE, row)).await?;
    for (table, whose) in &tables {
        copy::each_row(&tx, table, "to_jsonb(t)", whose, &mut |row| take(&table.name, row)).await?;
    }
    tx.commit().await.map_err(|error| E::from(error.into()))?;
    Ok(())
}

#[derive(FromQueryResult)]
struct Column {
    name: String,
    kind: String,
    nullable: bool,
}

/// What the rows of a table look like.
///
/// # Errors
/// [`StoreError`].
pub async fn described(db: &impl ConnectionTrait, table: &str) -> Result<Described, StoreError> {
    const SQL: &str = "
        select column_name::text as name, data_type::text as kind, is_nullable = 'YES' as nullable
        from information_schema.columns where table_schema = current_schema() and table_name = $1 order by ordinal_position";
    let statement = Statement::from_sql_and_values(db.get_database_backend(), SQL, [table.into()]);
    let rows = Column::find_by_statement(statement).all(db).await?;
    let columns = rows.into_iter().map(|row| (row.name, row.kind, row.nullable)).collect();
    Ok(Described { name: table.to_owned(), columns })
}

/// Whether a program is there already.
///
/// # Errors
/// [`StoreError`].
pub async fn is_there(db: &impl ConnectionTrait, program: ProgramId) -> Result<bool, StoreError> {
    Ok(crate::entity::program::Entity::find_by_id(program.uuid()).one(db).await?.is_some())
}

/// Lets the people of an archive in, to be called in a transaction: whoever has an address that is here already is that person
/// here. The others get a password that nobody knows. Answers whom each is here.
///
/// # Errors
/// [`StoreError`].
pub async fn add_people(
    db: &impl ConnectionTrait,
    people: &[Person],
    nobodys_password: &str,
) -> Result<BTreeMap<Uuid, Uuid>, StoreError> {
    let mut here = BTreeMap::new();
    for person in people {
        let by_address = match &person.email {
            Some(email) => account::Entity::find().filter(account::Column::Email.eq(email)).one(db).await?,
            None => None,
        };
        let by_id = account::Entity::find_by_id(person.account_id).one(db).await?;
        // The same id with another address is somebody else's row: a new id keeps the two apart.
        let id = match (&by_address, &by_id) {
            (Some(found), _) => found.account_id,
            (None, Some(found)) if found.email == person.email => found.account_id,
            (None, Some(_)) => Uuid::now_v7(),
            (None, None) => person.account_id,
        };
        here.insert(person.account_id, id);
        if by_address.is_some() || by_id.is_some_and(|found| found.account_id == id) {
            continue;
        }
        let row = account::ActiveModel {
            account_id: Set(id),
            email: Set(person.email.clone()),
            display_name: Set(person.display_name.clone()),
            password_hash: Set(person.email.as_ref().map(|_| nobodys_password.to_owned())),
            created_at: Set(person.created_at),
            ..Default::default()
        };
        account::Entity::insert(row).exec_without_returning(db).await?;
    }
    Ok(here)
}

/// Why a row of an archive cannot be taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum RowFault {
    /// It is no JSON object.
    #[error("a row is no object")]
    NoObject,
    /// It says that it is another program's.
    #[error("a row is of another program")]
    OtherProgram,
    /// It names somebody who is not among the people.
    #[error("a row names somebody who is not among the people")]
    Nobody,
}

/// A row with the people it names as they are here.
///
/// # Errors
/// [`RowFault`].
pub fn with_people(
    mut row: Value,
    program: ProgramId,
    columns: &BTreeSet<String>,
    here: &BTreeMap<Uuid, Uuid>,
) -> Result<Value, RowFault> {
    let object = row.as_object_mut().ok_or(RowFault::NoObject)?;
    if object.get("program_id") != Some(&Value::String(program.uuid().to_string())) {
        return Err(RowFault::OtherProgram);
    }
    for column in columns {
        let Some(named) = object.get_mut(column) else { continue };
        if named.is_null() {
            continue;
        }
        let id = named.as_str().and_then(|id| id.parse::<Uuid>().ok()).and_then(|id| here.get(&id));
        *named = Value::String(id.ok_or(RowFault::Nobody)?.to_string());
    }
    Ok(row)
}
