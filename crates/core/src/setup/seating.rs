//! A proposal for who sits where: sections together, wishes kept as far as they can be, and whether it fits the room.
//!
//! Rows are counted from the podium to the back, seats from the podium's left, both from 1. The walking order is a
//! serpentine from the front left. Free seats are dealt out to the sections in that order, each section in one piece;
//! all orders of the sections are tried, and within a section every child gets its seat by an exact assignment, so that
//! no arrangement with sections in one piece breaks fewer wishes.

use crate::setup::rows::AISLE_MM;
use crate::setup::rows::MAX_ROWS;
use crate::setup::rows::MAX_SEATS_IN_ROW;
use crate::setup::rows::Seat;
use crate::setup::rows::chair_mm;
use crate::setup::rows::even_rows;
use crate::setup::rows::serpentine;
use crate::setup::rows::walking_key;
use std::collections::{BTreeMap, BTreeSet};

use pathfinding::prelude::{Matrix, kuhn_munkres_min};

use crate::ChildId;
use crate::craft::instrument::Instrument;

/// A child to be seated.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sitter {
    /// Who.
    pub id: ChildId,
    /// What it plays: its section.
    pub instrument: Instrument,
    /// Standing height in millimetres, if measured.
    pub height_mm: Option<u32>,
    /// Wants a seat in row 1.
    pub near_front: bool,
    /// Wants a seat at a row's end.
    pub near_aisle: bool,
    /// Where it sits now.
    pub seat: Option<Seat>,
    /// Stays where it sits.
    pub locked: bool,
}

/// A wish that an arrangement breaks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, serde::Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Wish {
    /// The child's section is not in one piece.
    Together,
    /// A bass neither in the back row nor at a row's end.
    BassAtSideOrBack,
    /// In front of its place by height: shorter children of its section sit behind.
    ShorterInFront,
    /// Not in row 1.
    NearFront,
    /// Not at a row's end.
    NearAisle,
}

/// Who sits where.
pub type Arrangement = BTreeMap<ChildId, Seat>;

/// A proposal.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SeatProposal {
    /// Every child with its seat.
    pub seats: Arrangement,
    /// The wishes broken, by child.
    pub broken: Vec<(ChildId, Wish)>,
}

/// How an arrangement stands in a room.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RoomFit {
    /// The widest row with its aisles, in millimetres.
    pub width_mm: u32,
    /// All rows with the aisles before and behind, in millimetres.
    pub depth_mm: u32,
    /// Chairs that stand in a wall: too many for the width in each row, and whole rows too many for the depth.
    pub chairs_too_many: usize,
}

/// Proposes seats in these rows; children beyond the number of chairs are left out.
///
/// Locked children keep their seats. Among proposals that break as few wishes the one that moves fewest children is
/// taken, then the one in the usual order of sections, then by the order of the children.
#[must_use]
pub fn propose(children: &[Sitter], rows: &[u8]) -> SeatProposal {
    let locked: Arrangement =
        children.iter().filter(|child| child.locked).filter_map(|child| Some((child.id, child.seat?))).collect();
    let taken: BTreeSet<Seat> = locked.values().copied().collect();
    let free: Vec<Seat> = serpentine(rows).into_iter().filter(|place| !taken.contains(place)).collect();
    let mut sections: Vec<Vec<&Sitter>> = Vec::new();
    for instrument in Instrument::ALL {
        let section: Vec<&Sitter> =
            children.iter().filter(|child| child.instrument == instrument && !locked.contains_key(&child.id)).collect();
        if !section.is_empty() {
            sections.push(section);
        }
    }
    let shape = Shape::of(rows);
    let mut best: Option<((usize, usize), Arrangement)> = None;
    for order in orders(sections.len()) {
        let mut seats = locked.clone();
        let mut rest = &free[..];
        for section in order.iter().map(|index| &sections[*index]) {
            let (here, after) = rest.split_at(section.len().min(rest.len()));
            rest = after;
            seats.extend(deal(section, here, children, &locked, &shape));
        }
        let moved = children.iter().filter(|child| child.seat != seats.get(&child.id).copied()).count();
        let score = (broken(children, &seats, rows).len(), moved);
        if best.as_ref().is_none_or(|(known, _)| score < *known) {
            best = Some((score, seats));
        }
    }
    let seats = best.map(|(_, seats)| seats).unwrap_or_default();
    SeatProposal { broken: broken(children, &seats, rows), seats }
}

