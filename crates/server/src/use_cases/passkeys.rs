//! Passkeys (`WebAuthn` level 2): added to an account, and shown at sign-in instead of a code. What is asked of a device is kept with the
//! session until it answers, and for five minutes at most.

use bright_row_core::AccountId;
use bright_row_store::accounts::passkeys::{self, Passkey as Stored};
use bright_row_store::accounts::{Account, second_factor as codes};
use bright_row_store::{StoreError, TransactionTrait};
use serde_json::Value;
use uuid::Uuid;
use webauthn_rs::prelude::{
    Passkey, PasskeyAuthentication, PasskeyRegistration, PublicKeyCredential, RegisterPublicKeyCredential, Url,
    Webauthn, WebauthnBuilder,
};

use crate::auth::client::OwnAddress;
use crate::auth::session::WebSession;
use crate::error::{ApiError, FieldError};
use crate::state::App;
use crate::use_cases::second_factor::new_recovery_codes;

/// The most passkeys of an account.
pub const MOST: u64 = 10;
/// Under which a session keeps what was asked for a new passkey, and at sign-in.
const NEW: &str = "passkeyNew";
const SIGN_IN: &str = "passkeySignIn";

/// What the library needs to know of this server: the name and the address that people reach it by. `None` where it is reached by a
/// number, which no browser makes a passkey for.
#[must_use]
pub fn relying_party(address: &OwnAddress) -> Option<Webauthn> {
    let origin = Url::parse(&address.0).ok()?;
    let name = origin.domain()?;
    WebauthnBuilder::new(name, &origin).ok()?.rp_name("Bright Row").build().ok()
}

fn here(address: &OwnAddress) -> Result<Webauthn, ApiError> {
    relying_party(address).ok_or_else(|| {
        let words = "Passkeys need a name: open Bright Row by its name and not by a number, and try again.";
        ApiError::Invalid(vec![FieldError::new("password", words)])
    })
}

fn unfit(error: impl std::fmt::Display) -> ApiError {
    tracing::info!(%error, "a passkey was not taken");
    ApiError::Invalid(vec![FieldError::new("credential", "The device's answer does not fit. Begin again.")])
}

fn json(value: &impl serde::Serialize) -> Result<Value, ApiError> {
    serde_json::to_value(value).map_err(|error| ApiError::Internal(error.to_string()))
}

fn kept(stored: &Stored) -> Option<Passkey> {
    serde_json::from_value(stored.kept.clone()).ok()
}

/// What to ask a device for, so that it makes a new passkey for an account.
///
/// # Errors
/// [`ApiError::Invalid`] where there are [`MOST`] already, or the server is reached by a number.
pub async fn propose(
    app: &App,
    session: &WebSession,
    account: &Account,
    address: &OwnAddress,
) -> Result<Value, ApiError> {
    let webauthn = here(address)?;
    let known = passkeys::of_account(&app.db, account.id).await?;
    if u64::try_from(known.len()).unwrap_or(MOST) >= MOST {
        let words = format!("An account has {MOST} passkeys at most: remove one first.");
        return Err(ApiError::Invalid(vec![FieldError::new("password", words)]));
    }
    let known = known.into_iter().map(|stored| stored.credential).collect();
    let asked =
        webauthn.start_passkey_registration(account.id.uuid(), account.email(), &account.display_name, Some(known));
    let (options, state) = asked.map_err(|error| ApiError::Internal(error.to_string()))?;
    session.ask(NEW, account.id, &json(&state)?, app.now()).await?;
    json(&options.public_key)
}

