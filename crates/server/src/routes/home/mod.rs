//! What goes home.

pub mod cards;
pub mod overview;
pub mod practice;
pub mod sheets;
