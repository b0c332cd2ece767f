//! Where files that come in are read: off the request threads, a few at a time and behind everything else, so that whatever they
//! hold everything else is answered meanwhile.

use std::sync::Arc;
use std::time::Duration;

use tokio::sync::{OwnedSemaphorePermit, Semaphore, oneshot};

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

/// How far a thread that reads stands behind those that answer: with both at work it gets a tenth of a processor.
#[cfg(target_os = "linux")]
const NICENESS: i32 = 10;

/// Lets the threads that answer go first, where the system knows priorities of threads.
fn step_back() {
    #[cfg(target_os = "linux")]
    {
        let this = Some(rustix::thread::gettid());
        let step = |now: i32| rustix::process::setpriority_process(this, now.max(NICENESS));
        if let Err(error) = rustix::process::getpriority_process(this).and_then(step) {
            tracing::debug!(%error, "a reader of files goes on with the priority of all others");
        }
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
        let (answer, answered) = oneshot::channel();
        // A thread of its own: one that stepped back once may not come forward again.
        let begun = std::thread::Builder::new().name("reader".to_owned()).spawn(move || {
            // The turn ends with the work, also if nobody waits for it any more.
            let _turn = turn;
            step_back();
            let _ = answer.send(work());
        });
        begun.map_err(|error| ApiError::Internal(format!("no thread for a reader of files: {error}")))?;
        answered.await.map_err(|_| ApiError::Internal("a reader of files fell".to_owned()))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn a_reader_answers_steps_back_and_may_fall() {
        let desk = ReadersDesk::default();
        assert_eq!(desk.read(|| 7).await.expect("an answer"), 7);
        #[cfg(target_os = "linux")]
        {
            let niceness = || rustix::process::getpriority_process(Some(rustix::thread::gettid())).expect("a number");
            let before = niceness();
            assert_eq!(desk.read(niceness).await.expect("an answer"), NICENESS.max(before));
            assert_eq!(niceness(), before, "those that answer stay where they are");
        }
        for _ in 0..=AT_ONCE {
            let fell = desk.read(|| -> u8 { std::panic::resume_unwind(Box::new("fell")) }).await;
            assert!(matches!(fell, Err(ApiError::Internal(_))), "{fell:?}");
        }
        assert_eq!(desk.read(|| 8).await.expect("the turn of one that fell is free again"), 8);
    }
}
