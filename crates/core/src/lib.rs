//! The rules and the arithmetic of Bright Row.
//!
//! This crate **is** plain data in, sorted data out: what an observation means, when a checkpoint is due again, how far a
//! strand glows, which stage is open. It **is not** a place for files, clocks, randomness, tasks, web or database: "now",
//! the meeting calendar and ids come in as arguments, so that every rule can be tested on its own.
//!
//! Imports go down only: [`figure`] and [`listening`] stand on nothing, [`craft`] on it, [`tapes`] on craft, [`progress`] on both, [`round`] and [`lessons`] on
//! progress, [`term`] on round; [`setup`] stands beside progress on craft. `tests/layers.rs` holds it.

pub mod craft;
pub mod day;
pub mod deed;
pub mod figure;
mod ids;
mod instrument;
pub mod lessons;
pub mod listening;
pub mod number;
pub mod progress;
pub mod retention;
pub mod role;
pub mod rotation;
pub mod round;
#[cfg(feature = "schema")]
pub mod schema;
pub mod seat;
pub mod setup;
pub mod tapes;
pub mod term;
pub mod text;
mod worded;

pub use ids::{
    AccountId, AnswerId, AssetId, ChildId, ClassId, GroupId, ImportId, ObservationId, ProgramId, RoundId, TapeEventId,
};
