//! What is heard now, moment by moment.

use std::f64::consts::TAU;

use thiserror::Error;

use super::beside::Beside;
use super::intake::Intake;
use super::partials::Partials;
use super::period::Periods;
use super::range::Range;

/// The lowest sample rate that is listened to, in hertz.
pub const MIN_RATE: f64 = 8_000.0;
/// The highest.
pub const MAX_RATE: f64 = 96_000.0;

/// What lies above hisses.
const HISS_HZ: f64 = 3_000.0;
/// Seconds from one moment to the next.
pub(super) const STEP: f64 = 0.02;
/// So many samples a period of the highest pitch has left.
const SAMPLES_A_PERIOD: f64 = 10.0;
/// Periods that differ more than this are not sure.
const MAX_UNLIKE: f64 = 0.3;
/// Less of the power in partials is not sure.
const MIN_HARMONIC: f64 = 0.3;
/// Moments that a pitch is the middle of.
const MOMENTS: usize = 5;
/// Moments that have to agree before a pitch is said.
const MIN_AGREEING: usize = 3;
/// So near they agree, in cents.
const AGREEING_CENTS: f64 = 35.0;

/// Why nobody can listen to this.
#[derive(Clone, Copy, Debug, Error, PartialEq)]
#[error("The sound has {0} samples a second; {MIN_RATE} to {MAX_RATE} can be listened to.")]
pub struct OddRate(pub f64);

/// A pitch that is sure enough to be said.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Pitch {
    /// Its lowest partial.
    pub hz: f64,
    /// 0 to 1.
    pub confidence: f64,
    /// Where the power of its partials lies, in partials: 1 is the lowest.
    pub center: f64,
}

impl Pitch {
    /// How far above another pitch, in cents: 1200 are an octave.
    #[must_use]
    pub fn cents_above(&self, hz: f64) -> f64 {
        1_200.0 * (self.hz / hz).log2()
    }
}

/// What is heard at a moment.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Heard {
    /// Seconds since the first sample.
    pub at: f64,
    /// How loud the last 20 ms were, in decibels below full scale; silence is -200.
    pub level_db: f64,
    /// The share of the last 20 ms above about 3 kHz: what hisses and rattles, 0 to 1.
    pub hiss: f64,
    /// How alike one period and the next are, whatever the pitch: 0 not at all, 1 the same.
    pub alike: f64,
    /// The pitch, where it is sure.
    pub pitch: Option<Pitch>,
    /// Which open string sounds beside it, as its place among them; `None` where none does or nobody said which there are.
    pub beside: Option<usize>,
}

/// Listens to samples as they come. It has all its room from the start.
#[derive(Clone, Debug)]
pub struct Listener {
    rate: f64,
    intake: Intake,
    periods: Periods,
    partials: Partials,
    beside: Option<Beside>,
    window: Vec<f32>,
    step: usize,
    taken: u64,
    since: usize,
    power: f64,
    power_above: f64,
    /// A one-pole low-pass at 3 kHz: its share and its state.
    below: (f32, f32),
    /// The latest moments' pitches, latest last; 0: none.
    latest: [(f64, Pitch); MOMENTS],
}

const NONE: (f64, Pitch) = (0.0, Pitch { hz: 0.0, confidence: 0.0, center: 0.0 });

impl Listener {
    /// Listens for the pitches of a range in samples at a rate in hertz.
    pub fn new(rate: f64, range: Range) -> Result<Self, OddRate> {
        if !(MIN_RATE..=MAX_RATE).contains(&rate) {
            return Err(OddRate(rate));
        }
        let intake = Intake::new(rate, range.highest * SAMPLES_A_PERIOD, range.window);
        let kept = intake.rate(rate);
        Ok(Self {
            rate,
            periods: Periods::new(kept / range.highest, kept / range.lowest),
            partials: Partials::new(kept, intake.window(), range.highest),
            beside: None,
            window: vec![0.0; intake.window()],
            intake,
            step: (STEP * rate) as usize,
            taken: 0,
            since: 0,
            power: 0.0,
            power_above: 0.0,
            below: (1.0 - (-TAU * HISS_HZ / rate).exp() as f32, 0.0),
            latest: [NONE; MOMENTS],
        })
    }

