//! Values that several tables share, as they are stored and read.

use crate::error::StoreError;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::observation::Says;

pub(crate) fn read_instrument(name: String) -> Result<Instrument, StoreError> {
    Instrument::parse(&name).ok_or(StoreError::Unreadable { what: "instrument", value: name })
}

/// Meetings are counted in hundreds at most.
pub(crate) fn small(meetings: u32) -> i32 {
    i32::try_from(meetings).unwrap_or(i32::MAX)
}

pub(crate) fn read_says(word: Option<String>) -> Result<Option<Says>, StoreError> {
    word.map(|word| Says::parse(&word).ok_or(StoreError::Unreadable { what: "word", value: word })).transpose()
}
