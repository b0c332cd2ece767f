//! What do you hear? Sounds of the simulated string to train one's ear with, and what each of them was.

use super::string::chance::Chance;
use super::string::{Act, StringSound, Touch};
use super::{Verdict, hertz};
use crate::instrument::Instrument;

/// Seconds between two sounds that are compared.
const BETWEEN: f64 = 0.25;
/// The least difference that is asked for, in cents, and the most.
const CENTS: (f64, f64) = (2.0, 100.0);

/// What is asked.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Ask {
    /// How a pluck sounds: does it ring?
    Pluck,
    /// How a stroke of the bow sounds.
    Bow,
    /// Whether the second of two notes is lower or higher.
    Pitch,
}

/// What it was.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Answer {
    /// A sound that listening has a word for.
    Heard(Verdict),
    /// The second note is lower.
    Lower,
    /// The second note is higher.
    Higher,
}

/// Something to hear, and what it is.
#[derive(Clone, Debug, PartialEq)]
pub struct Question {
    /// What it is.
    pub answer: Answer,
    sounds: Vec<(StringSound, f64)>,
}

impl Question {
    /// The question of a seed, on this instrument; two notes differ by `cents`, as far as that can be asked.
    #[must_use]
    pub fn new(ask: Ask, instrument: Instrument, cents: f64, seed: u64) -> Self {
        let mut chance = Chance::new(seed);
        let hz = hertz(lowest(instrument) + (chance.share() * 20.0) as u8, 440.0);
        let sound = |touch, act| StringSound::of(instrument, hz, touch, act, seed);
        match ask {
            Ask::Pluck => {
                let pluck = |buzz| Act::Pluck { place: 0.2, nail: false, buzz };
                let of = [
                    (Verdict::Rings, sound(Touch::Stopped, pluck(0.0))),
                    (Verdict::Thud, sound(Touch::Light, pluck(0.0))),
                    (Verdict::Buzz, sound(Touch::Open, pluck(1.0))),
                ];
                Self::one_of(&of.map(|(verdict, sound)| (Answer::Heard(verdict), sound)), 1.8, &mut chance)
            }
            Ask::Bow => {
                let bow = |force, place, speed, waver| sound(Touch::Stopped, Act::Bow { force, place, speed, waver });
                let of = [
                    (Answer::Heard(Verdict::Full), bow(0.45, 0.11, 0.5, 0.0)),
                    (Answer::Heard(Verdict::Scratch), bow(0.9, 0.11, 0.15, 0.1)),
                    (Answer::Heard(Verdict::Whisper), bow(0.08, 0.2, 0.5, 0.0)),
                    (Answer::Heard(Verdict::Wavers), bow(0.4, 0.11, 0.5, 0.7)),
                    (Answer::Heard(Verdict::Glass), bow(0.2, 0.03, 0.7, 0.0)),
                ];
                Self::one_of(&of, 2.0, &mut chance)
            }
            Ask::Pitch => {
                let cents = if cents.is_finite() { cents.clamp(CENTS.0, CENTS.1) } else { CENTS.1 };
                let higher = chance.share() < 0.5;
                let second = hz * (if higher { cents } else { -cents } / 1_200.0).exp2();
                let pluck = |hz| StringSound::of(instrument, hz, Touch::Open, Act::PLUCK, seed);
                let answer = if higher { Answer::Higher } else { Answer::Lower };
                Self { answer, sounds: vec![(pluck(hz), 1.2), (pluck(second), 1.4)] }
            }
        }
    }

    fn one_of<const N: usize>(of: &[(Answer, StringSound); N], seconds: f64, chance: &mut Chance) -> Self {
        let which = (chance.share() * N as f64) as usize;
        let (answer, sound) = of[which.min(N - 1)].clone();
        Self { answer, sounds: vec![(sound, seconds)] }
    }

    /// Its samples at a rate in hertz, from -1 to 1.
    #[must_use]
    pub fn render(&self, rate: f64) -> Vec<f32> {
        let mut samples = Vec::new();
        for (sound, seconds) in &self.sounds {
            if !samples.is_empty() {
                samples.resize(samples.len() + (BETWEEN * rate) as usize, 0.0);
            }
            samples.extend(sound.render(rate, *seconds));
        }
        samples
    }
}

/// The lowest open string, as a MIDI number.
const fn lowest(instrument: Instrument) -> u8 {
    match instrument {
        Instrument::Violin => 55,
        Instrument::Viola => 48,
        Instrument::Cello => 36,
        Instrument::Bass => 28,
    }
}

/// By how many cents the next two notes differ after `right` right answers in a row, 0 for a wrong one: less after every second
/// right one, more after a wrong one. It comes to rest where seven in ten are right (Levitt, "Transformed up-down methods in
/// psychoacoustics", Journal of the Acoustical Society of America 49, 1971).
#[must_use]
pub fn next_cents(cents: f64, right: u32) -> f64 {
    let next = match right {
        0 => cents * 1.6,
        right if right % 2 == 0 => cents / 1.6,
        _ => cents,
    };
    next.clamp(CENTS.0, CENTS.1)
}
