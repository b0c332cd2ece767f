//! The first run: the program and its director, once.

use bright_row_core::ProgramId;
use bright_row_core::role::Role;
use bright_row_store::accounts::{self, Account};
use uuid::Uuid;

use super::{begin, commit};
use crate::error::ApiError;
use crate::state::App;

/// Makes a program and its director, if there is no account yet.
///
/// # Errors
/// [`ApiError::Conflict`] if there is one.
pub async fn set_up_program(app: &App, program_name: &str, director: &Account) -> Result<(), ApiError> {
    let program = ProgramId::from(Uuid::now_v7());
    let tx = begin(app).await?;
    accounts::lock_first_run(&tx).await?;
    if !accounts::none_yet(&tx).await? {
        return Err(already_there());
    }
    accounts::add_program(&tx, program, program_name).await?;
    accounts::add(&tx, director).await?;
    accounts::join(&tx, program, director.id, Role::Director).await?;
    commit(app, tx, []).await
}

/// What is answered when the program is there already.
#[must_use]
pub fn already_there() -> ApiError {
    ApiError::Conflict("This server has its director already: sign in. Nothing was changed.")
}
