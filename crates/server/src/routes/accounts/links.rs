//! Links that let somebody in: an invitation, a new password. Their secrets travel in bodies, never in addresses.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::http::header::SET_COOKIE;
use axum::response::IntoResponse;
use bright_row_core::deed::Deed;
use bright_row_core::role::Role;
use bright_row_core::setup::roster::MAX_ACCOUNT_NAME_LENGTH;
use bright_row_store::accounts::invitations;
use bright_row_store::accounts::{self, Account, Credentials};
use bright_row_store::classes;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::client::Client;
use crate::auth::known_device::Device;
use crate::auth::recorder::SENDING_AFTER;
use crate::auth::session::WebSession;
use crate::error::answers::ForLinks;
use crate::error::{ApiError, FieldError};
use crate::extract::Body;
use crate::extract::fields::Fields;
use crate::passwords;
use crate::routes::accounts::session::{SessionView, read_email, view};
use crate::state::App;
use crate::use_cases::link_secret::LinkSecret;
use crate::use_cases::people::{self, Taker};
use crate::use_cases::sign_in::note_of;

/// What stands behind the `#` of a link.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LinkBody {
    secret: String,
}

/// What an invitation is to.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Invited {
    program_name: String,
    role: Role,
    /// Whom it is for.
    name: String,
    /// The classes given, by name.
    classes: Vec<String>,
    /// Until when a substitute is let in.
    until: Option<DateTime<Utc>>,
    /// Who invites.
    by: String,
}

/// Somebody who takes an invitation. A substitute sends the secret only; so does whoever is signed in.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TakeBody {
    secret: String,
    #[serde(default)]
    display_name: String,
    #[serde(default)]
    email: String,
    /// At least 12 characters, and not soon guessed.
    #[serde(default)]
    password: String,
}

/// A new password by a link.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NewPassword {
    secret: String,
    /// At least 12 characters, and not soon guessed.
    password: String,
}

async fn of_secret(app: &App, text: &str) -> Result<invitations::Invitation, ApiError> {
    let secret = LinkSecret::read(text);
    let found = invitations::of_secret(&app.db, secret.program, &secret.hash, app.now()).await?;
    found.ok_or(ApiError::LinkOver)
}

/// Shows what a link invites to; it stays good.
#[utoipa::path(post, path = "/api/links/invitation/look", tag = "session", request_body = LinkBody, responses(
    (status = 200, body = Invited), ForLinks,
))]
pub async fn look(State(app): State<App>, Body(body): Body<LinkBody>) -> Result<Json<Invited>, ApiError> {
    let invitation = of_secret(&app, &body.secret).await?;
    let all = classes::of_program(&app.db, invitation.program, None).await?;
    let by = accounts::names(&app.db, [invitation.made.by].into_iter()).await?;
    let program_name = accounts::program_name(&app.db, invitation.program).await?;
    let given = all.into_iter().filter(|class| invitation.classes.contains(&class.key.class));
    Ok(Json(Invited {
        program_name,
        role: invitation.role,
        classes: given.map(|class| class.name).collect(),
        name: invitation.name,
        until: invitation.until,
        by: by.into_values().next().unwrap_or_default(),
    }))
}

/// Takes an invitation, once, and signs in.
#[utoipa::path(post, path = "/api/links/invitation", tag = "session", request_body = TakeBody, responses(
    (status = 201, body = SessionView), ForLinks,
))]
pub async fn take(
    State(app): State<App>,
    session: WebSession,
    client: Client,
    device: Device,
    Body(body): Body<TakeBody>,
) -> Result<impl IntoResponse, ApiError> {
    let role = of_secret(&app, &body.secret).await?.role;
    let signed_in = session.account().await?;
    let known = match signed_in {
        // A substitute's session brings nobody else in.
        Some(account) => accounts::by_id(&app.db, account).await?.filter(|account| account.comes_back.is_some()),
        None => None,
    };
    let new = if role == Role::Substitute || known.is_some() { None } else { Some(read(&app, &body).await?) };
    let taker = |invitation: &invitations::Invitation| match (invitation.role, new, &known) {
        (Role::Substitute, ..) => Ok(Taker::Substitute),
        (_, Some(account), _) => Ok(Taker::New(account)),
        (_, None, Some(known)) => Ok(Taker::Known(known.id)),
        (_, None, None) => Err(ApiError::LinkOver),
    };
    let (account, until) = people::take_invitation(&app, &body.secret, &client, taker).await?;
    // What a substitute's device could not send in time it may send for a while; it shows nothing by then.
    let ends = until.map_or(app.now() + app.options.longest_session, |until| until + SENDING_AFTER);
    session.begin(account, &client.device, ends).await?;
    if until.is_none() {
        device.know(&app, account).await?;
    }
    let account = accounts::by_id(&app.db, account).await?.ok_or(ApiError::SignInFirst)?;
    Ok((StatusCode::CREATED, [(SET_COOKIE, device.cookie())], Json(view(&app, account, &session).await?)))
}

async fn read(app: &App, body: &TakeBody) -> Result<Account, ApiError> {
    let mut fields = Fields::default();
    let display_name = fields.name::<MAX_ACCOUNT_NAME_LENGTH>("displayName", &body.display_name);
    let email = read_email(&body.email).unwrap_or_else(|error| {
        fields.fault("email", error.detail);
        String::new()
    });
    if let Err(weak) = passwords::check(&body.password, &[&email, &display_name]) {
        fields.fault("password", weak.to_string());
    }
    fields.finish()?;
    let password_hash = app.passwords.hash(body.password.clone()).await;
    let comes_back = Some(Credentials { email, password_hash });
    Ok(Account { id: Uuid::now_v7().into(), display_name, comes_back, demo: false })
}

/// Sets a new password by a link, once; every device is signed out, and one signs in with it.
#[utoipa::path(post, path = "/api/links/password", tag = "session", request_body = NewPassword, responses(
    (status = 204, description = "Set"), ForLinks,
))]
pub async fn take_password(
    State(app): State<App>,
    client: Client,
    Body(body): Body<NewPassword>,
) -> Result<StatusCode, ApiError> {
    let account = people::of_password_link(&app, &body.secret).await?;
    passwords::check(&body.password, &[account.email(), &account.display_name])
        .map_err(|weak| ApiError::Invalid(vec![FieldError::new("password", weak.to_string())]))?;
    let hash = app.passwords.hash(body.password).await;
    let account = people::take_password_link(&app, &body.secret, &hash).await?;
    note_of(&app, &account, Deed::PasswordChanged, &client).await?;
    Ok(StatusCode::NO_CONTENT)
}
