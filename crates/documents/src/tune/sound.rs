//! A tune to listen to: one part played by the simulated string, as WAV.

use std::io::Cursor;

use bright_row_core::craft::tune::Tune;
use bright_row_core::lessons::notes::Fingering;
use bright_row_core::listening::string::{Act, StringSound, Touch};

use super::Part;

/// Samples a second: enough for a tune out of a tablet.
const RATE: u32 = 22_050;
/// The longest that is played, in seconds: 96 quarters at 30 beats a minute, and what 10 MB hold.
pub const LONGEST_SECONDS: f64 = 200.0;
/// Silence before the first note, in seconds: what switches on slowly swallows none of it.
const BEFORE: f64 = 0.2;
/// How loud the loudest moment is, of 1.
const PEAK: f32 = 0.7;

/// The tune lasts longer than what is played.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("The tune lasts longer than {} minutes: give it a faster tempo", (LONGEST_SECONDS / 60.0).floor())]
pub struct TooLong;

/// A part's notes as 16-bit WAV of one channel; `hz` is the frequency of a place on the instrument.
///
/// # Errors
/// [`TooLong`].
pub fn wav(tune: &Tune, (instrument, part): &Part, hz: impl Fn(Fingering) -> f64) -> Result<Vec<u8>, TooLong> {
    let eighth = tune.eighth_seconds();
    let all: u32 = tune.notes.iter().map(|note| u32::from(note.eighths)).sum();
    if f64::from(all) * eighth > LONGEST_SECONDS {
        return Err(TooLong);
    }
    let rate = f64::from(RATE);
    let mut samples = silence(BEFORE);
    for (note, placed) in tune.notes.iter().zip(&part.notes) {
        let seconds = f64::from(note.eighths) * eighth;
        match placed.fingering {
            None => samples.extend(silence(seconds)),
            Some(way) => {
                let touch = if way.finger.is_none() { Touch::Open } else { Touch::Stopped };
                let sound = StringSound::of(*instrument, hz(way), touch, Act::BOW, u64::from(way.midi));
                samples.extend(sound.render(rate, seconds));
            }
        }
    }
    Ok(written(&samples))
}

#[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::as_conversions)]
fn silence(seconds: f64) -> Vec<f32> {
    vec![0.0; (seconds * f64::from(RATE)) as usize]
}

fn written(samples: &[f32]) -> Vec<u8> {
    let loudest = samples.iter().fold(0.0_f32, |loudest, sample| loudest.max(sample.abs()));
    let gain = if loudest > 0.0 { PEAK * f32::from(i16::MAX) / loudest } else { 0.0 };
    let spec =
        hound::WavSpec { channels: 1, sample_rate: RATE, bits_per_sample: 16, sample_format: hound::SampleFormat::Int };
    let mut bytes = Cursor::new(Vec::new());
    let mut writer = hound::WavWriter::new(&mut bytes, spec).expect("a vector takes everything");
    for sample in samples {
        // Within ±0.7 of what 16 bits hold.
        #[allow(clippy::cast_possible_truncation, clippy::as_conversions)]
        writer.write_sample((sample * gain) as i16).expect("a vector takes everything");
    }
    writer.finalize().expect("a vector takes everything");
    bytes.into_inner()
}
