//! Where notes are played on the four instruments: from tunings and finger patterns alone, never from a typed list.

use crate::craft::checklist::Need;
use crate::craft::instrument::{Instrument, InstrumentFacts, OpenString};
use crate::craft::pitch::name;
use crate::craft::tune::TuneNote;
use crate::progress::ladder::{Ladder, StageState};
use crate::tapes::finger::Finger;
use serde::Serialize;

/// How a note is made.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Stop {
    /// With a finger on its string.
    Finger(Finger),
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

impl FirstNote {
    /// What it is called on an instrument, and how it is made there in first position; `None` where it cannot be.
    #[must_use]
    pub fn on(self, facts: &InstrumentFacts) -> Option<(String, Stop)> {
        let string = facts.strings.iter().find(|open| open.note.starts_with(self.string))?;
        let pitch = string.midi + self.semitones;
        let fits = |finger: &&Finger| finger.semitones(facts.instrument) == Some(self.semitones);
        let finger = Finger::of(facts.instrument).iter().find(fits);
        let open = || facts.strings.iter().find(|open| open.midi == pitch).and_then(|open| open.note.chars().next());
        let stop = finger.map(|finger| Stop::Finger(*finger)).or_else(|| open().map(Stop::Open))?;
        Some((name(pitch), stop))
    }
}

/// One way to play a pitch in first position.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Fingering {
    /// The string, from the lowest.
    pub string: usize,
    /// The finger; `None` on the open string.
    pub finger: Option<Finger>,
    /// What sounds, by MIDI note number.
    pub midi: u8,
}

/// Every way to play a pitch in first position, the usual one first: the open string, then plain fingers before low and
/// stretched ones, then the higher string (a fourth finger is another way to an open string, not the first).
#[must_use]
pub fn fingerings(facts: &InstrumentFacts, midi: u8) -> Vec<Fingering> {
    let mut found: Vec<Fingering> = Vec::new();
    for (string, open) in facts.strings.iter().enumerate().rev() {
        if open.midi == midi {
            found.push(Fingering { string, finger: None, midi });
        }
    }
    let fingers = Finger::of(facts.instrument);
    let mut stopped: Vec<(usize, Fingering)> = Vec::new();
    for (string, open) in facts.strings.iter().enumerate().rev() {
        for (rank, finger) in fingers.iter().enumerate() {
            let semitones = finger.semitones(facts.instrument);
            if semitones.and_then(|semitones| open.midi.checked_add(semitones)) == Some(midi) {
                stopped.push((rank, Fingering { string, finger: Some(*finger), midi }));
            }
        }
    }
    // Plain fingers, then the others; stable, so the higher string stays first.
    let is_plain = |finger: Option<Finger>| finger.is_some_and(|finger| finger.id().len() == 1);
    stopped.sort_by_key(|(rank, fingering)| (!is_plain(fingering.finger), usize::MAX - fingering.string, *rank));
    found.extend(stopped.into_iter().map(|(_, fingering)| fingering));
    found
}

/// The range of first position: from the lowest open string to the highest stopped note, by MIDI note numbers.
#[must_use]
pub fn first_position(facts: &InstrumentFacts) -> (u8, u8) {
    let least = facts.strings.iter().map(|open| open.midi).min().unwrap_or_default();
    let most = facts.strings.iter().map(|open| open.midi).max().unwrap_or_default();
    let reach = Finger::of(facts.instrument).iter().filter_map(|finger| finger.semitones(facts.instrument)).max();
    (least, most + reach.unwrap_or_default())
}

/// A note of a tune on one instrument.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct PlacedNote {
    /// How it is played; `None` for a rest, and for a note that is not in first position.
    pub fingering: Option<Fingering>,
    /// The pitch in the part's octave; `None` for a rest.
    pub midi: Option<u8>,
    /// Octaves by which this note alone is moved to be in first position.
    pub folded: i8,
}

/// A tune on one instrument.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TunePart {
    /// Octaves by which the whole tune is moved, negative for down.
    pub octaves: i8,
    /// Note by note.
    pub notes: Vec<PlacedNote>,
    /// How many notes are in first position in no octave.
    pub missing: usize,
    /// How many notes are moved by octaves of their own.
    pub folded: usize,
}

impl TunePart {
    /// What was moved and where, for page, chart and file alike: `an octave lower`, `2 notes an octave lower by themselves`; `None`
    /// where every note is where it was asked.
    #[must_use]
    pub fn moved(&self) -> Option<String> {
        let octaves = |by: i8| {
            let way = if by < 0 { "lower" } else { "higher" };
            match by.unsigned_abs() {
                1 => format!("an octave {way}"),
                many => format!("{} octaves {way}", COUNT[usize::from(many.min(5))]),
            }
        };
        let mut said = Vec::new();
        if self.octaves != 0 {
            said.push(octaves(self.octaves));
        }
        let mut folds: Vec<i8> = self.notes.iter().map(|placed| placed.folded).filter(|by| *by != 0).collect();
        folds.sort_unstable();
        for group in folds.chunk_by(|a, b| a == b) {
            let notes = if group.len() == 1 { "1 note".to_owned() } else { format!("{} notes", group.len()) };
            said.push(format!("{notes} {} than the rest", octaves(group[0])));
        }
        (!said.is_empty()).then(|| said.join(", "))
    }
}

