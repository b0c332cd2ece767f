//! One row of a roster: what it may say, and why it cannot be a child.

use crate::ChildId;
use crate::craft::instrument::Instrument;
use crate::setup::names::FullName;
use crate::setup::roster::RosterEntry;

/// The longest name kept, in characters.
pub const MAX_CHILD_NAME_LENGTH: usize = 60;
/// The longest grade, in characters.
pub const MAX_GRADE_LENGTH: usize = 20;

/// A row of a file, read; a field that the file does not have is `None` and leaves what is known alone.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RosterRow {
    /// The line in the file, from 1.
    pub line: usize,
    /// Whom our own file says that it means.
    pub own: Option<ChildId>,
    /// The name.
    pub name: FullName,
    /// The instrument, or what stands there instead.
    pub instrument: Result<Instrument, String>,
    /// See [`RosterEntry::grade`].
    pub grade: Option<String>,
    /// See [`RosterEntry::number`].
    pub number: Option<String>,
    /// See [`RosterEntry::near_front`].
    pub near_front: Option<bool>,
    /// See [`RosterEntry::near_aisle`].
    pub near_aisle: Option<bool>,
}

/// The instrument of a row that can be a child; what is wrong with it otherwise.
pub(super) fn read_row(row: &RosterRow, name: &str) -> Result<Instrument, String> {
    if name.is_empty() {
        return Err("There is no name in this row.".to_owned());
    }
    let long = |text: &str, most: usize| text.chars().count() > most;
    if long(name, MAX_CHILD_NAME_LENGTH) {
        return Err(format!("The name is longer than {MAX_CHILD_NAME_LENGTH} characters."));
    }
    if row.number.as_deref().is_some_and(|number| long(number, MAX_CHILD_NAME_LENGTH)) {
        return Err(format!("The number is longer than {MAX_CHILD_NAME_LENGTH} characters."));
    }
    if row.grade.as_deref().is_some_and(|grade| long(grade, MAX_GRADE_LENGTH)) {
        return Err(format!("The grade is longer than {MAX_GRADE_LENGTH} characters."));
    }
    if [name, row.number.as_deref().unwrap_or_default(), row.grade.as_deref().unwrap_or_default()]
        .iter()
        .any(|text| text.chars().any(char::is_control))
    {
        return Err("There is a character here that cannot be kept: type the row again.".to_owned());
    }
    match &row.instrument {
        Ok(instrument) => Ok(*instrument),
        Err(text) if text.is_empty() => {
            Err("There is no instrument in this row: violin, viola, cello or bass.".to_owned())
        }
        Err(text) => {
            Err(format!("“{}” is none of violin, viola, cello and bass.", text.chars().take(40).collect::<String>()))
        }
    }
}

/// What a child's entry becomes by a row: what the row does not say stays as it was.
pub(super) fn entry(
    row: &RosterRow,
    name: String,
    instrument: Instrument,
    before: Option<&RosterEntry>,
) -> RosterEntry {
    let text = |new: &Option<String>, old: fn(&RosterEntry) -> &String| {
        new.clone().unwrap_or_else(|| before.map(old).cloned().unwrap_or_default())
    };
    RosterEntry {
        name,
        instrument,
        grade: text(&row.grade, |entry| &entry.grade),
        // A number is kept once it is known.
        number: row
            .number
            .clone()
            .filter(|number| !number.is_empty())
            .or_else(|| before.map(|entry| entry.number.clone()))
            .unwrap_or_default(),
        near_front: row.near_front.unwrap_or_else(|| before.is_some_and(|entry| entry.near_front)),
        near_aisle: row.near_aisle.unwrap_or_else(|| before.is_some_and(|entry| entry.near_aisle)),
    }
}
