//! Listening in a page's audio thread, where there is no text: samples come in as bytes, and what is heard goes out as numbers.
//!
//! The thread calls [`begin_to_listen`] once, then again and again writes samples to [`crate::room_for`] and calls [`hear`], and reads
//! the moments at [`heard`].

use std::cell::RefCell;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::{Listener, Range, Tuner, Turn};

use crate::MEMORY;

/// Numbers of a moment: seconds, level in decibels, hertz (0: none), confidence, place of the string that is meant (-1: none), cents
/// above it, what to do (see [`code`]), and which strings are done as bits, the lowest string first.
pub const NUMBERS: usize = 8;

/// An instrument's four strings while they are tuned.
#[derive(Debug)]
pub struct Ear {
    listener: Listener,
    tuner: Tuner,
}

thread_local! {
    static EAR: RefCell<Option<Ear>> = const { RefCell::new(None) };
    static HEARD: RefCell<Vec<f64>> = const { RefCell::new(Vec::new()) };
}

impl Ear {
    /// For the instrument at this place of [`Instrument::ALL`] and its open strings in hertz, low to high, at a sample rate; `None`
    /// where there is no such instrument or nobody listens at that rate.
    #[must_use]
    pub fn new(rate: f64, instrument: usize, open_hz: [f64; 4]) -> Option<Self> {
        let range = Range::of(*Instrument::ALL.get(instrument)?);
        Some(Self { listener: Listener::new(rate, range).ok()?, tuner: Tuner::new(open_hz) })
    }

    /// Takes samples as bytes, four each, the lowest first; adds [`NUMBERS`] for each moment.
    pub fn hear(&mut self, bytes: &[u8], moments: &mut Vec<f64>) {
        for four in bytes.chunks_exact(4) {
            let sample = f32::from_le_bytes([four[0], four[1], four[2], four[3]]);
            for heard in self.listener.push(&[sample]) {
                let tuned = self.tuner.hear(&heard);
                let done = self.tuner.done().into_iter().zip([1.0, 2.0, 4.0, 8.0]);
                moments.extend([
                    heard.at,
                    heard.level_db,
                    heard.pitch.map_or(0.0, |pitch| pitch.hz),
                    heard.pitch.map_or(0.0, |pitch| pitch.confidence),
                    tuned.map_or(-1.0, |tuned| PLACES[tuned.place]),
                    tuned.map_or(0.0, |tuned| tuned.cents),
                    tuned.map_or(0.0, |tuned| code(tuned.turn)),
                    done.filter(|(done, _)| *done).map(|(_, bit)| bit).sum(),
                ]);
            }
        }
    }
}

const PLACES: [f64; 4] = [0.0, 1.0, 2.0, 3.0];

/// What to do with a string: 0 nothing, 1 and 2 the fine tuner higher and lower, 3 and 4 the peg.
#[must_use]
pub const fn code(turn: Turn) -> f64 {
    match turn {
        Turn::Stay => 0.0,
        Turn::FineUp => 1.0,
        Turn::FineDown => 2.0,
        Turn::PegUp => 3.0,
        Turn::PegDown => 4.0,
    }
}

/// Begins to listen for an instrument; 1, or 0 where that cannot be: see [`Ear::new`].
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn begin_to_listen(
    rate: f64,
    instrument: usize,
    first: f64,
    second: f64,
    third: f64,
    fourth: f64,
) -> usize {
    let ear = Ear::new(rate, instrument, [first, second, third, fourth]);
    let begun = usize::from(ear.is_some());
    EAR.set(ear);
    begun
}

/// Hears the samples that were written, and says how many moments there are now.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn hear() -> usize {
    HEARD.with_borrow_mut(|heard| {
        heard.clear();
        EAR.with_borrow_mut(|ear| {
            if let Some(ear) = ear {
                MEMORY.with_borrow(|bytes| ear.hear(bytes, heard));
            }
        });
        heard.len() / NUMBERS
    })
}

/// Where the moments are.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn heard() -> *const f64 {
    HEARD.with_borrow(Vec::as_ptr)
}
