//! Backups of the whole server: one file, encrypted with a passphrase, whole or refused.
//!
//! Inside the encryption ([age](https://age-encryption.org), scrypt) and gzip are lines: a head with the migrations of the database, for
//! each table its name and its rows as JSON, and at the end how many rows there were and the SHA-256 of everything before.

use std::fs::File;
use std::io::{self, BufRead, BufReader, BufWriter, Read, Write};
use std::iter::once;
use std::path::Path;

use age::secrecy::SecretString;
use age::{Decryptor, Encryptor, scrypt};
use bright_row_core::deed::Deed;
use bright_row_store::backup_notes::{BackupNote, note as note_backup};
use bright_row_store::database::{Schema, maintain, schema};
use bright_row_store::{DatabaseConnection, StoreError, TransactionTrait, copy, retention};
use chrono::{DateTime, Utc};
use flate2::Compression;
use flate2::read::GzDecoder;
use flate2::write::GzEncoder;
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::auth::deeds::note;
use crate::digest::hex;
use crate::failure::{Failure, only_current};

/// The end of the name of a file in the making.
pub const UNFINISHED: &str = ".unfinished";
/// The version of the file's own form.
const FORM: u32 = 1;
/// The longest line that is read: a row is far shorter.
const LONGEST_LINE: u64 = 64 * 1024 * 1024;
/// The shortest passphrase.
const SHORTEST_PASSPHRASE: usize = 12;

/// The first line of a backup.
#[derive(Debug, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
struct Head {
    bright_row_backup: u32,
    made_at: DateTime<Utc>,
    /// What the database had been through.
    migrations: Vec<String>,
}

/// A line after the head: a table that begins, a row of it, or the end.
#[skip_serializing_none]
#[derive(Debug, Default, Serialize, Deserialize)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
struct Line<'a> {
    table: Option<String>,
    #[serde(borrow)]
    row: Option<&'a serde_json::value::RawValue>,
    rows: Option<u64>,
    sha256: Option<String>,
}

fn broken(why: &str) -> Failure {
    Failure::BrokenBackup(why.to_owned())
}

/// What the system says of a file, as a failure.
pub fn cannot(path: &Path) -> impl Fn(io::Error) -> Failure + '_ {
    move |cause| Failure::Unreadable { path: path.display().to_string(), cause }
}

/// A passphrase that is long enough.
///
/// # Errors
/// [`Failure::Passphrase`].
pub fn passphrase(text: Option<&str>) -> Result<SecretString, Failure> {
    match text {
        Some(text) if text.chars().count() >= SHORTEST_PASSPHRASE => Ok(SecretString::from(text.to_owned())),
        _ => Err(Failure::Passphrase(SHORTEST_PASSPHRASE)),
    }
}

/// Writes lines and counts them into the checksum.
struct Lines<W: Write> {
    out: W,
    digest: Sha256,
    rows: u64,
    table: String,
}

impl<W: Write> Lines<W> {
    fn line(&mut self, line: &impl Serialize) -> io::Result<()> {
        let mut text = serde_json::to_string(line).map_err(io::Error::other)?;
        text.push('\n');
        self.digest.update(&text);
        self.out.write_all(text.as_bytes())
    }

    fn row(&mut self, table: &str, row: &str) -> io::Result<()> {
        if self.table != table {
            table.clone_into(&mut self.table);
            self.line(&Line { table: Some(table.to_owned()), ..Line::default() })?;
        }
        self.rows += 1;
        let text = format!("{{\"row\":{row}}}\n");
        self.digest.update(&text);
        self.out.write_all(text.as_bytes())
    }
}

/// What [`write`] may fail with.
enum Fault {
    Store(StoreError),
    File(io::Error),
}

impl From<StoreError> for Fault {
    fn from(error: StoreError) -> Self {
        Self::Store(error)
    }
}

/// Writes a backup of a database as it is at this moment, beside whatever is written to it meanwhile; the file is there whole or not
/// at all. Answers its size.
///
/// # Errors
/// What the file and the database say.
pub async fn write(db: &DatabaseConnection, path: &Path, passphrase: SecretString) -> Result<u64, Failure> {
    let unfinished = path.with_extension(format!("{}{UNFINISHED}", Uuid::now_v7()));
    let written = write_to(db, path, &unfinished, passphrase).await;
    if written.is_err() {
        // Half a backup is none; what cannot be removed says so by its name.
        let _ = std::fs::remove_file(&unfinished);
    }
    written
}

async fn write_to(
    db: &DatabaseConnection,
    path: &Path,
    unfinished: &Path,
    passphrase: SecretString,
) -> Result<u64, Failure> {
    let file = File::create(unfinished).map_err(cannot(path))?;
    let encrypted =
        Encryptor::with_user_passphrase(passphrase).wrap_output(BufWriter::new(file)).map_err(cannot(path))?;
    let out = GzEncoder::new(encrypted, Compression::default());
    let mut lines = Lines { out, digest: Sha256::new(), rows: 0, table: String::new() };
    let migrations = copy::migrations(db).await?;
    lines.line(&Head { bright_row_backup: FORM, made_at: Utc::now(), migrations }).map_err(cannot(path))?;
    let taken = copy::dump(db, |table, row| lines.row(table, row).map_err(Fault::File)).await;
    taken.map_err(|fault| match fault {
        Fault::Store(error) => Failure::from(error),
        Fault::File(cause) => cannot(path)(cause),
    })?;
    let sha256 = hex(&lines.digest.clone().finalize());
    let end = Line { rows: Some(lines.rows), sha256: Some(sha256), ..Line::default() };
    lines.line(&end).map_err(cannot(path))?;
    let written = lines.out.finish().and_then(age::stream::StreamWriter::finish).map_err(cannot(path))?;
    let file = written.into_inner().map_err(|error| cannot(path)(error.into_error()))?;
    file.sync_all().map_err(cannot(path))?;
    std::fs::rename(unfinished, path).map_err(cannot(path))?;
    Ok(file.metadata().map_err(cannot(path))?.len())
}

