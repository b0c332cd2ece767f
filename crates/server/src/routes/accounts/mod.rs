//! Signing in and out, the first run, one's account, people and keeping, and the list of classes.

pub mod account;
pub mod classes;
pub mod contacts;
pub mod first_run;
pub mod handover;
pub mod links;
pub mod passkeys;
pub mod people;
pub mod program;
pub mod second_factor;
pub mod session;
