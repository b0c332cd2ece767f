//! Tunes: a few notes written as text, `D4 E4 F#4:4 - G4:1`, with what is needed to write them down for four instruments.

use crate::craft::pitch::{midi_of, note_name, spelled};

/// The most notes that a tune has.
pub const MAX_TUNE_NOTES: usize = 96;
/// The longest note, in eighths: a whole note.
pub const MAX_NOTE_EIGHTHS: u8 = 8;
/// The longest a note becomes by going on over bar lines, in eighths: four whole notes.
pub const MAX_HELD_EIGHTHS: u8 = 32;
/// The most letters of a tune's name.
pub const MAX_TUNE_NAME_LENGTH: usize = 60;
/// The slowest and the fastest tempo, in beats a minute.
pub const TEMPO: std::ops::RangeInclusive<u16> = 30..=240;

/// A note of a tune: a pitch and how long it lasts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TuneNote {
    /// MIDI note number; `None` for a rest.
    pub midi: Option<u8>,
    /// In eighths of a quarter's half: 2 is a quarter, 1 an eighth, 8 a whole note of four quarters.
    pub eighths: u8,
}

/// A key of at most four sharps or three flats.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Key {
    /// Sharps, negative for flats.
    pub sharps: i8,
    /// Whether it is minor.
    pub minor: bool,
}

/// The notes of a text, and how it begins.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Line {
    /// Note by note.
    pub notes: Vec<TuneNote>,
    /// Eighths before the first whole bar; 0 where the tune begins with one.
    pub pickup_eighths: u8,
}

/// A tune as the class sees it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Tune {
    /// `hot-cross-buns`; empty for one that was built on screen.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Its key.
    pub key: Key,
    /// Its meter as it is written.
    pub meter: Meter,
    /// Beats a minute, where they are said: quarters, dotted quarters in 6/8.
    pub tempo: Option<u16>,
    /// Eighths before the first whole bar.
    pub pickup_eighths: u8,
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
    #[error(
        "“{0}” is no note: write a letter with its octave, such as F#4, D4:4 for a half note, - for a rest, or _ for a note that goes on."
    )]
    NoNote(String),
    /// A bar that is too short or too long.
    #[error("Bar {0} has {1} eighths instead of {2}.")]
    Bar(usize, u32, u8),
    /// No such meter.
    #[error("“{0}” is no meter of ours: 2/4, 3/4, 4/4 or 6/8.")]
    Meter(String),
    /// No such key.
    #[error("“{0}” is no key of ours: {KEYS}, and the minor keys beside them, such as Em.")]
    Key(String),
    /// No such tempo.
    #[error("A tempo is {} to {} beats a minute.", TEMPO.start(), TEMPO.end())]
    Tempo,
}

/// The major keys, by name.
const KEYS: &str = "C, G, D, A, E, F, Bb or Eb";
/// Major and minor keys by their sharps.
const NAMED: [(i8, &str, &str); 8] = [
    (0, "C", "Am"),
    (1, "G", "Em"),
    (2, "D", "Bm"),
    (3, "A", "F#m"),
    (4, "E", "C#m"),
    (-1, "F", "Dm"),
    (-2, "Bb", "Gm"),
    (-3, "Eb", "Cm"),
];

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

impl Key {
    /// The key of a text, `D` or `Bm`.
    ///
    /// # Errors
    /// [`TuneFault::Key`] for a key beginners do not meet.
    pub fn parse(text: &str) -> Result<Self, TuneFault> {
        let named = NAMED.into_iter().find(|(_, major, minor)| text == *major || text == *minor);
        let (sharps, major, _) = named.ok_or_else(|| TuneFault::Key(text.to_owned()))?;
        Ok(Self { sharps, minor: text != major })
    }

    /// What it is called, `D` or `Bm`; `None` where it has more sharps or flats than ours.
    #[must_use]
    pub fn name(self) -> Option<&'static str> {
        let (_, major, minor) = NAMED.into_iter().find(|(sharps, ..)| *sharps == self.sharps)?;
        Some(if self.minor { minor } else { major })
    }
}

/// A tempo in beats a minute.
///
/// # Errors
/// [`TuneFault::Tempo`] for one that nobody plays.
pub fn tempo(beats: u16) -> Result<u16, TuneFault> {
    if TEMPO.contains(&beats) { Ok(beats) } else { Err(TuneFault::Tempo) }
}

