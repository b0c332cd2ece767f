//! Tunes for tests.

use std::sync::LazyLock;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::loader::{self, Content, Source};
use bright_row_core::craft::tune::{Key, Line, Meter, Tune, line};
use bright_row_core::lessons::notes::part;
use bright_row_documents::tune::Part;

/// The shipped content, read once.
pub fn content() -> &'static Content {
    static CONTENT: LazyLock<Content> = LazyLock::new(read);
    &CONTENT
}

fn read() -> Content {
    let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../content");
    let mut files = Vec::new();
    for folder in ["", "checklist", "drills", "drawings"] {
        for entry in std::fs::read_dir(root.join(folder)).expect("content") {
            let path = entry.expect("a file").path();
            if path.extension().is_some_and(|ending| ending == "toml") {
                let name = path.strip_prefix(&root).expect("inside").to_string_lossy().into_owned();
                files.push((name, std::fs::read_to_string(&path).expect("text")));
            }
        }
    }
    let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
    loader::read(&sources).expect("the shipped content has no fault")
}

pub fn parts(content: &Content, tune: &Tune) -> Vec<Part> {
    Instrument::ALL.map(|instrument| (instrument, part(&content.instruments[&instrument], &tune.notes))).into()
}

pub fn built(text: &str, meter: &str) -> Tune {
    let meter = Meter::parse(meter).expect("a meter");
    let Line { notes, pickup_eighths } = line(text, meter.eighths()).expect("a tune");
    let key = Key { sharps: 2, minor: false };
    Tune { id: String::new(), name: "A & <B>".to_owned(), key, meter, tempo: None, pickup_eighths, notes }
}
