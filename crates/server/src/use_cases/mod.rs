//! What the application does: reads and writes that belong together, in one transaction where they must. Called by routes,
//! by the command line and by the demo.

pub mod add_class;
pub mod arrange_seats;
pub mod change_context;
pub mod change_settings;
pub mod edit_roster;
pub mod first_run;
pub mod import_roster;
pub mod landings;
pub mod lend;
pub mod record_observations;
pub mod record_round_events;
pub mod record_tape_work;
pub mod snapshot;
pub mod store_instruments;

use bright_row_core::ClassId;
use bright_row_store::live::Topic;
use bright_row_store::{DatabaseTransaction, StoreError, TransactionTrait};

use crate::error::ApiError;
use crate::state::App;

/// Begins a transaction; dropped before [`commit`], it never was.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn begin(app: &App) -> Result<DatabaseTransaction, ApiError> {
    Ok(app.db.begin().await.map_err(StoreError::from)?)
}

/// Commits a transaction, and only then tells the pages of the classes that changed.
///
/// # Errors
/// [`ApiError::Store`]; then nothing was changed.
pub async fn commit(
    app: &App,
    tx: DatabaseTransaction,
    changed: impl IntoIterator<Item = ClassId>,
) -> Result<(), ApiError> {
    tx.commit().await.map_err(StoreError::from)?;
    for class in changed {
        app.live.changed(class, Topic::Class);
    }
    Ok(())
}
