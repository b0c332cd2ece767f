//! Tunes: a few notes written as text, `D4 E4 F#4:4 - G4:1`, with what is needed to write them down for four instruments.

use crate::craft::pitch::midi_of;

/// The most notes that a tune has.
pub const MAX_TUNE_NOTES: usize = 96;
/// The longest note, in eighths: a whole note.
pub const MAX_NOTE_EIGHTHS: u8 = 8;
/// The most letters of a tune's name.
pub const MAX_TUNE_NAME_LENGTH: usize = 60;

/// A note of a tune: a pitch and how long it lasts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TuneNote {
    /// MIDI note number; `None` for a rest.
    pub midi: Option<u8>,
    /// In eighths of a quarter's half: 2 is a quarter, 1 an eighth, 8 a whole note of four quarters.
    pub eighths: u8,
}

/// A tune as the class sees it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Tune {
    /// `hot-cross-buns`; empty for one that was built on screen.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Sharps of its key, negative for flats.
    pub sharps: i8,
    /// Eighths in a bar.
    pub bar_eighths: u8,
    /// Its meter as it is written.
    pub meter: Meter,
    /// Note by note.
    pub notes: Vec<TuneNote>,
}

/// A meter.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Meter {
    /// Beats in a bar.
    pub beats: u8,
    /// What a beat is: 4 for quarters, 8 for eighths.
    pub unit: u8,
}

/// What is wrong with a tune's text.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum TuneFault {
    /// No note.
    #[error("A tune has at least one note, such as D4.")]
    Empty,
    /// Too many notes.
    #[error("A tune has at most {MAX_TUNE_NOTES} notes.")]
    TooLong,
    /// Something that is no note.
    #[error("“{0}” is no note: write a letter with its octave, such as F#4, D4:4 for a half note, or - for a rest.")]
    NoNote(String),
    /// A bar that is too short or too long.
    #[error("Bar {0} has {1} eighths instead of {2}.")]
    Bar(usize, u32, u8),
    /// No such meter.
    #[error("“{0}” is no meter of ours: 2/4, 3/4, 4/4 or 6/8.")]
    Meter(String),
    /// No such key.
    #[error("“{0}” is no major key of ours: C, G, D, A, E, F, Bb or Eb.")]
    Key(String),
}

impl Meter {
    /// The meter of a text, `3/4`.
    ///
    /// # Errors
    /// [`TuneFault::Meter`] for any other.
    pub fn parse(text: &str) -> Result<Self, TuneFault> {
        match text {
            "2/4" => Ok(Self { beats: 2, unit: 4 }),
            "3/4" => Ok(Self { beats: 3, unit: 4 }),
            "4/4" => Ok(Self { beats: 4, unit: 4 }),
            "6/8" => Ok(Self { beats: 6, unit: 8 }),
            other => Err(TuneFault::Meter(other.to_owned())),
        }
    }

    /// Eighths in a bar.
    #[must_use]
    pub const fn eighths(self) -> u8 {
        self.beats * 8 / self.unit
    }
}

/// The sharps of a major key, negative for flats.
///
/// # Errors
/// [`TuneFault::Key`] for a key beginners do not meet.
pub fn sharps_of(key: &str) -> Result<i8, TuneFault> {
    match key {
        "C" => Ok(0),
        "G" => Ok(1),
        "D" => Ok(2),
        "A" => Ok(3),
        "E" => Ok(4),
        "F" => Ok(-1),
        "Bb" => Ok(-2),
        "Eb" => Ok(-3),
        other => Err(TuneFault::Key(other.to_owned())),
    }
}

/// The notes of a text. Bars may be written with `|`; then each holds `bar_eighths`, the last one as many or fewer.
///
/// # Errors
/// [`TuneFault`] with the word that is wrong.
pub fn notes(text: &str, bar_eighths: u8) -> Result<Vec<TuneNote>, TuneFault> {
    let mut notes = Vec::new();
    let bars: Vec<&str> = text.split('|').collect();
    let last = bars.len() - 1;
    for (index, bar) in bars.iter().enumerate() {
        let first = notes.len();
        for word in bar.split_whitespace() {
            notes.push(note(word).ok_or_else(|| TuneFault::NoNote(word.to_owned()))?);
            if notes.len() > MAX_TUNE_NOTES {
                return Err(TuneFault::TooLong);
            }
        }
        let eighths: u32 = notes[first..].iter().map(|note: &TuneNote| u32::from(note.eighths)).sum();
        let whole = eighths == u32::from(bar_eighths);
        let part = index == last && eighths < u32::from(bar_eighths);
        if last > 0 && !whole && !part {
            return Err(TuneFault::Bar(index + 1, eighths, bar_eighths));
        }
    }
    if notes.iter().all(|note| note.midi.is_none()) { Err(TuneFault::Empty) } else { Ok(notes) }
}

fn note(word: &str) -> Option<TuneNote> {
    let (pitch, eighths) = word.split_once(':').unwrap_or((word, "2"));
    let eighths: u8 = eighths.parse().ok().filter(|eighths| (1..=MAX_NOTE_EIGHTHS).contains(eighths))?;
    let midi = if pitch == "-" { None } else { Some(midi_of(pitch).filter(|midi| (24..=100).contains(midi))?) };
    Some(TuneNote { midi, eighths })
}

/// Notes cut at bar lines and into values that can be written with one head: `(index of the note, eighths, goes on)`,
/// bar by bar.
#[must_use]
pub fn bars(tune: &Tune) -> Vec<Vec<(usize, u8, bool)>> {
    /// What one head can say, with a dot or without, longest first.
    const HEADS: [u8; 6] = [8, 6, 4, 3, 2, 1];
    let mut bars = vec![Vec::new()];
    let mut room = tune.bar_eighths;
    for (index, note) in tune.notes.iter().enumerate() {
        let mut left = note.eighths;
        while left > 0 {
            if room == 0 {
                bars.push(Vec::new());
                room = tune.bar_eighths;
            }
            let head = HEADS.into_iter().find(|head| *head <= left.min(room)).unwrap_or(1);
            left -= head;
            room -= head;
            if let Some(bar) = bars.last_mut() {
                bar.push((index, head, left > 0));
            }
        }
    }
    bars
}
