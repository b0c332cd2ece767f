//! The views: each is its numbers and what they come to.

pub(super) mod body;
pub(super) mod bow_arm;
pub(super) mod bow_care;
pub(super) mod bow_hand;
pub(super) mod bow_path;
pub(super) mod left_arm;
pub(super) mod left_hand;
pub(super) mod neck_section;
pub(super) mod peg;
pub(super) mod pluck;
pub(super) mod support;
pub(super) mod thumb_back;
