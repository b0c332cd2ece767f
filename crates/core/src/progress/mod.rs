//! How children get on: what was observed, what follows for each checkpoint, stage and strand, and what comes next.
//!
//! What never happens here: choosing whom to visit (that is [`crate::round`]), and anything about where markers lie (that is
//! [`crate::tapes`]).

pub mod calendar;
pub mod context;
pub mod dependence;
pub mod facts;
pub mod ladder;
pub mod landing;
pub mod likely_slips;
pub mod local_time;
pub mod new_observation;
pub mod next;
mod next_list;
pub mod observation;
pub mod outlook;
pub mod overview;
pub mod page;
pub mod projection;
pub mod pupil;
pub mod rhythm;
pub mod standing;
pub mod strand_view;
pub mod tape_status;
pub mod unfolding;
pub mod visits;
