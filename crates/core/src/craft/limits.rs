//! How long the texts of the craft may be.

/// The longest name of a stage, checkpoint or slip, in characters.
pub const MAX_NAME_LENGTH: usize = 28;
/// The longest look-for, in characters: what can be read at arm's length.
pub const MAX_LOOK_FOR_LENGTH: usize = 90;
/// The longest proof, in characters.
pub const MAX_PROOF_LENGTH: usize = 90;
/// The longest cue, in characters: what a child takes in at once.
pub const MAX_CUE_LENGTH: usize = 40;
/// The longest line on what a choice means, in characters.
pub const MAX_MEANS_LENGTH: usize = 140;
/// The longest name of a cause, in characters.
pub const MAX_CAUSE_LENGTH: usize = 40;
