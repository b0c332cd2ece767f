//! Markers on fingerboards: where they go, how they are proved, what was done to them, how far they are, and in which order
//! they go again.
//!
//! Lengths are millimetres from the nut, pitches cents, positive towards the bridge and sharp. What never happens here:
//! anything about a child; markers belong to an instrument.

pub mod assessment;
pub mod bench;
pub mod colour;
pub mod ear_checks;
pub mod finger;
pub mod hand_run;
pub mod layout;
pub mod log;
pub mod marker_set;
pub mod marker_view;
pub mod needs;
pub mod new_entry;
pub mod offset;
pub mod plausible;
pub mod record;
pub mod settings;
pub mod status;
pub mod thinning;
