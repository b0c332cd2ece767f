//! The people of a program: invited, let in, given other roles and classes, let go. A program always has an owner.

use std::collections::BTreeSet;

use bright_row_core::deed::Deed;
use bright_row_core::role::Role;
use bright_row_core::{AccountId, ClassId};
use bright_row_store::accounts::invitations::{self, Invitation};
use bright_row_store::accounts::sessions::{self, Which};
use bright_row_store::accounts::{self, Account, Made, devices, people};
use bright_row_store::{DatabaseTransaction, StoreError, classes};
use chrono::{DateTime, TimeDelta, Utc};
use uuid::Uuid;

use super::link_secret::LinkSecret;
use super::{begin, begin_alone, commit};
use crate::auth::client::Client;
use crate::auth::deeds::note;
use crate::auth::guard::Owner;
use crate::error::{ApiError, FieldError};
use crate::state::App;

/// So many days an invitation can be used.
const INVITATION_DAYS: i64 = 7;
/// So many hours a link to a new password can be used.
const PASSWORD_LINK_HOURS: i64 = 24;
/// For so long a substitute's code can be used: it is shown and read at once.
const CODE_HOURS: i64 = 12;
/// A substitute is let in for so long at most.
pub const LONGEST_SUBSTITUTE: TimeDelta = TimeDelta::days(14);

/// Whom an owner invites.
#[derive(Clone, Debug)]
pub struct Wanted {
    /// To what.
    pub role: Role,
    /// A substitute's name; for others whom the link is for.
    pub name: String,
    /// The classes that are given.
    pub classes: BTreeSet<ClassId>,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
}

async fn check_classes(tx: &DatabaseTransaction, owner: Owner, wanted: &BTreeSet<ClassId>) -> Result<(), ApiError> {
    let found = classes::of_program(tx, owner.program, Some(wanted.clone())).await?;
    if found.len() == wanted.len() { Ok(()) } else { Err(ApiError::NotFound("class")) }
}

/// Keeps an invitation; answers it with the secret of its link, which is not kept.
///
/// # Errors
/// [`ApiError::NotFound`] for a class that is not the program's.
pub async fn invite(app: &App, owner: Owner, wanted: Wanted) -> Result<(Invitation, String), ApiError> {
    let now = app.now();
    let lasts = if wanted.until.is_some() { TimeDelta::hours(CODE_HOURS) } else { TimeDelta::days(INVITATION_DAYS) };
    let (text, secret) = LinkSecret::new(Some(owner.program));
    let invitation = Invitation {
        program: owner.program,
        id: Uuid::now_v7(),
        role: wanted.role,
        name: wanted.name,
        expires_at: wanted.until.map_or(now + lasts, |until| until.min(now + lasts)),
        classes: wanted.classes,
        until: wanted.until,
        made: Made { by: owner.account, at: now },
    };
    let tx = begin(app).await?;
    check_classes(&tx, owner, &invitation.classes).await?;
    invitations::add(&tx, &invitation, &secret.hash).await?;
    commit(app, tx, []).await?;
    Ok((invitation, text))
}

/// Who takes an invitation.
pub enum Taker {
    /// Somebody who is signed in.
    Known(AccountId),
    /// Somebody new.
    New(Account),
    /// The substitute that it is for.
    Substitute,
}

/// Lets somebody in by an invitation, once; answers the account, and until when a substitute is let in.
///
/// # Errors
/// [`ApiError::LinkOver`]; [`ApiError::Invalid`] if the address has an account.
pub async fn take_invitation(
    app: &App,
    secret: &str,
    client: &Client,
    taker: impl FnOnce(&Invitation) -> Result<Taker, ApiError>,
) -> Result<(AccountId, Option<DateTime<Utc>>), ApiError> {
    let now = app.now();
    let tx = begin(app).await?;
    let secret = LinkSecret::read(secret);
    let found = invitations::of_secret(&tx, secret.program, &secret.hash, now).await?;
    let invitation = found.ok_or(ApiError::LinkOver)?;
    let account = match taker(&invitation)? {
        Taker::Known(account) => account,
        Taker::New(account) => add(&tx, &account).await?,
        Taker::Substitute => {
            let display_name = invitation.name.clone();
            let account = Account { id: Uuid::now_v7().into(), display_name, comes_back: None, demo: false };
            add(&tx, &account).await?
        }
    };
    let program = invitation.program;
    // Somebody who is in it already keeps what they may beyond the invitation.
    let present = people::roles(&tx, program, now).await?.get(&account).copied();
    if present.is_none_or(|role| role > invitation.role) {
        people::join_until(&tx, program, account, invitation.role, invitation.until).await?;
    }
    for class in &invitation.classes {
        people::give_class(&tx, program, account, *class).await?;
    }
    invitations::used(&tx, &invitation, account, now).await?;
    let joined = (Deed::Joined, "invitation", Some(invitation.id));
    note(&tx, program, now, Some(account), joined, Some(client)).await?;
    commit(app, tx, []).await?;
    Ok((account, invitation.until))
}

