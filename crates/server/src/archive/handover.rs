//! A class handed over to the next teacher: what was seen of its children and how it works, out of one program and into another,
//! child by child. Instruments stay with their school, and so do rounds, lessons and everybody's address.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Cursor;

use axum::body::Bytes;
use bright_row_core::{ChildId, ClassId};
use bright_row_store::accounts::people;
use bright_row_store::archive::{self, HANDED_OVER, PEOPLE, Person};
use bright_row_store::children::{agreements, family_answers};
use bright_row_store::classes::{self, ClassKey};
use bright_row_store::{DatabaseTransaction, StoreError, children, copy, tables};
use chrono::DateTime;
use serde_json::Value;
use uuid::Uuid;

use super::bring_in::Archive;
use super::take_out::Files;
use super::{Contents, file_name};
use crate::auth::guard::{Member, Owner};
use crate::error::{ApiError, FieldError};
use crate::failure::Failure;
use crate::passwords::PasswordDesk;
use crate::state::App;
use crate::use_cases::{begin_alone, commit, renew};

/// The most bytes of an archive of a class once it is unpacked.
const MOST_BYTES: u64 = 96 * 1024 * 1024;
/// The most rows of it.
const MOST_ROWS: usize = 400_000;

/// Everything that is handed over of these children of a class, as the bytes of a zip.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn take_out_class(app: &App, member: &Member, children: &BTreeSet<ChildId>) -> Result<Vec<u8>, ApiError> {
    let class = &member.class;
    let mut files = Files::new();
    archive::dump_class(&app.db, class.key, children, |table, row| files.row(table, row)).await?;
    let names = std::iter::once(PEOPLE).chain(HANDED_OVER.iter().map(|(table, _)| *table));
    files.shapes(&app.db, names.map(str::to_owned).collect()).await?;
    files.finish(Contents {
        class: Some(class.key.class.uuid()),
        ..Contents::new(app, class.key.program, class.name.clone()).await?
    })
}

/// A child of an archive.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HandedChild {
    /// Who, in the archive.
    pub id: ChildId,
    /// Its name there.
    pub name: String,
    /// What it plays.
    pub instrument: String,
    /// How many observations of it are handed over.
    pub observations: usize,
}

/// An archive of a class, read.
#[derive(Clone, Debug)]
pub struct HandedClass {
    contents: Contents,
    people: Vec<Person>,
    /// By table, in the order in which they were written.
    rows: BTreeMap<String, Vec<Value>>,
}

fn broken(why: &str) -> ApiError {
    let words =
        format!("This archive cannot be used: {why}. Nothing was changed; take it out again where it came from.");
    ApiError::Invalid(vec![FieldError::new("file", words)])
}

fn refusal(failure: Failure) -> ApiError {
    match failure {
        Failure::BrokenArchive(why) => broken(&why),
        other => ApiError::Internal(other.to_string()),
    }
}

impl HandedClass {
    /// Reads an archive. To be called off the threads that answer requests.
    ///
    /// # Errors
    /// [`ApiError::Invalid`] for a file that is none, was changed, or is larger than a class can be.
    pub fn read(bytes: &Bytes) -> Result<Self, ApiError> {
        let mut archive = Archive::of(Cursor::new(bytes.clone()), MOST_BYTES).map_err(refusal)?;
        if archive.contents.class.is_none() {
            return Err(broken("it is of a whole program, and `bright-row bring-in` takes it"));
        }
        let mut people = Vec::new();
        let mut count = 0;
        let mut counted = || {
            count += 1;
            if count > MOST_ROWS { Err(super::bring_in::broken("it holds more than a class can")) } else { Ok(()) }
        };
        let read =
            |archive: &mut Archive<Cursor<Bytes>>, name: &str, take: &mut dyn FnMut(&str) -> Result<(), Failure>| {
                archive.rows(&file_name(name), take).map_err(refusal)
            };
        read(&mut archive, PEOPLE, &mut |row| {
            counted()?;
            let person: Person =
                serde_json::from_str(row).map_err(|_| super::bring_in::broken("somebody in it cannot be read"))?;
            // Nobody is let in by an archive.
            people.push(Person { email: None, ..person });
            Ok(())
        })?;
        let mut rows: BTreeMap<String, Vec<Value>> = BTreeMap::new();
        for (table, _) in HANDED_OVER {
            let here = rows.entry((*table).to_owned()).or_default();
            read(&mut archive, table, &mut |row| {
                counted()?;
                here.push(serde_json::from_str(row).map_err(|_| super::bring_in::broken("a row cannot be read"))?);
                Ok(())
            })?;
        }
        let known = |name: &String| {
            HANDED_OVER.iter().map(|(table, _)| *table).chain([PEOPLE]).any(|table| file_name(table) == *name)
        };
        if archive.contents.files.iter().any(|file| !known(&file.name)) || rows["class"].len() != 1 {
            return Err(broken("it is not of this version"));
        }
        let there: BTreeSet<ChildId> = rows["child"].iter().filter_map(child_of).collect();
        let of_nobody =
            |row: &Value| !row["child_id"].is_null() && child_of(row).is_none_or(|child| !there.contains(&child));
        if rows.values().flatten().any(of_nobody) {
            return Err(broken("a row is of a child that is not in it"));
        }
        Ok(Self { contents: archive.contents, people, rows })
    }

    /// The name of the class.
    #[must_use]
    pub fn name(&self) -> &str {
        &self.contents.name
    }

    /// When it was taken out.
    #[must_use]
    pub fn made_at(&self) -> DateTime<chrono::Utc> {
        self.contents.made_at
    }

