//! Values that several tables share, as they are stored and read.

use crate::error::StoreError;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::observation::Says;
use chrono::{DateTime, SubsecRound, Utc};
use sea_orm::Value;
use serde::Serialize;

pub(crate) fn read_instrument(name: String) -> Result<Instrument, StoreError> {
    Instrument::parse(&name).ok_or(StoreError::Unreadable { what: "instrument", value: name })
}

/// Meetings are counted in hundreds at most.
pub(crate) fn small(meetings: u32) -> i32 {
    i32::try_from(meetings).unwrap_or(i32::MAX)
}

/// A moment as PostgreSQL keeps it: to the microsecond, what is finer cut off.
pub(crate) fn as_stored(moment: DateTime<Utc>) -> DateTime<Utc> {
    moment.trunc_subsecs(6)
}

/// Rows of a table as one value of a statement, for `jsonb_populate_recordset`: the text of the statement is the same for any number.
pub(crate) fn as_json<T: Serialize>(rows: &[T]) -> Result<Value, StoreError> {
    let written = serde_json::to_value(rows);
    Ok(written.map_err(|error| StoreError::Unreadable { what: "row", value: error.to_string() })?.into())
}

pub(crate) fn read_says(word: Option<String>) -> Result<Option<Says>, StoreError> {
    word.map(|word| Says::parse(&word).ok_or(StoreError::Unreadable { what: "word", value: word })).transpose()
}
