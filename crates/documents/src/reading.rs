//! How far a large file is read, for whoever waits for it, and a way to stop.

use std::io::{Error, Read, Result, Seek, SeekFrom};
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};

/// A file that is being read; shared between who reads and who waits.
#[derive(Debug, Default)]
pub struct Reading {
    done: AtomicU64,
    of: AtomicU64,
    stopped: AtomicBool,
}

impl Reading {
    /// Whoever reads comes to an end soon; what it answers then means nothing.
    pub fn stop(&self) {
        self.stopped.store(true, Ordering::Relaxed);
    }

    /// Whether somebody stopped it.
    #[must_use]
    pub fn is_stopped(&self) -> bool {
        self.stopped.load(Ordering::Relaxed)
    }

    /// The share of the file that is read, 0 to 1.
    #[must_use]
    pub fn share(&self) -> f64 {
        let number =
            |bytes: &AtomicU64| u32::try_from(bytes.load(Ordering::Relaxed) / 1024).map_or(f64::MAX, f64::from);
        (number(&self.done) / number(&self.of).max(1.0)).min(1.0)
    }

    /// So many bytes are to be read.
    pub(crate) fn begin(&self, bytes: u64) {
        self.of.store(bytes, Ordering::Relaxed);
    }

    /// What is read through this counts, and fails once somebody stopped it.
    pub(crate) fn watch<R>(&self, inner: R) -> Watched<'_, R> {
        Watched { inner, reading: self }
    }
}

/// See [`Reading::watch`].
#[derive(Debug)]
pub(crate) struct Watched<'a, R> {
    inner: R,
    reading: &'a Reading,
}

impl<R: Read> Read for Watched<'_, R> {
    fn read(&mut self, buffer: &mut [u8]) -> Result<usize> {
        if self.reading.is_stopped() {
            return Err(Error::other("reading was stopped"));
        }
        let bytes = self.inner.read(buffer)?;
        self.reading.done.fetch_add(u64::try_from(bytes).unwrap_or(u64::MAX), Ordering::Relaxed);
        Ok(bytes)
    }
}

impl<R: Seek> Seek for Watched<'_, R> {
    fn seek(&mut self, to: SeekFrom) -> Result<u64> {
        self.inner.seek(to)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_share_grows_with_what_is_read_and_a_stop_ends_it() {
        let reading = Reading::default();
        assert!(reading.share() < 0.01);
        reading.begin(8 * 1024);
        let file = vec![1_u8; 8 * 1024];
        let mut watched = reading.watch(file.as_slice());
        let mut half = vec![0_u8; 4 * 1024];
        watched.read_exact(&mut half).expect("half of it");
        assert!((reading.share() - 0.5).abs() < 0.01, "{}", reading.share());
        reading.stop();
        watched.read_exact(&mut half).expect_err("stopped");
        assert!((reading.share() - 0.5).abs() < 0.01);
    }
}
