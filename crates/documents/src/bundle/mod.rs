//! A zip of tables, such as an office's roster export in the `OneRoster` CSV form, versions 1.1 and 1.2, whole or what changed.

mod files;
mod sections;

use std::collections::{BTreeMap, BTreeSet};

use chrono::NaiveDate;

use self::files::{MAX_FILES, Row, Rows, open};
use self::sections::sections;
use crate::table::{LARGEST, TableError};

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
    /// Its students, in the order of the enrolments.
    pub students: Vec<Student>,
    /// How many students are disabled in the office's system; they are left out.
    pub disabled: usize,
    /// How many enrolments are over; they are left out.
    pub ended: usize,
    /// The numbers, in each way in which the office says them, of those who are taken out of the office's system.
    pub leaving: BTreeSet<String>,
}

/// A user.
struct Person {
    student: Student,
    /// A student by the file of users, or one of whom it says no role.
    may_be_student: bool,
    disabled: bool,
}

/// Reads the students of a bundle with the titles of their classes, as they are on a day.
///
/// In a bundle of changes classes and enrolments need not be there: students without an enrolment come without a class then.
///
/// # Errors
/// [`BundleError`], each with what to do.
pub fn read(bytes: &[u8], today: NaiveDate) -> Result<Bundle, BundleError> {
    let files = open(bytes)?;
    let table = |file: &'static str, wanted: &[&'static str]| {
        files
            .get(file)
            .map(|table| Rows::new(table, wanted))
            .transpose()
            .map_err(|column| BundleError::Column { file, column })
    };
    let changes_only = table("manifest.csv", &[])?
        .is_some_and(|manifest| manifest.rows().any(|row| row.cell("value").eq_ignore_ascii_case("delta")));
    let there = |is_there: bool, file| if is_there || changes_only { Ok(()) } else { Err(BundleError::Missing(file)) };
    let users = table("users.csv", &["sourcedId", "givenName", "familyName"])?;
    there(users.is_some(), "users.csv")?;
    let classes = table("classes.csv", &["sourcedId", "title"])?;
    there(classes.is_some(), "classes.csv")?;
    let enrolments = table("enrollments.csv", &["classSourcedId", "userSourcedId", "role"])?;
    there(enrolments.is_some(), "enrollments.csv")?;
    let terms = table("academicsessions.csv", &["sourcedId", "title"])?;
    let people = people(users);
    let mut bundle = match enrolments {
        Some(enrolments) => {
            let sections = classes.map(|classes| sections(classes, terms));
            of_enrolments(enrolments, &people, sections.as_ref(), today)
        }
        None => without_classes(&people),
    };
    if bundle.students.len() > MAX_STUDENTS {
        return Err(BundleError::TooManyStudents);
    }
    bundle.leaving = users.map(leaving).unwrap_or_default();
    Ok(bundle)
}

/// Every user who is not taken out, by `sourcedId`.
fn people(users: Option<Rows<'_>>) -> BTreeMap<&str, Person> {
    let rows = users.into_iter().flat_map(Rows::rows).filter(|row| !row.is_gone());
    rows.map(|row| (row.cell("sourcedId"), person(row))).collect()
}

fn person(row: Row<'_>) -> Person {
    // Version 1.2 keeps the role elsewhere: the enrolment tells it.
    let role = row.cell("role");
    let student = Student {
        line: row.line,
        number: numbers(row).into_iter().next().unwrap_or_default(),
        given: row.first_of(&["preferredGivenName", "preferredFirstName", "givenName"]).to_owned(),
        family: row.first_of(&["preferredFamilyName", "preferredLastName", "familyName"]).to_owned(),
        grade: row.cell("grades").split(',').next().unwrap_or_default().trim().to_owned(),
        class: String::new(),
    };
    let disabled =
        row.cell("enabledUser").eq_ignore_ascii_case("false") || row.cell("status").eq_ignore_ascii_case("inactive");
    Person { student, may_be_student: role.is_empty() || role.eq_ignore_ascii_case("student"), disabled }
}

/// The ways in which an office says somebody's number, the one that stands in its other files first.
fn numbers(row: Row<'_>) -> Vec<String> {
    // `{LDAP:jdoe},{Student number:4711}`, or what stands there alone.
    let ids = row.cell("userIds").split(',').map(|id| {
        let id = id.trim().trim_start_matches('{').trim_end_matches('}');
        id.rsplit(':').next().unwrap_or(id).trim()
    });
    let all = [row.cell("identifier")].into_iter().chain(ids).chain([row.cell("sourcedId")]);
    all.map(str::trim).filter(|number| !number.is_empty()).map(ToOwned::to_owned).collect()
}

fn leaving(users: Rows<'_>) -> BTreeSet<String> {
    users.rows().filter(Row::is_gone).flat_map(numbers).collect()
}

fn of_enrolments(
    enrolments: Rows<'_>,
    people: &BTreeMap<&str, Person>,
    sections: Option<&BTreeMap<&str, String>>,
    today: NaiveDate,
) -> Bundle {
    let mut bundle = Bundle::default();
    let mut disabled = BTreeSet::new();
    let students = enrolments.rows().filter(|row| !row.is_gone() && row.cell("role").eq_ignore_ascii_case("student"));
    for row in students {
        let Some(person) = people.get(row.cell("userSourcedId")).filter(|person| person.may_be_student) else {
            continue;
        };
        let class = row.cell("classSourcedId");
        // Of a class that is not in the file only its id is known; one that is taken out has no students.
        let Some(section) = sections.map_or(Some(class), |known| known.get(class).map(String::as_str)) else {
            continue;
        };
        let ends = row.cell("endDate").get(..10).and_then(|day| day.parse::<NaiveDate>().ok());
        if person.disabled {
            disabled.insert(row.cell("userSourcedId"));
        } else if ends.is_some_and(|last| last < today) {
            bundle.ended += 1;
        } else if bundle.students.len() <= MAX_STUDENTS {
            bundle.students.push(Student { class: section.to_owned(), ..person.student.clone() });
        }
    }
    bundle.disabled = disabled.len();
    bundle
}

fn without_classes(people: &BTreeMap<&str, Person>) -> Bundle {
    let students = || people.values().filter(|person| person.may_be_student);
    let mut found: Vec<Student> = students()
        .filter(|person| !person.disabled)
        .map(|person| person.student.clone())
        .take(MAX_STUDENTS + 1)
        .collect();
    found.sort_by_key(|student| student.line);
    Bundle { students: found, disabled: students().filter(|person| person.disabled).count(), ..Bundle::default() }
}
