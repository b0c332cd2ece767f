//! Programs, the people who sign in, and what they may do where.

pub mod sessions;

use bright_row_core::role::Role;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::{AccountId, ProgramId};
use chrono::{DateTime, Duration, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, EntityTrait, PaginatorTrait, QueryFilter, QuerySelect, TransactionSession,
    TransactionTrait,
};

use uuid::Uuid;

use crate::entity::{account, membership, program, sign_in_pause};
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
    /// In lower case.
    pub email: String,
    /// As colleagues read it.
    pub display_name: String,
    /// A PHC string.
    pub password_hash: String,
}

impl From<account::Model> for Account {
    fn from(row: account::Model) -> Self {
        Self {
            id: row.account_id.into(),
            email: row.email,
            display_name: row.display_name,
            password_hash: row.password_hash,
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

/// Whether nobody has an account yet.
pub async fn none_yet(db: &impl ConnectionTrait) -> Result<bool, StoreError> {
    Ok(account::Entity::find().count(db).await? == 0)
}

/// Holds every other first run back until this transaction ends, so that only one makes the first account.
pub async fn lock_first_run(db: &impl ConnectionTrait) -> Result<(), StoreError> {
    db.execute_unprepared("lock table account in share row exclusive mode").await?;
    Ok(())
}

/// Adds a program.
pub async fn add_program(db: &impl ConnectionTrait, id: ProgramId, name: &str) -> Result<(), StoreError> {
    let row =
        program::ActiveModel { program_id: Set(id.uuid()), name: Set(name.to_owned()), created_at: Set(Utc::now()) };
    program::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

/// Adds an account; [`StoreError::Conflict`] when the address has one.
pub async fn add(db: &impl ConnectionTrait, account: &Account) -> Result<(), StoreError> {
    let row = account::ActiveModel {
        account_id: Set(account.id.uuid()),
        email: Set(account.email.clone()),
        display_name: Set(account.display_name.clone()),
        password_hash: Set(account.password_hash.clone()),
        created_at: Set(Utc::now()),
    };
    account::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}

/// Lets an account into a program.
pub async fn join(
    db: &impl ConnectionTrait,
    program: ProgramId,
    account: AccountId,
    role: Role,
) -> Result<(), StoreError> {
    let row = membership::ActiveModel {
        program_id: Set(program.uuid()),
        account_id: Set(account.uuid()),
        role: Set(role.word().to_owned()),
    };
    membership::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
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

/// The programs an account belongs to, with its role and the program's name, by name.
pub async fn programs_of(
    db: &impl ConnectionTrait,
    account: AccountId,
) -> Result<Vec<(ProgramId, String, Role)>, StoreError> {
    let memberships =
        membership::Entity::find().filter(membership::Column::AccountId.eq(account.uuid())).all(db).await?;
    let ids = memberships.iter().map(|membership| membership.program_id);
    let names = program::Entity::find().filter(program::Column::ProgramId.is_in(ids)).all(db).await?;
    let mut programs = Vec::new();
    for membership in memberships {
        let name = names.iter().find(|program| program.program_id == membership.program_id);
        let name = name.map(|program| program.name.clone()).unwrap_or_default();
        programs.push((membership.program_id.into(), name, read_role(&membership.role)?));
    }
    programs.sort_by(|a, b| a.1.cmp(&b.1));
    Ok(programs)
}

/// Sign-ins tried in a row that are free of a pause.
const MAX_FREE_TRIES: i32 = 5;
/// The longest pause, in seconds.
const MAX_PAUSE_SECONDS: i64 = 60;

/// Counts a try to sign in, or says until when to wait: after some failures 1 s, then doubling up to a minute.
///
/// `email_hash` stands for the address, whether or not an account has it. The try is counted before the password is
/// looked at, in a step of its own, so that tries side by side gain nothing; [`sign_in_went_well`] forgets them.
pub async fn begin_sign_in(
    db: &impl TransactionTrait,
    email_hash: &[u8],
    now: DateTime<Utc>,
) -> Result<Option<DateTime<Utc>>, StoreError> {
    let tx = db.begin().await?;
    let fresh =
        sign_in_pause::ActiveModel { email_hash: Set(email_hash.to_vec()), failures: Set(1), last_failure: Set(now) };
    let unless_known = OnConflict::column(sign_in_pause::Column::EmailHash).do_nothing().to_owned();
    let insert = sign_in_pause::Entity::insert(fresh).on_conflict(unless_known);
    if insert.exec_without_returning(&tx).await? > 0 {
        tx.commit().await?;
        return Ok(None);
    }
    let row = sign_in_pause::Entity::find_by_id(email_hash.to_vec()).lock_exclusive().one(&tx).await?;
    let Some(row) = row else { return Ok(None) };
    let over = u32::try_from(row.failures - MAX_FREE_TRIES).ok();
    let pause = over.map_or(0, |over| 1_i64.checked_shl(over).unwrap_or(MAX_PAUSE_SECONDS).clamp(1, MAX_PAUSE_SECONDS));
    let until = row.last_failure + Duration::seconds(pause);
    if until > now {
        return Ok(Some(until));
    }
    let counted = sign_in_pause::ActiveModel {
        email_hash: Set(row.email_hash),
        failures: Set(row.failures.saturating_add(1)),
        last_failure: Set(now),
    };
    sign_in_pause::Entity::update(counted).exec(&tx).await?;
    tx.commit().await?;
    Ok(None)
}

/// Forgets failed sign-ins after one that went well.
pub async fn sign_in_went_well(db: &impl ConnectionTrait, email_hash: &[u8]) -> Result<(), StoreError> {
    sign_in_pause::Entity::delete_by_id(email_hash.to_vec()).exec(db).await?;
    Ok(())
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