/// Adds the passkey that a device made; answers recovery codes, where the account has none yet.
///
/// # Errors
/// [`ApiError::Invalid`] where the answer does not fit what was asked.
pub async fn add(
    app: &App,
    session: &WebSession,
    account: AccountId,
    name: String,
    credential: Value,
    address: &OwnAddress,
) -> Result<Vec<String>, ApiError> {
    let webauthn = here(address)?;
    let asked = session.asked(NEW, account, app.now()).await?.ok_or_else(|| unfit("nothing was asked"))?;
    let state: PasskeyRegistration = serde_json::from_value(asked).map_err(unfit)?;
    let credential: RegisterPublicKeyCredential = serde_json::from_value(credential).map_err(unfit)?;
    let made = webauthn.finish_passkey_registration(&credential, &state).map_err(unfit)?;
    let new = Stored {
        id: Uuid::now_v7(),
        credential: made.cred_id().clone(),
        kept: json(&made)?,
        name,
        added_at: app.now(),
        last_used_at: None,
    };
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    passkeys::add(&tx, account, &new).await.map_err(|error| match error {
        StoreError::Conflict => unfit("it is somebody's already"),
        other => other.into(),
    })?;
    let mut shown = Vec::new();
    if codes::codes_left(&tx, account).await? == 0 {
        let hashes;
        (shown, hashes) = new_recovery_codes();
        codes::set_recovery_codes(&tx, account, &hashes).await?;
    }
    tx.commit().await.map_err(StoreError::from)?;
    Ok(shown)
}

/// Takes a passkey from an account; recovery codes that stand for nothing any more go with it.
///
/// # Errors
/// [`ApiError::NotFound`].
pub async fn remove(app: &App, account: AccountId, id: Uuid) -> Result<(), ApiError> {
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    if !passkeys::remove(&tx, account, id).await? {
        return Err(ApiError::NotFound("passkey"));
    }
    if passkeys::count(&tx, account).await? == 0 && codes::secret(&tx, account).await?.is_none() {
        codes::set_recovery_codes(&tx, account, &[]).await?;
    }
    Ok(tx.commit().await.map_err(StoreError::from)?)
}

/// What to ask a device for, so that it shows a passkey of an account whose password was right.
///
/// # Errors
/// [`ApiError::CodeWanted`] where the account has none that this address can use.
pub async fn ask(app: &App, session: &WebSession, account: AccountId, address: &OwnAddress) -> Result<Value, ApiError> {
    let webauthn = relying_party(address).ok_or(ApiError::CodeWanted)?;
    let known: Vec<Passkey> = passkeys::of_account(&app.sessions, account).await?.iter().filter_map(kept).collect();
    if known.is_empty() {
        return Err(ApiError::CodeWanted);
    }
    let asked = webauthn.start_passkey_authentication(&known);
    let (options, state) = asked.map_err(|error| ApiError::Internal(error.to_string()))?;
    session.ask(SIGN_IN, account, &json(&state)?, app.now()).await?;
    json(&options.public_key)
}

/// Whether a device's answer shows a passkey of the account, to what was asked in this session. Each question is answered once.
///
/// # Errors
/// [`ApiError::WrongCode`].
pub async fn check(
    app: &App,
    session: &WebSession,
    account: AccountId,
    credential: Value,
    address: &OwnAddress,
) -> Result<(), ApiError> {
    let wrong = |error: &dyn std::fmt::Display| {
        tracing::info!(%error, "a passkey was not taken");
        ApiError::WrongCode
    };
    let webauthn = relying_party(address).ok_or(ApiError::WrongCode)?;
    let asked = session.asked(SIGN_IN, account, app.now()).await?.ok_or(ApiError::WrongCode)?;
    let state: PasskeyAuthentication = serde_json::from_value(asked).map_err(|error| wrong(&error))?;
    let credential: PublicKeyCredential = serde_json::from_value(credential).map_err(|error| wrong(&error))?;
    let shown = webauthn.finish_passkey_authentication(&credential, &state).map_err(|error| wrong(&error))?;
    let stored = passkeys::of_account(&app.sessions, account).await?;
    let stored = stored.into_iter().find(|stored| &stored.credential == shown.cred_id());
    // Removed since it was asked for.
    let stored = stored.ok_or(ApiError::WrongCode)?;
    let mut passkey = kept(&stored).ok_or(ApiError::WrongCode)?;
    passkey.update_credential(&shown);
    Ok(passkeys::used(&app.sessions, account, stored.id, json(&passkey)?, app.now()).await?)
}
