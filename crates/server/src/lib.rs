//! The server: routes, sign-in, live updates, the embedded pages and content, and the command line.
//!
//! A request goes route -> guard -> store -> core -> page. [`app`] puts it together, [`http`] has one file a place,
//! [`auth`] says who may, [`checklists`] keeps what classes read by, [`live`] tells open pages that something changed.

pub mod app;
pub mod auth;
pub mod checklists;
pub mod cli;
pub mod content;
pub mod demo;
pub mod http;
pub mod live;
pub mod say;
