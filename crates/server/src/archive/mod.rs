//! One program as a file that other programs can read, out of one server and into another: a zip of lines of JSON, with a JSON
//! Schema of each table and a checksum of each file.

mod bring_in;
pub mod handover;
mod take_out;

pub use bring_in::{Brought, bring_in};
pub use take_out::take_out;

use bright_row_core::ProgramId;
use bright_row_store::{StoreError, copy};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use uuid::Uuid;

use crate::state::App;

/// The version of the archive's own form.
const FORM: u32 = 1;
/// The name of the file that says what is in the archive.
const CONTENTS: &str = "archive.json";
/// The name of the file with the shape of each table's rows.
const SCHEMA: &str = "schema.json";

/// `archive.json`: what is in the archive.
#[skip_serializing_none]
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
struct Contents {
    bright_row_archive: u32,
    made_at: DateTime<Utc>,
    program: Uuid,
    /// Of an archive of one class, which.
    #[serde(default)]
    class: Option<Uuid>,
    /// The program's name, or the class's.
    name: String,
    /// What the database had been through.
    migrations: Vec<String>,
    /// The files with rows, those that are referred to first.
    files: Vec<FileOf>,
}

impl Contents {
    /// Of an archive that is made now, without its files yet.
    async fn new(app: &App, program: ProgramId, name: String) -> Result<Self, StoreError> {
        Ok(Self {
            bright_row_archive: FORM,
            made_at: app.now(),
            program: program.uuid(),
            class: None,
            name,
            migrations: copy::migrations(&app.db).await?,
            files: Vec::new(),
        })
    }
}

/// A file of an archive.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
struct FileOf {
    /// `tables/child.jsonl`.
    name: String,
    rows: u64,
    /// Of the file as it is unpacked, in hexadecimal.
    sha256: String,
}

/// The name of a table's file.
fn file_name(table: &str) -> String {
    format!("tables/{table}.jsonl")
}
