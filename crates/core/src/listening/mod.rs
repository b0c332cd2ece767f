//! Listening: what pitch sounds, whether a plucked string rings, how a bow's tone is, how a hand lies.
//!
//! It **is** arithmetic on samples as they come, with all its room from the start: [`Listener`] says what is heard every 20 ms,
//! [`Sounds`] gathers that into plucks, strokes and noise. It **is not** a microphone, and it keeps no sound. [`string`] is the
//! simulated string that stands in for an instrument.

#![expect(
    clippy::as_conversions,
    clippy::cast_possible_truncation,
    clippy::cast_precision_loss,
    clippy::cast_sign_loss,
    reason = "counts of samples and levels between -1 and 1: far inside of what f64 and usize hold"
)]

mod beside;
mod hand;
mod intake;
mod judging;
mod listener;
mod note;
mod partials;
mod period;
mod range;
mod run;
mod sounds;
pub mod stand_in;
pub mod string;
mod stroke;
pub mod trainer;
mod tuning;

pub use hand::{HandPattern, StoppedNote, hand_pattern};
pub use listener::{Heard, Listener, MAX_RATE, MIN_RATE, OddRate, Pitch};
pub use note::{cents, hertz, nearest_note, open_string, sounding_string, spelled};
pub use range::Range;
pub use run::{MAX_NOTES, Run, RunNote};
pub use sounds::{Kind, Sound, Sounds, Verdict};
pub use tuning::{IN_TUNE_CENTS, Tuned, Tuner, Turn};
