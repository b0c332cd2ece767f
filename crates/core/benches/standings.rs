//! Standings and ladders of a class of 60 with 40,000 marks: what a rebuild of a whole class costs.
#![allow(missing_docs)]

#[path = "../tests/support/mod.rs"]
mod support;

use std::collections::BTreeSet;
use std::hint::black_box;

use bright_row_core::instrument::Instrument;
use bright_row_core::ladder::Outlook;
use bright_row_core::mark::{Level, Mark};
use bright_row_core::standing::{Rhythm, standings};
use criterion::{Criterion, criterion_group, criterion_main};

const CHILDREN: u32 = 60;
const MARKS: u32 = 40_000;

fn class() -> Vec<Vec<Mark>> {
    let checklist = support::content().checklist;
    let checkpoints = checklist.checkpoints();
    (0..CHILDREN)
        .map(|child| {
            (0..MARKS / CHILDREN)
                .map(|number| {
                    let spread = usize::try_from(number * 7 + child).expect("small") % checkpoints.len();
                    let seen = Level::ALL[usize::try_from(number + child).expect("small") % 5];
                    let id = checkpoints[spread].id.as_str();
                    support::mark(number, 1 + number / 12, id, support::level(seen))
                })
                .collect()
        })
        .collect()
}

fn bench(c: &mut Criterion) {
    let checklist = support::content().checklist;
    let (calendar, rhythm, exempt, class) = (support::calendar(), Rhythm::default(), BTreeSet::new(), class());
    let outlook = Outlook { checklist: &checklist, calendar: &calendar, rhythm: &rhythm, now: 58 };
    c.bench_function("standings of 60 children from 40,000 marks", |b| {
        b.iter(|| {
            for marks in &class {
                black_box(standings(&checklist, black_box(marks), &calendar, &rhythm));
            }
        });
    });
    let known: Vec<_> = class.iter().map(|marks| standings(&checklist, marks, &calendar, &rhythm)).collect();
    c.bench_function("ladders of 60 children from their standings", |b| {
        b.iter(|| {
            for standings in &known {
                black_box(outlook.ladder(&Instrument::Cello.into(), &exempt, black_box(standings)));
            }
        });
    });
}

criterion_group!(benches, bench);
criterion_main!(benches);
