//! One's own passkeys.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::deed::Deed;
use bright_row_store::accounts::passkeys::Passkey;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::client::{Client, OwnAddress};
use crate::auth::guard::SignedIn;
use crate::auth::session::WebSession;
use crate::error::answers::{ForAccountsRemoving, ForAccountsWriting};
use crate::error::{ApiError, FieldError};
use crate::extract::fields::Fields;
use crate::extract::{Body, PasskeyInPath};
use crate::routes::accounts::account::{confirm, own};
use crate::routes::accounts::second_factor::{Confirmed, RecoveryCodes};
use crate::state::App;
use crate::use_cases::passkeys;
use crate::use_cases::sign_in::note_of;

/// The longest name of a passkey, in characters.
pub const MAX_PASSKEY_NAME_LENGTH: usize = 60;

/// A passkey of one's own.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PasskeyView {
    id: Uuid,
    /// As its owner calls it.
    name: String,
    added_at: DateTime<Utc>,
    last_used_at: Option<DateTime<Utc>>,
}

impl From<Passkey> for PasskeyView {
    fn from(passkey: Passkey) -> Self {
        let Passkey { id, name, added_at, last_used_at, .. } = passkey;
        Self { id, name, added_at, last_used_at }
    }
}

/// What a browser asks a device for, as `WebAuthn` has it (`navigator.credentials`), bytes in base64url.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AskedOfDevice {
    #[schema(value_type = Object)]
    pub(super) public_key: Value,
}

/// What a device made.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewPasskey {
    /// As its owner calls it, up to 60 characters.
    name: String,
    /// The device's answer as `WebAuthn` has it, bytes in base64url.
    #[schema(value_type = Object)]
    credential: Value,
}

/// Asks for a new passkey; it counts only once the device has answered.
#[utoipa::path(post, path = "/api/account/passkeys", tag = "session", request_body = Confirmed, responses(
    (status = 200, body = AskedOfDevice), ForAccountsWriting,
))]
pub async fn propose_passkey(
    State(app): State<App>,
    session: WebSession,
    address: OwnAddress,
    SignedIn(id): SignedIn,
    Body(body): Body<Confirmed>,
) -> Result<Json<AskedOfDevice>, ApiError> {
    let account = own(&app, id).await?;
    if account.demo {
        let words = "The demo's people have no second factor, so that everybody can look around.";
        return Err(ApiError::Invalid(vec![FieldError::new("password", words)]));
    }
    confirm(&app, &account, &body.password, "password").await?;
    Ok(Json(AskedOfDevice { public_key: passkeys::propose(&app, &session, &account, &address).await? }))
}

/// Adds the passkey that a device made; answers recovery codes where there were none.
#[utoipa::path(put, path = "/api/account/passkeys", tag = "session", request_body = NewPasskey, responses(
    (status = 200, body = RecoveryCodes), ForAccountsWriting,
))]
pub async fn add_passkey(
    State(app): State<App>,
    session: WebSession,
    client: Client,
    address: OwnAddress,
    SignedIn(id): SignedIn,
    Body(body): Body<NewPasskey>,
) -> Result<Json<RecoveryCodes>, ApiError> {
    let account = own(&app, id).await?;
    let mut fields = Fields::default();
    let name = fields.name::<MAX_PASSKEY_NAME_LENGTH>("name", &body.name);
    fields.finish()?;
    let codes = passkeys::add(&app, &session, id, name, body.credential, &address).await?;
    note_of(&app, &account, Deed::SecondFactorChanged, &client).await?;
    Ok(Json(RecoveryCodes { codes }))
}

/// Takes a passkey away.
#[utoipa::path(delete, path = "/api/account/passkeys/{passkey}", tag = "session",
    params(("passkey" = Uuid, Path, description = "The passkey")), request_body = Confirmed,
    responses((status = 204, description = "Gone"), ForAccountsRemoving))]
pub async fn remove_passkey(
    State(app): State<App>,
    client: Client,
    SignedIn(id): SignedIn,
    PasskeyInPath(passkey): PasskeyInPath,
    Body(body): Body<Confirmed>,
) -> Result<StatusCode, ApiError> {
    let account = own(&app, id).await?;
    confirm(&app, &account, &body.password, "password").await?;
    passkeys::remove(&app, id, passkey).await?;
    note_of(&app, &account, Deed::SecondFactorChanged, &client).await?;
    Ok(StatusCode::NO_CONTENT)
}