    /// With the open strings, low to high, in hertz: one that sounds beside what is played is named.
    #[must_use]
    pub fn with_open(mut self, open_hz: [f64; 4]) -> Self {
        self.beside = Some(Beside::new(open_hz, self.intake.window(), self.periods.clone()));
        self
    }

    /// What is heard in these samples, from -1 to 1; a sample that is no number counts as silence.
    pub fn push<'a>(&'a mut self, samples: &'a [f32]) -> impl Iterator<Item = Heard> + 'a {
        samples
            .iter()
            .filter_map(move |sample| self.take(if sample.is_finite() { sample.clamp(-4.0, 4.0) } else { 0.0 }))
    }

    fn take(&mut self, sample: f32) -> Option<Heard> {
        self.intake.push(sample);
        self.taken += 1;
        self.since += 1;
        self.power += f64::from(sample).powi(2);
        self.below.1 += self.below.0 * (sample - self.below.1);
        self.power_above += f64::from(sample - self.below.1).powi(2);
        if self.since < self.step {
            return None;
        }
        let power = self.power / self.since as f64;
        let hiss = if self.power > 0.0 { (self.power_above / self.power).min(1.0) } else { 0.0 };
        (self.since, self.power, self.power_above) = (0, 0.0, 0.0);
        let (alike, pitch) = self.moment();
        self.latest.rotate_left(1);
        self.latest[MOMENTS - 1] = pitch.map_or(NONE, |pitch| (pitch.hz.log2(), pitch));
        let pitch = self.agreed();
        let rate = self.intake.rate(self.rate);
        let beside = self.beside.as_mut().filter(|_| alike > 0.0).and_then(|beside| match pitch {
            Some(pitch) => beside.find(&self.window, rate, pitch.hz),
            None => beside.pair_now_and_then(&self.window, rate),
        });
        Some(Heard {
            at: self.taken as f64 / self.rate,
            level_db: 10.0 * power.max(1e-20).log10(),
            hiss,
            alike,
            pitch,
            beside,
        })
    }

    /// How alike the periods of the window are as it is now, and its pitch.
    fn moment(&mut self) -> (f64, Option<Pitch>) {
        if !self.intake.is_full() {
            return (0.0, None);
        }
        self.intake.copy_to(&mut self.window);
        let Some(period) = self.periods.find(&self.window) else { return (0.0, None) };
        let alike = 1.0 - period.unlike;
        if period.unlike > MAX_UNLIKE {
            return (alike, None);
        }
        let found = self.partials.near(&self.window, self.intake.rate(self.rate) / period.samples);
        let sure = found.filter(|found| found.harmonic > MIN_HARMONIC);
        let pitch = sure.map(|found| Pitch { hz: found.hz, confidence: alike * found.harmonic, center: found.center });
        (alike, pitch)
    }

    /// The middle of the latest moments, where enough of them agree with the last one.
    fn agreed(&self) -> Option<Pitch> {
        let (last, pitch) = self.latest[MOMENTS - 1];
        if last == 0.0 {
            return None;
        }
        let mut near = [0.0; MOMENTS];
        let mut count = 0;
        for (octaves, _) in self.latest.iter().filter(|(octaves, _)| *octaves != 0.0) {
            if (octaves - last).abs() * 1_200.0 < AGREEING_CENTS {
                near[count] = *octaves;
                count += 1;
            }
        }
        if count < MIN_AGREEING {
            return None;
        }
        near[..count].sort_unstable_by(f64::total_cmp);
        let middle = f64::midpoint(near[(count - 1) / 2], near[count / 2]);
        Some(Pitch { hz: middle.exp2(), ..pitch })
    }
}
