//! From hertz to notes and strings.

/// The letters of the twelve notes from C on.
const LETTERS: [&str; 12] = ["C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B"];

/// The frequency of a MIDI note, 69 = A4, in equal temperament.
#[must_use]
pub fn hertz(midi: u8, a4_hz: f64) -> f64 {
    a4_hz * ((f64::from(midi) - 69.0) / 12.0).exp2()
}

/// How far one frequency is above another, in cents: 1200 are an octave.
#[must_use]
pub fn cents(hz: f64, above_hz: f64) -> f64 {
    1_200.0 * (hz / above_hz).log2()
}

/// The nearest note, as a MIDI number, and how far above it a frequency is, in cents; `None` outside of MIDI's range.
#[must_use]
pub fn nearest_note(hz: f64, a4_hz: f64) -> Option<(u8, f64)> {
    let exact = 69.0 + 12.0 * (hz / a4_hz).log2();
    let midi = exact.round();
    (0.0..=127.0).contains(&midi).then_some((midi as u8, (exact - midi) * 100.0))
}

/// A note's letter and octave: `F#4`, 69 is `A4`.
#[must_use]
pub fn spelled(midi: u8) -> String {
    format!("{}{}", LETTERS[usize::from(midi % 12)], i16::from(midi / 12) - 1)
}

/// The string that is meant while one tunes: the nearest of these open strings, as its place among them, and how far above it
/// the frequency is, in cents.
#[must_use]
pub fn open_string(hz: f64, open_hz: &[f64]) -> Option<(usize, f64)> {
    let off = open_hz.iter().enumerate().map(|(place, open)| (place, cents(hz, *open)));
    off.filter(|(_, off)| off.is_finite()).min_by(|(_, a), (_, b)| a.abs().total_cmp(&b.abs()))
}

/// The string that a note is played on in first position, as its place among these open strings, low to high: the highest that
/// is not above it. A quarter tone below an open string still is that string.
#[must_use]
pub fn sounding_string(hz: f64, open_hz: &[f64]) -> Option<usize> {
    open_hz.iter().rposition(|open| cents(hz, *open) > -50.0)
}
