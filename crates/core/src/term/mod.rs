//! How a class grew, read meeting by meeting from what was observed: how far each strand was learned when, how long looks
//! waited, which slips came and went, whether a small group helped, and what became of a forecast.
//!
//! What never happens here: saying who is better. Children stand in the order in which they were given.

pub mod attendance;
pub mod came;
pub mod group;
pub mod growth;
pub mod looks;
pub mod markers_then;
pub mod past;
pub mod room;
pub mod slips;
pub mod stages;
