//! From a list of names to a roster: short names, and what an import would do to each row before anything is stored.

use std::collections::{BTreeMap, BTreeSet};

use crate::ChildId;
use crate::instrument::Instrument;

/// The most children a class has.
pub const MOST_CHILDREN: usize = 200;
/// The longest name kept, in characters.
pub const NAME_MOST: usize = 60;

/// A name as it comes from an office.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum FullName {
    /// In one piece: `Ada King`, `King, Ada`, or `Ada K.` already.
    Whole(String),
    /// In two.
    Parts {
        /// What the child is called.
        given: String,
        /// The family's name; may be empty.
        family: String,
    },
}

impl FullName {
    /// Given and family name, spaces cleaned.
    #[must_use]
    pub fn split(&self) -> (String, String) {
        let clean = |text: &str| text.split_whitespace().collect::<Vec<_>>().join(" ");
        match self {
            Self::Parts { given, family } => (clean(given), clean(family)),
            Self::Whole(whole) => {
                if let Some((family, given)) = whole.split_once(',') {
                    return (clean(given), clean(family));
                }
                let whole = clean(whole);
                match whole.rsplit_once(' ') {
                    Some((given, family)) => (given.to_owned(), family.to_owned()),
                    None => (whole, String::new()),
                }
            }
        }
    }
}

/// First name and so many letters of the family's, `Ada K.`; the family name itself when it has no more letters.
#[must_use]
pub fn short_name(given: &str, family: &str, letters: usize) -> String {
    let bare: String = family.trim_end_matches('.').to_owned();
    if bare.is_empty() {
        return given.to_owned();
    }
    let mut begun: String = bare.chars().take(letters).collect();
    if let Some(first) = begun.chars().next() {
        let rest: String = begun.chars().skip(1).collect();
        begun = first.to_uppercase().chain(rest.chars()).collect();
    }
    let dot = if bare.chars().count() > letters || bare.chars().count() == 1 { "." } else { "" };
    format!("{given} {begun}{dot}")
}

/// The instrument that a word of a file means, if it means one: names, usual short forms, and the first of these
/// words in a longer text such as a class's title.
#[must_use]
pub fn instrument_of(text: &str) -> Option<Instrument> {
    let text = text.to_lowercase();
    let words = text.split(|c: char| !c.is_alphanumeric()).filter(|word| !word.is_empty());
    words.into_iter().find_map(|word| match word {
        "violin" | "violins" | "vn" | "vln" | "vl" => Some(Instrument::Violin),
        "viola" | "violas" | "va" | "vla" => Some(Instrument::Viola),
        "cello" | "cellos" | "celli" | "violoncello" | "vc" | "vcl" => Some(Instrument::Cello),
        "bass" | "basses" | "contrabass" | "kontrabass" | "doublebass" | "db" | "cb" => Some(Instrument::Bass),
        _ => None,
    })
}

/// A child as the class knows it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Known {
    /// Who.
    pub id: ChildId,
    /// As it stands in the class.
    pub entry: Entry,
}

/// What a roster says of a child.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Entry {
    /// First name and a letter, or as the director wants it.
    pub name: String,
    /// What it plays.
    pub instrument: Instrument,
    /// The school's grade, as the school writes it; empty for none.
    pub grade: String,
    /// The office's own number; empty for none.
    pub number: String,
    /// Wants a seat in row 1.
    pub near_front: bool,
    /// Wants a seat at a row's end.
    pub near_aisle: bool,
}

/// A row of a file, read; a field that the file does not have is `None` and leaves what is known alone.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Row {
    /// The line in the file, from 1.
    pub line: usize,
    /// The name.
    pub name: FullName,
    /// The instrument, or what stands there instead.
    pub instrument: Result<Instrument, String>,
    /// See [`Entry::grade`].
    pub grade: Option<String>,
    /// See [`Entry::number`].
    pub number: Option<String>,
    /// See [`Entry::near_front`].
    pub near_front: Option<bool>,
    /// See [`Entry::near_aisle`].
    pub near_aisle: Option<bool>,
}

/// A part of an entry that an import changes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Field {
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

/// What becomes of a row.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Fate {
    /// A child to add.
    New(Entry),
    /// A child that is there, with what changes.
    Changed {
        /// Who.
        id: ChildId,
        /// As it will be.
        entry: Entry,
        /// What changes.
        fields: Vec<Field>,
    },
    /// A child that is there just so.
    Same(ChildId),
    /// Left alone, with the reason and what to do.
    Refused(String),
}

/// What an import would do.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Plan {
    /// Each row's line with its fate, in the order of the file.
    pub rows: Vec<(usize, Fate)>,
    /// Children of the class that the file does not name: they stay as they are.
    pub untouched: Vec<ChildId>,
}

/// Plans an import into a class.
///
/// A row is a known child when its number is one's. Otherwise it is the child of its short name that no other row of the
/// file means: with a number, one that has none yet; without, one without a number before one with. Names are shortened
/// to one letter, or to as many as tell the children of the file apart; `keep_names` keeps them as they are. The same
/// file planned over its own result changes nothing.
#[must_use]
pub fn plan(rows: &[Row], known: &[Known], keep_names: bool) -> Plan {
    let names = names(rows, keep_names);
    let mut class = Class::new(known, rows, &names);
    let mut numbers: BTreeMap<&str, usize> = BTreeMap::new();
    let mut fates = Vec::new();
    for (row, name) in rows.iter().zip(names) {
        let number = row.number();
        let twice = if number.is_empty() { None } else { numbers.insert(number, row.line) };
        let fate = match (read_row(row, &name), twice) {
            (Err(reason), _) => Fate::Refused(reason),
            (Ok(_), Some(line)) => Fate::Refused(format!("The number {number} stands in line {line} too: keep one.")),
            (Ok(instrument), None) => match class.find(row, &name) {
                Found::Child(child) => change(entry(row, name, instrument, Some(&child.entry)), child),
                Found::Twice(line) => {
                    Fate::Refused(format!("{name} stands in line {line} too: keep one, or give both a number."))
                }
                Found::Nobody => Fate::New(entry(row, name, instrument, None)),
            },
        };
        fates.push((row.line, fate));
    }
    let untouched = known.iter().map(|child| child.id).filter(|id| !class.met.contains_key(id)).collect();
    Plan { rows: fates, untouched }
}

