//! Stored JSON. Every document says in which version it was written, `{"version": 1, "data": ...}`, and every version that was
//! ever written has a reader: a build reads what an older one wrote, and refuses what only a newer one can read.
//!
//! To change the shape of a document: raise its version here, keep the type of the old shape beside the new one, add its
//! reader, and leave its file in `tests/stored/` as it is.

use bright_row_core::craft::edits::Edits;
use bright_row_core::lessons::home::{HomeAgreement, HomeSettings};
use bright_row_core::lessons::plan::LessonPlan;
use bright_row_core::round::detail::RoundDetail;
use bright_row_core::setup::roster::RosterEntry;
use bright_row_core::tapes::log::TapeWork;
use bright_row_core::tapes::record::TapeRecord;
use bright_row_core::tapes::settings::MarkerSettings;
use sea_orm::prelude::Json;
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};

use crate::error::StoreError;

/// A document that is stored as JSON.
pub trait Stored: Serialize + Sized {
    /// What it is, for messages.
    const WHAT: &'static str;
    /// The version that this build writes.
    const VERSION: u64;

    /// Reads the data of a version; `None` for a version that this build does not know.
    fn reader(version: u64) -> Option<fn(Value) -> serde_json::Result<Self>>;
}

/// The reader of a shape that is read as it is.
fn as_is<T: DeserializeOwned>(data: Value) -> serde_json::Result<T> {
    serde_json::from_value(data)
}

macro_rules! stored {
    ($($type:ty = $what:literal, version $version:literal { $($known:literal => $reader:expr),+ })+) => {$(
        impl Stored for $type {
            const WHAT: &'static str = $what;
            const VERSION: u64 = $version;

            fn reader(version: u64) -> Option<fn(Value) -> serde_json::Result<Self>> {
                match version { $($known => Some($reader),)+ _ => None }
            }
        }
    )+};
}

stored! {
    Edits = "change of the checklist", version 1 { 1 => as_is }
    MarkerSettings = "marker setting", version 1 { 1 => as_is }
    HomeSettings = "home setting", version 1 { 1 => as_is }
    HomeAgreement = "agreement on practice", version 1 { 1 => as_is }
    TapeWork = "tape log entry", version 1 { 1 => as_is }
    TapeRecord = "tape record", version 1 { 1 => as_is }
    RosterEntry = "roster entry", version 1 { 1 => as_is }
    LessonPlan = "lesson", version 1 { 1 => as_is }
    RoundDetail = "detail of a round", version 1 { 1 => as_is }
}

/// A document as it is stored.
///
/// # Panics
/// Never: every stored type is plain data with text as keys.
#[must_use]
pub fn write<T: Stored>(document: &T) -> Json {
    json!({ "version": T::VERSION, "data": serde_json::to_value(document).expect("plain data is JSON") })
}

/// A stored document.
///
/// # Errors
/// [`StoreError::Unreadable`] for a version that this build does not know, and for data that is not of its version's shape.
pub fn read<T: Stored>(stored: Json) -> Result<T, StoreError> {
    let unreadable = |value: String| StoreError::Unreadable { what: T::WHAT, value };
    let Value::Object(mut document) = stored else { return Err(unreadable(stored.to_string())) };
    let version = document.get("version").and_then(Value::as_u64);
    let reader = version.and_then(T::reader).ok_or_else(|| unreadable(Value::from(document.clone()).to_string()))?;
    let data = document.remove("data").unwrap_or_default();
    let text = data.to_string();
    reader(data).map_err(|_| unreadable(text))
}
