//! Setting up: roster, measures and sizes, instruments, seats, supplies.

pub mod instruments;
pub mod inventory_file;
pub mod matching;
pub mod measures;
pub mod roster;
pub mod roster_columns;
pub mod roster_import;
pub mod seats;
pub mod sizing;
pub mod supplies;
