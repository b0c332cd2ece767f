//! Sixty family cards, each with three drawings, to PDF; and the same drawings as text.
#![allow(missing_docs)]

use std::hint::black_box;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::figure::{FigureSpec, View};
use bright_row_documents::family_card::{CardRow, CardThing, FamilyCard, draw, sheets};
use bright_row_documents::pdf::{Paper, pdf};
use criterion::{Criterion, criterion_group, criterion_main};

fn cards() -> Vec<FamilyCard> {
    let thing = |instrument: Instrument| {
        move |view: View| CardThing {
            name: "Bent thumb".to_owned(),
            cue: "Bumpy thumb".to_owned(),
            sign: "The thumb makes a bump.".to_owned(),
            figure: Some(FigureSpec::usual(view).draw(instrument)),
        }
    };
    let row = CardRow {
        text: "Make your bow hand on a pencil. Let go. Make it again.".to_owned(),
        minutes: vec![Some(2); 5],
    };
    let card = |number: usize| FamilyCard {
        heading: "At home this week".to_owned(),
        name: format!("Child {number}"),
        what: "violin, 30 Nov to 4 Dec".to_owned(),
        show: "Show this to a grown-up:".to_owned(),
        see: "You see:".to_owned(),
        things: [View::BowHand, View::LeftHand, View::Body].map(thing(Instrument::ALL[number % 4])).into(),
        week: "Tick each box when it is done".to_owned(),
        days: ["Mo", "Tu", "We", "Th", "Fr"].map(str::to_owned).into(),
        rows: vec![row.clone(); 5],
        foot: vec!["Sore tips pass. Pain does not: stop and tell us.".to_owned(); 3],
        code: format!("https://strings.example.school/card/0190a3c4-7b1e-7c3d-9f21-5b8f6f0e{number:04}"),
        large: false,
    };
    (0..60).map(card).collect()
}

fn bench(c: &mut Criterion) {
    let cards = cards();
    let mut slow = c.benchmark_group("family cards");
    slow.sample_size(10);
    slow.bench_function("60 as text (reference)", |b| {
        b.iter(|| cards.iter().map(|card| draw(black_box(card), Paper::A4).svg().len()).sum::<usize>());
    });
    slow.bench_function("60, two to a sheet, to PDF", |b| {
        b.iter(|| pdf(&sheets(black_box(&cards), Paper::A4, false), "cards").expect("a file").len());
    });
    slow.bench_function("one to PDF", |b| {
        b.iter(|| pdf(&[draw(black_box(&cards[0]), Paper::A4)], "card").expect("a file").len());
    });
    slow.finish();
}

criterion_group!(benches, bench);
criterion_main!(benches);
