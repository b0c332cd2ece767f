//! Tunes as files: written for notation programs and players, and read from what notation programs and people write.

mod abc;
mod abc_words;
mod incoming;
pub mod midi;
pub mod musicxml;
mod musicxml_in;
pub mod sound;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::tune::{MAX_TUNE_NOTES, Tune, TuneFault};
use bright_row_core::lessons::notes::TunePart;

/// An instrument with its part of a tune.
pub type Part = (Instrument, TunePart);

/// What a part's instrument is called in a score.
fn spoken(instrument: Instrument) -> &'static str {
    match instrument {
        Instrument::Violin => "Violin",
        Instrument::Viola => "Viola",
        Instrument::Cello => "Cello",
        Instrument::Bass => "Double bass",
    }
}

/// The sound that a program plays it with, from 0 (General MIDI level 1).
const fn program(instrument: Instrument) -> u8 {
    match instrument {
        Instrument::Violin => 40,
        Instrument::Viola => 41,
        Instrument::Cello => 42,
        Instrument::Bass => 43,
    }
}

/// A tune that was read from a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ReadTune {
    /// The tune, of an empty id.
    pub tune: Tune,
    /// What of the file is not in it.
    pub left_out: Vec<LeftOut>,
}

/// What of a file's music is not in the tune that was read from it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum LeftOut {
    /// Parts or voices beside the first.
    Voices,
    /// Notes that sound together with another: the first that is written was taken.
    Chords,
    /// Grace notes.
    Grace,
    /// What is played again: it is written once.
    Repeats,
    /// Further tunes.
    Tunes,
}

/// Why a file is no tune.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum TuneFileError {
    /// Nothing of a tune is found.
    #[error("This is neither MusicXML nor ABC")]
    Unknown,
    /// It is cut off or broken.
    #[error("The file cannot be opened: export it anew")]
    Broken,
    /// More than a tune is.
    #[error("The file is too large for a tune of {MAX_TUNE_NOTES} notes: export its first part alone")]
    TooLarge,
    /// A score that is written moment by moment.
    #[error("The score is written moment by moment (timewise): export it part by part (partwise)")]
    Timewise,
    /// A note that is no multiple of an eighth.
    #[error("Bar {0} has a note that is no whole number of eighths: write it in eighths, quarters and halves")]
    Short(usize),
    /// A note between two keys.
    #[error("Bar {0} has a note that stands between two keys of a piano")]
    Between(usize),
    /// Something that is no music.
    #[error("Bar {0} has “{1}”, which cannot be read")]
    NoMusic(usize, String),
    /// A key or a meter that changes.
    #[error("The {0} changes in bar {1}: a tune has one")]
    Changes(&'static str, usize),
    /// A key with too many sharps or flats.
    #[error("Its key has {0}: a tune has at most four sharps or three flats. Write it a step higher or lower")]
    Key(String),
    /// A bar of another length.
    #[error("Bar {0} has {1} eighths instead of {2}")]
    Bar(usize, u32, u8),
    /// What no tune of ours can be.
    #[error("{0}")]
    Tune(#[from] TuneFault),
}

/// The most that is read of a file, in bytes; what a compressed one unpacks to too.
const LARGEST: usize = 2 * 1024 * 1024;

/// The tune of a file: `MusicXML` (its first part, compressed or not) or ABC (its first tune).
///
/// # Errors
/// [`TuneFileError`], each with what to do.
pub fn read(bytes: &[u8]) -> Result<ReadTune, TuneFileError> {
    if bytes.starts_with(b"PK\x03\x04") {
        return musicxml_in::read(&musicxml_in::unpacked(bytes)?);
    }
    if bytes.len() > LARGEST {
        return Err(TuneFileError::TooLarge);
    }
    let text = text_of(bytes);
    if text.trim_start().starts_with('<') { musicxml_in::read(&text) } else { abc::read(&text) }
}

/// The letters of a file, however they are written; notation programs write UTF-8 or UTF-16.
fn text_of(bytes: &[u8]) -> String {
    let written = crate::letters::read(bytes, None);
    written.map(|written| written.text.trim_start_matches('\u{feff}').to_owned()).unwrap_or_default()
}
