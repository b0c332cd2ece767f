//! Reading a table of 5,000 rows.
#![allow(missing_docs)]

use std::hint::black_box;

use bright_row_documents::csv_out::write;
use bright_row_documents::table::read;
use criterion::{Criterion, criterion_group, criterion_main};

fn bench(c: &mut Criterion) {
    let row =
        |number: u32| vec![format!("Family{number}"), format!("Given{number}"), "Viola".to_owned(), "5".to_owned()];
    let head = ["Surname", "First name", "Instrument", "Year"].map(str::to_owned).to_vec();
    let file = write(&std::iter::once(head).chain((0..5000).map(row)).collect::<Vec<_>>());
    c.bench_function("reading a table of 5,000 rows", |b| b.iter(|| read(black_box(&file))));
}

criterion_group!(benches, bench);
criterion_main!(benches);
