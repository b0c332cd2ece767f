//! A plan of seats that is changed by hand: moved, locked, with other rows.

use serde::{Deserialize, Serialize};

use crate::ChildId;
use crate::setup::rows::even_rows;

/// A room.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct RoomSize {
    /// From wall to wall.
    pub width_mm: u32,
    /// From the podium to the back wall.
    pub depth_mm: u32,
    /// Chairs in each row, from the podium to the back.
    pub rows: Vec<u8>,
}

/// A seat given to a child.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Seating {
    /// Whose.
    pub child: ChildId,
    /// 1 nearest the podium.
    pub row: u8,
    /// 1 at the podium's left.
    pub seat: u8,
    /// It stays there.
    #[serde(default)]
    pub locked: bool,
}

/// Who sits where, in which room.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct SeatPlan {
    /// The room.
    pub room: RoomSize,
    /// Who has a seat.
    pub seats: Vec<Seating>,
}

/// A change by hand.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum SeatChange {
    /// A child moves to a chair.
    Move(Seating),
    /// A child is locked in its seat, or unlocked.
    Lock(ChildId),
    /// The rows have so many chairs.
    Rows(Vec<u8>),
    /// So many rows share out chairs for so many children.
    EvenRows {
        /// Rows.
        rows: u8,
        /// Children.
        children: usize,
    },
}

impl SeatPlan {
    /// The plan with a change.
    #[must_use]
    pub fn with(self, change: SeatChange) -> Self {
        match change {
            SeatChange::Move(to) => self.moved(to),
            SeatChange::Lock(child) => self.locked(child),
            SeatChange::Rows(rows) => self.with_rows(rows),
            SeatChange::EvenRows { rows, children } => self.with_rows(even_rows(children, rows)),
        }
    }

    /// Whoever sat on the chair takes the child's old one, or has none if the child had none. Locked children stay: nothing
    /// moves onto their chairs, and they move nowhere.
    fn moved(mut self, to: Seating) -> Self {
        let from = self.seats.iter().find(|one| one.child == to.child).copied();
        let there = self.seats.iter().find(|one| (one.row, one.seat) == (to.row, to.seat)).copied();
        let stays = |one: Option<Seating>| one.is_some_and(|one| one.locked);
        if stays(from) || stays(there) || there.is_some_and(|there| there.child == to.child) {
            return self;
        }
        let gone = there.map(|there| there.child);
        self.seats.retain(|one| one.child != to.child && Some(one.child) != gone);
        if let Some((there, from)) = there.zip(from) {
            self.seats.push(Seating { row: from.row, seat: from.seat, ..there });
        }
        self.seats.push(Seating { locked: false, ..to });
        self
    }

    fn locked(mut self, child: ChildId) -> Self {
        for one in self.seats.iter_mut().filter(|one| one.child == child) {
            one.locked = !one.locked;
        }
        self
    }

    /// Who sat on a chair that is gone has none until seats are proposed or given.
    fn with_rows(mut self, rows: Vec<u8>) -> Self {
        let chairs = |row: u8| usize::from(row).checked_sub(1).and_then(|row| rows.get(row)).copied().unwrap_or(0);
        self.seats.retain(|one| one.seat <= chairs(one.row));
        self.room.rows = rows;
        self
    }
}

#[cfg(test)]
mod tests {
    use uuid::Uuid;

    use super::*;

    fn child(number: u128) -> ChildId {
        Uuid::from_u128(number).into()
    }

    fn seating(number: u128, row: u8, seat: u8, locked: bool) -> Seating {
        Seating { child: child(number), row, seat, locked }
    }

    /// Ada in row 1, Ben in row 2, Cy locked beside Ada.
    fn plan() -> SeatPlan {
        let room = RoomSize { width_mm: 9000, depth_mm: 9000, rows: vec![2, 3] };
        SeatPlan { room, seats: vec![seating(1, 1, 1, false), seating(2, 2, 3, false), seating(3, 1, 2, true)] }
    }

    fn seat_of(plan: &SeatPlan, number: u128) -> Option<(u8, u8)> {
        plan.seats.iter().find(|one| one.child == child(number)).map(|one| (one.row, one.seat))
    }

    #[test]
    fn a_move_onto_an_empty_chair_leaves_the_old_one_free_and_onto_a_taken_one_swaps_the_two() {
        let moved = plan().with(SeatChange::Move(seating(1, 2, 1, false)));
        assert_eq!(seat_of(&moved, 1), Some((2, 1)));
        assert!(moved.seats.iter().all(|one| (one.row, one.seat) != (1, 1)));
        let swapped = plan().with(SeatChange::Move(seating(1, 2, 3, false)));
        assert_eq!((seat_of(&swapped, 1), seat_of(&swapped, 2)), (Some((2, 3)), Some((1, 1))));
        let from_nowhere = plan().with(SeatChange::Move(seating(4, 2, 3, false)));
        assert_eq!((seat_of(&from_nowhere, 4), seat_of(&from_nowhere, 2)), (Some((2, 3)), None));
    }

    #[test]
    fn a_move_neither_takes_a_locked_child_away_nor_moves_it() {
        assert_eq!(plan().with(SeatChange::Move(seating(1, 1, 2, false))), plan());
        assert_eq!(plan().with(SeatChange::Move(seating(3, 2, 1, false))), plan());
        let open = plan().with(SeatChange::Lock(child(3)));
        assert_eq!(seat_of(&open.with(SeatChange::Move(seating(3, 2, 1, false))), 3), Some((2, 1)));
    }

    #[test]
    fn rows_that_are_taken_away_leave_their_children_without_a_chair() {
        let fewer = plan().with(SeatChange::Rows(vec![2, 2]));
        assert_eq!((seat_of(&fewer, 2), seat_of(&fewer, 1)), (None, Some((1, 1))));
        assert_eq!(plan().with(SeatChange::EvenRows { rows: 5, children: 36 }).room.rows, [7, 7, 7, 7, 8]);
        assert_eq!(plan().with(SeatChange::Rows(Vec::new())).seats, []);
    }
}