/// Every order of `count` sections, the given one first.
fn orders(count: usize) -> Vec<Vec<usize>> {
    let mut all = vec![Vec::new()];
    for _ in 0..count {
        all = all
            .into_iter()
            .flat_map(|begun: Vec<usize>| {
                (0..count)
                    .filter(|next| !begun.contains(next))
                    .map(|next| [&begun[..], &[next]].concat())
                    .collect::<Vec<_>>()
            })
            .collect();
    }
    all
}

/// What the rows are like: how many there are, and where each ends.
struct Shape {
    last_row: u8,
    chairs: Vec<u8>,
}

impl Shape {
    fn of(rows: &[u8]) -> Self {
        Self { last_row: u8::try_from(rows.len()).unwrap_or(u8::MAX), chairs: rows.to_vec() }
    }

    fn is_end(&self, place: Seat) -> bool {
        place.number == 1 || self.chairs.get(usize::from(place.row) - 1) == Some(&place.number)
    }

    /// The wishes of one child that a seat breaks whoever sits around it; `by_height` is its row by height.
    fn broken(&self, child: &Sitter, place: Seat, by_height: Option<u8>) -> impl Iterator<Item = Wish> {
        let bass = child.instrument == Instrument::Bass && place.row != self.last_row && !self.is_end(place);
        [
            (bass, Wish::BassAtSideOrBack),
            (by_height.is_some_and(|row| place.row < row), Wish::ShorterInFront),
            (child.near_front && place.row != 1, Wish::NearFront),
            (child.near_aisle && !self.is_end(place), Wish::NearAisle),
        ]
        .into_iter()
        .filter_map(|(breaks, wish)| breaks.then_some(wish))
    }
}

/// The row from which on a child of this height may sit: as many seats of its section lie before it as it has shorter
/// children. `rows` are the section's rows, sorted.
fn row_by_height(child: &Sitter, section: &[&Sitter], rows: &[u8]) -> Option<u8> {
    let height = child.height_mm?;
    let shorter = section.iter().filter(|other| other.height_mm.is_some_and(|other| other < height)).count();
    rows.get(shorter).copied()
}

/// Seats the free children of a section exactly; locked ones of the same section count for the heights.
fn deal(
    section: &[&Sitter],
    seats: &[Seat],
    children: &[Sitter],
    locked: &Arrangement,
    shape: &Shape,
) -> Vec<(ChildId, Seat)> {
    let Some(first) = section.first() else { return Vec::new() };
    let section = &section[..seats.len()];
    if section.is_empty() {
        return Vec::new();
    }
    let stay = children.iter().filter(|c| c.instrument == first.instrument && locked.contains_key(&c.id));
    let whole: Vec<&Sitter> = section.iter().copied().chain(stay).collect();
    let mut rows: Vec<u8> =
        whole.iter().filter_map(|child| locked.get(&child.id)).chain(seats).map(|p| p.row).collect();
    rows.sort_unstable();
    let count = i64::try_from(section.len()).expect("a class is small") + 1;
    let cost = |(child, seat): (usize, usize)| {
        let (sitter, place) = (section[child], seats[seat]);
        let wishes = shape.broken(sitter, place, row_by_height(sitter, &whole, &rows)).count();
        let wishes = i64::try_from(wishes).expect("few wishes");
        let moves = i64::from(sitter.seat != Some(place));
        let index = |at: usize| i64::try_from(at).expect("a class is small");
        // Then in the order of the children: the first get the first seats.
        (wishes * count + moves) * count.pow(3) + index(section.len() - child) * index(seat)
    };
    let (_, chosen) = kuhn_munkres_min(&Matrix::from_fn(section.len(), seats.len(), cost));
    section.iter().zip(chosen).map(|(child, seat)| (child.id, seats[seat])).collect()
}

