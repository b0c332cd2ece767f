//! Bright Row's database. The only crate that knows SQL.
//!
//! A folder an aggregate: [`accounts`] (programs, people, memberships, sessions), [`classes`] (with calendar, room and
//! settings), [`children`] (with measures, context, imports and removal), [`instruments`] (with loans, tape logs and stock),
//! [`observations`] (with the standings that follow from them), [`rounds`], [`lessons`]; [`live`] says who hears of a change,
//! [`locks`] who waits for whom, [`once`] what was done already.
//! Every function takes `&impl ConnectionTrait` and a program, and returns values of the core or small structs of its
//! own: entities stay in here. A function that must be one step opens its own transaction and says so.

pub mod accounts;
mod announced;
pub mod archive;
pub mod audit;
pub mod backup_notes;
pub mod children;
pub mod classes;
pub mod copy;
pub mod database;
mod entity;
mod error;
pub mod headings;
pub mod health;
pub mod instruments;
pub mod lessons;
pub mod live;
pub mod locks;
pub mod migration;
pub mod observations;
pub mod once;
pub mod retention;
pub mod rounds;
mod rows;
pub mod tables;
pub mod versioned;

pub use error::StoreError;
pub use sea_orm::{
    AccessMode, ConnectionTrait, DatabaseConnection, DatabaseTransaction, IsolationLevel, TransactionTrait,
};