/// The notes of a text. Bars may be written with `|`; then each holds `bar_eighths`, the first one (an upbeat) and the last one as
/// many or fewer. A note that is held over a bar line goes on as `_`: `D4:4 | _:2`.
///
/// # Errors
/// [`TuneFault`] with the word that is wrong.
pub fn line(text: &str, bar_eighths: u8) -> Result<Line, TuneFault> {
    let mut notes: Vec<TuneNote> = Vec::new();
    let mut pickup_eighths = 0;
    let bars: Vec<&str> = text.split('|').collect();
    let last = bars.len() - 1;
    for (index, bar) in bars.iter().enumerate() {
        let mut eighths = 0_u32;
        for word in bar.split_whitespace() {
            let no_note = || TuneFault::NoNote(word.to_owned());
            let (pitch, length) = length(word).ok_or_else(no_note)?;
            eighths += u32::from(length);
            match notes.last_mut() {
                Some(held) if pitch == "_" => {
                    held.eighths =
                        Some(held.eighths + length).filter(|all| *all <= MAX_HELD_EIGHTHS).ok_or_else(no_note)?;
                }
                _ => {
                    let midi = if pitch == "-" { None } else { Some(sounding(pitch).ok_or_else(no_note)?) };
                    notes.push(TuneNote { midi, eighths: length });
                }
            }
            if notes.len() > MAX_TUNE_NOTES {
                return Err(TuneFault::TooLong);
            }
        }
        let short = eighths < u32::from(bar_eighths);
        if index == 0 && last > 0 && short {
            pickup_eighths = u8::try_from(eighths).unwrap_or_default();
        } else if last > 0 && eighths != u32::from(bar_eighths) && !(index == last && short) {
            return Err(TuneFault::Bar(index + 1, eighths, bar_eighths));
        }
    }
    if notes.iter().all(|note| note.midi.is_none()) {
        Err(TuneFault::Empty)
    } else {
        Ok(Line { notes, pickup_eighths })
    }
}

/// A word's pitch, and how long it is written, in eighths.
fn length(word: &str) -> Option<(&str, u8)> {
    let (pitch, eighths) = word.split_once(':').unwrap_or((word, "2"));
    let eighths = eighths.parse().ok().filter(|eighths| (1..=MAX_NOTE_EIGHTHS).contains(eighths))?;
    Some((pitch, eighths))
}

/// The MIDI number of a written pitch that a tune may have.
fn sounding(pitch: &str) -> Option<u8> {
    midi_of(pitch).filter(|midi| (24..=100).contains(midi))
}

/// How fast a tune goes that does not say it, in beats a minute: slowly enough for beginners.
pub const USUAL_TEMPO: u16 = 80;

impl Meter {
    /// Eighths in a beat: a quarter's two, a dotted quarter's three in 6/8.
    #[must_use]
    pub const fn beat_eighths(self) -> u8 {
        if self.unit == 8 { 3 } else { 2 }
    }
}

impl Tune {
    /// What a pitch is called in the tune: as its key spells it, a note that stands alone as beginners meet it.
    #[must_use]
    pub fn name_of(&self, midi: u8) -> String {
        if self.notes.len() == 1 { note_name(midi) } else { spelled(midi, self.key.sharps).to_string() }
    }

    /// Seconds of an eighth.
    #[must_use]
    pub fn eighth_seconds(&self) -> f64 {
        60.0 / (f64::from(self.tempo.unwrap_or(USUAL_TEMPO)) * f64::from(self.meter.beat_eighths()))
    }

    /// The tune's notes as [`line`] reads them, bar by bar, each as the key spells it.
    #[must_use]
    pub fn text(&self) -> String {
        let mut begun = None;
        let mut word = |(index, eighths, _): &(usize, u8, bool)| {
            let pitch = match self.notes[*index].midi {
                _ if begun == Some(*index) => "_".to_owned(),
                Some(midi) => self.name_of(midi),
                None => "-".to_owned(),
            };
            begun = Some(*index);
            if *eighths == 2 { pitch } else { format!("{pitch}:{eighths}") }
        };
        let bars = bars(self);
        let bars = bars.iter().map(|bar| bar.iter().map(&mut word).collect::<Vec<_>>().join(" "));
        bars.collect::<Vec<_>>().join(" | ")
    }
}

/// Notes cut at bar lines and into values that can be written with one head: `(index of the note, eighths, goes on)`,
/// bar by bar.
#[must_use]
pub fn bars(tune: &Tune) -> Vec<Vec<(usize, u8, bool)>> {
    /// What one head can say, with a dot or without, longest first.
    const HEADS: [u8; 6] = [8, 6, 4, 3, 2, 1];
    let mut bars = vec![Vec::new()];
    let whole = tune.meter.eighths();
    let mut room = if tune.pickup_eighths == 0 { whole } else { tune.pickup_eighths };
    for (index, note) in tune.notes.iter().enumerate() {
        let mut left = note.eighths;
        while left > 0 {
            if room == 0 {
                bars.push(Vec::new());
                room = whole;
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
