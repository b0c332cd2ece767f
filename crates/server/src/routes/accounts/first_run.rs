//! The first visit to an empty server makes the director's account.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::ProgramId;
use bright_row_store::accounts::{self, Account, Role};
use bright_row_store::{StoreError, TransactionTrait};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::extract::Body;
use crate::error::{ApiError, FieldError, Problem};
use crate::routes::accounts::session::{SessionView, read_email, view};
use crate::state::App;
use crate::auth::password::{LONGEST, SHORTEST};
use crate::auth::session::WebSession;

/// Whether somebody has been here.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FirstRun {
    /// Nobody has an account yet: the first visitor makes one.
    wanted: bool,
}

/// The school's program and its director.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FirstRunBody {
    program_name: String,
    display_name: String,
    email: String,
    /// At least 10 characters.
    password: String,
}

/// Whether this is the first visit.
#[utoipa::path(get, path = "/api/first-run", tag = "session", responses((status = 200, body = FirstRun)))]
pub async fn first_run(State(app): State<App>) -> Result<Json<FirstRun>, ApiError> {
    Ok(Json(FirstRun { wanted: accounts::none_yet(&app.db).await? }))
}

/// Makes the program and its director, once, and signs in.
#[utoipa::path(post, path = "/api/first-run", tag = "session", request_body = FirstRunBody, responses(
    (status = 201, body = SessionView),
    (status = 409, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
))]
pub async fn begin(
    State(app): State<App>,
    session: WebSession,
    Body(body): Body<FirstRunBody>,
) -> Result<(StatusCode, Json<SessionView>), ApiError> {
    let taken = ApiError::Conflict("This server has its director already: sign in. Nothing was changed.");
    if !accounts::none_yet(&app.db).await? {
        return Err(taken);
    }
    let (program_name, display_name, email) = read(&body)?;
    let account = Account {
        id: Uuid::now_v7().into(),
        email,
        display_name,
        password_hash: app.passwords.hash(body.password).await,
    };
    let program = ProgramId::from(Uuid::now_v7());
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    accounts::lock_first_run(&tx).await?;
    if !accounts::none_yet(&tx).await? {
        return Err(taken);
    }
    accounts::add_program(&tx, program, &program_name).await?;
    accounts::add(&tx, &account).await?;
    accounts::join(&tx, program, account.id, Role::Director).await?;
    tx.commit().await.map_err(StoreError::from)?;
    session.begin(account.id).await?;
    Ok((StatusCode::CREATED, Json(view(&app, account).await?)))
}

fn read(body: &FirstRunBody) -> Result<(String, String, String), ApiError> {
    let mut errors = Vec::new();
    let program_name = crate::routes::accounts::classes::read_name(&body.program_name, "programName", 120, &mut errors);
    let display_name = crate::routes::accounts::classes::read_name(&body.display_name, "displayName", 80, &mut errors);
    let email = read_email(&body.email).unwrap_or_else(|error| {
        errors.push(error);
        String::new()
    });
    if body.password.chars().count() < SHORTEST || body.password.len() > LONGEST {
        errors.push(FieldError::new(
            "password",
            format!("Choose at least {SHORTEST} characters; several words are good."),
        ));
    }
    if errors.is_empty() { Ok((program_name, display_name, email)) } else { Err(ApiError::Invalid(errors)) }
}
