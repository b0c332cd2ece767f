//! Where the first notes are played: from tunings and finger patterns alone, never from a typed list.

use crate::instrument::{Instrument, InstrumentFacts};

/// The fingers of first position with their semitones above the open string.
#[must_use]
pub const fn fingers(instrument: Instrument) -> &'static [(&'static str, u8)] {
    match instrument {
        Instrument::Violin | Instrument::Viola => &[("1", 2), ("2", 4), ("3", 5), ("4", 7), ("low 1", 1), ("low 2", 3)],
        Instrument::Cello => &[("1", 2), ("2", 3), ("3", 4), ("4", 5), ("stretched 4", 6)],
        Instrument::Bass => &[("1", 2), ("2", 3), ("4", 4)],
    }
}

/// How a note is made.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Stop {
    /// With a finger on its string.
    Finger(&'static str),
    /// On the open string of that letter.
    Open(char),
}

/// A note that beginners meet first: so many semitones above the open string of a letter.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct FirstNote {
    /// The letter of the string, which all four have.
    pub string: char,
    /// Semitones above it.
    pub semitones: u8,
}

/// The first notes on the two strings that all four instruments have.
pub const FIRST_NOTES: [FirstNote; 6] = [
    FirstNote { string: 'D', semitones: 2 },
    FirstNote { string: 'D', semitones: 4 },
    FirstNote { string: 'D', semitones: 5 },
    FirstNote { string: 'A', semitones: 2 },
    FirstNote { string: 'A', semitones: 4 },
    FirstNote { string: 'A', semitones: 5 },
];

/// What a pitch is called, by its MIDI note number, in the keys that beginners play in.
#[must_use]
pub fn name(midi: u8) -> &'static str {
    const NAMES: [&str; 12] = ["C", "C sharp", "D", "E flat", "E", "F", "F sharp", "G", "G sharp", "A", "B flat", "B"];
    NAMES[usize::from(midi % 12)]
}

impl FirstNote {
    /// What it is called on an instrument, and how it is made there in first position; `None` where it cannot be.
    #[must_use]
    pub fn on(self, facts: &InstrumentFacts) -> Option<(&'static str, Stop)> {
        let string = facts.strings.iter().find(|open| open.note.starts_with(self.string))?;
        let pitch = string.midi + self.semitones;
        let finger = fingers(facts.instrument).iter().find(|(_, semitones)| *semitones == self.semitones);
        let open = || facts.strings.iter().find(|open| open.midi == pitch).and_then(|open| open.note.chars().next());
        let stop = finger.map(|(finger, _)| Stop::Finger(finger)).or_else(|| open().map(Stop::Open))?;
        Some((name(pitch), stop))
    }
}
