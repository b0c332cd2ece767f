//! Seats: nothing breaks fewer wishes, proved by trying every arrangement of small cases; and the room's arithmetic.

use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::rows::{Seat, even_rows, serpentine};
use bright_row_core::setup::seating::{Arrangement, Sitter, Wish, broken, propose, room_fit, rows_that_fit};
use proptest::prelude::*;
use uuid::Uuid;

fn sitter(number: u128, instrument: Instrument) -> Sitter {
    Sitter {
        id: ChildId::from(Uuid::from_u128(number)),
        instrument,
        height_mm: None,
        near_front: false,
        near_aisle: false,
        seat: None,
        locked: false,
    }
}

fn at(row: u8, number: u8) -> Seat {
    Seat { row, number }
}

#[test]
fn the_walk_is_a_serpentine_from_the_front_left() {
    let walk: Vec<(u8, u8)> = serpentine(&[2, 3]).into_iter().map(|place| (place.row, place.number)).collect();
    assert_eq!(walk, [(1, 1), (1, 2), (2, 3), (2, 2), (2, 1)]);
}

#[test]
fn rows_are_filled_evenly_the_fuller_ones_at_the_back() {
    assert_eq!(even_rows(36, 5), [7, 7, 7, 7, 8]);
    assert_eq!(even_rows(3, 5), [1, 1, 1]);
}

#[test]
fn shorter_children_of_a_section_sit_in_front_of_taller_ones() {
    let tall = |number, mm| Sitter { height_mm: Some(mm), ..sitter(number, Instrument::Violin) };
    let class = [tall(1, 1500), tall(2, 1300), tall(3, 1400), tall(4, 1350)];
    let proposal = propose(&class, &[2, 2]);
    assert_eq!(proposal.broken, []);
    let front: Vec<u32> = class
        .iter()
        .filter(|sitter| proposal.seats[&sitter.id].row == 1)
        .filter_map(|sitter| sitter.height_mm)
        .collect();
    assert_eq!(front, [1300, 1350]);
}

#[test]
fn a_wish_that_cannot_be_kept_is_named() {
    let front = |number| Sitter { near_front: true, ..sitter(number, Instrument::Cello) };
    let proposal = propose(&[front(1), front(2), front(3)], &[2, 1]);
    assert_eq!(proposal.broken.iter().map(|(_, wish)| *wish).collect::<Vec<_>>(), [Wish::NearFront]);
}

#[test]
fn a_section_in_two_pieces_is_named() {
    let class = [sitter(1, Instrument::Violin), sitter(2, Instrument::Viola), sitter(3, Instrument::Violin)];
    let seats: Arrangement = class.iter().map(|s| s.id).zip([at(1, 1), at(1, 2), at(1, 3)]).collect();
    assert_eq!(broken(&class, &seats, &[3]), [(class[2].id, Wish::Together)]);
}

#[test]
fn a_locked_child_stays_and_the_others_sit_around_it() {
    let mut class: Vec<Sitter> = (1..=5).map(|number| sitter(number, Instrument::Viola)).collect();
    class[4].seat = Some(at(1, 2));
    class[4].locked = true;
    let proposal = propose(&class, &[3, 2]);
    assert_eq!(proposal.seats[&class[4].id], at(1, 2));
    let mut places: Vec<Seat> = proposal.seats.values().copied().collect();
    places.sort_unstable();
    places.dedup();
    assert_eq!(places.len(), 5);
}

#[test]
fn a_room_that_is_too_small_says_by_how_many_chairs_and_which_rows_would_do() {
    let class: Vec<Sitter> = (1..=12).map(|number| sitter(number, Instrument::Violin)).collect();
    let seats = propose(&class, &[12]).seats;
    // 12 chairs of 900 mm and two aisles: 12.6 m; in 8 m there is room for 6 of them.
    let fit = room_fit(&class, &seats, 8000, 6000);
    assert_eq!((fit.width_mm, fit.depth_mm, fit.chairs_too_many), (12_600, 3000, 6));
    assert_eq!(rows_that_fit(&class, 8000, 6000), Some(vec![6, 6]));
    assert_eq!(rows_that_fit(&class, 3000, 3500), None);
}

/// The fewest broken wishes over every arrangement whose sections are in one piece.
fn exhaustive(class: &[Sitter], rows: &[u8]) -> usize {
    let mut best = usize::MAX;
    let mut order: Vec<usize> = (0..class.len()).collect();
    let walk = serpentine(rows);
    permute(&mut order, 0, &mut |order| {
        let seats: Arrangement = order.iter().map(|index| class[*index].id).zip(walk.iter().copied()).collect();
        let wishes = broken(class, &seats, rows);
        if wishes.iter().all(|(_, wish)| *wish != Wish::Together) {
            best = best.min(wishes.len());
        }
    });
    best
}

fn permute(order: &mut Vec<usize>, from: usize, visit: &mut impl FnMut(&[usize])) {
    if from == order.len() {
        return visit(order);
    }
    for index in from..order.len() {
        order.swap(from, index);
        permute(order, from + 1, visit);
        order.swap(from, index);
    }
}

fn any_sitter() -> impl Strategy<Value = (u8, Option<u32>, bool, bool)> {
    (0..4_u8, proptest::option::of(1200..1210_u32), proptest::bool::weighted(0.3), proptest::bool::weighted(0.3))
}

fn class(sitters: &[(u8, Option<u32>, bool, bool)]) -> Vec<Sitter> {
    let one = |(number, (kind, height_mm, near_front, near_aisle)): (u128, &(u8, Option<u32>, bool, bool))| Sitter {
        height_mm: *height_mm,
        near_front: *near_front,
        near_aisle: *near_aisle,
        ..sitter(number, Instrument::ALL[usize::from(*kind)])
    };
    (1..).zip(sitters).map(one).collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn no_arrangement_with_sections_in_one_piece_breaks_fewer_wishes(
        sitters in proptest::collection::vec(any_sitter(), 1..7),
        rows in 1..4_u8,
    ) {
        let class = class(&sitters);
        let rows = even_rows(class.len(), rows);
        let proposal = propose(&class, &rows);
        prop_assert_eq!(proposal.broken.len(), exhaustive(&class, &rows));
        prop_assert!(proposal.broken.iter().all(|(_, wish)| *wish != Wish::Together));
    }

    #[test]
    fn everybody_has_one_chair_of_the_room(
        sitters in proptest::collection::vec(any_sitter(), 1..40),
        rows in 1..6_u8,
    ) {
        let class = class(&sitters);
        let rows = even_rows(class.len(), rows);
        let proposal = propose(&class, &rows);
        let chairs: BTreeMap<Seat, ChildId> = proposal.seats.iter().map(|(child, place)| (*place, *child)).collect();
        prop_assert_eq!((chairs.len(), proposal.seats.len()), (class.len(), class.len()));
        prop_assert!(chairs.keys().all(|place| place.number <= rows[usize::from(place.row) - 1]));
    }

    #[test]
    fn seats_that_keep_every_wish_are_not_moved(sitters in proptest::collection::vec(any_sitter(), 1..20)) {
        let mut class = class(&sitters);
        let rows = even_rows(class.len(), 3);
        let first = propose(&class, &rows).seats;
        for sitter in &mut class {
            sitter.seat = first.get(&sitter.id).copied();
        }
        prop_assert_eq!(propose(&class, &rows).seats, first);
    }
}
