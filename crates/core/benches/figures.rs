//! How long a drawing takes, beside the simplest thing that could be drawn: the same outlines as text.
#![allow(missing_docs)]

#[path = "../tests/support/mod.rs"]
mod support;

use std::hint::black_box;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::figure::{FigureSpec, View, becoming};
use criterion::{Criterion, criterion_group, criterion_main};

fn bench(c: &mut Criterion) {
    let all: Vec<(FigureSpec, Instrument)> = View::ALL
        .iter()
        .flat_map(|view| Instrument::ALL.map(|instrument| (FigureSpec::usual(*view), instrument)))
        .collect();
    c.bench_function("48 drawings: every view on every instrument", |b| {
        b.iter(|| all.iter().map(|(spec, on)| black_box(spec).draw(*on).shapes.len()).sum::<usize>());
    });
    let drawn: Vec<_> = all.iter().map(|(spec, on)| spec.draw(*on)).collect();
    c.bench_function("48 drawings as text", |b| {
        b.iter(|| drawn.iter().map(|figure| serde_json::to_string(figure).expect("plain data").len()).sum::<usize>());
    });
    let (from, to) = (&all[0].0, &FigureSpec::usual(View::Body));
    c.bench_function("a drawing on its way", |b| {
        b.iter(|| becoming(black_box(from), to, Instrument::Violin, 0.4).draw(Instrument::Violin).shapes.len());
    });
    let content = support::content();
    c.bench_function("the drawings of a class under its options", |b| {
        b.iter(|| content.drawings(&Choices::new(), &Edits::default()).steps.len());
    });
}

criterion_group!(benches, bench);
criterion_main!(benches);
