//! One's own account: name, address, password, devices that are signed in.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::deed::Deed;
use bright_row_core::setup::roster::MAX_ACCOUNT_NAME_LENGTH;
use bright_row_store::StoreError;
use bright_row_store::accounts::sessions::{self, Which};
use bright_row_store::accounts::{self, Account, devices, passkeys, second_factor};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::client::{Client, OwnAddress};
use crate::auth::guard::SignedIn;
use crate::auth::known_device::Device;
use crate::auth::session::WebSession;
use crate::error::answers::{ForAccounts, ForAccountsWriting};
use crate::error::{ApiError, FieldError};
use crate::extract::fields::Fields;
use crate::extract::{Body, DeviceInPath};
use crate::passwords;
use crate::routes::accounts::passkeys::PasskeyView;
use crate::routes::accounts::session::read_email;
use crate::state::App;
use crate::use_cases::passkeys::relying_party;
use crate::use_cases::sign_in::note_of;

/// One's own account.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AccountView {
    display_name: String,
    email: String,
    demo: bool,
    /// A code of a second device is asked for at sign-in.
    second_factor: bool,
    /// Devices and keys that are shown at sign-in instead of a code, the oldest first.
    passkeys: Vec<PasskeyView>,
    /// Whether passkeys can be made at the address by which this server was asked.
    passkeys_possible: bool,
    /// Recovery codes that were not used yet.
    recovery_codes: u64,
    /// The devices that are signed in, the last used first.
    devices: Vec<DeviceView>,
}

/// A device that is signed in.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct DeviceView {
    id: Uuid,
    /// What kind: `Chrome on Android`.
    device: String,
    begun_at: DateTime<Utc>,
    /// To the minute.
    last_used_at: DateTime<Utc>,
    /// However much it is used.
    ends_at: DateTime<Utc>,
    /// The one that asks.
    this: bool,
}

/// Name and address.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AccountBody {
    display_name: String,
    email: String,
}

/// A new password.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PasswordBody {
    /// The present one.
    current: String,
    /// At least 12 characters, and not soon guessed.
    password: String,
}

/// Somebody who comes back with a password; a substitute has no account to change.
pub(crate) async fn own(app: &App, id: bright_row_core::AccountId) -> Result<Account, ApiError> {
    let account = accounts::by_id(&app.db, id).await?.ok_or(ApiError::SignInFirst)?;
    if account.comes_back.is_some() { Ok(account) } else { Err(ApiError::NotForSubstitutes) }
}

/// Whether a password is the present one of an account; slowed like a sign-in.
pub(crate) async fn confirm(app: &App, account: &Account, password: &str, field: &str) -> Result<(), ApiError> {
    let stored = account.comes_back.as_ref().map(|known| known.password_hash.clone());
    let short = password.len() <= passwords::MAX_PASSWORD_LENGTH;
    if short && app.passwords.matches(password.to_owned(), stored).await {
        return Ok(());
    }
    Err(ApiError::Invalid(vec![FieldError::new(field, "This is not your present password. Nothing was changed.")]))
}

/// One's own account with the devices that are signed in.
#[utoipa::path(get, path = "/api/account", tag = "session", responses((status = 200, body = AccountView), ForAccounts))]
pub async fn account(
    State(app): State<App>,
    session: WebSession,
    address: OwnAddress,
    SignedIn(id): SignedIn,
) -> Result<Json<AccountView>, ApiError> {
    let account = own(&app, id).await?;
    let this = session.id().await?;
    let kept = sessions::of_account(&app.sessions, id, app.now(), app.options.quiet_session).await?;
    let device = |kept: sessions::Kept| DeviceView {
        id: kept.id,
        device: kept.device,
        begun_at: kept.begun_at,
        last_used_at: kept.last_used_at,
        ends_at: kept.expires_at,
        this: this == Some(kept.id),
    };
    Ok(Json(AccountView {
        email: account.email().to_owned(),
        display_name: account.display_name,
        demo: account.demo,
        second_factor: second_factor::secret(&app.db, id).await?.is_some(),
        passkeys: passkeys::of_account(&app.db, id).await?.into_iter().map(Into::into).collect(),
        passkeys_possible: relying_party(&address).is_some(),
        recovery_codes: second_factor::codes_left(&app.db, id).await?,
        devices: kept.into_iter().map(device).collect(),
    }))
}

