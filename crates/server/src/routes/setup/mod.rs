//! Setting up: roster, measures and sizes, instruments, seats, supplies.

pub mod file_letters;
pub mod instrument_views;
pub mod instruments;
mod inventory_columns;
pub mod inventory_file;
pub mod matching;
pub mod measures;
pub mod roster;
pub mod roster_columns;
pub mod roster_import;
pub mod roster_preview;
pub mod seat_views;
pub mod seats;
pub mod sizing;
pub mod supplies;
pub mod tags;
