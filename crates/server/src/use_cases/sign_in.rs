//! Signing in: slowed by address and by network, without saying by its time whether an address has an account.

use bright_row_core::ProgramId;
use bright_row_core::deed::Deed;
use bright_row_store::accounts::tries::{self, Counter};
use bright_row_store::accounts::{self, Account};
use sha2::{Digest, Sha256};

use crate::auth::client::{Client, OwnAddress};
use crate::auth::deeds::note;
use crate::auth::known_device::Device;
use crate::auth::session::WebSession;
use crate::error::ApiError;
use crate::passwords::MAX_PASSWORD_LENGTH;
use crate::state::App;
use crate::use_cases::{passkeys, second_factor};

/// What somebody signs in with.
pub struct Try {
    /// In lower case.
    pub email: String,
    /// As it was typed.
    pub password: String,
}

/// What a second factor is shown by.
pub enum Shown<'a> {
    /// A code; empty for none.
    Code(&'a str),
    /// What a device answers to what it was asked in this session.
    Passkey(&'a WebSession, serde_json::Value, &'a OwnAddress),
}

/// Tries in a row without a pause for one address, from devices that it never signed in from.
const FREE_FOR_ADDRESS: i32 = 5;
/// The same from a device that it signed in from.
const FREE_FOR_DEVICE: i32 = 5;
/// Tries in a row without a pause from one network, whatever the addresses: a school is behind one.
const FREE_FOR_NETWORK: i32 = 30;

/// What a try is counted by. A device that is known has its own allowance: whoever guesses from elsewhere, be it in the same
/// network, does not slow it.
fn counters(email: &str, client: &Client, device: Option<&Device>) -> Vec<Counter> {
    let counter = |kind: &str, parts: &[&[u8]], free: i32| {
        let mut hash = Sha256::new_with_prefix(kind);
        for part in parts {
            hash.update([0]);
            hash.update(part);
        }
        Counter { hash: hash.finalize().to_vec(), free }
    };
    match device {
        Some(device) => vec![counter("device", &[email.as_bytes(), &device.hash()], FREE_FOR_DEVICE)],
        None => vec![
            counter("address", &[email.as_bytes()], FREE_FOR_ADDRESS),
            counter("network", &[client.network().to_string().as_bytes()], FREE_FOR_NETWORK),
        ],
    }
}

/// The account that address, password and second factor belong to.
///
/// # Errors
/// As [`identify`]; [`ApiError::CodeWanted`], [`ApiError::WrongCode`].
pub async fn sign_in(
    app: &App,
    tried: Try,
    shown: Shown<'_>,
    client: &Client,
    device: &Device,
) -> Result<Account, ApiError> {
    let (account, counters) = identify(app, tried, client, device).await?;
    match shown {
        Shown::Code(code) => second_factor::check(app, account.id, code).await?,
        Shown::Passkey(session, credential, address) => {
            passkeys::check(app, session, account.id, credential, address).await?;
        }
    }
    tries::went_well(&app.sessions, &counters[..1]).await?;
    device.know(app, account.id).await?;
    note_of(app, &account, Deed::SignedIn, client).await?;
    Ok(account)
}

/// The account that address and password belong to, which is not signed in by that alone, and what the try was counted by.
///
/// # Errors
/// [`ApiError::TooManyTries`], [`ApiError::WrongSignIn`], and [`ApiError::DemoElsewhere`] for the demo's people away from the
/// server's own machine.
pub async fn identify(
    app: &App,
    tried: Try,
    client: &Client,
    device: &Device,
) -> Result<(Account, Vec<Counter>), ApiError> {
    let now = app.now();
    let account = accounts::by_email(&app.sessions, &tried.email).await?;
    let known = match &account {
        Some(account) => device.is_known(app, account.id).await?,
        // As long as for somebody who is there.
        None => device.is_known(app, uuid::Uuid::nil().into()).await?,
    };
    let counters = counters(&tried.email, client, known.then_some(device));
    if let Some(until) = tries::begin(&app.sessions, &counters, now).await? {
        return Err(ApiError::TooManyTries((until - now).num_seconds() + 1));
    }
    let stored = account.as_ref().and_then(|account| account.comes_back.clone()).map(|known| known.password_hash);
    let too_long = tried.password.len() > MAX_PASSWORD_LENGTH;
    if too_long || !app.passwords.matches(tried.password, stored).await {
        return Err(ApiError::WrongSignIn);
    }
    let account = account.ok_or(ApiError::WrongSignIn)?;
    if account.demo && !client.is_here() {
        return Err(ApiError::DemoElsewhere);
    }
    Ok((account, counters))
}

/// Notes in every program of an account what it did with itself.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn note_of(app: &App, account: &Account, deed: Deed, client: &Client) -> Result<(), ApiError> {
    let programs = accounts::programs_of(&app.db, account.id, app.now()).await?;
    for program in programs.into_iter().map(|program| program.id).collect::<Vec<ProgramId>>() {
        let thing = (deed, "account", Some(account.id.uuid()));
        note(&app.db, program, app.now(), Some(account.id), thing, Some(client)).await?;
    }
    Ok(())
}
