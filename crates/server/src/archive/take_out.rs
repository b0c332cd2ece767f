//! A program out.

use std::io::{Cursor, Write};

use bright_row_core::ProgramId;
use bright_row_store::archive::{self, Described, PEOPLE};
use bright_row_store::{DatabaseConnection, StoreError, accounts};
use serde_json::{Map, Value, json};
use sha2::{Digest, Sha256};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

use super::{CONTENTS, Contents, FileOf, SCHEMA, file_name};
use crate::digest::hex;
use crate::error::ApiError;
use crate::state::App;

/// What can go wrong while writing.
pub(super) enum Fault {
    Store(StoreError),
    Zip(String),
}

impl From<StoreError> for Fault {
    fn from(error: StoreError) -> Self {
        Self::Store(error)
    }
}

impl From<Fault> for ApiError {
    fn from(fault: Fault) -> Self {
        match fault {
            Fault::Store(error) => error.into(),
            Fault::Zip(why) => Self::Internal(why),
        }
    }
}

/// Writes files one after the other, and counts each.
pub(super) struct Files {
    zip: ZipWriter<Cursor<Vec<u8>>>,
    written: Vec<FileOf>,
    digest: Sha256,
}

impl Files {
    pub(super) fn new() -> Self {
        Self { zip: ZipWriter::new(Cursor::new(Vec::new())), written: Vec::new(), digest: Sha256::new() }
    }

    fn options() -> SimpleFileOptions {
        SimpleFileOptions::default().compression_method(CompressionMethod::Deflated)
    }

    pub(super) fn row(&mut self, table: &str, row: &str) -> Result<(), Fault> {
        let name = file_name(table);
        if self.written.last().is_none_or(|last| last.name != name) {
            self.close();
            self.zip.start_file(&name, Self::options()).map_err(|error| Fault::Zip(error.to_string()))?;
            self.written.push(FileOf { name, rows: 0, sha256: String::new() });
        }
        let line = format!("{row}\n");
        self.digest.update(&line);
        if let Some(last) = self.written.last_mut() {
            last.rows += 1;
        }
        self.zip.write_all(line.as_bytes()).map_err(|error| Fault::Zip(error.to_string()))
    }

    /// The last file with rows is whole.
    fn close(&mut self) {
        let digest = std::mem::take(&mut self.digest);
        if let Some(last) = self.written.last_mut().filter(|last| last.sha256.is_empty()) {
            last.sha256 = hex(&digest.finalize());
        }
    }

    fn json(&mut self, name: &str, value: &impl serde::Serialize) -> Result<(), Fault> {
        self.close();
        let text = serde_json::to_string_pretty(value).map_err(|error| Fault::Zip(error.to_string()))?;
        self.zip.start_file(name, Self::options()).map_err(|error| Fault::Zip(error.to_string()))?;
        self.zip.write_all(text.as_bytes()).map_err(|error| Fault::Zip(error.to_string()))
    }

    /// Adds the shape of each table's rows.
    pub(super) async fn shapes(&mut self, db: &DatabaseConnection, tables: Vec<String>) -> Result<(), ApiError> {
        let mut shapes = Map::new();
        for table in tables {
            let described = archive::described(db, &table).await?;
            shapes.insert(table, shape(&described));
        }
        let shapes = json!({ "$schema": "https://json-schema.org/draft/2020-12/schema", "$defs": shapes });
        Ok(self.json(SCHEMA, &shapes)?)
    }

    /// Adds what is in it, and answers the bytes.
    pub(super) fn finish(mut self, contents: Contents) -> Result<Vec<u8>, ApiError> {
        self.close();
        let contents = Contents { files: std::mem::take(&mut self.written), ..contents };
        self.json(CONTENTS, &contents)?;
        Ok(self.zip.finish().map_err(|error| Fault::Zip(error.to_string()))?.into_inner())
    }
}

/// Everything of a program as it is at this moment, as the bytes of a zip.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn take_out(app: &App, program: ProgramId) -> Result<Vec<u8>, ApiError> {
    let mut files = Files::new();
    archive::dump(&app.db, program, |table, row| files.row(table, row)).await?;
    let tables = archive::of_program(&app.db).await?.into_iter().map(|table| table.name);
    files.shapes(&app.db, std::iter::once(PEOPLE.to_owned()).chain(tables).collect()).await?;
    let name = accounts::program_name(&app.db, program).await?;
    files.finish(Contents::new(app, program, name).await?)
}

/// The JSON Schema of a table's rows.
fn shape(table: &Described) -> Value {
    /// What is taken out of a person; the database keeps more.
    const OF_A_PERSON: [&str; 4] = ["account_id", "email", "display_name", "created_at"];
    let here = table.columns.iter().filter(|(name, ..)| table.name != PEOPLE || OF_A_PERSON.contains(&name.as_str()));
    let mut properties = Map::new();
    for (name, kind, nullable) in here {
        let mut of = match kind.as_str() {
            "uuid" => json!({ "type": "string", "format": "uuid" }),
            "date" => json!({ "type": "string", "format": "date" }),
            "timestamp with time zone" => json!({ "type": "string", "format": "date-time" }),
            "boolean" => json!({ "type": "boolean" }),
            "smallint" | "integer" | "bigint" => json!({ "type": "integer" }),
            "double precision" => json!({ "type": "number" }),
            "ARRAY" => json!({ "type": "array" }),
            "json" | "jsonb" => json!({}),
            _ => json!({ "type": "string" }),
        };
        if *nullable && let Some(kind) = of.get("type").cloned() {
            of["type"] = json!([kind, "null"]);
        }
        properties.insert(name.clone(), of);
    }
    let required: Vec<&String> = properties.keys().collect();
    json!({ "type": "object", "required": required, "properties": properties, "additionalProperties": false })
}
