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
    let letters: BTreeMap<&(String, String), usize> = groups.values().flat_map(letters_apart).collect();
    parts.iter().map(|part| short_name(&part.0, &part.1, letters[part])).collect()
}

/// For each of these names as many letters of the family's as tell it apart from every other; all of it where nothing does.
///
/// All of them are counted for one letter, then for two and so on, until each stands by itself: 5,000 children of one first name are
/// no more work than a few letters for each.
fn letters_apart<'a>(names: &BTreeSet<&'a (String, String)>) -> Vec<(&'a (String, String), usize)> {
    let at = |name: &(String, String), letters: usize| short_name(&name.0, &name.1, letters).to_lowercase();
    let all = |name: &(String, String)| name.1.chars().count().max(1);
    let mut apart = Vec::new();
    let mut alike: Vec<&'a (String, String)> = names.iter().copied().collect();
    for letters in 1.. {
        if alike.is_empty() {
            break;
        }
        let mut bearers: BTreeMap<String, usize> = BTreeMap::new();
        for name in names {
            *bearers.entry(at(name, letters)).or_default() += 1;
        }
        let stands_alone = |name: &&(String, String)| bearers[&at(name, letters)] == 1 || letters >= all(name);
        let (done, still): (Vec<_>, Vec<_>) = alike.into_iter().partition(stands_alone);
        apart.extend(done.into_iter().map(|name| (name, letters.min(all(name)))));
        alike = still;
    }
    apart
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Each name against every other, letter by letter.
    fn one_by_one(names: &[FullName]) -> Vec<String> {
        let parts: Vec<(String, String)> = names.iter().map(FullName::split).collect();
        let name = |part: &(String, String)| {
            let most = part.1.chars().count().max(1);
            let is_apart = |letters: &usize| {
                let mine = short_name(&part.0, &part.1, *letters).to_lowercase();
                let others = parts.iter().filter(|other| *other != part);
                let of_one_letter = |other: &&(String, String)| {
                    let one = |part: &(String, String)| short_name(&part.0, &part.1, 1).to_lowercase();
                    one(other) == one(part)
                };
                others
                    .filter(of_one_letter)
                    .all(|other| short_name(&other.0, &other.1, *letters).to_lowercase() != mine)
            };
            short_name(&part.0, &part.1, (1..=most).find(is_apart).unwrap_or(most))
        };
        parts.iter().map(name).collect()
    }

    proptest! {
        #[test]
        fn counting_all_at_once_shortens_names_as_each_against_every_other_does(
            names in prop::collection::vec(("[ABab]{1,2}", "[BbOoÉé.]{0,5}"), 0..14),
        ) {
            let names: Vec<FullName> =
                names.into_iter().map(|(given, family)| FullName::Parts { given, family }).collect();
            prop_assert_eq!(told_apart(&names, false), one_by_one(&names));
        }
    }
}
