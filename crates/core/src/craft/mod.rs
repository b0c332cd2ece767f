//! The craft as data: instruments, the checklist with its strands, stages, checkpoints and slips, where teachers disagree,
//! what leads to what, drills and tunes; and [`loader`], which reads and checks all of it.
//!
//! What never happens here: anything about one child. No observation, no date, no progress.

pub mod approach;
pub mod cause_graph;
pub mod cause_ranking;
pub mod checklist;
mod checklist_names;
pub mod drawings;
pub mod drills;
pub mod edits;
pub mod family_wording;
pub mod home;
pub mod id;
pub mod instrument;
pub mod level;
pub mod limits;
pub mod loader;
pub(crate) mod needs_by_place;
pub mod own_drills;
pub mod pitch;
pub mod strand;
pub mod symptoms;
pub mod template;
pub mod tune;