impl Row {
    fn number(&self) -> &str {
        self.number.as_deref().unwrap_or_default()
    }
}

/// Whom a row means.
enum Found<'a> {
    Child(&'a Known),
    /// Another row, in that line, means the same child.
    Twice(usize),
    Nobody,
}

/// The children of a class while the rows of a file find theirs.
struct Class<'a> {
    by_number: BTreeMap<&'a str, &'a Known>,
    by_name: BTreeMap<String, Vec<&'a Known>>,
    /// Children whose number some row has, with that row's line and name.
    claimed: BTreeMap<ChildId, (usize, String)>,
    /// Children found so far, with the line that found them.
    met: BTreeMap<ChildId, usize>,
    /// Names of new children without a number, with their lines.
    added: BTreeMap<String, usize>,
}

impl<'a> Class<'a> {
    fn new(known: &'a [Known], rows: &[Row], names: &[String]) -> Self {
        let by_number: BTreeMap<&str, &Known> =
            known.iter().filter(|k| !k.entry.number.is_empty()).map(|k| (k.entry.number.as_str(), k)).collect();
        let mut by_name: BTreeMap<String, Vec<&Known>> = BTreeMap::new();
        for child in known {
            by_name.entry(child.entry.name.to_lowercase()).or_default().push(child);
        }
        let claim = |(row, name): (&Row, &String)| {
            by_number.get(row.number()).map(|child| (child.id, (row.line, name.to_lowercase())))
        };
        // The first row with a number is the one that counts.
        let claimed = rows.iter().zip(names).rev().filter_map(claim).collect();
        Self { by_number, by_name, claimed, met: BTreeMap::new(), added: BTreeMap::new() }
    }

    fn find(&mut self, row: &Row, name: &str) -> Found<'a> {
        let name = name.to_lowercase();
        let number = row.number();
        if let Some(child) = self.by_number.get(number).copied() {
            self.met.insert(child.id, row.line);
            return Found::Child(child);
        }
        let namesakes = self.by_name.get(&name).map_or(&[][..], Vec::as_slice);
        let free = |child: &&&Known| !self.met.contains_key(&child.id) && !self.claimed.contains_key(&child.id);
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
        let other_row = |child: &&Known| match self.claimed.get(&child.id) {
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

fn read_row(row: &Row, name: &str) -> Result<Instrument, String> {
    if name.is_empty() {
        return Err("There is no name in this row.".to_owned());
    }
    let long = |text: &str, most: usize| text.chars().count() > most;
    if long(name, NAME_MOST) {
        return Err(format!("The name is longer than {NAME_MOST} characters."));
    }
    if row.number.as_deref().is_some_and(|number| long(number, NAME_MOST)) {
        return Err(format!("The number is longer than {NAME_MOST} characters."));
    }
    if row.grade.as_deref().is_some_and(|grade| long(grade, 20)) {
        return Err("The grade is longer than 20 characters.".to_owned());
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

/// The name of each row, short, and told apart from every other row of the file.
fn names(rows: &[Row], keep: bool) -> Vec<String> {
    let parts: Vec<(String, String)> = rows.iter().map(|row| row.name.split()).collect();
    if keep {
        return parts.iter().map(|(given, family)| format!("{given} {family}").trim().to_owned()).collect();
    }
    let mut groups: BTreeMap<String, BTreeSet<&(String, String)>> = BTreeMap::new();
    for part in &parts {
        groups.entry(short_name(&part.0, &part.1, 1).to_lowercase()).or_default().insert(part);
    }
    let name = |part: &(String, String)| {
        let group = &groups[&short_name(&part.0, &part.1, 1).to_lowercase()];
        let most = part.1.chars().count().max(1);
        let told_apart = |letters: &usize| {
            let mine = short_name(&part.0, &part.1, *letters).to_lowercase();
            group
                .iter()
                .filter(|other| **other != part)
                .all(|(given, family)| short_name(given, family, *letters).to_lowercase() != mine)
        };
        let letters = (1..=most).find(told_apart).unwrap_or(most);
        short_name(&part.0, &part.1, letters)
    };
    parts.iter().map(name).collect()
}

fn entry(row: &Row, name: String, instrument: Instrument, before: Option<&Entry>) -> Entry {
    let text = |new: &Option<String>, old: fn(&Entry) -> &String| {
        new.clone().unwrap_or_else(|| before.map(old).cloned().unwrap_or_default())
    };
    Entry {
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

fn change(entry: Entry, child: &Known) -> Fate {
    let before = &child.entry;
    let fields: Vec<Field> = [
        (entry.name != before.name, Field::Name),
        (entry.instrument != before.instrument, Field::Instrument),
        (entry.grade != before.grade, Field::Grade),
        (entry.number != before.number, Field::Number),
        (entry.near_front != before.near_front, Field::NearFront),
        (entry.near_aisle != before.near_aisle, Field::NearAisle),
    ]
    .into_iter()
    .filter_map(|(differs, field)| differs.then_some(field))
    .collect();
    if fields.is_empty() { Fate::Same(child.id) } else { Fate::Changed { id: child.id, entry, fields } }
}
