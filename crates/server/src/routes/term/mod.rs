//! How a class grew.

pub mod groups;
pub mod overview;
pub mod views;
