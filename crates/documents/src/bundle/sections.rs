//! The names of classes: no two alike.

use std::collections::{BTreeMap, HashMap};

use super::files::Row;

/// So many terms of a class are looked up: a file that names each many times must not make far more of itself.
const MOST_TERMS: usize = 4;
/// So much of a code, of terms or of an id stands in a name, in characters.
const LONGEST_WORD: usize = 60;

/// A class, as its row says.
pub(super) struct Section {
    id: String,
    title: String,
    code: String,
    terms: Vec<String>,
}

impl Section {
    pub(super) fn of(row: &Row<'_>) -> Self {
        let ids = row.first_of(&["termSourcedIds", "termSourcedId"]);
        let terms = ids.split(',').map(str::trim).take(MOST_TERMS).map(ToOwned::to_owned).collect();
        Self { id: row.cell("sourcedId"), title: row.cell("title"), code: row.cell("classCode"), terms }
    }
}

/// The name of every class by `sourcedId`: its title; where another has the same title with its code, and where that is the same too
/// with its term, or its id. `titles` are those of the terms by their ids.
pub(super) fn sections(classes: Vec<Section>, titles: &BTreeMap<String, String>) -> HashMap<String, String> {
    let terms = |section: &Section| {
        let titles = section.terms.iter().map(|id| titles.get(id).unwrap_or(id).as_str());
        titles.filter(|title| !title.is_empty()).collect::<Vec<_>>().join(", ")
    };
    let mut names: Vec<String> = classes.iter().map(|section| section.title.clone()).collect();
    let more: [&dyn Fn(&Section) -> String; 3] =
        [&|section| section.code.clone(), &terms, &|section| section.id.clone()];
    for word in more {
        let mut many: HashMap<String, usize> = HashMap::new();
        for name in &names {
            *many.entry(name.to_lowercase()).or_default() += 1;
        }
        for (name, section) in names.iter_mut().zip(&classes).filter(|(name, _)| many[&name.to_lowercase()] > 1) {
            let word: String = word(section).chars().take(LONGEST_WORD).collect();
            if !word.is_empty() {
                *name = format!("{name}, {word}");
            }
        }
    }
    classes.into_iter().map(|section| section.id).zip(names).collect()
}
