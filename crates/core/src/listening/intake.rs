//! Samples in, fewer samples out: what is above all partials that count is taken away, and how loud it is is measured.

use std::f64::consts::PI;

/// Zero crossings of the filter on each side, in samples that come out.
const REACH: usize = 8;

/// Keeps the latest samples at a lower rate.
#[derive(Clone, Debug)]
pub(super) struct Intake {
    /// One of so many samples stays.
    factor: usize,
    taps: Vec<f32>,
    latest: Ring,
    since: usize,
    kept: Ring,
}

impl Intake {
    /// For samples at `rate`, of which at least `wanted` a second stay; the latest `window` of them are kept.
    pub(super) fn new(rate: f64, wanted: f64, window: f64) -> Self {
        let factor = ((rate / wanted).floor() as usize).max(1);
        let taps = taps(factor);
        let latest = Ring::new(taps.len());
        let count = (window * rate / factor as f64).round() as usize;
        Self { factor, taps, latest, since: 0, kept: Ring::new(count) }
    }

    /// Samples a second that stay.
    pub(super) fn rate(&self, rate: f64) -> f64 {
        rate / self.factor as f64
    }

    /// How many are kept.
    pub(super) fn window(&self) -> usize {
        self.kept.samples.len()
    }

    pub(super) fn push(&mut self, sample: f32) {
        self.latest.push(sample);
        self.since += 1;
        if self.since == self.factor {
            self.since = 0;
            let (older, newer) = self.latest.parts();
            let (first, last) = self.taps.split_at(older.len());
            self.kept.push(dot(first, older) + dot(last, newer));
        }
    }

    /// Whether there is a whole window.
    pub(super) fn is_full(&self) -> bool {
        self.kept.filled
    }

    /// The latest window, oldest first.
    pub(super) fn copy_to(&self, window: &mut [f32]) {
        let (older, newer) = self.kept.parts();
        window[..older.len()].copy_from_slice(older);
        window[older.len()..].copy_from_slice(newer);
    }
}

fn dot(a: &[f32], b: &[f32]) -> f32 {
    a.iter().zip(b).map(|(a, b)| a * b).sum()
}

/// A low-pass as a sinc under a Hann window, its sum 1; one tap that changes nothing where nothing is left out.
fn taps(factor: usize) -> Vec<f32> {
    if factor == 1 {
        return vec![1.0];
    }
    let half = (REACH * factor) as f64;
    let cut = 0.45 / factor as f64;
    let tap = |at: f64| {
        let x = 2.0 * PI * cut * at;
        let sinc = if at == 0.0 { 2.0 * cut } else { x.sin() / (PI * at) };
        sinc * (0.5 + 0.5 * (PI * at / (half + 1.0)).cos())
    };
    let taps: Vec<f64> = (0..=2 * REACH * factor).map(|at| tap(at as f64 - half)).collect();
    let sum: f64 = taps.iter().sum();
    taps.into_iter().map(|tap| (tap / sum) as f32).collect()
}

/// The latest samples, so many.
#[derive(Clone, Debug)]
struct Ring {
    samples: Vec<f32>,
    /// Where the oldest stands.
    next: usize,
    filled: bool,
}

impl Ring {
    fn new(count: usize) -> Self {
        Self { samples: vec![0.0; count.max(1)], next: 0, filled: false }
    }

    fn push(&mut self, sample: f32) {
        self.samples[self.next] = sample;
        self.next += 1;
        if self.next == self.samples.len() {
            self.next = 0;
            self.filled = true;
        }
    }

    /// Older and newer ones, in order.
    fn parts(&self) -> (&[f32], &[f32]) {
        (&self.samples[self.next..], &self.samples[..self.next])
    }
}
