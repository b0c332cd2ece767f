//! The server: routes, sign-in, live updates, the embedded pages and content, and the command line.
//!
//! A request goes route -> guard -> use case -> store -> core -> page. [`router`] has the table of routes, [`routes`] a folder a
//! page, [`use_cases`] what the application does, [`auth`] who may, [`extract`] how requests are read,
//! [`caches`] checks and rebuilds what is kept beside the observations; [`state`] and [`error`]
//! stand on nothing of the above.

pub mod account;
pub mod archive;
pub mod auth;
pub mod automatic_backup;
pub mod backup;
pub mod caches;
pub mod checklist_cache;
pub mod cli;
pub mod connections;
pub mod content;
pub mod demo;
pub mod digest;
pub mod doctor;
pub mod error;
pub mod extract;
pub mod failure;
pub mod kept;
pub mod live;
pub mod passwords;
pub mod readers;
pub mod rehearse;
pub mod router;
pub mod routes;
pub mod serve;
pub mod state;
pub mod telemetry;
pub mod turns;
pub mod use_cases;
pub mod writers;
