//! The round: what could be looked at, whom to visit in the minutes there are, and how that goes on over a term.
//!
//! What never happens here: deciding what an observation means (that is [`crate::progress`]).

pub mod asked;
pub mod bands;
pub mod calibration;
pub mod checks;
pub mod class_rates;
pub mod detail;
pub mod event;
pub mod forecast;
pub mod milestones;
pub mod observed;
pub mod outcome;
pub mod planner;
pub mod play;
pub mod question;
pub mod rates;
mod reading;
pub mod rehearsal;
mod rounds;
pub mod scans;
mod start;
pub mod state;
