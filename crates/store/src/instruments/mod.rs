//! The instruments of a program's store room: what they are, who has them, what was done to their markers; and supplies.

pub mod assets;
pub mod held;
pub mod loans;
pub mod stock;
pub mod tape_looks;
pub mod tapes;
