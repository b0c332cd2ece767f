//! A class as it stands, played forward many times at its own pace.

mod support;

use std::cell::Cell;
use std::collections::BTreeMap;

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::{Instrument, Playing};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::rhythm::{MAX_INTERVAL, Rhythm};
use bright_row_core::progress::standing::{Standing, standings};
use bright_row_core::round::bands::{Ahead, least, stretched};
use bright_row_core::round::calibration::Calibration;
use bright_row_core::round::class_rates::Evidence;
use bright_row_core::round::forecast::{Class, Forecast, Met, Prospect, Run};
use bright_row_core::round::milestones::{Goal, Milestone};
use bright_row_core::round::planner::RoundTerms;
use bright_row_core::round::rates::Rates;
use bright_row_core::round::rehearsal::{Play, section};
use chrono::NaiveDate;
use proptest::prelude::*;
use support::{calendar, chance, checklist, choosing, content, level, observation};

/// Children who were all looked at in the same way.
struct Children {
    checklist: Checklist,
    who: Vec<(Playing, BTreeMap<CheckpointId, Standing>, Evidence)>,
    last_visit: u32,
}

impl Children {
    /// So many, each observed at meetings 1 to 5 at what `seen` says of a checkpoint.
    fn new(checklist: Checklist, count: usize, seen: impl Fn(&str) -> Option<Level>) -> Self {
        let (calendar, rhythm) = (calendar(), Rhythm::default());
        let child = |place: usize| {
            let instrument = section(place);
            let asked = checklist.checkpoints().iter().filter(|one| one.wording.contains_key(&instrument));
            let observations: Vec<Observation> = (0..)
                .zip(asked)
                .filter_map(|(number, one)| {
                    Some(observation(number, 1 + number % 5, one.id.as_str(), level(seen(one.id.as_str())?)))
                })
                .collect();
            let evidence = Evidence::of(&checklist, &observations, &calendar);
            (instrument.into(), standings(&checklist, &observations, &calendar, &rhythm), evidence)
        };
        let who = (0..count).map(child).collect();
        Self { checklist, who, last_visit: 5 }
    }

    fn all_reached(count: usize) -> Self {
        Self::new(bare(), count, |_| Some(Level::Alone))
    }

    /// What the forecast of the meetings after the fifth says of itself, and so many runs of it.
    fn played(&self, minutes: impl Fn(NaiveDate) -> u32, runs: u64) -> (Vec<Milestone>, Vec<NaiveDate>, Vec<Run>) {
        self.asked(|forecast| {
            let run = |seed| forecast.run(&|day| 60 * minutes(day), &|| false, &mut chance(seed)).expect("not stopped");
            (forecast.milestones().to_vec(), forecast.days().to_vec(), (0..runs).map(run).collect())
        })
    }

