//! A word means one thing: words that were given up for a standard one do not come back into names. See docs/glossary.md.
#![allow(missing_docs)]

use std::path::{Path, PathBuf};

/// Words that no name has, each with what is said instead.
const GIVEN_UP: [(&str, &str); 14] = [
    ("whereabouts", "membership status"),
    ("laying", "marker settings"),
    ("heirs", "current holders"),
    ("stands_for", "attribution"),
    ("as_told", "assessment"),
    ("voters", "symptoms"),
    ("walker", "device"),
    ("spared", "saves"),
    ("shelf", "offline store"),
    ("first_visit", "first run"),
    ("firstVisit", "firstRun"),
    ("own_ways", "overrides"),
    ("go_on", "apply"),
    ("mark_id", "observation_id"),
];

fn sources(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        if path.is_dir() {
            if !["node_modules", "dist", "target", "test-results"].contains(&name.as_str()) {
                sources(&path, found);
            }
        } else if ["rs", "ts", "tsx", "sql", "toml", "lua"]
            .iter()
            .any(|end| path.extension().is_some_and(|e| e == *end))
        {
            found.push(path);
        }
    }
}

/// Where `word` stands by itself in `text`, or as a part of a name between underscores.
fn stands_in(text: &str, word: &str) -> bool {
    let is_letter = |c: Option<char>| c.is_some_and(char::is_alphanumeric);
    text.match_indices(word)
        .any(|(at, _)| !is_letter(text[..at].chars().next_back()) && !is_letter(text[at + word.len()..].chars().next()))
}

#[test]
fn words_that_were_given_up_do_not_come_back() {
    assert!(stands_in("let laying = 1", "laying") && stands_in("the_laying_of", "laying"));
    assert!(!stands_in("playing", "laying") && !stands_in("layings", "laying"));
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut files = Vec::new();
    for folder in ["crates", "web/src", "web/faults", "e2e", "content", "demo", "scripts"] {
        sources(&root.join(folder), &mut files);
    }
    assert!(files.len() > 300, "the sources were read: {}", files.len());
    let mut found = Vec::new();
    for path in files.iter().filter(|path| !path.ends_with("server/tests/words.rs")) {
        let text = std::fs::read_to_string(path).expect("a text");
        let words = GIVEN_UP.iter().filter(|(word, _)| stands_in(&text, word));
        found.extend(words.map(|(word, instead)| format!("{}: {word}, say {instead}", path.display())));
    }
    assert_eq!(found, Vec::<String>::new());
}
