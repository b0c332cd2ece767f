//! An option that is meant for a while turns into the one that follows it on its day, and nothing that was seen is touched by it.

mod support;

use std::collections::BTreeMap;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::instrument::Instrument::{Bass, Cello, Viola, Violin};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::standings;
use chrono::{Days, NaiveDate};
use proptest::prelude::*;
use support::{calendar, choosing, content, looks};

const KEY: &str = "bow-way";

fn day(text: &str) -> NaiveDate {
    text.parse().expect("a day")
}

fn turns_on(text: &str) -> BTreeMap<String, NaiveDate> {
    [(KEY.to_owned(), day(text))].into()
}

fn balance() -> Choices {
    choosing(&[(KEY, "balance-point")])
}

#[test]
fn from_its_day_on_the_balance_point_is_the_frog_and_asks_for_the_move() {
    let content = content();
    let on = |date: &str| {
        let choices = content.approach.on(day(date), &balance(), &turns_on("2026-10-12"));
        content.checklist(&choices, &Edits::default())
    };
    let (before, from) = (on("2026-10-11"), on("2026-10-12"));
    let frog = |checklist: &bright_row_core::craft::checklist::Checklist| {
        checklist.checkpoint("bow.frog").expect("known in every class").wording.clone()
    };
    assert!(frog(&before).is_empty());
    assert_eq!(frog(&from).keys().copied().collect::<Vec<_>>(), [Violin, Viola, Cello, Bass]);
    assert_eq!(
        before.checkpoint("bow.thumb").expect("a checkpoint").wording[&Violin].look_for,
        "Thumb bent, the corner of its tip on the stick where it balances"
    );
    assert_eq!(
        from.checkpoint("bow.thumb").expect("a checkpoint").wording[&Violin].look_for,
        "Thumb bent, the corner of its tip at the front of the frog"
    );
    assert!(before.same_places(&from), "the same observations give the same standings");
}

#[test]
fn the_day_is_the_one_asked_for_else_the_one_that_stands_else_two_weeks_from_today() {
    let approach = content().approach;
    let (none, today) = (BTreeMap::new(), day("2026-09-01"));
    let known = turns_on("2026-09-20");
    let chosen = |asked: &BTreeMap<String, NaiveDate>, before: &Choices, known: &BTreeMap<String, NaiveDate>| {
        approach.turning_days((&balance(), asked), (before, known), today)
    };
    assert_eq!(chosen(&none, &Choices::new(), &none), turns_on("2026-09-15"));
    assert_eq!(chosen(&none, &balance(), &known), known);
    assert_eq!(chosen(&none, &Choices::new(), &known), turns_on("2026-09-15"), "chosen anew, counted anew");
    assert_eq!(chosen(&turns_on("2026-10-01"), &balance(), &known), turns_on("2026-10-01"));
    let pencil = approach.turning_days((&Choices::new(), &none), (&balance(), &known), today);
    assert_eq!(pencil, none, "an option that stays needs no day");
}

proptest! {
    #[test]
    fn whatever_the_day_only_options_that_turn_turn_and_they_turn_once(
        off in 0_u64..800,
        at in 0_u64..800,
        key in prop::sample::select(vec![KEY, "scroll", "markers", "no-such-choice"]),
    ) {
        let content = content();
        let (first, choices) = (day("2026-01-01"), balance());
        let turns = BTreeMap::from([(key.to_owned(), first + Days::new(at))]);
        let on = content.approach.on(first + Days::new(off), &choices, &turns);
        let turned = key == KEY && off >= at;
        prop_assert_eq!(on.get(KEY).map(String::as_str), Some(if turned { "from-balance" } else { "balance-point" }));
        prop_assert_eq!(on.len(), 1);
        let again = content.approach.on(first + Days::new(off), &on, &turns);
        prop_assert_eq!(again, on);
    }
}

#[test]
fn what_was_seen_stands_as_it_did_on_the_day_before() {
    let content = content();
    let seen = looks(&[("bow.alone", Level::Alone), ("bow.thumb", Level::Prompted)]);
    let stand = |date: &str| {
        let choices = content.approach.on(day(date), &balance(), &turns_on("2026-10-12"));
        standings(&content.checklist(&choices, &Edits::default()), &seen, &calendar(), &Rhythm::default())
    };
    assert_eq!(stand("2026-10-11"), stand("2026-10-12"));
    assert_eq!(stand("2026-10-11").len(), 2);
}
