//! Who is asking, and what they may do.
//!
//! [`guard`] has the extractors that every handler begins with, [`password`] the hashing, [`session`] the server-side
//! sessions behind the cookie.

pub mod guard;
pub mod session;
