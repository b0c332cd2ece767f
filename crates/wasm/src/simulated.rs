//! The simulated string in the page: tones to compare with, the trainer's questions, and the stand-in for a microphone. Samples
//! come out at [`samples`].

use std::cell::RefCell;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::reference_tone;
use bright_row_core::listening::trainer::{Answer, Ask, Question};
use bright_row_core::listening::{MAX_RATE, MIN_RATE, stand_in};

use crate::MEMORY;
use crate::ear::{notes_of, verdict};

/// The longest that is made at once, in seconds.
pub const MAX_SECONDS: f64 = 10.0;

thread_local! {
    static SAMPLES: RefCell<Vec<f32>> = const { RefCell::new(Vec::new()) };
}

fn put(rate: f64, make: impl FnOnce() -> Option<Vec<f32>>) -> usize {
    let usual = (MIN_RATE..=MAX_RATE).contains(&rate);
    let sound = if usual { make() } else { None };
    SAMPLES.with_borrow_mut(|samples| {
        *samples = sound.unwrap_or_default();
        samples.len()
    })
}

/// A tone to compare with, plucked or held (1), and how many samples it has: none at a rate that is not listened to.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn tone(rate: f64, hz: f64, held: usize, seconds: f64) -> usize {
    let seconds = seconds.clamp(0.0, MAX_SECONDS);
    put(rate, || hz.is_finite().then(|| reference_tone(hz, held == 1, rate, seconds)))
}

/// The trainer's question: 0 plucks, 1 strokes, 2 two notes; how many samples it has. Its answer is at [`answer_of`].
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn question(rate: f64, ask: usize, instrument: usize, cents: f64, seed: u32) -> usize {
    put(rate, || Some(question_of(ask, instrument, cents, seed)?.render(rate)))
}

fn question_of(ask: usize, instrument: usize, cents: f64, seed: u32) -> Option<Question> {
    let ask = *[Ask::Pluck, Ask::Bow, Ask::Pitch].get(ask)?;
    Some(Question::new(ask, *Instrument::ALL.get(instrument)?, cents, u64::from(seed)))
}

/// What the same question is: a verdict as [`verdict`] counts them, 11 lower, 12 higher; -1 where nothing can be asked.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn answer_of(ask: usize, instrument: usize, cents: f64, seed: u32) -> f64 {
    question_of(ask, instrument, cents, seed).map_or(-1.0, |question| match question.answer {
        Answer::Heard(heard) => verdict(Some(heard)),
        Answer::Lower => 11.0,
        Answer::Higher => 12.0,
    })
}

/// By how many cents the next two notes differ: see [`bright_row_core::listening::trainer::next_cents`].
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn next_cents(cents: f64, right: u32) -> f64 {
    bright_row_core::listening::trainer::next_cents(cents, right)
}

/// What stands in for a microphone while this is listened for, with the notes that were written: see
/// [`crate::ear::begin_to_listen`]; how many samples it has.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn stand_in_for(rate: f64, instrument: usize, task: usize) -> usize {
    put(rate, || {
        let instrument = *Instrument::ALL.get(instrument)?;
        let notes = MEMORY.with_borrow(|bytes| notes_of(bytes));
        let open = std::array::from_fn(|string| notes.get(string).map_or(440.0, |note| note.hz));
        Some(match task {
            0 => stand_in::tuning(instrument, open, rate),
            1 => stand_in::run(instrument, &notes, rate),
            _ => stand_in::sounds(instrument, open, rate),
        })
    })
}

/// Where the samples are.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn samples() -> *const f32 {
    SAMPLES.with_borrow(Vec::as_ptr)
}
