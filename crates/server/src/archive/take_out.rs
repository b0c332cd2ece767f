//! A program out.

use std::io::{Cursor, Write};

use bright_row_core::ProgramId;
use bright_row_store::archive::{self, Described, PEOPLE};
use bright_row_store::{StoreError, accounts, copy};
use serde_json::{Map, Value, json};
use sha2::{Digest, Sha256};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

use super::{CONTENTS, Contents, FORM, FileOf, SCHEMA, file_name};
use crate::digest::hex;
use crate::error::ApiError;
use crate::state::App;

/// What can go wrong while writing.
enum Fault {
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
struct Files {
    zip: ZipWriter<Cursor<Vec<u8>>>,
    written: Vec<FileOf>,
    digest: Sha256,
}

impl Files {
    fn options() -> SimpleFileOptions {
        SimpleFileOptions::default().compression_method(CompressionMethod::Deflated)
    }

    fn row(&mut self, table: &str, row: &str) -> Result<(), Fault> {
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

    fn close(&mut self) {
        let digest = std::mem::take(&mut self.digest);
        if let Some(last) = self.written.last_mut() {
            last.sha256 = hex(&digest.finalize());
        }
    }

    fn json(&mut self, name: &str, value: &impl serde::Serialize) -> Result<(), Fault> {
        let text = serde_json::to_string_pretty(value).map_err(|error| Fault::Zip(error.to_string()))?;
        self.zip.start_file(name, Self::options()).map_err(|error| Fault::Zip(error.to_string()))?;
        self.zip.write_all(text.as_bytes()).map_err(|error| Fault::Zip(error.to_string()))
    }
}

/// Everything of a program as it is at this moment, as the bytes of a zip.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn take_out(app: &App, program: ProgramId) -> Result<Vec<u8>, ApiError> {
    let mut files = Files { zip: ZipWriter::new(Cursor::new(Vec::new())), written: Vec::new(), digest: Sha256::new() };
    archive::dump(&app.db, program, |table, row| files.row(table, row)).await?;
    files.close();
    let mut shapes = Map::new();
    for table in std::iter::once(PEOPLE.to_owned())
        .chain(archive::of_program(&app.db).await?.into_iter().map(|table| table.name))
    {
        let described = archive::described(&app.db, &table).await?;
        shapes.insert(table, shape(&described));
    }
    files.json(SCHEMA, &json!({ "$schema": "https://json-schema.org/draft/2020-12/schema", "$defs": shapes }))?;
    let contents = Contents {
        bright_row_archive: FORM,
        made_at: app.now(),
        program: program.uuid(),
        name: accounts::program_name(&app.db, program).await?,
        migrations: copy::migrations(&app.db).await?,
        files: std::mem::take(&mut files.written),
    };
    files.json(CONTENTS, &contents)?;
    Ok(files.zip.finish().map_err(|error| Fault::Zip(error.to_string()))?.into_inner())
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