/// Reads a backup line by line to its end; `take` gets each table and row. What was cut off or changed is refused.
///
/// # Errors
/// [`Failure::BrokenBackup`], and what `take` fails with.
fn read(
    path: &Path,
    passphrase: SecretString,
    mut take: impl FnMut(&Head, &str, &str) -> Result<(), Failure>,
) -> Result<u64, Failure> {
    let file = BufReader::new(File::open(path).map_err(cannot(path))?);
    let decryptor = Decryptor::new(file).map_err(|_| broken("it is no backup"))?;
    let identity = scrypt::Identity::new(passphrase);
    let opened = decryptor.decrypt(once::<&dyn age::Identity>(&identity));
    let opened = opened.map_err(|_| broken("the passphrase does not open it"))?;
    let mut input = BufReader::new(GzDecoder::new(opened));
    let cut = |_| broken("it was cut off or changed");
    let (mut digest, mut rows, mut table) = (Sha256::new(), 0_u64, String::new());
    let mut head: Option<Head> = None;
    loop {
        let mut text = String::new();
        let length = input.by_ref().take(LONGEST_LINE).read_line(&mut text).map_err(cut)?;
        if length == 0 {
            return Err(broken("it was cut off"));
        }
        let Some(head) = &head else {
            let first: Head = serde_json::from_str(&text).map_err(|_| broken("it is no backup"))?;
            if first.bright_row_backup != FORM {
                return Err(broken("it was made by a newer Bright Row"));
            }
            digest.update(&text);
            head = Some(first);
            continue;
        };
        let line: Line<'_> = serde_json::from_str(&text).map_err(|_| broken("it was changed"))?;
        if let Some(wanted) = line.sha256 {
            let found = hex(&digest.finalize());
            let whole = line.rows == Some(rows) && wanted == found;
            let nothing_after = input.read(&mut [0]).map_err(cut)? == 0;
            return if whole && nothing_after { Ok(rows) } else { Err(broken("it was changed")) };
        }
        if let Some(row) = line.row {
            rows += 1;
            take(head, &table, row.get())?;
        }
        table = line.table.unwrap_or(table);
        digest.update(&text);
    }
}

/// Reads a backup to its end without keeping anything; answers how many rows it holds.
///
/// # Errors
/// [`Failure::BrokenBackup`].
pub fn check(path: &Path, passphrase: SecretString) -> Result<u64, Failure> {
    read(path, passphrase, |_, _, _| Ok(()))
}

/// Restores a backup into a database that was migrated and holds nothing yet, all of it or nothing; answers how many rows there are.
///
/// # Errors
/// [`Failure::BrokenBackup`], [`Failure::NotEmpty`], [`Failure::OtherSchema`].
pub async fn restore(database_url: &str, path: &Path, passphrase: SecretString) -> Result<u64, Failure> {
    let db = maintain(database_url).await?;
    only_current(schema(&db).await?)?;
    if !copy::is_empty(&db).await? {
        return Err(Failure::NotEmpty);
    }
    // To its end before anything is written.
    let rows = check(path, passphrase.clone())?;
    let migrations = copy::migrations(&db).await?;
    let tx = db.begin().await.map_err(StoreError::from)?;
    let mut gathered: Vec<(String, Vec<String>)> = Vec::new();
    read(path, passphrase, |head, table, row| {
        if head.migrations != migrations {
            return Err(Failure::OtherSchema);
        }
        if gathered.last().is_none_or(|(last, _)| last != table) {
            gathered.push((table.to_owned(), Vec::new()));
        }
        if let Some((_, rows)) = gathered.last_mut() {
            rows.push(row.to_owned());
        }
        Ok(())
    })?;
    let tables = copy::copied(&tx).await?;
    for (name, rows) in gathered {
        let table = tables
            .iter()
            .find(|table| table.name == name)
            .ok_or_else(|| broken("it holds a table of another build"))?;
        copy::insert(&tx, table, &rows).await?;
    }
    for program in retention::programs(&tx).await? {
        let restored = (Deed::Restored, "program", Some(program.uuid()));
        note(&tx, program, Utc::now(), None, restored, None).await?;
    }
    tx.commit().await.map_err(StoreError::from)?;
    Ok(rows)
}

/// Makes a backup at this moment, reads it back, and notes both. Answers its rows.
///
/// # Errors
/// What the file and the database say.
pub async fn make(
    database_url: &str,
    path: &Path,
    passphrase: SecretString,
    made_at: DateTime<Utc>,
) -> Result<u64, Failure> {
    let db = maintain(database_url).await?;
    if matches!(schema(&db).await?, Schema::Empty | Schema::Foreign(_)) {
        only_current(schema(&db).await?)?;
    }
    let bytes = write(&db, path, passphrase.clone()).await?;
    let rows = check(path, passphrase)?;
    if schema(&db).await? == Schema::Current {
        let name = path.file_name().map(|name| name.to_string_lossy().chars().take(200).collect()).unwrap_or_default();
        let bytes = i64::try_from(bytes).unwrap_or(i64::MAX);
        note_backup(&db, &BackupNote { made_at, file: name, bytes, proved_at: Some(made_at) }).await?;
    }
    Ok(rows)
}
