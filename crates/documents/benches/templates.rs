//! Sixty templates to SVG, and the same to PDF.
#![allow(missing_docs)]

use std::hint::black_box;

use bright_row_core::tapes::colour::Colour;
use bright_row_core::tapes::marker_set::MarkerKind;
use bright_row_documents::pdf::{Paper, pdf};
use bright_row_documents::template::{Template, TemplateMarker, sheets, single};
use criterion::{Criterion, criterion_group, criterion_main};

fn templates() -> Vec<Template> {
    let of = |number: u8| {
        let length_mm = 250.0 + 12.0 * f64::from(number);
        let at = |finger: u8| length_mm * (1.0 - (-f64::from(finger) / 8.0).exp2());
        Template {
            tag: format!("T-{number:02}"),
            what: "viola 14".to_owned(),
            length_mm,
            measured: true,
            day: "24 Nov 2026".to_owned(),
            kind: MarkerKind::Tapes,
            strip_mm: 3.0,
            colours: true,
            markers: (1..=4)
                .map(|finger| TemplateMarker { label: finger.to_string(), colour: Colour::Blue, at_mm: at(finger) })
                .collect(),
            for_thumb: false,
        }
    };
    (0..60).map(of).collect()
}

fn bench(c: &mut Criterion) {
    let templates = templates();
    c.bench_function("60 templates to SVG", |b| {
        b.iter(|| templates.iter().map(|template| single(black_box(template)).svg().len()).sum::<usize>());
    });
    c.bench_function("60 templates packed on A4, to SVG", |b| {
        b.iter(|| sheets(black_box(&templates), Paper::A4).pages.iter().map(|page| page.svg().len()).sum::<usize>());
    });
    let mut slow = c.benchmark_group("pdf");
    slow.sample_size(10);
    slow.bench_function("60 templates packed on A4, to PDF", |b| {
        b.iter(|| pdf(&sheets(black_box(&templates), Paper::A4).pages, "templates").expect("a file").len());
    });
    slow.finish();
}

criterion_group!(benches, bench);
criterion_main!(benches);