    fn asked<T>(&self, by: impl FnOnce(&Forecast<'_>) -> T) -> T {
        let (content, calendar, rhythm, context) = (content(), calendar(), Rhythm::default(), ChildContext::default());
        let class = Class {
            calendar: &calendar,
            rhythm: &rhythm,
            causes: &content.causes,
            order: Order::SideBySide,
            visit_seconds: 8,
            max_checks_per_child: 3,
            must_see_after_meetings: 4,
        };
        let prospect = |(playing, standings, evidence)| Prospect {
            checklist: &self.checklist,
            playing,
            context: &context,
            standings,
            last_visit: self.last_visit,
            joined: 0,
            evidence: Evidence::clone(evidence),
        };
        let prospects: Vec<Prospect<'_>> = self.who.iter().map(|(p, s, e)| prospect((p, s, e))).collect();
        by(&Forecast::new(class, &prospects, rhythm, 5, 40))
    }
}

fn bare() -> Checklist {
    content().checklist(&choosing(&[("markers", "none")]), &Edits::default())
}

#[test]
fn the_same_numbers_play_the_same_term_and_it_ends_with_the_calendar() {
    let children = Children::all_reached(6);
    let (_, days, runs) = children.played(|_| 8, 2);
    assert_eq!((days.len(), &runs), (40, &children.played(|_| 8, 2).2));
    assert_ne!(runs[0], runs[1]);
    assert_eq!(days[0], calendar().date_of(6).expect("the first meeting after the one that is over"));
}

#[test]
fn it_stops_before_the_meeting_at_which_nobody_waits_any_more() {
    Children::all_reached(3).asked(|forecast| {
        let asked = Cell::new(0);
        let stopped = || {
            asked.set(asked.get() + 1);
            asked.get() > 3
        };
        assert_eq!(forecast.run(&|_| 60, &stopped, &mut chance(1)), None);
        assert_eq!(asked.get(), 4);
    });
}

#[test]
fn what_has_been_reached_is_no_milestone_and_what_has_not_is_reached_in_time() {
    let (milestones, ..) = Children::all_reached(10).played(|_| 8, 0);
    assert_eq!(milestones, []);
    let begun = |id: &str| id.starts_with("hold.").then_some(Level::Prompted);
    let (milestones, _, runs) = Children::new(bare(), 10, begun).played(|_| 12, 20);
    let ahead = Ahead::of(&runs);
    let of = |goal: Goal| {
        let place = milestones.iter().position(|one| one.goal == goal && one.section.is_none());
        place.map(|place| ahead.reached[place])
    };
    assert_eq!(of(Goal::Begun(1)), None, "everybody is there");
    let (first, second) = (of(Goal::Reached(0)).expect("ahead"), of(Goal::Reached(1)).expect("ahead"));
    assert!(first.middle.is_some_and(|at| at > 5) && first.low <= first.middle, "{first:?} {second:?}");
    let sections: Vec<Option<Instrument>> = milestones.iter().map(|one| one.section).collect();
    assert!(
        sections.contains(&Some(Instrument::Cello)) && !sections.contains(&Some(Instrument::Bass)),
        "one bass only"
    );
}

#[test]
fn more_minutes_bring_most_to_a_stage_sooner_and_without_a_minute_nobody_comes_there() {
    let children = Children::new(bare(), 20, |_| None);
    let reached = |minutes: u32| {
        let (milestones, _, runs) = children.played(|_| minutes, 12);
        let place = milestones.iter().position(|one| one.goal == Goal::Begun(1) && one.section.is_none());
        Ahead::of(&runs).reached[place.expect("ahead")].middle
    };
    let (few, many) = (reached(5).expect("in time"), reached(20).expect("in time"));
    assert!(many < few, "{many} with twenty minutes, {few} with five");
    assert_eq!(reached(0), None);
}

#[test]
fn a_short_day_keeps_its_own_minutes() {
    let children = Children::new(bare(), 12, |_| None);
    let short = calendar().date_of(8).expect("a meeting");
    let (_, days, runs) = children.played(|day| if day == short { 0 } else { 6 }, 3);
    for (day, met) in runs.iter().flat_map(|run| days.iter().zip(&run.met)) {
        assert_eq!(met.visited == 0, *day == short, "{day}: {met:?}");
    }
}

#[test]
fn without_a_minute_what_stands_falls_behind_and_everybody_waits() {
    let (_, _, runs) = Children::all_reached(4).played(|_| 0, 2);
    let Met { late, too_late, longest_wait, visited, .. } = *runs[0].met.last().expect("meetings");
    assert!(late >= too_late && too_late > 4, "{late} {too_late}");
    assert_eq!((longest_wait, visited), (40, 0));
    assert!(!Ahead::of(&runs).keeps_up());
    let (_, _, runs) = Children::all_reached(4).played(|_| 8, 8);
    assert!(Ahead::of(&runs).keeps_up(), "eight minutes are plenty for four children");
}

#[test]
fn markers_are_a_milestone_where_they_are_wanted_and_not_on() {
    let markers = |checklist: Checklist| {
        let (milestones, _, runs) = Children::new(checklist, 8, |id| {
            let before_the_hand = ["hold.", "frame.", "bow."].iter().any(|strand| id.starts_with(strand));
            before_the_hand.then_some(Level::Placed)
        })
        .played(|_| 20, 12);
        let place = milestones.iter().position(|one| one.goal == Goal::Markers && one.section.is_none());
        place.map(|place| Ahead::of(&runs).reached[place].middle)
    };
    assert_eq!(markers(bare()), None);
    let ready = markers(checklist()).expect("most have none").expect("in time");
    assert!((6..=45).contains(&ready), "{ready}");
    let laid = Children::new(checklist(), 8, |id| id.starts_with("tape.").then_some(Level::Alone));
    let (milestones, ..) = laid.played(|_| 8, 0);
    assert!(milestones.iter().filter(|one| one.section.is_none()).all(|one| one.goal != Goal::Markers));
}

#[test]
fn what_nobody_has_seen_has_the_usual_chances_and_what_was_seen_changes_them() {
    let (checklist, calendar) = (checklist(), calendar());
    let rates = |observations: &[Observation]| {
        let evidence = Evidence::of(&checklist, observations, &calendar);
        *evidence.rates().mean().of(bright_row_core::craft::strand::Strand::Hold)
    };
    let Rates { base, coach, slip } = rates(&[]);
    assert!((0.15..0.25).contains(&base) && (0.3..0.4).contains(&coach) && (0.01..0.03).contains(&slip));
    let looks = |levels: &[Level]| -> Vec<Observation> {
        let of = |checkpoint: u32| {
            let id = checklist.checkpoints()[usize::try_from(checkpoint).expect("small")].id.to_string();
            (1..)
                .zip(levels)
                .map(move |(meeting, seen)| observation(100 * meeting + checkpoint, meeting, &id, level(*seen)))
        };
        (0..3).flat_map(of).collect()
    };
    let fast = rates(&looks(&[Level::NotYet, Level::Prompted, Level::Alone]));
    let slow = rates(&looks(&[Level::NotYet, Level::NotYet, Level::NotYet, Level::NotYet, Level::NotYet]));
    assert!(fast.base > base && fast.coach > coach && slow.base < base && slow.coach < coach, "{fast:?} {slow:?}");
    let slipped = rates(&looks(&[Level::Alone, Level::Placed, Level::Alone, Level::Placed]));
    let held = rates(&looks(&[Level::Alone; 8]));
    assert!(slipped.slip > 2.0 * slip && held.slip < slip, "{slipped:?} {held:?}");
}

#[test]
fn four_of_five_bands_hold_what_comes() {
    let (content, checklist, calendar, rhythm) = (content(), bare(), calendar(), Rhythm::default());
    let calibration = [0.12, 0.18, 0.24].map(|base| {
        let play = Play {
            checklist: &checklist,
            causes: &content.causes,
            calendar: &calendar,
            rhythm: &rhythm,
            order: Order::SideBySide,
            rates: Rates { base, coach: 0.35, slip: 0.02 }.into(),
            terms: RoundTerms {
                seconds_available: 720,
                visit_seconds: 8,
                max_checks_per_child: 3,
                must_see_after_meetings: 4,
            },
            meetings: 36,
        };
        let classes = (1..=2).map(|seed| play.calibrate(12, 10, 24, &mut chance(seed)));
        classes.reduce(Calibration::and).expect("two classes")
    });
    let all = calibration.into_iter().reduce(Calibration::and).expect("three");
    let share = f64::from(all.held) / f64::from(all.all());
    // Few classes: their milestones come late or early together.
    assert!(all.all() > 50 && (0.65..=0.95).contains(&share), "{all:?}");
    assert!(f64::from(all.meetings) / f64::from(all.all()) < 15.0, "{all:?}");
}

proptest! {
    #[test]
    fn evidence_does_not_depend_on_the_order_in_which_observations_arrive(
        seen in prop::collection::vec((0_usize..6, 1_u32..9, 0_u8..5), 0..40), turn in any::<u64>(),
    ) {
        let (checklist, calendar) = (checklist(), calendar());
        let looks = (0..).zip(&seen).map(|(number, (place, meeting, seen))| {
            let id = checklist.checkpoints()[*place].id.to_string();
            observation(number, *meeting, &id, level(Level::try_from(*seen).expect("0 to 4")))
        });
        let looks: Vec<Observation> = looks.collect();
        let mut otherwise = looks.clone();
        let mut numbers = chance(turn);
        otherwise.sort_by_cached_key(|_| (numbers() * 1e9).to_bits());
        prop_assert_eq!(Evidence::of(&checklist, &looks, &calendar), Evidence::of(&checklist, &otherwise, &calendar));
    }

    #[test]
    fn the_least_that_does_is_the_first_that_does(first in 0_u32..30, more in 0_u32..60, from in 0_u32..100) {
        let last = first + more;
        let expected = (first..=last).find(|number| *number >= from);
        prop_assert_eq!(least(first, last, |number| Some(number >= from)), expected);
        prop_assert_eq!(least(first, last, |_| None), None);
    }

    #[test]
    fn a_stretched_rhythm_can_be_set(alone in 1_u32..=MAX_INTERVAL, more in 0_u32..40, to in 1_u32..=MAX_INTERVAL) {
        let rhythm = Rhythm { alone, lasting: alone.saturating_add(more).min(MAX_INTERVAL), longest: MAX_INTERVAL, ..Rhythm::default() };
        let stretched = stretched(&rhythm, to);
        prop_assert_eq!(stretched.faults(), vec![]);
        prop_assert!(to < alone || (stretched.lasting >= rhythm.lasting && stretched.longest >= rhythm.longest));
    }

    #[test]
    fn a_band_lies_in_order_among_what_was_played(late in prop::collection::vec(0_u32..50, 1..40)) {
        let runs: Vec<Run> =
            late.iter().map(|late| Run { met: vec![Met { late: *late, ..Met::default() }], reached: vec![Some(*late)] }).collect();
        let ahead = Ahead::of(&runs);
        let band = ahead.meetings[0].late;
        prop_assert!(band.low <= band.middle && band.middle <= band.high);
        prop_assert!([band.low, band.middle, band.high].iter().all(|value| late.contains(value)));
        let below = late.iter().filter(|late| **late < band.low).count();
        let within = late.iter().filter(|late| **late <= band.high).count();
        prop_assert!(below * 10 <= late.len() && within * 10 >= late.len() * 9);
        prop_assert_eq!(ahead.reached[0].middle, Some(band.middle));
    }
}
