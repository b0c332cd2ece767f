//! A program in.

use std::collections::{BTreeMap, BTreeSet};
use std::fs::File;
use std::io::{BufRead, BufReader, Read, Seek};
use std::path::Path;

use bright_row_core::ProgramId;
use bright_row_core::deed::Deed;
use bright_row_store::archive::{self, PEOPLE, Person};
use bright_row_store::database::{maintain, schema};
use bright_row_store::{DatabaseTransaction, StoreError, TransactionTrait, copy, tables};
use chrono::Utc;
use serde_json::Value;
use sha2::{Digest, Sha256};
use uuid::Uuid;
use zip::ZipArchive;

use super::{CONTENTS, Contents, FORM, file_name};
use crate::auth::deeds::note;
use crate::backup::cannot;
use crate::digest::hex;
use crate::failure::{Failure, only_current};
use crate::passwords::PasswordDesk;
use crate::{caches, content};

/// The most files in an archive.
const MOST_FILES: usize = 200;
/// The most bytes of an archive once it is unpacked: a large district's years.
const MOST_BYTES: u64 = 4 * 1024 * 1024 * 1024;
/// The longest row.
const LONGEST_ROW: u64 = 8 * 1024 * 1024;
/// Rows inserted at once.
const BATCH: usize = 2_000;

pub(super) fn broken(why: impl std::fmt::Display) -> Failure {
    Failure::BrokenArchive(why.to_string())
}

/// What was brought in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Brought {
    /// The name of the program.
    pub name: String,
    /// How many rows.
    pub rows: u64,
    /// Addresses of people who were not here and have no password yet.
    pub without_password: Vec<String>,
}

/// An archive that is open.
pub(super) struct Archive<F> {
    zip: ZipArchive<F>,
    pub(super) contents: Contents,
    left: u64,
}

impl Archive<BufReader<File>> {
    fn open(path: &Path) -> Result<Self, Failure> {
        Self::of(BufReader::new(File::open(path).map_err(cannot(path))?), MOST_BYTES)
    }
}

impl<F: Read + Seek> Archive<F> {
    /// Opens one of at most so many bytes once it is unpacked.
    pub(super) fn of(file: F, most: u64) -> Result<Self, Failure> {
        let mut zip = ZipArchive::new(file).map_err(|_| broken("it is no zip"))?;
        if zip.len() > MOST_FILES {
            return Err(broken("it holds more files than an archive does"));
        }
        let mut text = String::new();
        let named = zip.by_name(CONTENTS).map_err(|_| broken("it has no archive.json"))?;
        named.take(LONGEST_ROW).read_to_string(&mut text).map_err(broken)?;
        let contents: Contents = serde_json::from_str(&text).map_err(|_| broken("archive.json cannot be read"))?;
        if contents.bright_row_archive != FORM {
            return Err(broken("it was made by a newer Bright Row"));
        }
        Ok(Self { zip, contents, left: most })
    }

    /// Hands each row of a file to `take`, and checks how many there are and their checksum at the end.
    pub(super) fn rows(
        &mut self,
        name: &str,
        mut take: impl FnMut(&str) -> Result<(), Failure>,
    ) -> Result<(), Failure> {
        let Some(said) = self.contents.files.iter().find(|file| file.name == name) else { return Ok(()) };
        let file = self.zip.by_name(name).map_err(|_| broken(format!("{name} is missing")))?;
        let mut input = BufReader::new(file.take(self.left));
        let (mut digest, mut rows) = (Sha256::new(), 0);
        loop {
            let mut line = String::new();
            let length = input
                .by_ref()
                .take(LONGEST_ROW)
                .read_line(&mut line)
                .map_err(|_| broken(format!("{name} was changed")))?;
            if length == 0 {
                break;
            }
            digest.update(&line);
            rows += 1;
            take(line.trim_end())?;
        }
        self.left = input.into_inner().limit();
        if rows != said.rows || hex(&digest.finalize()) != said.sha256 {
            return Err(broken(format!("{name} was cut off or changed")));
        }
        Ok(())
    }
}

