//! The rules by themselves, without a database: the planner of a round, sizes, and where markers go.

pub mod fit;
pub mod round;
pub mod tapes;
