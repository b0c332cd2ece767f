//! The first run of an empty server makes the owner's account.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::setup::roster::{MAX_ACCOUNT_NAME_LENGTH, MAX_PROGRAM_NAME_LENGTH};
use bright_row_store::accounts::{self, Account, Credentials};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::auth::client::Client;
use crate::auth::session::WebSession;
use crate::error::{ApiError, Problem};
use crate::extract::Body;
use crate::extract::fields::Fields;
use crate::passwords;
use crate::routes::accounts::session::{SessionView, read_email, view};
use crate::state::App;
use crate::use_cases::first_run;

/// Whether somebody has been here.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FirstRun {
    /// Nobody but the demo's people has an account yet: the first visitor makes one.
    wanted: bool,
    /// The demo's people are here, and whoever asks is at the server's own machine: they can sign in.
    demo: bool,
}

/// The school's program and its owner.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FirstRunBody {
    program_name: String,
    display_name: String,
    email: String,
    /// At least 12 characters, and not soon guessed.
    password: String,
}

/// Whether this is the first run.
#[utoipa::path(get, path = "/api/first-run", tag = "session", responses((status = 200, body = FirstRun)))]
pub async fn is_first_run(State(app): State<App>, client: Client) -> Result<Json<FirstRun>, ApiError> {
    let demo = client.is_here() && accounts::demo_is_there(&app.db).await?;
    Ok(Json(FirstRun { wanted: accounts::none_yet(&app.db).await?, demo }))
}

/// Makes the program and its owner, once, and signs in.
#[utoipa::path(post, path = "/api/first-run", tag = "session", request_body = FirstRunBody, responses(
    (status = 201, body = SessionView),
    (status = 409, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
))]
pub async fn begin(
    State(app): State<App>,
    session: WebSession,
    client: Client,
    Body(body): Body<FirstRunBody>,
) -> Result<(StatusCode, Json<SessionView>), ApiError> {
    if !accounts::none_yet(&app.db).await? {
        return Err(first_run::already_there());
    }
    let (program_name, display_name, email) = read(&body)?;
    let password_hash = app.passwords.hash(body.password).await;
    let account = Account {
        id: Uuid::now_v7().into(),
        display_name,
        comes_back: Some(Credentials { email, password_hash }),
        demo: false,
    };
    first_run::set_up_program(&app, &program_name, &account, &client).await?;
    session.begin(account.id, &client.device, app.now() + app.options.longest_session).await?;
    Ok((StatusCode::CREATED, Json(view(&app, account, &session).await?)))
}

fn read(body: &FirstRunBody) -> Result<(String, String, String), ApiError> {
    let mut fields = Fields::default();
    let program_name = fields.name::<MAX_PROGRAM_NAME_LENGTH>("programName", &body.program_name);
    let display_name = fields.name::<MAX_ACCOUNT_NAME_LENGTH>("displayName", &body.display_name);
    let email = read_email(&body.email).unwrap_or_else(|error| {
        fields.fault("email", error.detail);
        String::new()
    });
    if let Err(weak) = passwords::check(&body.password, &[&email, &display_name, &program_name]) {
        fields.fault("password", weak.to_string());
    }
    fields.finish()?;
    Ok((program_name, display_name, email))
}
