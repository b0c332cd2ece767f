//! The rules and the arithmetic of Bright Row.
//!
//! This crate **is** plain data in, sorted data out: what a mark means, when a checkpoint is due again, how far a
//! strand glows, which stage is open. It **is not** a place for files, clocks, randomness, tasks, web or database:
//! "now", the meeting calendar and ids come in as arguments, so that every rule can be tested on its own.
//!
//! Read it in this order: [`instrument`] and [`checklist`] (the craft as data, read by [`content`]), [`approach`],
//! [`edits`] and [`plan`] (from what ships to what a class reads), [`calendar`], [`mark`] (what was seen), [`standing`]
//! (what follows for one checkpoint), [`tape`] and [`ladder`] (what follows for a child), [`causes`], [`priorities`] and
//! [`signs`] (what comes first, and what led to what), [`reading`] (the class as a whole). Setting up a class stands on
//! its own: [`roster`], [`fit`], [`setup`], [`matching`], [`seating`], [`supplies`]. So does the fingerboard: [`finger`],
//! [`laying`] and [`fingerboard`] (where marks go), [`ear`] (how they are proved), [`offset`] (what ears say of that),
//! [`tape_set`], [`tape_log`] and [`tape_told`] (what is laid on an instrument, and what that comes to), [`notes`] (what is played where), [`tune`].

pub mod approach;
pub mod calendar;
pub mod causes;
pub mod checklist;
pub mod content;
pub mod ear;
pub mod edits;
pub mod finger;
pub mod fingerboard;
pub mod fit;
pub mod forecast;
mod id;
pub mod instrument;
pub mod ladder;
pub mod laying;
pub mod lesson;
pub mod looks;
pub mod mark;
pub mod matching;
pub mod notes;
pub mod number;
pub mod offset;
pub mod plan;
pub mod priorities;
pub mod reading;
pub mod roster;
pub mod round;
pub mod seating;
pub mod setup;
pub mod signs;
pub mod standing;
pub mod supplies;
pub mod tape;
pub mod tape_log;
pub mod tape_set;
pub mod tape_told;
pub mod tune;

pub use id::{AccountId, AssetId, ChildId, ClassId, ImportId, MarkId, ProgramId, RoundId, TapeEventId};
