//! How long a second of sound takes, beside the least that could be done with it: its loudness.
#![allow(missing_docs)]

use std::hint::black_box;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, StringSound, Touch};
use bright_row_core::listening::{Listener, Range};
use criterion::{Criterion, criterion_group, criterion_main};

const RATE: f64 = 48_000.0;

fn bench(c: &mut Criterion) {
    let second = |instrument, hz| StringSound::of(instrument, hz, Touch::Open, Act::BOW, 1).render(RATE, 1.0);
    for (instrument, hz) in [(Instrument::Violin, 440.0), (Instrument::Cello, 98.0), (Instrument::Bass, 41.2)] {
        let samples = second(instrument, hz);
        c.bench_function(&format!("a second of a {}", instrument.name()), |b| {
            b.iter(|| {
                let mut listener = Listener::new(RATE, Range::of(instrument)).expect("a usual rate");
                listener.push(black_box(&samples)).filter(|heard| heard.pitch.is_some()).count()
            });
        });
    }
    let samples = second(Instrument::Violin, 440.0);
    c.bench_function("a second's loudness", |b| {
        b.iter(|| black_box(&samples).iter().map(|sample| f64::from(*sample).powi(2)).sum::<f64>());
    });
}

criterion_group!(benches, bench);
criterion_main!(benches);
