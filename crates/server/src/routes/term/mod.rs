//! How a class grew.

pub mod came;
pub mod groups;
pub mod overview;
pub mod report;
pub mod views;
