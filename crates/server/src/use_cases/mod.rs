//! What the application does: reads and writes that belong together, in one transaction where they must. Called by routes,
//! by the command line and by the demo.

pub mod add_class;
pub mod arrange_seats;
pub(crate) mod at_home;
pub mod change_context;
pub mod change_settings;
pub mod edit_roster;
pub mod first_run;
pub mod import_roster;
pub mod keep_lesson;
pub mod keeping;
pub mod landings;
pub mod lend;
pub(crate) mod link_secret;
pub mod observe_set_up;
pub mod passkeys;
pub mod people;
pub mod record_family_answers;
pub mod record_observations;
pub mod record_round_events;
pub mod record_tape_work;
pub mod second_factor;
pub mod sign_in;
pub mod small_groups;
pub mod snapshot;
mod standings;
pub mod store_instruments;
pub(crate) mod term_ahead;
pub(crate) mod term_past;

use std::collections::BTreeSet;

use bright_row_core::{ChildId, ClassId, ProgramId};
use bright_row_store::live::Topic;
use bright_row_store::locks::{Hold, hold};
use bright_row_store::observations::renewing;
use bright_row_store::{DatabaseTransaction, StoreError, TransactionTrait, once};
use uuid::Uuid;

use crate::auth::deeds::note_pending;
use crate::error::ApiError;
use crate::state::App;

/// Begins a transaction; dropped before [`commit`], it never was.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn begin(app: &App) -> Result<DatabaseTransaction, ApiError> {
    Ok(app.db.begin().await.map_err(StoreError::from)?)
}

/// Begins a transaction that changes what standings follow from besides observations, or a document as a whole: it has the
/// program alone. What was read before it began may have changed since.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn begin_alone(app: &App, program: ProgramId) -> Result<DatabaseTransaction, ApiError> {
    let tx = begin(app).await?;
    hold(&tx, program, Hold::Alone).await?;
    Ok(tx)
}

/// Commits a transaction with the note of what it does, and only then tells the pages of the classes that changed.
///
/// # Errors
/// [`ApiError::Store`]; then nothing was changed.
pub async fn commit(
    app: &App,
    tx: DatabaseTransaction,
    changed: impl IntoIterator<Item = ClassId>,
) -> Result<(), ApiError> {
    let noted = note_pending(&tx, app.now()).await?;
    tx.commit().await.map_err(StoreError::from)?;
    noted.committed();
    for class in changed {
        app.live.changed(class, Topic::Class);
    }
    Ok(())
}

/// Computes anew how these children of a program stand, each by the settings of its class; answers the classes they are in.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn renew(
    app: &App,
    tx: &DatabaseTransaction,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
) -> Result<BTreeSet<ClassId>, ApiError> {
    // On the heap: everything that a class is computed from is large.
    Ok(Box::pin(renewing::renew(tx, program, children, app)).await?)
}

/// What was answered when the request of this id was done; `None`: it has not been done, or has no id.
async fn done_before(
    tx: &DatabaseTransaction,
    program: ProgramId,
    request: Option<Uuid>,
) -> Result<Option<String>, ApiError> {
    let Some(request) = request else { return Ok(None) };
    Ok(once::answer(tx, program, request).await?)
}

/// Notes that the request of this id is done.
async fn note_done(
    app: &App,
    tx: &DatabaseTransaction,
    program: ProgramId,
    request: Option<Uuid>,
    answer: &str,
) -> Result<(), ApiError> {
    let Some(request) = request else { return Ok(()) };
    Ok(once::note(tx, program, request, answer, app.now()).await?)
}
