//! A zip of tables, such as an office's roster export in the `OneRoster` CSV form.

use std::collections::BTreeMap;
use std::io::{Cursor, Read};

use crate::table::{self, LARGEST, Table, TableError};

/// The most files in a bundle.
const MAX_FILES: usize = 100;
/// The most students in classes of a bundle, each counted once for each class.
const MAX_STUDENTS: usize = 5_000;

/// Why a bundle cannot be read.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum BundleError {
    /// Not a zip, or broken.
    #[error("The zip cannot be opened: it is broken or not a zip. Export it again; nothing was changed.")]
    Broken,
    /// Too many files, or too large once unpacked.
    #[error("The zip holds more than a roster: at most {MAX_FILES} files of {} MB each.", LARGEST / 1024 / 1024)]
    TooLarge,
    /// More students than [`MAX_STUDENTS`].
    #[error(
        "The zip has more than {MAX_STUDENTS} students in classes. Export only the string classes; nothing was changed."
    )]
    TooManyStudents,
    /// The same file twice.
    #[error("The zip has {0} twice. Keep one of them; nothing was changed.")]
    Twice(String),
    /// Locked with a password.
    #[error("{0} in the zip is locked with a password. Export it without one.")]
    Locked(String),
    /// A file that is wanted is not there.
    #[error("The zip has no {0}. Export the roster again with users, classes and enrollments.")]
    Missing(&'static str),
    /// A file in it cannot be read.
    #[error("{file} in the zip: {cause}")]
    Table {
        /// Which.
        file: String,
        /// Why.
        cause: TableError,
    },
    /// A column that is wanted is not there.
    #[error("{file} in the zip has no column {column}.")]
    Column {
        /// Which file.
        file: &'static str,
        /// Which column.
        column: &'static str,
    },
}

/// Whether these bytes begin as a zip does.
#[must_use]
pub fn is_zip(bytes: &[u8]) -> bool {
    bytes.starts_with(b"PK\x03\x04") || bytes.starts_with(b"PK\x05\x06")
}

/// A student of a bundle, once for each class.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Student {
    /// The line in `users.csv`.
    pub line: usize,
    /// `sourcedId`.
    pub number: String,
    /// `givenName`.
    pub given: String,
    /// `familyName`.
    pub family: String,
    /// `grades`, the first.
    pub grade: String,
    /// The title of the class.
    pub class: String,
}

/// Reads the students of a `OneRoster` 1.1 or 1.2 CSV bundle with the titles of their classes.
///
/// Records marked `tobedeleted`, and people who are not students, are passed over.
///
/// # Errors
/// [`BundleError`], each with what to do.
pub fn students(bytes: &[u8]) -> Result<Vec<Student>, BundleError> {
    let mut files = open(bytes)?;
    let mut take = |name: &'static str| files.remove(name).ok_or(BundleError::Missing(name));
    let (users, classes, enrollments) = (take("users.csv")?, take("classes.csv")?, take("enrollments.csv")?);
    let titles: BTreeMap<String, String> = {
        let (id, title) = (column(&classes, "classes.csv", "sourcedId")?, column(&classes, "classes.csv", "title")?);
        live(&classes).map(|row| (row[id].clone(), row[title].clone())).collect()
    };
    let roles = optional(&users, "role");
    let id = column(&users, "users.csv", "sourcedId")?;
    let (given, family) = (column(&users, "users.csv", "givenName")?, column(&users, "users.csv", "familyName")?);
    let (preferred, grades) = (optional(&users, "preferredFirstName"), optional(&users, "grades"));
    let status = optional(&users, "status");
    let mut people: BTreeMap<&str, Student> = BTreeMap::new();
    for row in users.rows.iter().filter(|row| !is_gone(status, &row.cells)) {
        // Version 1.2 keeps the role elsewhere: the enrolment tells it.
        let role = roles.map(|role| row.cells[role].to_lowercase()).unwrap_or_default();
        if !role.is_empty() && role != "student" {
            continue;
        }
        let called = preferred.map(|index| row.cells[index].clone()).filter(|name| !name.is_empty());
        let grade = grades.map(|index| row.cells[index].split(',').next().unwrap_or_default().trim().to_owned());
        people.insert(
            &row.cells[id],
            Student {
                line: row.line,
                number: row.cells[id].clone(),
                given: called.unwrap_or_else(|| row.cells[given].clone()),
                family: row.cells[family].clone(),
                grade: grade.unwrap_or_default(),
                class: String::new(),
            },
        );
    }
    let (class, user) = (
        column(&enrollments, "enrollments.csv", "classSourcedId")?,
        column(&enrollments, "enrollments.csv", "userSourcedId")?,
    );
    let role = column(&enrollments, "enrollments.csv", "role")?;
    let found = live(&enrollments).filter(|row| row[role].eq_ignore_ascii_case("student")).filter_map(|row| {
        let title = titles.get(&row[class])?;
        Some(Student { class: title.clone(), ..people.get(row[user].as_str())?.clone() })
    });
    let found: Vec<Student> = found.take(MAX_STUDENTS + 1).collect();
    if found.len() > MAX_STUDENTS { Err(BundleError::TooManyStudents) } else { Ok(found) }
}

fn optional(table: &Table, name: &str) -> Option<usize> {
    table.headings.iter().position(|heading| heading.eq_ignore_ascii_case(name))
}

fn column(table: &Table, file: &'static str, name: &'static str) -> Result<usize, BundleError> {
    optional(table, name).ok_or(BundleError::Column { file, column: name })
}

fn is_gone(status: Option<usize>, row: &[String]) -> bool {
    status.is_some_and(|index| row[index].eq_ignore_ascii_case("tobedeleted"))
}

fn live(table: &Table) -> impl Iterator<Item = &Vec<String>> {
    let status = optional(table, "status");
    table.rows.iter().map(|row| &row.cells).filter(move |row| !is_gone(status, row))
}

/// The tables of a zip by file name in small letters, folders left out; only the CSV files a roster has are read.
fn open(bytes: &[u8]) -> Result<BTreeMap<String, Table>, BundleError> {
    const WANTED: [&str; 3] = ["users.csv", "classes.csv", "enrollments.csv"];
    let mut archive = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|_| BundleError::Broken)?;
    if archive.len() > MAX_FILES {
        return Err(BundleError::TooLarge);
    }
    let mut tables = BTreeMap::new();
    for index in 0..archive.len() {
        let mut file = archive.by_index(index).map_err(|error| match error {
            zip::result::ZipError::UnsupportedArchive(_) => BundleError::Locked("A file".to_owned()),
            _ => BundleError::Broken,
        })?;
        let name = file.name().map_err(|_| BundleError::Broken)?;
        let name = name.rsplit(['/', '\\']).next().unwrap_or_default().to_lowercase();
        if !WANTED.contains(&name.as_str()) {
            continue;
        }
        if tables.contains_key(&name) {
            return Err(BundleError::Twice(name));
        }
        // What a zip says of its size may be untrue: reading stops where too much comes out.
        let mut text = Vec::new();
        let limit = u64::try_from(LARGEST).unwrap_or(u64::MAX) + 1;
        file.by_ref().take(limit).read_to_end(&mut text).map_err(|_| BundleError::Broken)?;
        if text.len() > LARGEST {
            return Err(BundleError::TooLarge);
        }
        let table = table::read(&text).map_err(|cause| BundleError::Table { file: name.clone(), cause })?;
        tables.insert(name, table);
    }
    Ok(tables)
}
