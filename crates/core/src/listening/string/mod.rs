//! A string that is simulated: the stand-in for an instrument in tests, as a tone to compare with, and as an example to hear.
//!
//! It **is** a digital waveguide (Smith, "Physical modeling using digital waveguides", Computer Music Journal 16/4, 1992): a wave
//! goes round between nut and bridge, loses a little each time, its high parts run ahead (stiffness), and a body answers. What is
//! bowed meets friction on the way (`McIntyre`, Schumacher, Woodhouse, "On the oscillations of musical instruments", 1983). It **is
//! not** measured from any instrument: levels and times are those that are usual for a beginner's.

mod bowed;
pub(super) mod chance;
mod filters;
mod plucked;

use std::f64::consts::TAU;

use chance::Chance;
use filters::{Resonance, Soft};

use super::{Listener, Range};
use crate::instrument::Instrument;

/// How the left hand meets the string.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Touch {
    /// Nobody does.
    Open,
    /// A fingertip holds it down.
    Stopped,
    /// A finger lies on it without holding it down.
    Light,
}

/// How the string is set going.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Act {
    /// Plucked once, at the beginning.
    Pluck {
        /// Where, as a share of the string from the bridge: 0.05 to 0.5.
        place: f64,
        /// With a nail instead of the fingertip's flesh.
        nail: bool,
        /// How much the string rattles, 0 to 1.
        buzz: f64,
    },
    /// Bowed all the time.
    Bow {
        /// How hard it presses, 0 to 1; about 0.45 is full.
        force: f64,
        /// Where, as a share of the string from the bridge: 0.02 to 0.3; about 0.11 is midway.
        place: f64,
        /// How fast it goes, 0 to 1; about 0.5 is usual.
        speed: f64,
        /// How much speed and pitch tremble, 0 to 1.
        waver: f64,
    },
}

impl Act {
    /// A pluck over the end of the fingerboard.
    pub const PLUCK: Self = Self::Pluck { place: 0.2, nail: false, buzz: 0.0 };
    /// A full stroke midway between bridge and fingerboard.
    pub const BOW: Self = Self::Bow { force: 0.45, place: 0.11, speed: 0.5, waver: 0.0 };
}

/// The bow turns: from one stroke to the next.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct BowTurn {
    /// After so many seconds of bowing.
    pub after: f64,
    /// How hard the next stroke lands, 0 to 1: 0 is a turn that is hardly heard.
    pub jump: f64,
}

/// What sounds, and what goes wrong with it.
#[derive(Clone, Debug, PartialEq)]
pub struct StringSound {
    /// Whose string it is: how long it rings and what body answers.
    pub instrument: Instrument,
    /// The frequency of its lowest partial, 20 to 2000 Hz.
    pub hz: f64,
    /// How the left hand meets it.
    pub touch: Touch,
    /// How it is set going.
    pub act: Act,
    /// Where the bow turns; a pluck has no turn.
    pub turn: Option<BowTurn>,
    /// A second string that sounds with it: its frequency, and its level beside the first, 0 to 1.
    pub neighbour: Option<(f64, f64)>,
    /// A class around it: so many decibels below the string. None: silence.
    pub class_db: Option<f64>,
    /// Seconds until it begins.
    pub begins: f64,
    /// The same seed sounds the same.
    pub seed: u64,
}

/// The frequency of a string of `length_mm` that sounds `open_hz` and is stopped `at_mm` from the nut.
#[must_use]
pub fn stopped_hz(open_hz: f64, length_mm: f64, at_mm: f64) -> f64 {
    open_hz * length_mm / (length_mm - at_mm)
}

/// What is known of a string of an instrument.
struct Make {
    /// Seconds until an open string is 60 dB quieter.
    seconds: f64,
    /// How stiff: the coefficient of the allpasses that let high parts run ahead.
    stiff: f64,
    /// The body's resonances, in hertz.
    body: [f64; 3],
}

impl Make {
    const fn of(instrument: Instrument) -> Self {
        match instrument {
            Instrument::Violin => Self { seconds: 2.0, stiff: -0.06, body: [280.0, 460.0, 2_500.0] },
            Instrument::Viola => Self { seconds: 2.6, stiff: -0.08, body: [220.0, 370.0, 1_900.0] },
            Instrument::Cello => Self { seconds: 4.5, stiff: -0.12, body: [105.0, 180.0, 1_200.0] },
            Instrument::Bass => Self { seconds: 7.0, stiff: -0.18, body: [60.0, 110.0, 700.0] },
        }
    }
}

impl StringSound {
    /// A sound without anything amiss.
    #[must_use]
    pub const fn of(instrument: Instrument, hz: f64, touch: Touch, act: Act, seed: u64) -> Self {
        Self { instrument, hz, touch, act, turn: None, neighbour: None, class_db: None, begins: 0.0, seed }
    }

