//! Bright Row's database. The only crate that knows SQL.
//!
//! One file an aggregate: [`accounts`] (programs, accounts, memberships), [`sessions`], [`classes`], [`calendars`], [`children`],
//! [`imports`] (of rosters), [`measures`], [`assets`] (instruments and who has them), [`room`] (seats), [`stock`],
//! [`marks`], [`rounds`] (what happened in them), [`standings`] (the cache that follows from the marks), [`circumstances`] (what counts for a
//! child besides its marks), [`lessons`], [`live`] (who hears of a change).
//! Every function takes `&impl ConnectionTrait` and a program, and returns values of the core or small structs of its
//! own: entities stay in here. A function that must be one step opens its own transaction and says so.

pub mod accounts;
pub mod assets;
pub mod calendars;
pub mod children;
pub mod circumstances;
pub mod classes;
pub mod database;
mod entity;
mod error;
pub mod imports;
pub mod known;
pub mod lessons;
pub mod live;
pub mod marks;
pub mod measures;
pub mod migration;
pub mod room;
pub mod rounds;
pub mod seen;
pub mod sessions;
pub mod standings;
mod stands_for;
pub mod stock;
pub mod tapes;

pub use error::StoreError;
pub use sea_orm::{AccessMode, ConnectionTrait, DatabaseConnection, IsolationLevel, TransactionTrait};