/// Numbers in words.
const COUNT: [&str; 6] = ["no", "one", "two", "three", "four", "five"];

/// A tune in an instrument's first position. The octave asked is kept wherever first position has all of it, low and high
/// fingers included; only else is the tune moved as a whole, by the octave in which it lies best: every note there is, then the
/// first note where it belongs, then the fewest notes folded, then the nearest, down before up. A note that is outside there is
/// folded by octaves of its own; one that has no octave in first position is missing.
#[must_use]
pub fn part(facts: &InstrumentFacts, tune: &[TuneNote]) -> TunePart {
    let parts = (-5..=5).map(|octaves| moved(facts, tune, octaves));
    let best = parts.min_by_key(|part| {
        let first = part.notes.iter().find(|placed| placed.midi.is_some()).is_some_and(|placed| placed.folded != 0);
        let near = (part.octaves.unsigned_abs(), part.octaves > 0);
        (part.missing, first, part.folded, near)
    });
    best.unwrap_or_else(|| moved(facts, tune, 0))
}

fn moved(facts: &InstrumentFacts, tune: &[TuneNote], octaves: i8) -> TunePart {
    /// Down before up: low is where beginners play.
    const FOLDS: [i8; 9] = [0, -1, 1, -2, 2, -3, 3, -4, 4];
    let pitch =
        |midi: u8, octaves: i8| u8::try_from(i16::from(midi) + i16::from(octaves) * 12).ok().filter(|midi| *midi < 128);
    let place = |note: &TuneNote| {
        let midi = note.midi.and_then(|midi| pitch(midi, octaves));
        let folded = FOLDS.into_iter().find_map(|fold| {
            let fingering = fingerings(facts, pitch(midi?, fold)?).first().copied()?;
            Some((fold, fingering))
        });
        PlacedNote {
            fingering: folded.map(|(_, fingering)| fingering),
            midi,
            folded: folded.map_or(0, |(fold, _)| fold),
        }
    };
    let notes: Vec<PlacedNote> = tune.iter().map(place).collect();
    let missing =
        tune.iter().zip(&notes).filter(|(note, placed)| note.midi.is_some() && placed.fingering.is_none()).count();
    let folded = notes.iter().filter(|placed| placed.folded != 0).count();
    TunePart { octaves, notes, missing, folded }
}

/// The fingers that a part needs.
#[must_use]
pub fn fingers_of(part: &TunePart) -> std::collections::BTreeSet<Finger> {
    part.notes.iter().filter_map(|placed| placed.fingering?.finger).collect()
}

/// What can be played meanwhile instead of a tune: the open string that sounds best with each note, the one an octave or
/// unison from it, else a fifth or fourth below, else the nearest below.
#[must_use]
pub fn open_instead(facts: &InstrumentFacts, midi: u8) -> Option<&OpenString> {
    let rank = |open: &&OpenString| {
        let above = (i16::from(midi) - i16::from(open.midi)).rem_euclid(12);
        let sounds = match above {
            0 => 0,
            7 => 1,
            5 => 2,
            3 | 4 => 3,
            8 | 9 => 4,
            _ => 5,
        };
        (sounds, (i16::from(midi) - i16::from(open.midi)).abs())
    };
    facts.strings.iter().min_by_key(rank)
}

/// The clef that an instrument's part is written in, and by how many octaves it is written above what sounds.
#[must_use]
pub const fn written(instrument: Instrument) -> (Clef, u8) {
    match instrument {
        Instrument::Violin => (Clef::Treble, 0),
        Instrument::Viola => (Clef::Alto, 0),
        Instrument::Cello => (Clef::Bass, 0),
        Instrument::Bass => (Clef::Bass, 1),
    }
}

/// A clef.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Clef {
    /// G on the second line.
    Treble,
    /// C on the third line.
    Alto,
    /// F on the fourth line.
    Bass,
}

/// The stage at which fingers sound notes.
const SOUNDING_STAGE: &str = "frame.4";

/// What a child still waits for before it can play a part: nothing where the part needs no finger, or where the stage at which
/// fingers sound notes is not shut.
#[must_use]
pub fn waits_for<'a>(ladder: &'a Ladder, part: &TunePart) -> &'a [Need] {
    let view = ladder.stages.iter().find(|view| view.stage.as_str() == SOUNDING_STAGE);
    match view.map(|view| &view.state) {
        Some(StageState::Shut(needs)) if !fingers_of(part).is_empty() => needs,
        _ => &[],
    }
}
