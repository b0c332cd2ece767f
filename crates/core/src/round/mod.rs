//! The round: what could be looked at, whom to visit in the minutes there are, and how that goes on over a term.
//!
//! What never happens here: deciding what an observation means (that is [`crate::progress`]).

pub mod asked;
pub mod checks;
pub mod event;
pub mod forecast;
pub mod observed;
pub mod outcome;
pub mod planner;
pub mod play;
pub mod question;
pub mod rehearsal;
pub mod scans;
pub mod state;
