//! A class of 60 with 40,000 observations: standings, three things and groups, each and together; the aim for all together is
//! 10 ms.
#![allow(missing_docs)]

#[path = "../tests/support/mod.rs"]
mod support;

use std::collections::{BTreeMap, BTreeSet};
use std::hint::black_box;

use bright_row_core::ChildId;
use bright_row_core::craft::cause_graph::CauseGraph;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::level::Level;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::ladder::Ladder;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::progress::outlook::Outlook;
use bright_row_core::progress::overview::{Member, groups};
use bright_row_core::progress::pupil::Pupil;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::{Standing, standings};
use criterion::{Criterion, criterion_group, criterion_main};
use uuid::Uuid;

const CHILDREN: u32 = 60;
const MARKS: u32 = 40_000;

fn class() -> Vec<Vec<Observation>> {
    let checklist = support::checklist();
    let checkpoints = checklist.checkpoints();
    (0..CHILDREN)
        .map(|child| {
            (0..MARKS / CHILDREN)
                .map(|number| {
                    let spread = usize::try_from(number * 7 + child).expect("small") % checkpoints.len();
                    let level = Level::ALL[usize::try_from(number + child).expect("small") % 5];
                    let id = &checkpoints[spread].id;
                    // Every third look ticks a slip, where there is one.
                    let slip = checklist.slips().iter().find(|slip| slip.checkpoint == *id && number % 3 == 0);
                    let slips: BTreeSet<_> = slip.map(|slip| slip.id.clone()).into_iter().collect();
                    support::observation(number, 1 + number / 12, id.as_str(), Observed::Level { level, slips })
                })
                .collect()
        })
        .collect()
}

fn instrument(child: usize) -> Instrument {
    Instrument::ALL[child % 4]
}

/// What every child is read by.
struct Fixed {
    checklist: Checklist,
    causes: CauseGraph,
    none: ChildContext,
}

impl Fixed {
    fn pupil<'a>(
        &'a self,
        child: usize,
        standings: &'a BTreeMap<CheckpointId, Standing>,
        ladder: &'a Ladder,
    ) -> Pupil<'a> {
        Pupil {
            checklist: &self.checklist,
            causes: &self.causes,
            instrument: instrument(child),
            context: &self.none,
            standings,
            ladder,
        }
    }
}

fn bench(c: &mut Criterion) {
    let content = support::content();
    let checklist = support::checklist();
    let (calendar, rhythm, class) = (support::calendar(), Rhythm::default(), class());
    let none = ChildContext::default();
    let outlook = Outlook { checklist: &checklist, calendar: &calendar, rhythm: &rhythm, now: 58 };
    let standings_of = |observations: &[Observation]| standings(&checklist, observations, &calendar, &rhythm);
    let fixed = Fixed { checklist: checklist.clone(), causes: CauseGraph::clone(&content.causes), none: none.clone() };
    let read = |child: usize, observations: &[Observation]| {
        let standings = standings_of(observations);
        let ladder = outlook.ladder(&instrument(child).into(), &none, &standings);
        (standings, ladder)
    };
    c.bench_function("standings of 60 children from 40,000 observations", |b| {
        b.iter(|| {
            for observations in &class {
                black_box(standings_of(black_box(observations)));
            }
        });
    });
    let known: Vec<_> = class.iter().enumerate().map(|(child, observations)| read(child, observations)).collect();
    c.bench_function("ladders of 60 children from their standings", |b| {
        b.iter(|| {
            for (child, (standings, _)) in known.iter().enumerate() {
                black_box(outlook.ladder(&instrument(child).into(), &none, black_box(standings)));
            }
        });
    });
    c.bench_function("three things of 60 children", |b| {
        b.iter(|| {
            for (child, (standings, ladder)) in known.iter().enumerate() {
                black_box(fixed.pupil(child, standings, ladder).next(Order::SideBySide));
            }
        });
    });
    let id = |child: u128| ChildId::from(Uuid::from_u128(child));
    let members: Vec<Member<'_>> = (0_u128..)
        .zip(known.iter().enumerate())
        .map(|(number, (child, (standings, ladder)))| (id(number), fixed.pupil(child, standings, ladder)))
        .collect();
    c.bench_function("groups of a class of 60", |b| {
        b.iter(|| black_box(groups(black_box(&members), Order::SideBySide)));
    });
    c.bench_function("standings, three things and groups together", |b| {
        b.iter(|| {
            let read: Vec<_> =
                class.iter().enumerate().map(|(child, observations)| read(child, black_box(observations))).collect();
            let members: Vec<Member<'_>> = (0_u128..)
                .zip(read.iter().enumerate())
                .map(|(number, (child, (standings, ladder)))| (id(number), fixed.pupil(child, standings, ladder)))
                .collect();
            for (_, pupil) in &members {
                black_box(pupil.next(Order::SideBySide));
            }
            black_box(groups(&members, Order::SideBySide))
        });
    });
}

criterion_group!(benches, bench);
criterion_main!(benches);
