//! From a list of names to a roster: short names, and what an import would do to each row before anything is stored.

use crate::setup::names::FullName;
use crate::setup::names::told_apart;
use crate::setup::roster_row::{RosterRow, entry, read_row};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

use crate::craft::instrument::Instrument;
use crate::{ChildId, ClassId};

/// The most children a class has.
pub const MAX_CHILDREN: usize = 200;

/// A child as the class knows it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct KnownChild {
    /// Who.
    pub id: ChildId,
    /// As it stands in the class.
    pub entry: RosterEntry,
}

/// What a roster says of a child.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct RosterEntry {
    /// First name and a letter, or as the director wants it.
    pub name: String,
    /// What it plays.
    pub instrument: Instrument,
    /// The school's grade, as the school writes it; empty for none.
    #[serde(default)]
    pub grade: String,
    /// The office's own number; empty for none.
    #[serde(default)]
    pub number: String,
    /// Wants a seat in row 1.
    #[serde(default)]
    pub near_front: bool,
    /// Wants a seat at a row's end.
    #[serde(default)]
    pub near_aisle: bool,
}

/// The longest name of a class, in characters.
pub const MAX_CLASS_NAME_LENGTH: usize = 80;
/// The longest name of a program, in characters.
pub const MAX_PROGRAM_NAME_LENGTH: usize = 120;
/// The longest name of an account, in characters.
pub const MAX_ACCOUNT_NAME_LENGTH: usize = 80;

/// Whether a child is in a class.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum MembershipStatus {
    /// It leaves the class; its history stays.
    Left,
    /// It comes back.
    Here,
    /// It moves to this class of the same program, with its history.
    Class(ClassId),
}

/// A part of an entry that an import changes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum RosterField {
    /// The name.
    Name,
    /// The instrument.
    Instrument,
    /// The grade.
    Grade,
    /// The office's number.
    Number,
    /// Near the front.
    NearFront,
    /// Near an aisle.
    NearAisle,
}

/// What an import does with a row.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum RowAction {
    /// A child to add.
    New(RosterEntry),
    /// A child that is there, with what changes.
    Changed {
        /// Who.
        id: ChildId,
        /// As it will be.
        entry: RosterEntry,
        /// What changes.
        fields: Vec<RosterField>,
    },
    /// A child that is there just so.
    Same(ChildId),
    /// Left alone, with the reason and what to do.
    Refused(String),
}

/// What an import would do.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ImportPlan {
    /// Each row's line with its action, in the order of the file.
    pub rows: Vec<(usize, RowAction)>,
    /// Children of the class that the file does not name: they stay as they are.
    pub untouched: Vec<ChildId>,
}

/// Plans an import into a class.
///
/// A row is a known child when it has that child's own id, as in a roster that was taken out here, and keeps its name where the file
/// still has it just so; or when its number is one's. Otherwise it is the child of its short name that no other row of the
/// file means: with a number, one that has none yet; without, one without a number before one with. Names are shortened
/// to one letter, or to as many as tell the children of the file apart; `keep_names` keeps them as they are. The same
/// file planned over its own result changes nothing.
#[must_use]
pub fn plan(rows: &[RosterRow], known: &[KnownChild], keep_names: bool) -> ImportPlan {
    let names: Vec<FullName> = rows.iter().map(|row| row.name.clone()).collect();
    let mut names = told_apart(&names, keep_names);
    let own: BTreeMap<ChildId, &KnownChild> = known.iter().map(|child| (child.id, child)).collect();
    for (row, name) in rows.iter().zip(&mut names) {
        let as_it_is = row.own.and_then(|id| own.get(&id)).map(|child| &child.entry.name);
        if let Some(kept) = as_it_is.filter(|kept| row.name == FullName::Whole((*kept).clone())) {
            name.clone_from(kept);
        }
    }
    let mut class = Class::new(known, rows, &names);
    let mut numbers: BTreeMap<&str, usize> = BTreeMap::new();
    let mut actions = Vec::new();
    for (row, name) in rows.iter().zip(names) {
        let number = row.number();
        let twice = if number.is_empty() { None } else { numbers.insert(number, row.line) };
        let action = match (read_row(row, &name), twice) {
            (Err(reason), _) => RowAction::Refused(reason),
            (Ok(_), Some(line)) => {
                RowAction::Refused(format!("The number {number} stands in line {line} too: keep one."))
            }
            (Ok(instrument), None) => match class.find(row, &name) {
                Found::Child(child) => change(entry(row, name, instrument, Some(&child.entry)), child),
                Found::Twice(line) => {
                    RowAction::Refused(format!("{name} stands in line {line} too: keep one, or give both a number."))
                }
                Found::Nobody => RowAction::New(entry(row, name, instrument, None)),
            },
        };
        actions.push((row.line, action));
    }
    let untouched = known.iter().map(|child| child.id).filter(|id| !class.met.contains_key(id)).collect();
    ImportPlan { rows: actions, untouched }
}

