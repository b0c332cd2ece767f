//! Lessons for the whole class: which drills it is ready for, a timed lesson, and who plays which note where.
//!
//! What never happens here: the texts of drills and tunes (those are data in [`crate::craft`]).

pub mod drill;
pub mod family_answer;
pub mod home;
pub mod lead;
pub mod lesson;
pub mod notes;
pub mod plan;
pub mod practice;
