//! A place in the rows of chairs.

use serde::{Deserialize, Serialize};

/// A seat: row from the podium, number from the podium's left, both from 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Seat {
    /// The row, 1 nearest the podium.
    pub row: u8,
    /// The seat in its row.
    #[serde(rename = "seat")]
    pub number: u8,
}