impl RosterRow {
    fn number(&self) -> &str {
        self.number.as_deref().unwrap_or_default()
    }
}

/// Whom a row means.
enum Found<'a> {
    Child(&'a KnownChild),
    /// Another row, in that line, means the same child.
    Twice(usize),
    Nobody,
}

/// The children of a class while the rows of a file find theirs.
struct Class<'a> {
    by_id: BTreeMap<ChildId, &'a KnownChild>,
    by_number: BTreeMap<&'a str, &'a KnownChild>,
    by_name: BTreeMap<String, Vec<&'a KnownChild>>,
    /// Children whose number some row has, with that row's line and name.
    claimed: BTreeMap<ChildId, (usize, String)>,
    /// Children found so far, with the line that found them.
    met: BTreeMap<ChildId, usize>,
    /// Names of new children without a number, with their lines.
    added: BTreeMap<String, usize>,
}

impl<'a> Class<'a> {
    fn new(known: &'a [KnownChild], rows: &[RosterRow], names: &[String]) -> Self {
        let by_number: BTreeMap<&str, &KnownChild> =
            known.iter().filter(|k| !k.entry.number.is_empty()).map(|k| (k.entry.number.as_str(), k)).collect();
        let mut by_name: BTreeMap<String, Vec<&KnownChild>> = BTreeMap::new();
        for child in known {
            by_name.entry(child.entry.name.to_lowercase()).or_default().push(child);
        }
        let by_id: BTreeMap<ChildId, &KnownChild> = known.iter().map(|child| (child.id, child)).collect();
        let claim = |(row, name): (&RosterRow, &String)| {
            let own = row.own.and_then(|id| by_id.get(&id));
            let child = own.or_else(|| by_number.get(row.number()))?;
            Some((child.id, (row.line, name.to_lowercase())))
        };
        // The first row with a number is the one that counts.
        let claimed = rows.iter().zip(names).rev().filter_map(claim).collect();
        Self { by_id, by_number, by_name, claimed, met: BTreeMap::new(), added: BTreeMap::new() }
    }

    fn find(&mut self, row: &RosterRow, name: &str) -> Found<'a> {
        let name = name.to_lowercase();
        let number = row.number();
        if let Some(child) = row.own.and_then(|id| self.by_id.get(&id)).copied() {
            if let Some(line) = self.met.insert(child.id, row.line) {
                return Found::Twice(line);
            }
            return Found::Child(child);
        }
        if let Some(child) = self.by_number.get(number).copied() {
            self.met.insert(child.id, row.line);
            return Found::Child(child);
        }
        let namesakes = self.by_name.get(&name).map_or(&[][..], Vec::as_slice);
        let free = |child: &&&KnownChild| !self.met.contains_key(&child.id) && !self.claimed.contains_key(&child.id);
        let unnumbered = namesakes.iter().filter(free).find(|child| child.entry.number.is_empty());
        let any = || namesakes.iter().find(free).filter(|_| number.is_empty());
        if let Some(child) = unnumbered.or_else(any).copied() {
            self.met.insert(child.id, row.line);
            return Found::Child(child);
        }
        if !number.is_empty() {
            return Found::Nobody;
        }
        // A namesake that another row means by its number, under another name, is a namesake no longer.
        let other_row = |child: &&KnownChild| match self.claimed.get(&child.id) {
            Some((line, claimed_as)) => (*claimed_as == name).then_some(*line),
            None => self.met.get(&child.id).copied(),
        };
        if let Some(line) = namesakes.iter().find_map(other_row).or_else(|| self.added.get(&name).copied()) {
            return Found::Twice(line);
        }
        self.added.insert(name, row.line);
        Found::Nobody
    }
}

fn change(entry: RosterEntry, child: &KnownChild) -> RowAction {
    let before = &child.entry;
    let fields: Vec<RosterField> = [
        (entry.name != before.name, RosterField::Name),
        (entry.instrument != before.instrument, RosterField::Instrument),
        (entry.grade != before.grade, RosterField::Grade),
        (entry.number != before.number, RosterField::Number),
        (entry.near_front != before.near_front, RosterField::NearFront),
        (entry.near_aisle != before.near_aisle, RosterField::NearAisle),
    ]
    .into_iter()
    .filter_map(|(differs, field)| differs.then_some(field))
    .collect();
    if fields.is_empty() { RowAction::Same(child.id) } else { RowAction::Changed { id: child.id, entry, fields } }
}