async fn add(tx: &DatabaseTransaction, account: &Account) -> Result<AccountId, ApiError> {
    accounts::add(tx, account).await.map_err(|error| match error {
        StoreError::Conflict => ApiError::Invalid(vec![FieldError::new(
            "email",
            "This address has an account: sign in with it first, then open the link again.",
        )]),
        other => ApiError::Store(other),
    })?;
    Ok(account.id)
}

/// Gives somebody of a program another role and other classes; their streams begin anew with them.
///
/// # Errors
/// [`ApiError::NotFound`] for nobody of the program; [`ApiError::LastOwner`].
pub async fn set_role(
    app: &App,
    owner: Owner,
    account: AccountId,
    role: Role,
    given: &BTreeSet<ClassId>,
) -> Result<(), ApiError> {
    let tx = begin_alone(app, owner.program).await?;
    stays_owned(app, &tx, owner, account, role == Role::Owner).await?;
    check_classes(&tx, owner, given).await?;
    people::join_until(&tx, owner.program, account, role, None).await?;
    people::give_classes(&tx, owner.program, account, given).await?;
    commit(app, tx, []).await?;
    app.live.session_ended(account);
    Ok(())
}

/// Lets somebody of a program go; what they recorded stays, with their name. Their devices are signed out where they belong to no
/// other program.
///
/// # Errors
/// [`ApiError::NotFound`] for nobody of the program; [`ApiError::LastOwner`].
pub async fn remove(app: &App, owner: Owner, account: AccountId) -> Result<(), ApiError> {
    let tx = begin_alone(app, owner.program).await?;
    stays_owned(app, &tx, owner, account, false).await?;
    people::leave(&tx, owner.program, account).await?;
    if accounts::programs_of(&tx, account, app.now()).await?.is_empty() {
        sessions::end_of_account(&tx, account, Which::All).await?;
    }
    commit(app, tx, []).await?;
    app.live.session_ended(account);
    Ok(())
}

async fn stays_owned(
    app: &App,
    tx: &DatabaseTransaction,
    owner: Owner,
    account: AccountId,
    is_owner_then: bool,
) -> Result<(), ApiError> {
    let roles = people::roles(tx, owner.program, app.now()).await?;
    let present = roles.get(&account).ok_or(ApiError::NotFound("person"))?;
    if *present == Role::Substitute && is_owner_then {
        return Err(ApiError::NotFound("person"));
    }
    let others = roles.iter().any(|(other, role)| *other != account && *role == Role::Owner);
    if is_owner_then || others || *present != Role::Owner { Ok(()) } else { Err(ApiError::LastOwner) }
}

/// Makes a link to a new password; answers its secret and until when it can be used. `by` is absent on the server itself.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn password_link(
    db: &bright_row_store::DatabaseConnection,
    account: AccountId,
    by: Option<AccountId>,
    now: DateTime<Utc>,
) -> Result<(String, DateTime<Utc>), StoreError> {
    let (text, secret) = LinkSecret::new(None);
    let expires_at = now + TimeDelta::hours(PASSWORD_LINK_HOURS);
    invitations::add_password_link(db, account, &secret.hash, by, expires_at).await?;
    Ok((text, expires_at))
}

/// Whom a link to a new password is for.
///
/// # Errors
/// [`ApiError::LinkOver`].
pub async fn of_password_link(app: &App, secret: &str) -> Result<Account, ApiError> {
    let found = invitations::account_of_link(&app.db, &LinkSecret::read(secret).hash, app.now()).await?;
    accounts::by_id(&app.db, found.ok_or(ApiError::LinkOver)?).await?.ok_or(ApiError::LinkOver)
}

/// Takes a link to a new password, once: every device is signed out.
///
/// # Errors
/// [`ApiError::LinkOver`].
pub async fn take_password_link(app: &App, secret: &str, password_hash: &str) -> Result<Account, ApiError> {
    let tx = begin(app).await?;
    let found = invitations::account_of_link(&tx, &LinkSecret::read(secret).hash, app.now()).await?;
    let account = accounts::by_id(&tx, found.ok_or(ApiError::LinkOver)?).await?.ok_or(ApiError::LinkOver)?;
    accounts::set_password(&tx, account.id, password_hash).await?;
    invitations::forget_password_links(&tx, account.id).await?;
    devices::forget(&tx, account.id).await?;
    sessions::end_of_account(&tx, account.id, Which::All).await?;
    commit(app, tx, []).await?;
    app.live.session_ended(account.id);
    Ok(account)
}
