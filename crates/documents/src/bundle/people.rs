//! The users of a bundle, and those of them who are students in its classes.

use std::collections::{BTreeSet, HashMap};

use chrono::NaiveDate;

use super::files::Row;
use super::{Bundle, BundleError, MAX_STUDENTS, Student};

/// A student, whichever class it is in.
pub(super) struct Person {
    student: Student,
    disabled: bool,
    /// It was counted as one who is left out.
    counted: bool,
}

impl Person {
    /// `None` for whom the file of users says that it is no student. Version 1.2 keeps the role elsewhere: the enrolment tells it.
    pub(super) fn of(row: &Row<'_>) -> Option<Self> {
        let role = row.cell("role");
        let student = Student {
            line: row.line,
            number: numbers(row).into_iter().next().unwrap_or_default(),
            given: row.first_of(&["preferredGivenName", "preferredFirstName", "givenName"]),
            family: row.first_of(&["preferredFamilyName", "preferredLastName", "familyName"]),
            grade: row.cell("grades").split(',').next().unwrap_or_default().trim().to_owned(),
            class: String::new(),
        };
        let disabled = row.says("enabledUser", "false") || row.says("status", "inactive");
        (role.is_empty() || role.eq_ignore_ascii_case("student")).then_some(Self { student, disabled, counted: false })
    }
}

/// The ways in which an office says somebody's number, the one that stands in its other files first.
pub(super) fn numbers(row: &Row<'_>) -> Vec<String> {
    // `{LDAP:jdoe},{Student number:4711}`, or what stands there alone.
    let ids = row.cell("userIds");
    let ids = ids.split(',').map(|id| {
        let id = id.trim().trim_start_matches('{').trim_end_matches('}');
        id.rsplit(':').next().unwrap_or(id).trim().to_owned()
    });
    let all = [row.cell("identifier")].into_iter().chain(ids).chain([row.cell("sourcedId")]);
    all.filter(|number| !number.is_empty()).collect()
}

/// Students while they are put into classes, enrolment by enrolment.
pub(super) struct InClasses<'a> {
    /// By `sourcedId`.
    pub(super) people: HashMap<String, Person>,
    /// The names of the classes by `sourcedId`; `None` where the bundle has no classes.
    pub(super) sections: Option<HashMap<String, String>>,
    pub(super) chosen: Option<&'a BTreeSet<String>>,
    pub(super) today: NaiveDate,
    pub(super) bundle: Bundle,
}

impl InClasses<'_> {
    pub(super) fn add(&mut self, row: &Row<'_>) {
        if row.is_gone() || !row.says("role", "student") {
            return;
        }
        let Some(person) = self.people.get_mut(&row.cell("userSourcedId")) else { return };
        let class = row.cell("classSourcedId");
        // Of a class that is not in the file only its id is known; one that is taken out has no students.
        let Some(section) = self.sections.as_ref().map_or(Some(&class), |known| known.get(&class)) else { return };
        let ends = row.cell("endDate").get(..10).and_then(|day| day.parse::<NaiveDate>().ok());
        if person.disabled {
            self.bundle.disabled += usize::from(!person.counted);
            person.counted = true;
        } else if ends.is_some_and(|last| last < self.today) {
            self.bundle.ended += 1;
        } else {
            match self.bundle.classes.get_mut(section) {
                Some(count) => *count += 1,
                None => drop(self.bundle.classes.insert(section.clone(), 1)),
            }
            if self.chosen.is_none_or(|chosen| chosen.contains(section)) {
                self.bundle.add(|| Student { class: section.clone(), ..person.student.clone() });
            }
        }
    }

    /// Everybody, where nothing says who is in which class.
    pub(super) fn add_all(&mut self) {
        for person in self.people.values() {
            if person.disabled {
                self.bundle.disabled += 1;
            } else {
                self.bundle.add(|| person.student.clone());
            }
        }
        self.bundle.students.sort_by_key(|student| student.line);
    }

    pub(super) fn finish(mut self) -> Result<Bundle, BundleError> {
        if self.bundle.total > MAX_STUDENTS {
            if self.bundle.classes.is_empty() {
                return Err(BundleError::TooMany(MAX_STUDENTS, "students"));
            }
            self.bundle.students.clear();
        }
        Ok(self.bundle)
    }
}

impl Bundle {
    fn add(&mut self, student: impl FnOnce() -> Student) {
        self.total += 1;
        if self.total <= MAX_STUDENTS {
            self.students.push(student());
        }
    }
}
