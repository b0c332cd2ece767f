//! A seat plan as the page shows it, with every wish that it does not keep.

use bright_row_core::craft::instrument::Instrument;
use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::setup::rows::{Seat, even_rows, walking_key};
use bright_row_core::setup::seat_plan::{RoomSize, SeatPlan, Seating};
use bright_row_core::setup::seating::{Arrangement, Sitter, Wish, broken, room_fit, rows_that_fit};
use bright_row_store::classes::room::Room;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

/// An arrangement with what is to be said about it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SeatsView {
    #[serde(flatten)]
    pub(super) plan: SeatPlan,
    /// The version of what is kept; absent in a look at an arrangement that is not.
    pub(super) version: Option<String>,
    /// Every child of the class, by name.
    pub(super) children: Vec<SitterView>,
    /// Wishes that the arrangement breaks, in words.
    pub(super) broken: Vec<BrokenView>,
    /// What the arrangement takes.
    pub(super) needs: NeedsView,
    /// The children in the order in which a round walks past them: a serpentine from the front left.
    pub(super) walk: Vec<ChildId>,
}

/// A child to be seated.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SitterView {
    pub(super) id: ChildId,
    pub(super) name: String,
    pub(super) instrument: Instrument,
    pub(super) height_mm: Option<u32>,
    pub(super) near_front: bool,
    pub(super) near_aisle: bool,
}

/// A wish that is broken, with everybody whose it is.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BrokenView {
    pub(super) wish: Wish,
    pub(super) children: Vec<ChildId>,
}

/// What an arrangement takes of a room.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NeedsView {
    pub(super) width_mm: u32,
    pub(super) depth_mm: u32,
    pub(super) chairs_too_many: usize,
    /// When it does not fit: rows in which the class would; absent when no number of rows does.
    pub(super) rows_that_fit: Option<Vec<u8>>,
}

/// The rows as they are, when the director has not set them: as many chairs as the last one taken.
pub(super) fn rows_of(room: &Room, sitters: &[Sitter]) -> Vec<u8> {
    if !room.rows.is_empty() {
        return room.rows.clone();
    }
    let last = sitters.iter().filter_map(|sitter| sitter.seat).map(|seat| seat.row).max();
    match last {
        None => even_rows(sitters.len(), DEFAULT_ROWS),
        Some(last) => (1..=last)
            .map(|row| {
                let seats = sitters.iter().filter_map(|sitter| sitter.seat).filter(|seat| seat.row == row);
                seats.map(|seat| seat.number).max().unwrap_or(1)
            })
            .collect(),
    }
}

/// A room with its seats, as a page reads and writes them.
pub(super) fn plan_of(room: &Room, sitters: &[Sitter]) -> SeatPlan {
    let seating = |s: &Sitter| Some(Seating { child: s.id, row: s.seat?.row, seat: s.seat?.number, locked: s.locked });
    SeatPlan {
        room: RoomSize { width_mm: room.width_mm, depth_mm: room.depth_mm, rows: rows_of(room, sitters) },
        seats: sitters.iter().filter_map(seating).collect(),
    }
}

/// Rows of a room that nobody has set.
pub(super) const DEFAULT_ROWS: u8 = 4;

pub(super) fn view(plan: SeatPlan, sitters: &[Sitter], names: &BTreeMap<ChildId, String>) -> SeatsView {
    let seats: Arrangement =
        plan.seats.iter().map(|seat| (seat.child, Seat { row: seat.row, number: seat.seat })).collect();
    let fit = room_fit(sitters, &seats, plan.room.width_mm, plan.room.depth_mm);
    let rows_that_fit =
        if fit.chairs_too_many > 0 { rows_that_fit(sitters, plan.room.width_mm, plan.room.depth_mm) } else { None };
    let name = |id: ChildId| names.get(&id).cloned().unwrap_or_default();
    let mut walk: Vec<(ChildId, Seat)> = seats.iter().map(|(child, seat)| (*child, *seat)).collect();
    walk.sort_by_key(|(_, seat)| walking_key(*seat));
    SeatsView {
        children: sitters
            .iter()
            .map(|sitter| SitterView {
                id: sitter.id,
                name: name(sitter.id),
                instrument: sitter.instrument,
                height_mm: sitter.height_mm,
                near_front: sitter.near_front,
                near_aisle: sitter.near_aisle,
            })
            .collect(),
        broken: by_wish(broken(sitters, &seats, &plan.room.rows)),
        needs: NeedsView {
            width_mm: fit.width_mm,
            depth_mm: fit.depth_mm,
            chairs_too_many: fit.chairs_too_many,
            rows_that_fit,
        },
        walk: walk.into_iter().map(|(child, _)| child).collect(),
        version: None,
        plan,
    }
}

fn by_wish(broken: Vec<(ChildId, Wish)>) -> Vec<BrokenView> {
    let mut wishes: BTreeMap<Wish, Vec<ChildId>> = BTreeMap::new();
    for (child, wish) in broken {
        wishes.entry(wish).or_default().push(child);
    }
    wishes.into_iter().map(|(wish, children)| BrokenView { wish, children }).collect()
}