/// Brings a program in that is not on this server yet, all of it or nothing.
///
/// # Errors
/// [`Failure::BrokenArchive`], [`Failure::ProgramThere`], [`Failure::OtherSchema`].
pub async fn bring_in(database_url: &str, path: &Path) -> Result<Brought, Failure> {
    let db = maintain(database_url).await?;
    only_current(schema(&db).await?)?;
    let mut archive = Archive::open(path)?;
    if archive.contents.class.is_some() {
        return Err(broken("it is of one class: an owner takes it in on the page Classes"));
    }
    if archive.contents.migrations != copy::migrations(&db).await? {
        return Err(Failure::OtherSchema);
    }
    let program = ProgramId::from(archive.contents.program);
    let nobodys = PasswordDesk::default().hash(Uuid::new_v4().to_string()).await;
    let tx = db.begin().await.map_err(StoreError::from)?;
    if archive::is_there(&tx, program).await? {
        return Err(Failure::ProgramThere(archive.contents.name));
    }
    let people = people(&mut archive)?;
    let here = archive::add_people(&tx, &people, &nobodys).await?;
    let mut rows = u64::try_from(people.len()).unwrap_or(u64::MAX);
    let named = tables::account_columns(&tx).await?;
    let all = archive::of_program(&tx).await?;
    if let Some(other) = unknown_file(&archive.contents, &all) {
        return Err(broken(format!("{other} is not of this version")));
    }
    for table in &all {
        let columns: BTreeSet<String> = named.get(&table.name).into_iter().flatten().cloned().collect();
        rows += bring_table(&tx, &mut archive, table, program, &columns, &here).await?;
    }
    note(&tx, program, Utc::now(), None, (Deed::BroughtIn, "program", Some(program.uuid())), None).await?;
    tx.commit().await.map_err(StoreError::from)?;
    caches::rebuild_old(&db, &content::embedded()).await?;
    let new = people.iter().filter(|person| here.get(&person.account_id) == Some(&person.account_id));
    let without_password = new.filter_map(|person| person.email.clone()).collect();
    Ok(Brought { name: archive.contents.name, rows, without_password })
}

fn unknown_file(contents: &Contents, tables: &[tables::Table]) -> Option<String> {
    let known: BTreeSet<String> =
        tables.iter().map(|table| file_name(&table.name)).chain([file_name(PEOPLE)]).collect();
    contents.files.iter().map(|file| &file.name).find(|name| !known.contains(*name)).cloned()
}

fn people(archive: &mut Archive<BufReader<File>>) -> Result<Vec<Person>, Failure> {
    let mut people = Vec::new();
    archive.rows(&file_name(PEOPLE), |row| {
        people.push(serde_json::from_str(row).map_err(|_| broken("somebody in it cannot be read"))?);
        Ok(())
    })?;
    Ok(people)
}

async fn bring_table(
    tx: &DatabaseTransaction,
    archive: &mut Archive<BufReader<File>>,
    table: &tables::Table,
    program: ProgramId,
    columns: &BTreeSet<String>,
    here: &BTreeMap<Uuid, Uuid>,
) -> Result<u64, Failure> {
    let mut gathered: Vec<String> = Vec::new();
    archive.rows(&file_name(&table.name), |row| {
        let row: Value =
            serde_json::from_str(row).map_err(|_| broken(format!("a row of {} cannot be read", table.name)))?;
        let row = archive::with_people(row, program, columns, here).map_err(broken)?;
        gathered.push(row.to_string());
        Ok(())
    })?;
    for rows in gathered.chunks(BATCH) {
        copy::insert(tx, table, rows).await.map_err(|error| match error {
            StoreError::Conflict | StoreError::Reference | StoreError::Database(_) => {
                broken(format!("a row of {} does not fit", table.name))
            }
            other => other.into(),
        })?;
    }
    Ok(u64::try_from(gathered.len()).unwrap_or(u64::MAX))
}
