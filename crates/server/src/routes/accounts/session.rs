//! Signing in and out.

use axum::Json;
use axum::extract::State;
use axum::http::header::{HeaderName, HeaderValue, SET_COOKIE};
use axum::http::{HeaderMap, StatusCode};
use axum::response::IntoResponse;
use bright_row_core::role::Role;
use bright_row_store::accounts::{self, Account};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::client::{Client, OwnAddress};
use crate::auth::guard::SignedIn;
use crate::auth::known_device::Device;
use crate::auth::session::WebSession;
use crate::error::{ApiError, FieldError, Problem};
use crate::extract::Body;
use crate::routes::accounts::passkeys::AskedOfDevice;
use crate::state::App;
use crate::use_cases::passkeys;
use crate::use_cases::sign_in::{self, Shown, Try};

/// E-mail address and password, and a code where a second factor is asked for.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SignIn {
    #[schema(example = "director@demo.example")]
    email: String,
    password: String,
    /// Six digits of the second device, or a recovery code.
    #[serde(default)]
    code: String,
    /// Instead of a code: what a device answers to what `/api/session/passkey` asked, as `WebAuthn` has it, bytes in base64url.
    #[serde(default)]
    #[schema(value_type = Option<Object>)]
    passkey: Option<serde_json::Value>,
}

/// E-mail address and password.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AskForPasskey {
    email: String,
    password: String,
}

/// Who signed in, and where that one belongs.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SessionView {
    /// Whose everything is that a device keeps.
    pub account: Uuid,
    /// As colleagues read it.
    pub display_name: String,
    /// The address; empty for a substitute, who does not come back with one.
    pub email: String,
    /// Until when a device may show without network what it keeps of the answers.
    pub keeps_until: DateTime<Utc>,
    /// One of the demo's people: everybody knows the password.
    pub demo: bool,
    /// The programs, by name.
    pub programs: Vec<ProgramView>,
}

/// A school's program and one's role in it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ProgramView {
    /// Its id.
    pub id: bright_row_core::ProgramId,
    /// Its name.
    pub name: String,
    /// What one may do there.
    pub role: Role,
    /// Whether that is to add classes.
    pub may_change: bool,
    /// Until when a substitute is let in.
    pub until: Option<DateTime<Utc>>,
    /// The program demands a second factor and this account has none yet: its classes stay shut until then.
    pub wants_second_factor: bool,
}

pub(crate) async fn view(app: &App, account: Account, session: &WebSession) -> Result<SessionView, ApiError> {
    let programs = accounts::programs_of(&app.db, account.id, app.now()).await?;
    let quiet = app.now() + app.options.quiet_session;
    let until = programs.iter().filter_map(|program| program.until).max();
    let keeps_until = [session.ends().await?, until].into_iter().flatten().fold(quiet, DateTime::min);
    let programs = programs.into_iter().map(|program| ProgramView {
        id: program.id,
        name: program.name,
        role: program.role,
        may_change: program.role.may_change(),
        until: program.until,
        wants_second_factor: program.wants_second_factor,
    });
    Ok(SessionView {
        account: account.id.uuid(),
        email: account.email().to_owned(),
        keeps_until,
        demo: account.demo,
        programs: programs.collect(),
        display_name: account.display_name,
    })
}

/// An address as accounts are kept under it.
///
/// # Errors
/// What is wrong with it, for the field `email`.
pub(crate) fn read_email(text: &str) -> Result<String, FieldError> {
    let email = text.trim().to_lowercase();
    let sound = email.split_once('@').is_some_and(|(name, host)| !name.is_empty() && host.len() > 1);
    let odd = |c: char| c.is_whitespace() || c.is_control();
    if sound && email.len() <= 254 && !email.contains(odd) {
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
pub async fn session(
    State(app): State<App>,
    session: WebSession,
    SignedIn(id): SignedIn,
) -> Result<Json<SessionView>, ApiError> {
    let account = accounts::by_id(&app.db, id).await?.ok_or(ApiError::SignInFirst)?;
    let view = view(&app, account, &session).await?;
    // A substitute whose time is over belongs nowhere.
    if view.programs.is_empty() && view.email.is_empty() { Err(ApiError::SignInFirst) } else { Ok(Json(view)) }
}

/// Signs in; the answer sets the session's cookie.
#[utoipa::path(post, path = "/api/session", tag = "session", request_body = SignIn, responses(
    (status = 200, body = SessionView),
    (status = 401, body = Problem, content_type = "application/problem+json"),
    (status = 403, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
    (status = 429, body = Problem, content_type = "application/problem+json"),
))]
pub async fn sign_in(
    State(app): State<App>,
    session: WebSession,
    client: Client,
    device: Device,
    address: OwnAddress,
    Body(body): Body<SignIn>,
) -> Result<impl IntoResponse, ApiError> {
    let email = read_email(&body.email).map_err(|error| ApiError::Invalid(vec![error]))?;
    let tried = Try { email, password: body.password };
    let shown = match body.passkey {
        Some(credential) => Shown::Passkey(&session, credential, &address),
        None => Shown::Code(&body.code),
    };
    let account = sign_in::sign_in(&app, tried, shown, &client, &device).await?;
    session.begin(account.id, &client.device, app.now() + app.options.longest_session).await?;
    let mut headers = HeaderMap::new();
    headers.insert(SET_COOKIE, device.cookie());
    Ok((headers, Json(view(&app, account, &session).await?)))
}

/// Asks for a passkey of whoever address and password belong to; nobody is signed in by that.
#[utoipa::path(post, path = "/api/session/passkey", tag = "session", request_body = AskForPasskey, responses(
    (status = 200, body = AskedOfDevice),
    (status = 401, body = Problem, content_type = "application/problem+json"),
    (status = 403, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
    (status = 429, body = Problem, content_type = "application/problem+json"),
))]
pub async fn ask_for_passkey(
    State(app): State<App>,
    session: WebSession,
    client: Client,
    device: Device,
    address: OwnAddress,
    Body(body): Body<AskForPasskey>,
) -> Result<Json<AskedOfDevice>, ApiError> {
    let email = read_email(&body.email).map_err(|error| ApiError::Invalid(vec![error]))?;
    let (account, _) = sign_in::identify(&app, Try { email, password: body.password }, &client, &device).await?;
    Ok(Json(AskedOfDevice { public_key: passkeys::ask(&app, &session, account.id, &address).await? }))
}

/// Signs out; the browser forgets what it kept of the answers.
#[utoipa::path(delete, path = "/api/session", tag = "session", responses((status = 204, description = "Signed out")))]
pub async fn sign_out(State(app): State<App>, session: WebSession) -> Result<impl IntoResponse, ApiError> {
    let account = session.account().await?;
    session.end().await?;
    if let Some(account) = account {
        app.live.session_ended(account);
    }
    // What is kept in stores is cleared by the page, which leaves what waits to be sent.
    let forget = (HeaderName::from_static("clear-site-data"), HeaderValue::from_static("\"cache\""));
    Ok((StatusCode::NO_CONTENT, [forget]))
}
