//! Faults of content files, each with its file and line, and what many of them share.

use std::collections::BTreeSet;

use crate::craft::instrument::Instrument;

/// One file of content: its path inside the content folder, with `/`, and its text.
#[derive(Clone, Copy, Debug)]
pub struct Source<'a> {
    /// `checklist/hold.toml`.
    pub path: &'a str,
    /// The whole file.
    pub text: &'a str,
}

/// Something wrong in a content file.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, thiserror::Error)]
#[error("{file}:{line}: {message}")]
pub struct Fault {
    /// The file's path inside the content folder.
    pub file: String,
    /// The line, from 1.
    pub line: usize,
    /// What is wrong and, where it can be said, what to do.
    pub message: String,
}

/// A value with the line it stands on.
#[derive(Clone, Debug)]
pub(super) struct At<T> {
    pub(super) file: String,
    pub(super) line: usize,
    pub(super) value: T,
}

impl<T> At<T> {
    pub(super) fn fault(&self, message: impl Into<String>) -> Fault {
        Fault { file: self.file.clone(), line: self.line, message: message.into() }
    }
}

pub(super) type Faults = Vec<Fault>;
/// The texts with placeholders in them: each with its kind and an instrument that it is for.
pub(super) type Texts = Vec<(At<String>, &'static str, Instrument)>;

pub(super) fn instrument_set(keys: &[At<String>], faults: &mut Faults) -> BTreeSet<Instrument> {
    let mut instruments = BTreeSet::new();
    for key in keys {
        match Instrument::parse(&key.value) {
            Some(instrument) => drop(instruments.insert(instrument)),
            None => faults.push(key.fault(format!("`{}` is not one of vn, va, vc, db", key.value))),
        }
    }
    instruments
}

pub(super) fn unique(id: &At<String>, ids: &mut BTreeSet<String>, faults: &mut Faults) {
    if !ids.insert(id.value.clone()) {
        faults.push(id.fault(format!("`{}` stands here twice; an id is used once", id.value)));
    }
}

pub(super) fn positive(seconds: &At<u32>, faults: &mut Faults) {
    if seconds.value == 0 {
        faults.push(seconds.fault("a look takes at least one second"));
    }
}

pub(super) fn short(text: &At<String>, what: &str, most: usize, faults: &mut Faults) {
    let long = text.value.chars().count();
    if text.value.trim().is_empty() {
        faults.push(text.fault(format!("the {what} is empty")));
    } else if long > most {
        faults.push(text.fault(format!("the {what} has {long} characters; {most} is the most")));
    }
}
