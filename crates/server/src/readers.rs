//! Where files that come in are read: off the request threads, a few at a time, so that whatever they hold everything else is
//! answered meanwhile.

use std::sync::Arc;
use std::time::Duration;

use tokio::sync::{OwnedSemaphorePermit, Semaphore};

use crate::error::ApiError;

/// Files read at once; each may take some hundred MB (`crates/documents/tests/hostile.rs`).
const AT_ONCE: usize = 2;
/// How long a file waits for its turn.
const PATIENCE: Duration = Duration::from_secs(10);

/// Large files kept in memory at once, while they come in and are read.
const LARGE_AT_ONCE: usize = 2;

/// Reads files, a few at a time.
#[derive(Clone, Debug)]
pub struct ReadersDesk {
    turns: Arc<Semaphore>,
    large: Arc<Semaphore>,
}

/// The place of a large file in memory; free again when it is dropped.
#[derive(Debug)]
pub struct Place {
    _permit: OwnedSemaphorePermit,
}

impl Default for ReadersDesk {
    fn default() -> Self {
        Self { turns: Arc::new(Semaphore::new(AT_ONCE)), large: Arc::new(Semaphore::new(LARGE_AT_ONCE)) }
    }
}

/// A permit, as soon as there is one.
async fn permit(of: &Arc<Semaphore>) -> Result<OwnedSemaphorePermit, ApiError> {
    let permit = tokio::time::timeout(PATIENCE, of.clone().acquire_owned()).await;
    permit.map_err(|_| ApiError::Busy)?.map_err(|closed| ApiError::Internal(closed.to_string()))
}

impl ReadersDesk {
    /// A place for a large file that is about to come in.
    ///
    /// # Errors
    /// [`ApiError::Busy`] if others take too long.
    pub async fn place_for_a_large_file(&self) -> Result<Place, ApiError> {
        Ok(Place { _permit: permit(&self.large).await? })
    }

    /// What `work` makes of a file.
    ///
    /// # Errors
    /// [`ApiError::Busy`] if others are read for too long; [`ApiError::Internal`] if the reader fell.
    pub async fn read<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, ApiError> {
        let turn = permit(&self.turns).await?;
        // The turn ends with the work, also if nobody waits for it any more.
        let done = tokio::task::spawn_blocking(move || {
            let _turn = turn;
            work()
        });
        done.await.map_err(|fell| ApiError::Internal(format!("a reader of files fell: {fell}")))
    }
}