    /// So many seconds of it at a sample rate in hertz, from -1 to 1. What is out of range is taken to the nearest that is in it.
    #[must_use]
    pub fn render(&self, rate: f64, seconds: f64) -> Vec<f32> {
        let count = (seconds.clamp(0.0, 60.0) * rate) as usize;
        let mut chance = Chance::new(self.seed);
        let silent = ((self.begins.max(0.0) * rate) as usize).min(count);
        let mut wave = self.string(self.hz, rate, count - silent, &mut chance);
        level(&mut wave, 1.0);
        if let Some((hz, share)) = self.neighbour {
            let mut other = self.string(hz, rate, count - silent, &mut chance);
            level(&mut other, share.clamp(0.0, 1.0));
            add(&mut wave, &other);
        }
        wave.splice(0..0, std::iter::repeat_n(0.0, silent));
        if let Some(decibels) = self.class_db {
            let mut around = class(rate, count, &mut chance);
            let share = loudness(&wave[silent..]) / loudness(&around).max(1e-12) * 10.0_f64.powf(-decibels / 20.0);
            scale(&mut around, share);
            add(&mut wave, &around);
        }
        let most = peak(&wave).max(1e-12);
        wave.iter().map(|sample| (sample / most * 0.7) as f32).collect()
    }

    fn string(&self, hz: f64, rate: f64, count: usize, chance: &mut Chance) -> Vec<f64> {
        let hz = hz.clamp(20.0, 2_000.0_f64.min(rate / 5.0));
        let make = Make::of(self.instrument);
        let dry = match self.act {
            Act::Pluck { place, nail, buzz } => {
                let seconds = match self.touch {
                    Touch::Open => make.seconds,
                    Touch::Stopped => make.seconds * 0.4,
                    Touch::Light => 0.16,
                };
                let pluck = plucked::Plucked { hz, seconds, stiff: make.stiff, place, nail, buzz, touch: self.touch };
                pluck.render(rate, count, chance)
            }
            Act::Bow { force, place, speed, waver } => {
                bowed::Bowed { hz, force, place, speed, waver, turn: self.turn }.render(rate, count, chance)
            }
        };
        let mut body = make.body.map(|hz| Resonance::new(hz.min(rate / 2.5), hz * 0.35, rate));
        dry.iter().map(|wave| wave * 0.6 + body.iter_mut().map(|one| one.step(*wave)).sum::<f64>() * 0.5).collect()
    }
}

/// Seconds of a held tone that are listened to, to bring it to its pitch.
const TRIED_SECONDS: f64 = 1.0;

/// A tone to compare with: a string plucked, or bowed all the time, of the instrument whose strings lie about there. A bow does not
/// quite hold the string's own pitch: what is held is heard once and brought to its pitch.
#[must_use]
pub fn reference_tone(hz: f64, held: bool, rate: f64, seconds: f64) -> Vec<f32> {
    let instrument = match hz {
        hz if hz >= 190.0 => Instrument::Violin,
        hz if hz >= 125.0 => Instrument::Viola,
        hz if hz >= 60.0 => Instrument::Cello,
        _ => Instrument::Bass,
    };
    let tone = |hz| StringSound::of(instrument, hz, Touch::Open, if held { Act::BOW } else { Act::PLUCK }, 1);
    let tried = held.then(|| tone(hz).render(rate, TRIED_SECONDS));
    let sounds = tried.and_then(|tried| {
        let mut listener = Listener::new(rate, Range::of(instrument)).ok()?;
        listener.push(&tried).filter_map(|heard| heard.pitch).last()
    });
    // What is heard somewhere else is not this tone.
    let off = sounds.map_or(0.0, |pitch| pitch.cents_above(hz));
    tone(if off.abs() < 10.0 { hz * (-off / 1_200.0).exp2() } else { hz }).render(rate, seconds)
}

/// A class that is at work: steps and voices as noise that falls with frequency, and other strings here and there.
fn class(rate: f64, count: usize, chance: &mut Chance) -> Vec<f64> {
    let mut low = Soft::new(300.0, rate);
    let mut high = Soft::new(2_500.0, rate);
    let mut wave: Vec<f64> = (0..count)
        .map(|_| {
            let noise = chance.noise();
            low.step(noise) * 2.0 + high.step(noise) * 0.6 + noise * 0.08
        })
        .collect();
    let loud = loudness(&wave);
    for _ in 0..(count as f64 / rate * 3.0) as usize {
        let (hz, from) = (chance.between(120.0, 900.0), (chance.share() * count as f64) as usize);
        let (mut phase, seconds) = (chance.share() * TAU, chance.between(0.05, 0.25));
        let loud = loud * chance.between(0.3, 0.9);
        for (after, sample) in wave[from..].iter_mut().enumerate() {
            let gone = after as f64 / rate;
            phase += TAU * hz / rate;
            *sample += loud * (-gone / seconds).exp() * (phase.sin() + 0.4 * (2.0 * phase).sin());
        }
    }
    wave
}

fn add(wave: &mut [f64], other: &[f64]) {
    for (sample, more) in wave.iter_mut().zip(other) {
        *sample += more;
    }
}

fn peak(wave: &[f64]) -> f64 {
    wave.iter().fold(0.0, |most, sample| most.max(sample.abs()))
}

/// Its root mean square.
fn loudness(wave: &[f64]) -> f64 {
    (wave.iter().map(|sample| sample * sample).sum::<f64>() / wave.len().max(1) as f64).sqrt()
}

/// Makes its peak so high.
fn level(wave: &mut [f64], to: f64) {
    scale(wave, to / peak(wave).max(1e-12));
}

fn scale(wave: &mut [f64], share: f64) {
    for sample in wave {
        *sample *= share;
    }
}
