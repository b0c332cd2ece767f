//! Where four markers go on one string length, with every ear check and step.
#![allow(missing_docs)]

#[path = "../tests/support/mod.rs"]
mod support;

use std::collections::BTreeMap;
use std::hint::black_box;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::tapes::ear_checks::{ear_checks, step_check, stopped_notes};
use bright_row_core::tapes::finger::Finger;
use bright_row_core::tapes::layout::positions;
use bright_row_core::tapes::settings::MarkerSettings;
use criterion::{Criterion, criterion_group, criterion_main};

fn bench(c: &mut Criterion) {
    let content = support::content();
    let facts = &content.instruments[&Instrument::Violin];
    let fingers = [Finger::One, Finger::Two, Finger::Three, Finger::Four];
    let measured: BTreeMap<Finger, f64> = [(Finger::One, 34.8), (Finger::Two, 66.0), (Finger::Three, 81.2)].into();
    let settings = MarkerSettings::default();
    c.bench_function("layout of four markers with ear checks", |b| {
        b.iter(|| {
            let found =
                positions(facts.instrument, black_box(328.0), &settings, &fingers, &measured).expect("a layout");
            let proofs = found.iter().map(|place| {
                let notes = stopped_notes(facts, place.semitones, &settings).len();
                let checks = ear_checks(facts, place.semitones).len();
                notes + checks + usize::from(step_check(facts, place.finger, &fingers).is_some())
            });
            proofs.sum::<usize>()
        });
    });
}

criterion_group!(benches, bench);
criterion_main!(benches);