    /// Its children, by name.
    #[must_use]
    pub fn children(&self) -> Vec<HandedChild> {
        let mut seen: BTreeMap<ChildId, usize> = BTreeMap::new();
        for id in self.rows["observation"].iter().filter_map(child_of) {
            *seen.entry(id).or_default() += 1;
        }
        let text = |row: &Value, column: &str| row[column].as_str().unwrap_or_default().to_owned();
        let child = |row: &Value| {
            let id = child_of(row)?;
            let observations = seen.get(&id).copied().unwrap_or_default();
            Some(HandedChild { id, name: text(row, "name"), instrument: text(row, "instrument"), observations })
        };
        let mut children: Vec<HandedChild> = self.rows["child"].iter().filter_map(child).collect();
        children.sort_by(|a, b| (&a.name, a.id).cmp(&(&b.name, b.id)));
        children
    }

    /// Brings these children in as a new class of a program, all or nothing; `class` is its id. One that was brought in under this
    /// id before is left as it is.
    ///
    /// # Errors
    /// [`ApiError::Invalid`] where a row does not fit, or another version made it; [`ApiError::Conflict`] where the children are
    /// here already.
    pub async fn bring_in(
        &self,
        app: &App,
        owner: Owner,
        class: ClassId,
        wanted: &BTreeSet<ChildId>,
    ) -> Result<(), ApiError> {
        if self.contents.migrations != copy::migrations(&app.db).await? {
            return Err(broken("another version of Bright Row made it; bring both to the same version"));
        }
        let key = ClassKey { program: owner.program, class };
        let nobodys = PasswordDesk::default().hash(Uuid::new_v4().to_string()).await;
        let tx = begin_alone(app, key.program).await?;
        if !classes::of_program(&tx, key.program, Some([class].into())).await?.is_empty() {
            return Ok(());
        }
        if classes::is_taken(&tx, class).await? {
            return Err(ApiError::Conflict("Another class has this id. Load the page again."));
        }
        let here = archive::add_people(&tx, &self.people, &nobodys).await?;
        let children: BTreeMap<ChildId, ChildId> = wanted.iter().map(|child| (*child, Uuid::now_v7().into())).collect();
        let named = tables::account_columns(&tx).await?;
        for table in archive::of_program(&tx).await? {
            let Some(rows) = self.rows.get(&table.name) else { continue };
            let columns: BTreeSet<String> = named.get(&table.name).into_iter().flatten().cloned().collect();
            let row = |row: &Value| {
                let row = archive::with_people(row.clone(), self.contents.program.into(), &columns, &here);
                row.map(|row| moved(row, key, &children)).map_err(|fault| broken(&fault.to_string()))
            };
            let rows: Vec<String> =
                rows.iter().map(row).collect::<Result<Vec<_>, _>>()?.into_iter().flatten().collect();
            insert(&tx, &table, &rows).await?;
            if table.name == "class" {
                readable(&tx, key).await?;
            }
        }
        readable(&tx, key).await?;
        people::give_class(&tx, key.program, owner.account, class).await?;
        renew(app, &tx, key.program, &children.into_values().collect()).await?;
        commit(app, tx, [class]).await
    }
}

fn child_of(row: &Value) -> Option<ChildId> {
    row["child_id"].as_str()?.parse::<Uuid>().ok().map(Into::into)
}

/// A row as it is in its new class; `None` for one of a child that nobody wants.
fn moved(mut row: Value, key: ClassKey, children: &BTreeMap<ChildId, ChildId>) -> Option<String> {
    let child = child_of(&row);
    let object = row.as_object_mut()?;
    object.insert("program_id".to_owned(), key.program.uuid().to_string().into());
    if object.contains_key("class_id") {
        object.insert("class_id".to_owned(), key.class.uuid().to_string().into());
    }
    if object.contains_key("child_id") {
        let new = children.get(&child?)?;
        object.insert("child_id".to_owned(), new.uuid().to_string().into());
    }
    if object.contains_key("archived_at") {
        object.insert("archived_at".to_owned(), Value::Null);
    }
    // Computed anew by the rules of this server.
    if object.contains_key("rules") {
        object.insert("rules".to_owned(), String::new().into());
    }
    // The round was the other class's.
    if object.contains_key("round_id") {
        object.insert("round_id".to_owned(), Value::Null);
    }
    Some(row.to_string())
}

async fn insert(tx: &DatabaseTransaction, table: &tables::Table, rows: &[String]) -> Result<(), ApiError> {
    copy::insert(tx, table, rows).await.map_err(|error| match error {
        StoreError::Conflict => {
            ApiError::Conflict("Some of this was brought in before. Nothing was changed; choose the other children.")
        }
        StoreError::Reference | StoreError::Database(_) | StoreError::Unreadable { .. } => {
            broken(&format!("a row of {} does not fit", table.name))
        }
        other => other.into(),
    })
}

/// Whether everything of the new class can be read: what cannot would hide it from everybody.
async fn readable(tx: &DatabaseTransaction, key: ClassKey) -> Result<(), ApiError> {
    let read = async {
        classes::one(tx, key).await?;
        children::of_class(tx, key).await?;
        agreements::of_class(tx, key).await?;
        family_answers::of_class(tx, key, DateTime::UNIX_EPOCH).await?;
        Ok::<_, StoreError>(())
    };
    read.await.map_err(|error| match error {
        StoreError::Unreadable { what, .. } => broken(&format!("a {what} of it cannot be read")),
        other => other.into(),
    })
}
