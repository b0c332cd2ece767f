//! The people of a program: roles, and the classes that each is given.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::role::Role;
use bright_row_core::{AccountId, ClassId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, Statement};
use uuid::Uuid;

use super::read_role;
use crate::entity::{class_member, membership};
use crate::error::StoreError;

/// Somebody of a program.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Person {
    /// Who.
    pub account: AccountId,
    /// As colleagues read it.
    pub display_name: String,
    /// Empty for a substitute.
    pub email: String,
    /// What they may do.
    pub role: Role,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
    /// The classes that were given; an owner has all.
    pub classes: BTreeSet<ClassId>,
    /// When one of their devices was last used, as far as it is signed in.
    pub last_used_at: Option<DateTime<Utc>>,
    /// A second factor is asked for.
    pub second_factor: bool,
}

/// Everybody of a program, owners first, then by name.
pub async fn of_program(db: &impl ConnectionTrait, program: ProgramId) -> Result<Vec<Person>, StoreError> {
    #[derive(FromQueryResult)]
    struct Row {
        account_id: Uuid,
        display_name: String,
        email: Option<String>,
        role: String,
        until: Option<DateTime<Utc>>,
        classes: Vec<Uuid>,
        last_used_at: Option<DateTime<Utc>>,
        second_factor: bool,
    }
    const SQL: &str = "
        select m.account_id, a.display_name, a.email, m.role, m.until, a.totp_secret is not null or exists (select from passkey k where k.account_id = a.account_id) as second_factor,
          array(select class_id from class_member g where g.program_id = m.program_id and g.account_id = m.account_id) as classes,
          (select max(last_used_at) from web_session s where s.account_id = m.account_id) as last_used_at
        from membership m join account a using (account_id)
        where m.program_id = $1
        order by array_position(array['owner', 'director', 'assistant', 'substitute'], m.role), a.display_name, m.account_id";
    let statement = Statement::from_sql_and_values(db.get_database_backend(), SQL, [program.uuid().into()]);
    let rows = Row::find_by_statement(statement).all(db).await?;
    let person = |row: Row| {
        Ok(Person {
            account: row.account_id.into(),
            display_name: row.display_name,
            email: row.email.unwrap_or_default(),
            role: read_role(&row.role)?,
            until: row.until,
            classes: row.classes.into_iter().map(Into::into).collect(),
            last_used_at: row.last_used_at,
            second_factor: row.second_factor,
        })
    };
    rows.into_iter().map(person).collect()
}

/// Lets an account into a program, a substitute until a time; somebody who is in it gets the role instead of the present one.
pub async fn join_until(
    db: &impl ConnectionTrait,
    program: ProgramId,
    account: AccountId,
    role: Role,
    until: Option<DateTime<Utc>>,
) -> Result<(), StoreError> {
    let row = membership::ActiveModel {
        program_id: Set(program.uuid()),
        account_id: Set(account.uuid()),
        role: Set(role.word().to_owned()),
        until: Set(until),
        joined_at: Set(Utc::now()),
    };
    let instead = OnConflict::columns([membership::Column::ProgramId, membership::Column::AccountId])
        .update_columns([membership::Column::Role, membership::Column::Until])
        .to_owned();
    membership::Entity::insert(row).on_conflict(instead).exec_without_returning(db).await?;
    Ok(())
}

/// Gives somebody of a program these classes and no others; those that are none of the program's are passed over.
pub async fn give_classes(
    db: &impl ConnectionTrait,
    program: ProgramId,
    account: AccountId,
    classes: &BTreeSet<ClassId>,
) -> Result<(), StoreError> {
    const SQL: &str = "
        insert into class_member (program_id, class_id, account_id)
        select program_id, class_id, $2 from class where program_id = $1 and class_id = any($3)";
    class_member::Entity::delete_many()
        .filter(class_member::Column::ProgramId.eq(program.uuid()))
        .filter(class_member::Column::AccountId.eq(account.uuid()))
        .exec(db)
        .await?;
    let ids: Vec<Uuid> = classes.iter().map(|class| class.uuid()).collect();
    let values = [program.uuid().into(), account.uuid().into(), ids.into()];
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), SQL, values)).await?;
    Ok(())
}

/// Gives somebody one more class.
pub async fn give_class(
    db: &impl ConnectionTrait,
    program: ProgramId,
    account: AccountId,
    class: ClassId,
) -> Result<(), StoreError> {
    let row = class_member::ActiveModel {
        program_id: Set(program.uuid()),
        class_id: Set(class.uuid()),
        account_id: Set(account.uuid()),
    };
    let unless_there = OnConflict::new().do_nothing().to_owned();
    class_member::Entity::insert(row).on_conflict(unless_there).exec_without_returning(db).await?;
    Ok(())
}

/// Somebody is not of a program any more; what they recorded stays, with their name.
pub async fn leave(db: &impl ConnectionTrait, program: ProgramId, account: AccountId) -> Result<(), StoreError> {
    membership::Entity::delete_by_id((program.uuid(), account.uuid())).exec(db).await?;
    Ok(())
}

/// Role by account of everybody in a program at a moment.
pub async fn roles(
    db: &impl ConnectionTrait,
    program: ProgramId,
    now: DateTime<Utc>,
) -> Result<BTreeMap<AccountId, Role>, StoreError> {
    let rows = membership::Entity::find().filter(membership::Column::ProgramId.eq(program.uuid())).all(db).await?;
    let there = rows.into_iter().filter(|row| row.until.is_none_or(|until| until > now));
    there.map(|row| Ok((row.account_id.into(), read_role(&row.role)?))).collect()
}

/// Lets substitutes go whose time is over; answers whose sessions end with it.
pub async fn end_substitutes(db: &impl ConnectionTrait, now: DateTime<Utc>) -> Result<(), StoreError> {
    membership::Entity::delete_many().filter(membership::Column::Until.lte(now)).exec(db).await?;
    Ok(())
}
