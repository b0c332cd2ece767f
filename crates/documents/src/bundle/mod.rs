//! A zip of tables, such as an office's roster export in the `OneRoster` CSV form, versions 1.1 and 1.2, whole or what changed.

mod files;
mod people;
mod sections;

use std::collections::{BTreeMap, BTreeSet, HashMap};

use chrono::NaiveDate;

use self::files::{Files, LARGEST_FILE, MAX_FILES};
use self::people::{InClasses, Person, numbers};
use self::sections::{Section, sections};
use crate::reading::Reading;
use crate::table::TableError;

/// The most students that are read of the classes chosen, each counted once for each class.
pub const MAX_STUDENTS: usize = 5_000;
/// The most users kept while a bundle is read.
const MOST_PEOPLE: usize = 300_000;
/// The most classes.
const MOST_CLASSES: usize = 50_000;
/// The most terms whose titles are known.
const MOST_TERMS: usize = 1_000;

/// Why a bundle cannot be read.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum BundleError {
    /// Not a zip, or broken.
    #[error("The zip cannot be opened: it is broken or not a zip. Export it again; nothing was changed.")]
    Broken,
    /// Too many files, or too large once unpacked.
    #[error("The zip holds more than a roster: at most {MAX_FILES} files of {} MB each.", LARGEST_FILE / 1024 / 1024)]
    TooLarge,
    /// More than this many students and no classes to choose among, more users, or more classes.
    #[error("The zip has more than {0} {1}. Export only the string classes; nothing was changed.")]
    TooMany(usize, &'static str),
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
    /// The office's number: `identifier`, else the first of `userIds`, else `sourcedId`.
    pub number: String,
    /// What the child is called: `preferredGivenName` where there is one, else `givenName`.
    pub given: String,
    /// The family's name in the same way.
    pub family: String,
    /// `grades`, the first.
    pub grade: String,
    /// The title of the class, with its code and term where another one has the same title; empty where the bundle names no class.
    pub class: String,
}

/// What a bundle says.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Bundle {
    /// Its students in the classes chosen, in the order of the enrolments; none where they are more than [`MAX_STUDENTS`].
    pub students: Vec<Student>,
    /// How many students there are in the classes chosen.
    pub total: usize,
    /// Its classes with how many students each has.
    pub classes: BTreeMap<String, usize>,
    /// How many students are disabled in the office's system; they are left out.
    pub disabled: usize,
    /// How many enrolments are over; they are left out.
    pub ended: usize,
    /// The numbers, in each way in which the office says them, of those who are taken out of the office's system.
    pub leaving: BTreeSet<String>,
}

/// Reads the students of a bundle with the titles of their classes, as they are on a day: those of the classes `chosen`, or of all.
///
/// In a bundle of changes classes and enrolments need not be there: students without an enrolment come without a class then.
///
/// # Errors
/// [`BundleError`], each with what to do.
pub fn read(
    bytes: &[u8],
    today: NaiveDate,
    chosen: Option<&BTreeSet<String>>,
    reading: &Reading,
) -> Result<Bundle, BundleError> {
    let mut files = Files::open(bytes, reading)?;
    let mut changes_only = false;
    files.each("manifest.csv", &[], |row| changes_only |= row.says("value", "delta"))?;
    if !changes_only {
        let missing = ["users.csv", "classes.csv", "enrollments.csv"].into_iter().find(|file| !files.has(file));
        if let Some(file) = missing {
            return Err(BundleError::Missing(file));
        }
    }
    let mut terms = BTreeMap::new();
    files.each("academicsessions.csv", &["sourcedId", "title"], |row| {
        if terms.len() < MOST_TERMS {
            terms.insert(row.cell("sourcedId"), row.cell("title"));
        }
    })?;
    let mut classes = Vec::new();
    files.each("classes.csv", &["sourcedId", "title"], |row| {
        if classes.len() <= MOST_CLASSES && !row.is_gone() {
            classes.push(Section::of(row));
        }
    })?;
    if classes.len() > MOST_CLASSES {
        return Err(BundleError::TooMany(MOST_CLASSES, "classes"));
    }
    let sections = files.has("classes.csv").then(|| sections(classes, &terms));
    let mut people = HashMap::new();
    let mut bundle = Bundle::default();
    files.each("users.csv", &["sourcedId", "givenName", "familyName"], |row| {
        if row.is_gone() {
            bundle.leaving.extend(numbers(row));
        } else if people.len() <= MOST_PEOPLE
            && let Some(person) = Person::of(row)
        {
            people.insert(row.cell("sourcedId"), person);
        }
    })?;
    if people.len() > MOST_PEOPLE || bundle.leaving.len() > MOST_PEOPLE {
        return Err(BundleError::TooMany(MOST_PEOPLE, "users"));
    }
    let mut classes = InClasses { people, sections, chosen, today, bundle };
    if files.has("enrollments.csv") {
        files.each("enrollments.csv", &["classSourcedId", "userSourcedId", "role"], |row| classes.add(row))?;
    } else {
        classes.add_all();
    }
    classes.finish()
}
