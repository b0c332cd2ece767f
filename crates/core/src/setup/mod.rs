//! Setting up a class: names from an office's file, sizes and the body's set-up, instruments matched to children, seats, and
//! supplies.
//!
//! What never happens here: reading files (that is the crate `documents`), and anything about progress.

pub mod body;
pub mod fit;
pub mod matching;
pub mod measures;
pub mod names;
pub mod observed;
pub mod roster;
pub mod roster_row;
pub mod rows;
pub mod seat_plan;
pub mod seating;
pub mod size_as_date;
pub mod sizing;
pub mod supplies;