/// Changes one's name and address.
#[utoipa::path(put, path = "/api/account", tag = "session", request_body = AccountBody, responses(
    (status = 204, description = "Changed"), ForAccountsWriting,
))]
pub async fn change_account(
    State(app): State<App>,
    client: Client,
    SignedIn(id): SignedIn,
    Body(body): Body<AccountBody>,
) -> Result<StatusCode, ApiError> {
    let account = own(&app, id).await?;
    let mut fields = Fields::default();
    let display_name = fields.name::<MAX_ACCOUNT_NAME_LENGTH>("displayName", &body.display_name);
    let email = read_email(&body.email).unwrap_or_else(|error| {
        fields.fault("email", error.detail);
        String::new()
    });
    fields.finish()?;
    accounts::change(&app.db, id, &display_name, &email).await.map_err(|error| match error {
        StoreError::Conflict => {
            ApiError::Invalid(vec![FieldError::new("email", "Another account has this address. Nothing was changed.")])
        }
        other => ApiError::Store(other),
    })?;
    note_of(&app, &account, Deed::AccountChanged, &client).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Changes one's password; every other device that was signed in is signed out, at once.
#[utoipa::path(put, path = "/api/account/password", tag = "session", request_body = PasswordBody, responses(
    (status = 204, description = "Changed"), ForAccountsWriting,
))]
pub async fn change_password(
    State(app): State<App>,
    session: WebSession,
    client: Client,
    device: Device,
    SignedIn(id): SignedIn,
    Body(body): Body<PasswordBody>,
) -> Result<StatusCode, ApiError> {
    let account = own(&app, id).await?;
    if account.demo {
        let words =
            "The demo's password stays as it is, so that everybody can look around. Make your own account instead.";
        return Err(ApiError::Invalid(vec![FieldError::new("password", words)]));
    }
    confirm(&app, &account, &body.current, "current").await?;
    let known = [account.email(), &account.display_name];
    passwords::check(&body.password, &known)
        .map_err(|weak| ApiError::Invalid(vec![FieldError::new("password", weak.to_string())]))?;
    let hash = app.passwords.hash(body.password).await;
    accounts::set_password(&app.db, id, &hash).await?;
    devices::forget(&app.db, id).await?;
    sessions::end_of_account(&app.sessions, id, Which::All).await?;
    app.live.session_ended(id);
    session.begin(id, &client.device, app.now() + app.options.longest_session).await?;
    device.know(&app, id).await?;
    note_of(&app, &account, Deed::PasswordChanged, &client).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Signs one device out, at once.
#[utoipa::path(delete, path = "/api/account/devices/{device}", tag = "session",
    params(("device" = Uuid, Path, description = "The device, as one's account lists it")),
    responses((status = 204, description = "Signed out"), ForAccounts))]
pub async fn end_device(
    State(app): State<App>,
    client: Client,
    SignedIn(id): SignedIn,
    DeviceInPath(device): DeviceInPath,
) -> Result<StatusCode, ApiError> {
    let account = own(&app, id).await?;
    if sessions::end_of_account(&app.sessions, id, Which::One(device)).await? == 0 {
        return Err(ApiError::NotFound("device"));
    }
    app.live.session_ended(id);
    note_of(&app, &account, Deed::DeviceEnded, &client).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Signs every other device out, at once.
#[utoipa::path(delete, path = "/api/account/devices", tag = "session", responses(
    (status = 204, description = "Signed out"), ForAccounts,
))]
pub async fn end_other_devices(
    State(app): State<App>,
    session: WebSession,
    client: Client,
    SignedIn(id): SignedIn,
) -> Result<StatusCode, ApiError> {
    let account = own(&app, id).await?;
    let which = session.id().await?.map_or(Which::All, Which::AllBut);
    sessions::end_of_account(&app.sessions, id, which).await?;
    app.live.session_ended(id);
    note_of(&app, &account, Deed::DeviceEnded, &client).await?;
    Ok(StatusCode::NO_CONTENT)
}