/// Every wish that an arrangement breaks, by the order of the children.
///
/// A section is in one piece when its children follow each other in the walking order, passing over empty chairs and
/// locked children; every child of a later piece breaks [`Wish::Together`].
#[must_use]
pub fn broken(children: &[Sitter], seats: &Arrangement, rows: &[u8]) -> Vec<(ChildId, Wish)> {
    let shape = Shape::of(rows);
    let apart = apart(children, seats);
    let mut found = Vec::new();
    for child in children {
        let Some(place) = seats.get(&child.id) else { continue };
        let section: Vec<&Sitter> = children
            .iter()
            .filter(|other| other.instrument == child.instrument && seats.contains_key(&other.id))
            .collect();
        let mut section_rows: Vec<u8> = section.iter().map(|other| seats[&other.id].row).collect();
        section_rows.sort_unstable();
        if apart.contains(&child.id) {
            found.push((child.id, Wish::Together));
        }
        // A locked seat was chosen by the director: nothing is wished about it.
        if !child.locked {
            let by_height = row_by_height(child, &section, &section_rows);
            found.extend(shape.broken(child, *place, by_height).map(|wish| (child.id, wish)));
        }
    }
    found
}

fn apart(children: &[Sitter], seats: &Arrangement) -> BTreeSet<ChildId> {
    let mut walk: Vec<(&Sitter, Seat)> = children
        .iter()
        .filter(|child| !child.locked)
        .filter_map(|child| Some((child, *seats.get(&child.id)?)))
        .collect();
    walk.sort_by_key(|(_, place)| walking_key(*place));
    let mut done = BTreeSet::new();
    let mut now = None;
    let mut apart = BTreeSet::new();
    for (child, _) in walk {
        if now != Some(child.instrument) {
            done.extend(now);
            now = Some(child.instrument);
        }
        if done.contains(&child.instrument) {
            apart.insert(child.id);
        }
    }
    apart
}

/// How an arrangement stands in a room of this width and depth.
#[must_use]
pub fn room_fit(children: &[Sitter], seats: &Arrangement, width_mm: u32, depth_mm: u32) -> RoomFit {
    let mut rows: BTreeMap<u8, Vec<(u32, u32)>> = BTreeMap::new();
    for child in children {
        if let Some(place) = seats.get(&child.id) {
            rows.entry(place.row).or_default().push(chair_mm(child.instrument));
        }
    }
    let (mut widest, mut deep, mut too_many) = (0, 2 * AISLE_MM, 0);
    for chairs in rows.values_mut() {
        let width: u32 = chairs.iter().map(|(width, _)| width).sum::<u32>() + 2 * AISLE_MM;
        widest = widest.max(width);
        deep += chairs.iter().map(|(_, depth)| *depth).max().unwrap_or_default();
        if deep > depth_mm {
            too_many += chairs.len();
            continue;
        }
        // Take the widest chairs out until the rest fits.
        chairs.sort_unstable();
        let mut left = width;
        while left > width_mm {
            let Some((chair, _)) = chairs.pop() else { break };
            left -= chair;
            too_many += 1;
        }
    }
    RoomFit { width_mm: widest, depth_mm: deep, chairs_too_many: too_many }
}

/// The fewest rows, evenly filled, in which the class fits the room; `None` when no number of rows would do.
#[must_use]
pub fn rows_that_fit(children: &[Sitter], width_mm: u32, depth_mm: u32) -> Option<Vec<u8>> {
    let unlocked: Vec<Sitter> =
        children.iter().map(|child| Sitter { locked: false, seat: None, ..child.clone() }).collect();
    (1..=MAX_ROWS).map(|rows| even_rows(children.len(), rows)).find(|rows| {
        rows.iter().all(|chairs| *chairs <= MAX_SEATS_IN_ROW)
            && room_fit(&unlocked, &propose(&unlocked, rows).seats, width_mm, depth_mm).chairs_too_many == 0
    })
}
