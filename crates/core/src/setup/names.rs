//! Names as an office writes them, and the short names that a class goes by.

use std::collections::{BTreeMap, BTreeSet};

use crate::craft::instrument::Instrument;

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

/// The first name alone, of a name made by [`short_name`]: what comes after the last space is left out where it is one or two letters
/// with a full stop or without.
#[must_use]
pub fn given_name(short: &str) -> &str {
    match short.trim().rsplit_once(' ') {
        Some((given, letters)) if letters.trim_end_matches('.').chars().count() <= 2 => given.trim_end(),
        _ => short.trim(),
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

/// The short name of each of these, with as many letters as tell it apart from every other; kept whole with `keep`.
pub(super) fn told_apart(names: &[FullName], keep: bool) -> Vec<String> {
    let parts: Vec<(String, String)> = names.iter().map(FullName::split).collect();
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
        let is_apart = |letters: &usize| {
            let mine = short_name(&part.0, &part.1, *letters).to_lowercase();
            group
                .iter()
                .filter(|other| **other != part)
                .all(|(given, family)| short_name(given, family, *letters).to_lowercase() != mine)
        };
        let letters = (1..=most).find(is_apart).unwrap_or(most);
        short_name(&part.0, &part.1, letters)
    };
    parts.iter().map(name).collect()
}
