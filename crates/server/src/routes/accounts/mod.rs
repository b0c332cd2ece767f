//! Signing in and out, the first run, and the list of classes.

pub mod classes;
pub mod first_run;
pub mod session;
