//! Rows of chairs: places, the floor they need, and the order in which they are walked past.

use crate::craft::instrument::Instrument;

pub use crate::seat::Seat;

/// The floor a chair needs, width and depth in millimetres.
#[must_use]
pub const fn chair_mm(instrument: Instrument) -> (u32, u32) {
    match instrument {
        Instrument::Violin | Instrument::Viola => (900, 1200),
        Instrument::Cello => (1100, 1500),
        Instrument::Bass => (1200, 1200),
    }
}

/// Free floor between the rows and each wall, in millimetres.
pub const AISLE_MM: u32 = 900;
/// The most rows a room has.
pub const MAX_ROWS: u8 = 20;
/// The most seats a row has.
pub const MAX_SEATS_IN_ROW: u8 = 40;

/// The walking order of the seats of these rows (how many chairs each): row 1 from the left, row 2 back, and so on.
#[must_use]
pub fn serpentine(rows: &[u8]) -> Vec<Seat> {
    let mut walk = Vec::new();
    for (row, chairs) in (1..).zip(rows) {
        let mut line: Vec<Seat> = (1..=*chairs).map(|number| Seat { row, number }).collect();
        if row.is_multiple_of(2) {
            line.reverse();
        }
        walk.extend(line);
    }
    walk
}

/// The key by which children are walked past: [`serpentine`] order of their seats.
#[must_use]
pub fn walking_key(place: Seat) -> (u8, i16) {
    let number = i16::from(place.number);
    (place.row, if place.row.is_multiple_of(2) { -number } else { number })
}

/// `count` chairs in `rows` rows as evenly as can be, the fuller rows at the back, where the arc is longer.
#[must_use]
pub fn even_rows(count: usize, rows: u8) -> Vec<u8> {
    let rows = usize::from(rows.max(1));
    let (each, more) = (count / rows, count % rows);
    let chairs = (0..rows).map(|row| each + usize::from(row >= rows - more));
    chairs.filter(|chairs| *chairs > 0).map(|chairs| u8::try_from(chairs).unwrap_or(u8::MAX)).collect()
}
