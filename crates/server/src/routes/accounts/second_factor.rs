//! One's own second factor: set up with a device that makes codes, and turned off again.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::deed::Deed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::auth::client::Client;
use crate::auth::guard::SignedIn;
use crate::error::answers::{ForAccounts, ForAccountsWriting};
use crate::error::{ApiError, FieldError};
use crate::extract::Body;
use crate::routes::accounts::account::{confirm, own};
use crate::state::App;
use crate::use_cases::second_factor;
use crate::use_cases::sign_in::note_of;

/// A secret for a device that makes codes. It counts only once a code of it was sent.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewSecret {
    /// To be typed in, base 32.
    secret: String,
    /// To be read as a code by the device's camera.
    address: String,
}

/// A secret with a code that follows from it now.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FactorBody {
    /// As it was proposed.
    secret: String,
    /// Six digits.
    code: String,
    /// The present password.
    password: String,
}

/// The password, to confirm it.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Confirmed {
    /// The present password.
    pub(super) password: String,
}

/// Codes for when the second device is lost; each is good once. Shown this once.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RecoveryCodes {
    pub(super) codes: Vec<String>,
}

/// Proposes a secret; keeps nothing.
#[utoipa::path(post, path = "/api/account/second-factor", tag = "session", responses(
    (status = 200, body = NewSecret), ForAccounts,
))]
pub async fn propose_factor(State(app): State<App>, SignedIn(id): SignedIn) -> Result<Json<NewSecret>, ApiError> {
    let account = own(&app, id).await?;
    let secret = second_factor::write_secret(&second_factor::new_secret());
    // What an authenticator reads: issuer and account, percent-encoded (the letters of an address need no more than these).
    let whose: String = account.email().replace('%', "%25").replace('@', "%40").replace('?', "%3F").replace('#', "%23");
    let address = format!(
        "otpauth://totp/Bright%20Row:{whose}?secret={secret}&issuer=Bright%20Row&algorithm=SHA1&digits=6&period=30"
    );
    Ok(Json(NewSecret { secret, address }))
}

/// Turns the second factor on; answers recovery codes.
#[utoipa::path(put, path = "/api/account/second-factor", tag = "session", request_body = FactorBody, responses(
    (status = 200, body = RecoveryCodes), ForAccountsWriting,
))]
pub async fn turn_factor_on(
    State(app): State<App>,
    client: Client,
    SignedIn(id): SignedIn,
    Body(body): Body<FactorBody>,
) -> Result<Json<RecoveryCodes>, ApiError> {
    let account = own(&app, id).await?;
    if account.demo {
        let words = "The demo's people have no second factor, so that everybody can look around.";
        return Err(ApiError::Invalid(vec![FieldError::new("code", words)]));
    }
    confirm(&app, &account, &body.password, "password").await?;
    let secret = second_factor::read_secret(&body.secret).ok_or_else(|| {
        ApiError::Invalid(vec![FieldError::new("secret", "This is no secret as it was proposed. Begin again.")])
    })?;
    let codes = second_factor::turn_on(&app, id, &secret, &body.code).await.map_err(|error| match error {
        ApiError::WrongCode => ApiError::Invalid(vec![FieldError::new(
            "code",
            "This code does not follow from the secret now. Wait for the next one and type it.",
        )]),
        other => other,
    })?;
    note_of(&app, &account, Deed::SecondFactorChanged, &client).await?;
    Ok(Json(RecoveryCodes { codes }))
}

/// Turns the second factor off.
#[utoipa::path(delete, path = "/api/account/second-factor", tag = "session", request_body = Confirmed, responses(
    (status = 204, description = "Off"), ForAccountsWriting,
))]
pub async fn turn_factor_off(
    State(app): State<App>,
    client: Client,
    SignedIn(id): SignedIn,
    Body(body): Body<Confirmed>,
) -> Result<StatusCode, ApiError> {
    let account = own(&app, id).await?;
    confirm(&app, &account, &body.password, "password").await?;
    second_factor::turn_off(&app, id).await?;
    note_of(&app, &account, Deed::SecondFactorChanged, &client).await?;
    Ok(StatusCode::NO_CONTENT)
}
