//! The first run: the program and its owner, once.

use bright_row_core::ProgramId;
use bright_row_core::deed::Deed;
use bright_row_core::role::Role;
use bright_row_store::accounts::{self, Account};
use uuid::Uuid;

use super::{begin, commit};
use crate::auth::client::Client;
use crate::auth::deeds::note;
use crate::error::ApiError;
use crate::state::App;

/// Makes a program and its owner, if nobody but the demo's people has an account yet.
///
/// # Errors
/// [`ApiError::Conflict`] if there is one.
pub async fn set_up_program(app: &App, program_name: &str, owner: &Account, client: &Client) -> Result<(), ApiError> {
    let program = ProgramId::from(Uuid::now_v7());
    let tx = begin(app).await?;
    accounts::lock_first_run(&tx).await?;
    if !accounts::none_yet(&tx).await? {
        return Err(already_there());
    }
    accounts::add_program(&tx, program, program_name).await?;
    accounts::add(&tx, owner).await?;
    accounts::join(&tx, program, owner.id, Role::Owner).await?;
    let made = (Deed::ProgramMade, "program", Some(program.uuid()));
    note(&tx, program, app.now(), Some(owner.id), made, Some(client)).await?;
    commit(app, tx, []).await
}

/// What is answered when the program is there already.
#[must_use]
pub fn already_there() -> ApiError {
    ApiError::Conflict("This server has its owner already: sign in. Nothing was changed.")
}
