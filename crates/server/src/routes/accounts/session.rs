//! Signing in and out.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::role::Role;
use bright_row_store::accounts::{self, Account};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use utoipa::ToSchema;

use crate::auth::guard::SignedIn;
use crate::auth::session::WebSession;
use crate::error::{ApiError, FieldError, Problem};
use crate::extract::Body;
use crate::passwords::MAX_PASSWORD_LENGTH;
use crate::state::App;

/// E-mail address and password.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SignIn {
    #[schema(example = "director@demo.example")]
    email: String,
    password: String,
}

/// Who signed in, and where that one belongs.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SessionView {
    /// As colleagues read it.
    pub display_name: String,
    /// The address.
    pub email: String,
    /// The programs, by name.
    pub programs: Vec<ProgramView>,
}

/// A school's program and one's role in it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ProgramView {
    /// Its id.
    pub id: bright_row_core::ProgramId,
    /// Its name.
    pub name: String,
    /// What one may do there.
    pub role: Role,
}

pub(crate) async fn view(app: &App, account: Account) -> Result<SessionView, ApiError> {
    let programs = accounts::programs_of(&app.db, account.id).await?;
    let programs = programs.into_iter().map(|(id, name, role)| ProgramView { id, name, role }).collect();
    Ok(SessionView { display_name: account.display_name, email: account.email, programs })
}

/// An address as accounts are kept under it.
///
/// # Errors
/// What is wrong with it, for the field `email`.
pub(crate) fn read_email(text: &str) -> Result<String, FieldError> {
    let email = text.trim().to_lowercase();
    let sound = email.split_once('@').is_some_and(|(name, host)| !name.is_empty() && host.len() > 1);
    if sound && email.len() <= 254 && !email.contains(char::is_whitespace) {
        Ok(email)
    } else {
        Err(FieldError::new("email", "Type an e-mail address, such as name@school.example."))
    }
}

/// Who signed in.
#[utoipa::path(get, path = "/api/session", tag = "session", responses(
    (status = 200, body = SessionView),
    (status = 401, body = Problem, content_type = "application/problem+json"),
))]
pub async fn session(State(app): State<App>, SignedIn(id): SignedIn) -> Result<Json<SessionView>, ApiError> {
    let account = accounts::by_id(&app.db, id).await?.ok_or(ApiError::SignInFirst)?;
    Ok(Json(view(&app, account).await?))
}

/// Signs in; the answer sets the session's cookie.
#[utoipa::path(post, path = "/api/session", tag = "session", request_body = SignIn, responses(
    (status = 200, body = SessionView),
    (status = 401, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
    (status = 429, body = Problem, content_type = "application/problem+json"),
))]
pub async fn sign_in(
    State(app): State<App>,
    session: WebSession,
    Body(body): Body<SignIn>,
) -> Result<Json<SessionView>, ApiError> {
    let email = read_email(&body.email).map_err(|error| ApiError::Invalid(vec![error]))?;
    let email_hash = Sha256::digest(&email);
    let now = app.now();
    if let Some(until) = accounts::begin_sign_in(&app.db, &email_hash, now).await? {
        return Err(ApiError::TooManyTries((until - now).num_seconds() + 1));
    }
    let account = accounts::by_email(&app.db, &email).await?;
    let stored = account.as_ref().map(|account| account.password_hash.clone());
    let too_long = body.password.len() > MAX_PASSWORD_LENGTH;
    if too_long || !app.passwords.matches(body.password, stored).await {
        return Err(ApiError::WrongSignIn);
    }
    let account = account.ok_or(ApiError::WrongSignIn)?;
    accounts::sign_in_went_well(&app.db, &email_hash).await?;
    session.begin(account.id).await?;
    Ok(Json(view(&app, account).await?))
}

/// Signs out.
#[utoipa::path(delete, path = "/api/session", tag = "session", responses((status = 204, description = "Signed out")))]
pub async fn sign_out(session: WebSession) -> Result<StatusCode, ApiError> {
    session.end().await?;
    Ok(StatusCode::NO_CONTENT)
}
