//! The round: what one needs, what happens in it, and the term ahead.

pub mod check;
pub mod events;
pub mod forecast;
pub mod kit;
pub mod kit_views;
