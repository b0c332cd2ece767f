//! Who is asking, and what they may do.
//!
//! [`guard`] has the extractors that every handler begins with, [`recorder`] those of handlers that record what was seen, [`admission`] who
//! is let into which class, [`in_room`] who opens the room, [`session`] the server-side sessions behind the cookie,
//! [`client`] where a request comes from, [`known_device`] the devices that somebody has signed in from, [`deeds`] what is noted,
//! [`site`] that nothing is written from another site's page.

pub mod admission;
pub mod client;
pub mod deeds;
pub mod guard;
pub mod in_room;
pub mod known_device;
pub mod recorder;
pub mod session;
pub mod site;
