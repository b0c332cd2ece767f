//! The room: every child with its four strings, observations on their way in, and who hears of changes.

pub mod basis;
pub mod live;
pub mod observations;
pub mod overview;
