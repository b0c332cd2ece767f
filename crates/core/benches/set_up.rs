//! Setting up a class: 60 children matched to 120 instruments, seated, and 5,000 rows of a roster planned.
#![allow(missing_docs)]

#[path = "../tests/support/mod.rs"]
mod support;

use std::hint::black_box;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::matching::{Asset, Condition, Player, match_class};
use bright_row_core::setup::names::FullName;
use bright_row_core::setup::roster::plan;
use bright_row_core::setup::roster_row::RosterRow;
use bright_row_core::setup::rows::even_rows;
use bright_row_core::setup::seating::{Sitter, propose};
use criterion::{Criterion, criterion_group, criterion_main};
use uuid::Uuid;

/// Of 60 children: 24 violins, 14 violas, 13 cellos, 9 basses.
const PARTS: [(Instrument, u32); 4] =
    [(Instrument::Violin, 24), (Instrument::Viola, 14), (Instrument::Cello, 13), (Instrument::Bass, 9)];

fn id(number: u32) -> Uuid {
    Uuid::from_u128(u128::from(number) + 1)
}

/// The size of the `number`th child or instrument of a kind, spread over the middle sizes.
fn size(instrument: Instrument, number: u32) -> String {
    let content = support::content();
    let sizes = &content.instruments[&instrument].sizes;
    sizes[1 + usize::try_from(number * 7 % 5).expect("small") % (sizes.len() - 1)].name.clone()
}

fn class() -> (Vec<Player>, Vec<Asset>) {
    let (mut players, mut assets) = (Vec::new(), Vec::new());
    for (instrument, count) in PARTS {
        for number in 0..count {
            let at = u32::try_from(players.len()).expect("small");
            players.push(Player {
                id: id(at).into(),
                instrument,
                size: Some(size(instrument, number)),
                between: number % 6 == 0,
                has: None,
                locked: false,
            });
        }
        for number in 0..count * 2 {
            let at = u32::try_from(assets.len()).expect("small");
            let condition = if number % 9 == 0 { Condition::Fair } else { Condition::Good };
            let (tag, size) = (format!("{}-{number:03}", instrument.key()), size(instrument, number / 2 + number));
            assets.push(Asset { id: id(at).into(), tag, instrument, size, condition, elsewhere: false });
        }
    }
    (players, assets)
}

fn sitters() -> Vec<Sitter> {
    let (players, _) = class();
    let sitter = |(number, player): (u32, &Player)| Sitter {
        id: player.id,
        instrument: player.instrument,
        height_mm: Some(1250 + number * 37 % 300),
        near_front: number % 13 == 0,
        near_aisle: number % 17 == 0,
        seat: None,
        locked: false,
    };
    (0..).zip(&players).map(sitter).collect()
}

fn roster() -> Vec<RosterRow> {
    let row = |line: usize| RosterRow {
        own: None,
        line,
        name: FullName::Parts { given: format!("Given{}", line % 900), family: format!("Family{line}") },
        instrument: Ok(Instrument::Viola),
        grade: Some("5".to_owned()),
        number: Some(line.to_string()),
        near_front: None,
        near_aisle: None,
    };
    (2..5002).map(row).collect()
}

fn bench(c: &mut Criterion) {
    let facts = support::content().instruments;
    let (players, assets) = class();
    assert_eq!((players.len(), assets.len()), (60, 120));
    c.bench_function("match of 60 children to 120 instruments", |b| {
        b.iter(|| match_class(&facts, black_box(&players), black_box(&assets)));
    });
    let (sitters, rows) = (sitters(), even_rows(60, 6));
    c.bench_function("seats for 60 children", |b| b.iter(|| propose(black_box(&sitters), &rows)));
    let roster = roster();
    c.bench_function("plan of a roster of 5,000 rows", |b| b.iter(|| plan(black_box(&roster), &[], false)));
    // The same rows as the reference, but that all bear one first name and family names of one beginning.
    let alike = |row: &RosterRow| RosterRow {
        own: None,
        name: FullName::Parts { given: "Ali".to_owned(), family: format!("Bell{:05}", row.line) },
        ..row.clone()
    };
    let alike: Vec<RosterRow> = roster.iter().map(alike).collect();
    c.bench_function("plan of 5,000 rows of one first name", |b| b.iter(|| plan(black_box(&alike), &[], false)));
}

criterion_group!(benches, bench);
criterion_main!(benches);
