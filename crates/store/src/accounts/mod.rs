//! Programs, the people who sign in, and what they may do where.

pub mod devices;
pub mod invitations;
pub mod passkeys;
pub mod people;
pub mod second_factor;
pub mod sessions;
pub mod tries;

use bright_row_core::role::Role;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::{AccountId, ProgramId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, PaginatorTrait, QueryFilter, Statement};
use uuid::Uuid;

use crate::entity::{account, program};
use crate::error::StoreError;

/// The role of a stored word.
pub(crate) fn read_role(word: &str) -> Result<Role, StoreError> {
    Role::parse(word).ok_or_else(|| StoreError::Unreadable { what: "role", value: word.to_owned() })
}

/// Somebody who signs in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Account {
    /// Who.
    pub id: AccountId,
    /// As colleagues read it.
    pub display_name: String,
    /// What they come back with; a substitute does not.
    pub comes_back: Option<Credentials>,
    /// One of the demo's people, whose password everybody knows.
    pub demo: bool,
}

/// What somebody comes back with.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Credentials {
    /// In lower case.
    pub email: String,
    /// A PHC string.
    pub password_hash: String,
}

impl Account {
    /// The address; empty for a substitute.
    #[must_use]
    pub fn email(&self) -> &str {
        self.comes_back.as_ref().map_or("", |comes_back| &comes_back.email)
    }
}

impl From<account::Model> for Account {
    fn from(row: account::Model) -> Self {
        Self {
            id: row.account_id.into(),
            display_name: row.display_name,
            comes_back: row
                .email
                .zip(row.password_hash)
                .map(|(email, password_hash)| Credentials { email, password_hash }),
            demo: row.demo,
        }
    }
}

/// Who did something, and when.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Made {
    /// Who.
    pub by: AccountId,
    /// When.
    pub at: DateTime<Utc>,
}

/// Whether nobody but the demo's people has an account yet.
pub async fn none_yet(db: &impl ConnectionTrait) -> Result<bool, StoreError> {
    Ok(account::Entity::find().filter(account::Column::Demo.eq(false)).count(db).await? == 0)
}

/// Whether nobody at all has an account yet.
pub async fn nobody_yet(db: &impl ConnectionTrait) -> Result<bool, StoreError> {
    Ok(account::Entity::find().count(db).await? == 0)
}

/// Whether the demo's people are here.
pub async fn demo_is_there(db: &impl ConnectionTrait) -> Result<bool, StoreError> {
    Ok(account::Entity::find().filter(account::Column::Demo.eq(true)).count(db).await? > 0)
}

/// Holds every other first run back until this transaction ends, so that only one makes the first account.
pub async fn lock_first_run(db: &impl ConnectionTrait) -> Result<(), StoreError> {
    db.execute_unprepared("lock table account in share row exclusive mode").await?;
    Ok(())
}

