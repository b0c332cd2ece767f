//! What a beginner's instrument might give, for those who have none at hand: the stand-in for a microphone.

use super::run::RunNote;
use super::string::{Act, BowTurn, StringSound, Touch};
use crate::instrument::Instrument;

/// Seconds of each sound.
const SECONDS: f64 = 1.6;
/// Seconds of silence after each of several sounds.
const SILENCE: f64 = 0.6;
/// How far the second string is off before it is tuned, in cents.
const UNTUNED_CENTS: f64 = -30.0;
/// How far a marker that is proved is off.
const MARKER_CENTS: f64 = 14.0;
/// How far the second finger of a hand is off.
const SECOND_CENTS: f64 = -45.0;

fn pluck(instrument: Instrument, hz: f64, cents: f64, touch: Touch) -> StringSound {
    let seed = u64::from(touch == Touch::Stopped);
    StringSound::of(instrument, hz * (cents / 1_200.0).exp2(), touch, Act::PLUCK, seed)
}

fn one_after_the_other(sounds: impl IntoIterator<Item = StringSound>, rate: f64) -> Vec<f32> {
    sounds.into_iter().flat_map(|sound| sound.render(rate, SECONDS)).collect()
}

/// Four open strings, low to high: the second is low at first.
#[must_use]
pub fn tuning(instrument: Instrument, open_hz: [f64; 4], rate: f64) -> Vec<f32> {
    let [low, second, third, high] = open_hz;
    let off = [(low, 0.0), (second, UNTUNED_CENTS), (second, UNTUNED_CENTS / 2.0), (second, 0.0), (third, 0.0)];
    let strings = off.into_iter().chain([(high, 0.0)]);
    one_after_the_other(strings.map(|(hz, cents)| pluck(instrument, hz, cents, Touch::Open)), rate)
}

/// The notes of a run: one marker that lies too high, or a hand whose second finger is low.
#[must_use]
pub fn run(instrument: Instrument, notes: &[RunNote], rate: f64) -> Vec<f32> {
    let hand = notes.iter().filter(|note| note.finger > 0).count() > 1;
    let sounds = notes.iter().map(|note| match (hand, note.finger) {
        (_, 0) => pluck(instrument, note.hz, 0.0, Touch::Open),
        (false, _) => pluck(instrument, note.hz, MARKER_CENTS, Touch::Stopped),
        (true, 2) => pluck(instrument, note.hz, SECOND_CENTS, Touch::Stopped),
        (true, _) => pluck(instrument, note.hz, 2.0, Touch::Stopped),
    });
    one_after_the_other(sounds, rate)
}

/// An open string that rings, a finger that does not hold its string down, a bow that grates, one that is light and close to the
/// bridge, one that turns with a jump, and one that lies on two strings.
#[must_use]
pub fn sounds(instrument: Instrument, open_hz: [f64; 4], rate: f64) -> Vec<f32> {
    let hz = open_hz[2];
    let scratch = Act::Bow { force: 0.9, place: 0.11, speed: 0.15, waver: 0.1 };
    let light = Act::Bow { force: 0.2, place: 0.03, speed: 0.7, waver: 0.0 };
    let full = StringSound::of(instrument, hz, Touch::Open, Act::BOW, 3);
    let all = [
        pluck(instrument, hz, 0.0, Touch::Open),
        pluck(instrument, hz * (1.0_f64 / 6.0).exp2(), 0.0, Touch::Light),
        StringSound::of(instrument, hz, Touch::Open, scratch, 3),
        StringSound::of(instrument, hz, Touch::Open, light, 3),
        StringSound { turn: Some(BowTurn { after: 0.7, jump: 1.0 }), ..full.clone() },
        StringSound { neighbour: Some((open_hz[1], 0.5)), ..full },
    ];
    let silence = vec![0.0; (SILENCE * rate) as usize];
    all.into_iter().flat_map(|sound| [sound.render(rate, SECONDS), silence.clone()].concat()).collect()
}
