//! The craft as data: instruments, the four strands and the slips, read from TOML and checked.
//!
//! A director's wording, a new checkpoint or a corrected string length is a change of these files, not of code. Reading
//! takes texts, not paths, so that it can be tested without a disk. Every fault is found in one go, with its file and
//! line.

mod check;
mod check_instruments;
mod check_lessons;
mod check_signs;
mod check_ways;
pub mod class_file;
mod entry;
mod read;
mod read_lessons;
mod tunes;

use std::collections::BTreeMap;

use crate::approach::{Approach, Choices};
use crate::causes::Causes;
use crate::checklist::Checklist;
use crate::edits::Edits;
use crate::instrument::{Instrument, InstrumentFacts};
use crate::lesson::Lessons;
use crate::plan::Plan;
use crate::signs::Signs;
use crate::tune::Tune;

pub use check::{CUE_MOST, LOOK_FOR_MOST, NAME_MOST, PROOF_MOST};

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

/// All content, checked.
#[derive(Clone, Debug, PartialEq)]
pub struct Content {
    /// The four instruments.
    pub instruments: BTreeMap<Instrument, InstrumentFacts>,
    /// The shared checklist, its texts not filled yet.
    pub plan: Plan,
    /// Where teachers disagree.
    pub approach: Approach,
    /// What is heard or seen, and what may have led to it.
    pub signs: Signs,
    /// What leads to what.
    pub causes: Causes,
    /// Drills for the whole class.
    pub lessons: Lessons,
    /// Tunes that belong to everybody.
    pub tunes: Vec<Tune>,
}

impl Content {
    /// The checklist of somebody with these choices and changes.
    #[must_use]
    pub fn checklist(&self, choices: &Choices, edits: &Edits) -> Checklist {
        self.plan.checklist(&self.approach, choices, edits)
    }

    /// The checklist with every default and nothing changed.
    #[must_use]
    pub fn standard(&self) -> Checklist {
        self.checklist(&Choices::new(), &Edits::default())
    }
}

/// A value with the line it stands on.
#[derive(Clone, Debug)]
struct At<T> {
    file: String,
    line: usize,
    value: T,
}

impl<T> At<T> {
    fn fault(&self, message: impl Into<String>) -> Fault {
        Fault { file: self.file.clone(), line: self.line, message: message.into() }
    }
}

/// Reads and checks content.
///
/// # Errors
/// Every [`Fault`] found, sorted by file and line; never an empty list.
pub fn read(sources: &[Source<'_>]) -> Result<Content, Vec<Fault>> {
    let (draft, mut faults) = read::all(sources);
    let content = check::all(draft, &mut faults);
    faults.sort();
    faults.dedup();
    if faults.is_empty() { Ok(content) } else { Err(faults) }
}
