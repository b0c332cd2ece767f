//! A neighbour string that sounds with the one that is played: two series of partials at once.
//!
//! What is played is cancelled by its own period; what is left is looked at through the periods of the open strings (de Cheveigné,
//! "Separation of concurrent harmonic sounds: fundamental frequency estimation and a time-domain cancellation model of auditory
//! processing", J. Acoust. Soc. Am. 93/6, 1993).

use super::note::cents;
use super::period::Periods;

/// So little of the power that is left says nothing.
const MIN_LEFT: f64 = 0.04;
/// What is left is an open string's where its periods differ less than this.
const MAX_UNLIKE: f64 = 0.35;
/// The same where it is a whole string.
const MAX_UNLIKE_PAIR: f64 = 0.1;
/// So much of the power is one string's of two.
const MIN_OF_PAIR: f64 = 0.1;
/// And where they differ so much less than at the period that was cancelled.
const MUCH_LESS: f64 = 0.5;
/// And hardly more than at twice that period.
const AS_LITTLE: f64 = 0.05;
/// What is as near as this to an open string, or to a whole number of times as high, is that string's own, in cents.
const OWN_CENTS: f64 = 60.0;

/// Moments that two strings, once found, are taken to sound.
const EACH: usize = 4;

/// Looks for open strings that sound beside what is played; its room is made once.
#[derive(Clone, Debug)]
pub(super) struct Beside {
    /// Low to high, in hertz.
    open_hz: [f64; 4],
    left: Vec<f32>,
    periods: Periods,
    moments: usize,
    found: Option<usize>,
}

impl Beside {
    pub(super) fn new(open_hz: [f64; 4], window: usize, periods: Periods) -> Self {
        Self { open_hz, left: Vec::with_capacity(window), periods, moments: 0, found: None }
    }

    /// Which open string sounds beside a pitch in this window of samples at `rate`, as its place among them.
    pub(super) fn find(&mut self, window: &[f32], rate: f64, hz: f64) -> Option<usize> {
        let period = rate / hz;
        if self.cancel(window, period)? < MIN_LEFT {
            return None;
        }
        let own = self.unlike(period)?;
        let others = self.open_hz.iter().enumerate().filter(|(_, open)| !is_of(hz, **open));
        let unlike = others.filter_map(|(place, open)| Some((place, self.unlike(rate / open)?)));
        let (place, least) = unlike.min_by(|(_, a), (_, b)| a.total_cmp(b))?;
        // A string that slips twice a period is heard an octave higher: what is left then is its own, at twice the period.
        let twice = self.unlike(2.0 * period).unwrap_or(f64::INFINITY);
        (least < MAX_UNLIKE && least < MUCH_LESS * own && least < twice + AS_LITTLE).then_some(place)
    }

    /// An open string that sounds in this window with another pitch, where neither is sure by itself: two about as loud. It costs
    /// several times what a pitch does: what was found holds for the next moments.
    pub(super) fn pair_now_and_then(&mut self, window: &[f32], rate: f64) -> Option<usize> {
        if self.moments.is_multiple_of(EACH) {
            self.found = self.pair(window, rate);
        }
        self.moments = (self.moments + 1) % EACH;
        self.found
    }

    fn pair(&mut self, window: &[f32], rate: f64) -> Option<usize> {
        let opens = self.open_hz;
        (0..opens.len()).rev().find(|place| {
            let open = rate / opens[*place];
            if !self.cancel(window, open).is_some_and(|left| left > MIN_OF_PAIR) {
                return false;
            }
            let other = self.periods.find(&self.left).filter(|other| other.unlike < MAX_UNLIKE_PAIR);
            // Either alone would leave nothing of the other.
            other.is_some_and(|other| {
                !is_of(rate / other.samples, opens[*place])
                    && self.cancel(window, other.samples).is_some_and(|left| left > MIN_OF_PAIR)
                    && self.unlike(open).is_some_and(|unlike| unlike < MAX_UNLIKE_PAIR)
            })
        })
    }

    /// Takes away what comes again after a period; the share of the power that is left.
    fn cancel(&mut self, window: &[f32], period: f64) -> Option<f64> {
        is_possible(period, window.len()).then_some(())?;
        let reach = period.ceil() as usize + 2;
        let sample = |at: usize| f64::from(window[at]);
        let all = power_of(window.get(reach..)?);
        self.left.clear();
        self.left.extend((reach..window.len()).map(|at| (sample(at) - between(sample, at as f64 - period)) as f32));
        let power = power_of(&self.left);
        // What is not cancelled comes in twice.
        Some(power / (2.0 * all).max(1e-20))
    }

    /// How far what is left differs from itself one period before: 0 the same, 1 nothing comes again.
    fn unlike(&self, period: f64) -> Option<f64> {
        is_possible(period, self.left.len()).then_some(())?;
        let reach = period.ceil() as usize + 2;
        let later = self.left.get(reach..).filter(|later| later.len() * 2 > reach)?;
        let both = power_of(later) + power_of(&self.left[2..self.left.len() - reach + 2]);
        let differ = later.iter().enumerate().map(|(at, sample)| {
            (f64::from(*sample) - between(|at| f64::from(self.left[at]), (at + reach) as f64 - period)).powi(2)
        });
        Some(differ.sum::<f64>() / both.max(1e-20))
    }
}

/// Whether a pitch is an open string's own, or one of its partials.
fn is_of(hz: f64, open: f64) -> bool {
    let times = (hz / open).round().max(1.0);
    !open.is_finite() || cents(hz, open * times).abs() < OWN_CENTS
}

/// Whether so many samples hold a period: an open string may be any number, also none.
fn is_possible(period: f64, samples: usize) -> bool {
    (2.0..samples as f64).contains(&period)
}

fn power_of(samples: &[f32]) -> f64 {
    samples.iter().map(|sample| f64::from(*sample).powi(2)).sum()
}

/// A sample between samples, through four of them (Lagrange).
fn between(sample: impl Fn(usize) -> f64, at: f64) -> f64 {
    let whole = at.floor();
    let part = at - whole;
    let start = whole as usize - 1;
    let [a, b, c, d] = [0, 1, 2, 3].map(|after| sample(start + after));
    let outer = part * (part - 1.0);
    a * outer * (part - 2.0) / -6.0
        + b * (part + 1.0) * (part - 1.0) * (part - 2.0) / 2.0
        + c * (part + 1.0) * part * (part - 2.0) / -2.0
        + d * (part + 1.0) * outer / 6.0
}
