//! How a class grew.

pub mod came;
pub mod groups;
mod office;
pub mod overview;
pub mod report;
pub mod views;
