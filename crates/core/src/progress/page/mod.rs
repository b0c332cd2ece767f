//! What pages show of a child, made from what its rules read: on the server from what is stored, in a page from what the server
//! answered last and what is still on its way. Both make the same.
//!
//! What never happens here: deciding what an observation means, or what is due. That is the rest of [`crate::progress`].

pub mod basis;
pub mod child_now;
pub mod context;
pub mod history;
pub mod ladders;
pub mod next_item;
pub mod progress;
pub mod room_child;
