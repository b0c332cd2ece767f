//! The craft as data: instruments, the four strands and the slips, read from TOML and checked.
//!
//! A director's wording, a new checkpoint or a corrected string length is a change of these files, not of code. Reading
//! takes texts, not paths, so that it can be tested without a disk. Every fault is found in one go, with its file and
//! line.

mod check;
mod check_drawings;
mod check_home;
mod check_instruments;
mod check_lessons;
mod check_needs;
mod check_options;
mod check_symptoms;
mod check_weights;
pub mod class_file;
mod content;
mod draft;
mod entry;
mod fault;
mod prove_causes;
mod prove_options;
mod read;
mod read_drawings;
mod read_home;
mod read_lessons;
mod tunes;
mod write_drills;

pub use content::Content;
pub use fault::{Fault, Source};

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

/// Reads and checks content, and proves what has to hold of it as a whole, which takes longer.
///
/// # Errors
/// As [`read`].
pub fn prove(sources: &[Source<'_>]) -> Result<Content, Vec<Fault>> {
    let content = read(sources)?;
    let mut faults = prove_causes::all(&content, sources);
    faults.extend(prove_options::all(&content, sources));
    faults.sort();
    faults.dedup();
    if faults.is_empty() { Ok(content) } else { Err(faults) }
}
