//! A week of practice: every small case there is.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::home::BlockKind;
use bright_row_core::lessons::practice::{ALL_FROM, Block, FIRST_MONTH, MINUTES, NoWeek, STRETCH, week};

/// What can be wanted.
const WANTED: [BlockKind; 5] =
    [BlockKind::BowShape, BlockKind::FingerStrength, BlockKind::OpenStrings, BlockKind::LeftHandNotes, BlockKind::Tune];

/// Every choice of blocks.
fn choices() -> impl Iterator<Item = BTreeSet<BlockKind>> {
    (0..1_u32 << WANTED.len())
        .map(|bits| (0..).zip(WANTED).filter(|(at, _)| bits >> at & 1 == 1).map(|(_, kind)| kind).collect())
}

/// The longest time without a rest in which fingers press, counted minute by minute.
fn longest_stretch(day: &[Block]) -> u32 {
    let minutes = day.iter().flat_map(|block| (0..block.minutes).map(|_| block.kind.presses()));
    let (longest, _) = minutes.fold((0, 0), |(longest, now), presses| {
        let now = if presses { now + 1 } else { 0 };
        (longest.max(now), now)
    });
    longest
}

fn holds(days: u32, minutes: u32, wanted: &BTreeSet<BlockKind>, first_month: bool) {
    let case = format!("{days} days of {minutes} minutes, {wanted:?}, first month {first_month}");
    let week = week(days, minutes, wanted, first_month).expect("a week");
    assert_eq!(week.len(), usize::try_from(days).expect("few"), "{case}");
    let mut turns: BTreeMap<BlockKind, u32> = wanted.iter().map(|kind| (*kind, 0)).collect();
    for day in &week {
        assert_eq!(day.iter().map(|block| block.minutes).sum::<u32>(), minutes, "{case}: {day:?}");
        assert!(day.iter().all(|block| block.minutes > 0), "{case}: {day:?}");
        assert!(day.is_sorted_by_key(|block| block.kind), "{case}: {day:?}");
        assert!(longest_stretch(day) <= STRETCH, "{case}: {day:?}");
        let pressed: u32 = day.iter().filter(|block| block.kind.presses()).map(|block| block.minutes).sum();
        assert!(!first_month || pressed <= FIRST_MONTH, "{case}: {day:?}");
        for kind in day.iter().map(|block| block.kind).filter(|kind| *kind != BlockKind::Sing) {
            *turns.get_mut(&kind).unwrap_or_else(|| panic!("{case}: {kind:?} is not wanted")) += 1;
        }
    }
    let (least, most) = (turns.values().min().copied().unwrap_or(0), turns.values().max().copied().unwrap_or(0));
    assert!(most - least <= 1, "{case}: {turns:?}");
    let places: u32 = turns.values().sum();
    assert!(least > 0 || places < u32::try_from(wanted.len()).expect("few") || wanted.is_empty(), "{case}: {turns:?}");
    if minutes >= ALL_FROM {
        assert!(turns.values().all(|turns| *turns == days), "{case}: {turns:?}");
    }
}

#[test]
fn every_week_is_exact_and_every_block_has_its_turn() {
    for days in 1..=7 {
        for minutes in MINUTES.0..=20 {
            for wanted in choices() {
                for first_month in [true, false] {
                    holds(days, minutes, &wanted, first_month);
                }
            }
        }
    }
    holds(7, MINUTES.1, &WANTED.into(), true);
}

#[test]
fn ten_minutes_have_all_five_blocks_and_five_minutes_four_of_them() {
    let said = |days, minutes| {
        let week = week(days, minutes, &WANTED.into(), true).expect("a week");
        let day = |day: Vec<Block>| day.iter().map(|one| format!("{:?} {}", one.kind, one.minutes)).collect::<Vec<_>>();
        week.into_iter().map(|blocks| day(blocks).join(", ")).collect::<Vec<_>>()
    };
    insta::assert_debug_snapshot!(said(1, 10), @r#"
    [
        "BowShape 3, FingerStrength 2, OpenStrings 3, LeftHandNotes 1, Tune 1",
    ]
    "#);
    insta::assert_debug_snapshot!(said(5, 5), @r#"
    [
        "FingerStrength 2, OpenStrings 1, LeftHandNotes 1, Tune 1",
        "BowShape 2, OpenStrings 1, LeftHandNotes 1, Tune 1",
        "BowShape 1, FingerStrength 1, LeftHandNotes 1, Sing 1, Tune 1",
        "BowShape 2, FingerStrength 1, OpenStrings 1, Tune 1",
        "BowShape 2, FingerStrength 1, OpenStrings 1, LeftHandNotes 1",
    ]
    "#);
}

#[test]
fn days_and_minutes_that_cannot_be_are_refused() {
    let none = BTreeSet::new();
    assert_eq!([0, 8, u32::MAX].map(|days| week(days, 10, &none, false)), [const { Err(NoWeek::Days) }; 3]);
    assert_eq!([0, 2, 61, u32::MAX].map(|minutes| week(5, minutes, &none, false)), [const { Err(NoWeek::Minutes) }; 4]);
}
