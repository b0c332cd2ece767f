//! Approach: what a class chose, how soon it looks again, when it meets, and its checklist.

pub mod calendar;
pub mod calendar_out;
mod changes;
pub mod checklist;
pub mod class_file;
pub mod days_off;
pub mod drawings;
pub mod drills;
pub mod options;
pub mod own_checkpoints;
pub mod rhythm;
pub mod wall;
