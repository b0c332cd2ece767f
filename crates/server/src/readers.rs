//! Where files that come in are read: off the request threads, a few at a time, so that whatever they hold everything else is
//! answered meanwhile.

use std::sync::Arc;
use std::time::Duration;

use tokio::sync::Semaphore;

use crate::error::ApiError;

/// Files read at once; each may take some hundred MB (`crates/documents/tests/hostile.rs`).
const AT_ONCE: usize = 2;
/// How long a file waits for its turn.
const PATIENCE: Duration = Duration::from_secs(10);

/// Reads files, a few at a time.
#[derive(Clone, Debug)]
pub struct ReadersDesk(Arc<Semaphore>);

impl Default for ReadersDesk {
    fn default() -> Self {
        Self(Arc::new(Semaphore::new(AT_ONCE)))
    }
}

impl ReadersDesk {
    /// What `work` makes of a file.
    ///
    /// # Errors
    /// [`ApiError::Busy`] if others are read for too long; [`ApiError::Internal`] if the reader fell.
    pub async fn read<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, ApiError> {
        let turn = tokio::time::timeout(PATIENCE, self.0.clone().acquire_owned()).await;
        let turn = turn.map_err(|_| ApiError::Busy)?.map_err(|closed| ApiError::Internal(closed.to_string()))?;
        // The turn ends with the work, also if nobody waits for it any more.
        let done = tokio::task::spawn_blocking(move || {
            let _turn = turn;
            work()
        });
        done.await.map_err(|fell| ApiError::Internal(format!("a reader of files fell: {fell}")))
    }
}
