//! The names of classes: no two alike.

use std::collections::BTreeMap;

use super::files::{Row, Rows};

/// So many terms of a class are looked up: a file that names each many times must not make far more of itself.
const MOST_TERMS: usize = 4;
/// So much of a code, of terms or of an id stands in a name, in characters.
const LONGEST_WORD: usize = 60;

/// The name of every class that is not taken out, by `sourcedId`: its title; where another has the same title with its code, and where
/// that is the same too with its term, or its id.
pub(super) fn sections<'a>(classes: Rows<'a>, terms: Option<Rows<'a>>) -> BTreeMap<&'a str, String> {
    let titles: BTreeMap<&str, &str> =
        terms.into_iter().flat_map(Rows::rows).map(|term| (term.cell("sourcedId"), term.cell("title"))).collect();
    let term = |row: Row<'a>| {
        let ids = row.first_of(&["termSourcedIds", "termSourcedId"]).split(',').map(str::trim);
        ids.take(MOST_TERMS)
            .map(|id| titles.get(id).copied().unwrap_or(id))
            .filter(|title| !title.is_empty())
            .collect::<Vec<_>>()
            .join(", ")
    };
    let rows: Vec<Row<'a>> = classes.rows().filter(|row| !row.is_gone()).collect();
    let mut names: Vec<String> = rows.iter().map(|row| row.cell("title").to_owned()).collect();
    let more: [&dyn Fn(Row<'a>) -> String; 3] =
        [&|row| row.cell("classCode").to_owned(), &term, &|row| row.cell("sourcedId").to_owned()];
    for word in more {
        let mut many: BTreeMap<String, usize> = BTreeMap::new();
        for name in &names {
            *many.entry(name.to_lowercase()).or_default() += 1;
        }
        for (name, row) in names.iter_mut().zip(&rows).filter(|(name, _)| many[&name.to_lowercase()] > 1) {
            let word: String = word(*row).chars().take(LONGEST_WORD).collect();
            if !word.is_empty() {
                *name = format!("{name}, {word}");
            }
        }
    }
    rows.iter().map(|row| row.cell("sourcedId")).zip(names).collect()
}
