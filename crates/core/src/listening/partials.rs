//! The exact pitch: how far each partial's phase turns within a window.
//!
//! Two stretches of the window, one later than the other, are looked at through a Hann window at each partial's frequency; the
//! phase between them says how far off that frequency is (Flanagan, Golden, "Phase vocoder", Bell System Technical Journal 45,
//! 1966). A stiff string's partials lie at `k f sqrt(1 + B k^2)` (Fletcher, "Normal vibration frequencies of a stiff piano
//! string", 1964): both numbers are fitted, and the lowest partial is the pitch.

use std::f64::consts::{PI, TAU};

/// So many partials are looked at.
const MAX_PARTIALS: usize = 8;
/// A partial that is so much weaker than the strongest, in power, says nothing.
const TOO_WEAK: f64 = 1e-3;
/// With so much power at two places halfway between its partials a pitch is an octave too high, as a share of that in them.
const MIN_HALVES: f64 = 0.1;
/// With less of its power in partials 1, 3, 5 and 7 it is an octave too low.
const MIN_ODD: f64 = 0.15;
/// With less of its power in partials 1, 5 and 7 it is the common period of two strings a fifth apart.
const MIN_OWN: f64 = 0.03;
/// As far as a partial may be off where it is looked for, in cents.
const MAX_OFF_CENTS: f64 = 40.0;
/// The stiffest string there is.
const MAX_STIFF: f64 = 1.5e-3;

/// What the partials of a pitch come to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Found {
    /// The lowest partial.
    pub(super) hz: f64,
    /// The share of the window's power that lies in partials, 0 to 1.
    pub(super) harmonic: f64,
    /// Where the power of the partials lies, in partials: 1 is the lowest.
    pub(super) center: f64,
    /// The share of the partials' power that lies in those with an odd number.
    odd: f64,
    /// In 1, 5 and 7.
    own: f64,
    /// In 2, 4 and 8.
    twos: f64,
    /// In 3.
    threes: f64,
}

/// Looks at partials; its room is made once.
#[derive(Clone, Debug)]
pub(super) struct Partials {
    rate: f64,
    /// The highest pitch that is listened for.
    highest: f64,
    weights: Vec<f64>,
    /// How many samples later the second stretch begins.
    later: usize,
}

#[derive(Clone, Copy, Debug, Default)]
struct Partial {
    /// Its frequency by its number, squared.
    lowest: f64,
    power: f64,
}

impl Partials {
    /// For windows of so many samples.
    pub(super) fn new(rate: f64, window: usize, highest: f64) -> Self {
        let later = (window / 3).max(1);
        let count = window - later;
        let weights = (0..count).map(|at| 0.5 - 0.5 * (TAU * (at as f64 + 0.5) / count as f64).cos()).collect();
        Self { rate, highest, weights, later }
    }

    /// The pitch near `hz` in a window; `None` where nothing is near it.
    pub(super) fn near(&self, window: &[f32], hz: f64) -> Option<Found> {
        let first = self.at(window, hz)?;
        let up = if first.own < MIN_OWN {
            if first.twos > first.threes { 2.0 } else { 3.0 }
        } else if first.odd < MIN_ODD {
            2.0
        } else {
            1.0
        };
        if self.halves(window, first.hz) > MIN_HALVES * first.harmonic {
            self.at(window, first.hz / 2.0)
        } else if up > 1.0 && first.hz * up <= self.highest {
            self.at(window, first.hz * up)
        } else {
            Some(first)
        }
    }

