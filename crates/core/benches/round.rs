//! A round of 60 children with 15 candidate checks each planned for 40 minutes, beside taking the best checks one after
//! the other; and one run of a forecast of 40 meetings.
#![allow(missing_docs)]

#[path = "../tests/support/mod.rs"]
mod support;

use std::hint::black_box;

use bright_row_core::craft::instrument::{Instrument, Playing};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::standings;
use bright_row_core::round::class_rates::Evidence;
use bright_row_core::round::forecast::{Class, Forecast, Prospect};
use bright_row_core::round::planner::{PlanCheck, PlanChild, RoundTerms};
use criterion::{Criterion, criterion_group, criterion_main};

const TERMS: RoundTerms =
    RoundTerms { seconds_available: 40 * 60, visit_seconds: 8, max_checks_per_child: 3, must_see_after_meetings: 4 };

/// Numbers that look random and are the same in every run.
fn number(seed: u32, limit: u32) -> u32 {
    seed.wrapping_mul(2_654_435_761) % limit
}

fn class() -> Vec<PlanChild> {
    let child = |place: u32| PlanChild {
        seat_order: place,
        absent: false,
        meetings_unseen: number(place, 7),
        visit_points: 3 * number(place, 7),
        checks: (0..15)
            .map(|check| PlanCheck {
                seconds: 4 + number(place * 31 + check, 17),
                points: 12 + number(place + 97 * check, 68),
            })
            .collect(),
    };
    (0..60).map(child).collect()
}

/// The best check of anybody, again and again, while time is left: what a director does by hand.
fn greedy(children: &[PlanChild]) -> u64 {
    let mut all: Vec<(u32, u32, usize)> = children
        .iter()
        .enumerate()
        .flat_map(|(place, child)| child.checks.iter().map(move |check| (check.points, check.seconds, place)))
        .collect();
    all.sort_by_key(|(points, seconds, _)| std::cmp::Reverse(points * 1000 / seconds));
    let (mut left, mut points, mut taken) = (TERMS.seconds_available, 0, vec![0; children.len()]);
    for (worth, seconds, place) in all {
        let walk = if taken[place] == 0 { TERMS.visit_seconds } else { 0 };
        if taken[place] < TERMS.max_checks_per_child && walk + seconds <= left {
            left -= walk + seconds;
            points += u64::from(worth) + if taken[place] == 0 { u64::from(children[place].visit_points) } else { 0 };
            taken[place] += 1;
        }
    }
    points
}

fn bench(c: &mut Criterion) {
    let children = class();
    c.bench_function("round: 60 children, 15 checks each, 40 minutes", |b| b.iter(|| TERMS.plan(black_box(&children))));
    c.bench_function("round: the same, best check first (reference)", |b| b.iter(|| greedy(black_box(&children))));

    let (checklist, content, calendar, rhythm) =
        (support::checklist(), support::content(), support::calendar(), Rhythm::default());
    let stand = |place: u32| {
        let instrument = Instrument::ALL[usize::try_from(place % 4).expect("small")];
        let checkpoints = checklist.checkpoints().iter().filter(|found| found.wording.contains_key(&instrument));
        let observations: Vec<Observation> = (0..)
            .zip(checkpoints)
            .map(|(at, found)| {
                let level = Level::ALL[usize::try_from(1 + number(place * 57 + at, 4)).expect("small")];
                support::observation(at, 1 + place % 5, found.id.as_str(), support::level(level))
            })
            .collect();
        let evidence = Evidence::of(&checklist, &observations, &calendar);
        (Playing::from(instrument), standings(&checklist, &observations, &calendar, &rhythm), 1 + place % 5, evidence)
    };
    let stood: Vec<_> = (0..60).map(stand).collect();
    let context = ChildContext::default();
    let prospects: Vec<Prospect<'_>> = stood
        .iter()
        .map(|(playing, standings, last_visit, evidence)| Prospect {
            checklist: &checklist,
            playing,
            context: &context,
            standings,
            last_visit: *last_visit,
            joined: 0,
            evidence: evidence.clone(),
        })
        .collect();
    let ahead = Class {
        calendar: &calendar,
        rhythm: &rhythm,
        causes: &content.causes,
        order: Order::SideBySide,
        visit_seconds: 8,
        max_checks_per_child: 3,
        must_see_after_meetings: 4,
    };
    let forecast = Forecast::new(ahead, &prospects, rhythm, 5, 40);
    let mut chance = support::chance(1);
    c.bench_function("forecast: one run of 60 children, 40 meetings of 12 minutes", |b| {
        b.iter(|| black_box(&forecast).run(&|_| 720, &|| false, &mut chance));
    });
}

criterion_group!(benches, bench);
criterion_main!(benches);