/// Adds a program.
pub async fn add_program(db: &impl ConnectionTrait, id: ProgramId, name: &str) -> Result<(), StoreError> {
    let (settled, created_at) = (Set(Uuid::now_v7()), Set(Utc::now()));
    let row = program::ActiveModel { program_id: Set(id.uuid()), name: Set(name.to_owned()), created_at, settled };
    program::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

/// The name of a program.
pub async fn program_name(db: &impl ConnectionTrait, id: ProgramId) -> Result<String, StoreError> {
    Ok(program::Entity::find_by_id(id.uuid()).one(db).await?.map(|row| row.name).unwrap_or_default())
}

/// Gives a program another name.
pub async fn rename_program(db: &impl ConnectionTrait, id: ProgramId, name: &str) -> Result<(), StoreError> {
    // Classes are read with it.
    let settled = Set(Uuid::now_v7());
    let row =
        program::ActiveModel { program_id: Set(id.uuid()), name: Set(name.to_owned()), settled, ..Default::default() };
    program::Entity::update(row).exec(db).await?;
    Ok(())
}

/// Adds an account; [`StoreError::Conflict`] when the address has one.
pub async fn add(db: &impl ConnectionTrait, account: &Account) -> Result<(), StoreError> {
    let row = account::ActiveModel {
        account_id: Set(account.id.uuid()),
        email: Set(account.comes_back.as_ref().map(|comes_back| comes_back.email.clone())),
        display_name: Set(account.display_name.clone()),
        password_hash: Set(account.comes_back.as_ref().map(|comes_back| comes_back.password_hash.clone())),
        demo: Set(account.demo),
        totp_secret: Set(None),
        totp_step: Set(None),
        created_at: Set(Utc::now()),
    };
    account::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

/// Changes how somebody is called and written to; [`StoreError::Conflict`] when another has the address.
pub async fn change(
    db: &impl ConnectionTrait,
    account: AccountId,
    display_name: &str,
    email: &str,
) -> Result<(), StoreError> {
    let change = account::ActiveModel {
        account_id: Set(account.uuid()),
        display_name: Set(display_name.to_owned()),
        email: Set(Some(email.to_owned())),
        ..Default::default()
    };
    account::Entity::update(change).exec(db).await?;
    Ok(())
}

/// Gives somebody another password, as a PHC string.
pub async fn set_password(db: &impl ConnectionTrait, account: AccountId, hash: &str) -> Result<(), StoreError> {
    let change = account::ActiveModel {
        account_id: Set(account.uuid()),
        password_hash: Set(Some(hash.to_owned())),
        ..Default::default()
    };
    account::Entity::update(change).exec(db).await?;
    Ok(())
}

/// Lets an account into a program for good.
pub async fn join(
    db: &impl ConnectionTrait,
    program: ProgramId,
    account: AccountId,
    role: Role,
) -> Result<(), StoreError> {
    people::join_until(db, program, account, role, None).await
}

/// The account of an address in lower case.
pub async fn by_email(db: &impl ConnectionTrait, email: &str) -> Result<Option<Account>, StoreError> {
    let row = account::Entity::find().filter(account::Column::Email.eq(email)).one(db).await?;
    Ok(row.map(Account::from))
}

/// An account.
pub async fn by_id(db: &impl ConnectionTrait, id: AccountId) -> Result<Option<Account>, StoreError> {
    Ok(account::Entity::find_by_id(id.uuid()).one(db).await?.map(Account::from))
}

/// A program that somebody belongs to.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ProgramOf {
    /// Which.
    pub id: ProgramId,
    /// Its name.
    pub name: String,
    /// One's role in it.
    pub role: Role,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
    /// The program demands a second factor and this account has none yet.
    pub wants_second_factor: bool,
}

/// Whether the program of a membership `m` demands a second factor that its account `a` has not; a substitute needs none.
pub(crate) const WANTS_SECOND_FACTOR: &str = "
    (a.totp_secret is null and not exists (select from passkey k where k.account_id = a.account_id) and m.role <> 'substitute'
     and exists (select from retention r where r.program_id = m.program_id and r.second_factor))";

/// The programs an account belongs to at a moment, by name.
pub async fn programs_of(
    db: &impl ConnectionTrait,
    account: AccountId,
    now: DateTime<Utc>,
) -> Result<Vec<ProgramOf>, StoreError> {
    #[derive(FromQueryResult)]
    struct Row {
        program_id: Uuid,
        name: String,
        role: String,
        until: Option<DateTime<Utc>>,
        wants_second_factor: bool,
    }
    let sql = format!(
        "select m.program_id, p.name, m.role, m.until, {WANTS_SECOND_FACTOR} as wants_second_factor
         from membership m join program p using (program_id) join account a using (account_id)
         where m.account_id = $1 and (m.until is null or m.until > $2) order by p.name, m.program_id"
    );
    let values = [account.uuid().into(), now.into()];
    let rows = Row::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let program = |row: Row| {
        Ok(ProgramOf {
            id: row.program_id.into(),
            name: row.name,
            role: read_role(&row.role)?,
            until: row.until,
            wants_second_factor: row.wants_second_factor,
        })
    };
    rows.all(db).await?.into_iter().map(program).collect()
}

/// What these people are called.
pub async fn names(
    db: &impl ConnectionTrait,
    accounts: impl Iterator<Item = AccountId>,
) -> Result<BTreeMap<AccountId, String>, StoreError> {
    let ids: BTreeSet<Uuid> = accounts.map(AccountId::uuid).collect();
    if ids.is_empty() {
        return Ok(BTreeMap::new());
    }
    let rows = account::Entity::find().filter(account::Column::AccountId.is_in(ids)).all(db).await?;
    Ok(rows.into_iter().map(|row| (row.account_id.into(), row.display_name)).collect())
}
