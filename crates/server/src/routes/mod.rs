//! The API, a folder a page of the application: what comes in and goes out, and handlers that extract, call a use case or
//! the core, and map. No rule and no transaction is here.

pub mod accounts;
pub mod approach;
pub mod calc;
pub mod child;
pub mod health;
pub mod home;
pub mod lessons;
pub mod pages;
pub mod room;
pub mod round;
pub mod setup;
pub mod tapes;
pub mod term;
