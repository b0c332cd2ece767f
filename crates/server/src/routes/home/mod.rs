//! What goes home.

pub mod back;
pub mod cards;
pub mod overview;
pub mod practice;
pub mod sheets;
pub mod wording;