    fn at(&self, window: &[f32], hz: f64) -> Option<Found> {
        let count = MAX_PARTIALS.min((0.45 * self.rate / hz) as usize);
        let mut partials = [Partial::default(); MAX_PARTIALS];
        let mut guess = hz;
        for number in 1..=count {
            let k = number as f64;
            let looked = guess * k;
            let (from, _) = self.spectrum(window, looked);
            let (to, power) = self.spectrum(&window[self.later..], looked);
            let turned = wrapped(to - from - TAU * looked * self.later as f64 / self.rate);
            let found = looked + turned * self.rate / (TAU * self.later as f64);
            let off = 1_200.0 * (found / looked).log2().abs();
            if off < MAX_OFF_CENTS {
                partials[number - 1] = Partial { lowest: (found / k).powi(2), power };
            }
            if number == 1 && off < MAX_OFF_CENTS {
                guess = found;
            }
        }
        let strongest = partials.iter().map(|partial| partial.power).fold(0.0, f64::max);
        for partial in partials.iter_mut().filter(|partial| partial.power < strongest * TOO_WEAK) {
            partial.power = 0.0;
        }
        let hz = fitted(&partials)?;
        let of_partials: f64 = partials.iter().map(|partial| partial.power).sum();
        let center =
            partials.iter().zip(1..).map(|(partial, k)| partial.power * f64::from(k)).sum::<f64>() / of_partials;
        let within = |numbers: &[usize]| numbers.iter().map(|k| partials[k - 1].power).sum::<f64>() / of_partials;
        let [odd, own, twos, threes] = [within(&[1, 3, 5, 7]), within(&[1, 5, 7]), within(&[2, 4, 8]), within(&[3])];
        let harmonic = (of_partials / self.power(&window[self.later..])).min(1.0);
        Some(Found { hz, harmonic, center, odd, own, twos, threes })
    }

    /// The share of the window's power that lies halfway between the first partials, at the second strongest of these places:
    /// there is some where `hz` is an octave too high. At one place alone a neighbour sounds.
    fn halves(&self, window: &[f32], hz: f64) -> f64 {
        let mut between = [0.5, 1.5, 2.5].map(|k| self.spectrum(&window[self.later..], hz * k).1);
        between.sort_unstable_by(f64::total_cmp);
        between[1] / self.power(&window[self.later..]).max(f64::MIN_POSITIVE)
    }

    /// Phase and power at a frequency in the first stretch of some samples.
    fn spectrum(&self, samples: &[f32], hz: f64) -> (f64, f64) {
        let (sine, cosine) = (TAU * hz / self.rate).sin_cos();
        let (mut x, mut y) = (1.0, 0.0);
        let (mut real, mut imaginary) = (0.0, 0.0);
        for (sample, weight) in samples.iter().zip(&self.weights) {
            let weighed = f64::from(*sample) * weight;
            real += weighed * x;
            imaginary -= weighed * y;
            (x, y) = (x * cosine - y * sine, x * sine + y * cosine);
        }
        // A tone of amplitude a has a sum of a / 2 times that of the weights, and a power of a^2 / 2.
        let sum: f64 = self.weights.len() as f64 / 2.0;
        (imaginary.atan2(real), 2.0 * (real * real + imaginary * imaginary) / (sum * sum))
    }

    /// The power of the first stretch of some samples, weighed alike.
    fn power(&self, samples: &[f32]) -> f64 {
        let weighed = samples.iter().zip(&self.weights).map(|(sample, weight)| (f64::from(*sample) * weight).powi(2));
        // The mean square of a Hann window is 3/8.
        weighed.sum::<f64>() / (self.weights.len() as f64 * 0.375)
    }
}

fn wrapped(angle: f64) -> f64 {
    angle - TAU * ((angle + PI) / TAU).floor()
}

/// The lowest partial: `y = a + b k^2` by weighted least squares, where `y` is a partial's frequency by its number, squared. A
/// partial's own error is smaller by its number, so its weight grows with the square of it.
fn fitted(partials: &[Partial]) -> Option<f64> {
    let used = || partials.iter().zip(1_u32..).filter(|(partial, _)| partial.power > 0.0);
    let (mut weight, mut x, mut xx, mut y, mut xy) = (0.0, 0.0, 0.0, 0.0, 0.0);
    let origin = used().next()?.0.lowest;
    for (partial, number) in used() {
        let k2 = f64::from(number * number);
        let w = partial.power * k2;
        let of = partial.lowest - origin;
        (weight, x, xx, y, xy) = (weight + w, x + w * k2, xx + w * k2 * k2, y + w * of, xy + w * k2 * of);
    }
    let spread = weight * xx - x * x;
    let slope = if used().count() >= 3 && spread > 0.0 { (weight * xy - x * y) / spread } else { 0.0 };
    let slope = slope.clamp(0.0, MAX_STIFF * origin);
    let base = origin + (y - slope * x) / weight;
    Some((base + slope).max(0.0).sqrt())
}
