//! What is played one after the other on a string so that one hears how the hand lies: the open string, then each finger.

use serde::{Deserialize, Serialize};

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::tapes::ear_checks::stopped_notes;
use crate::tapes::finger::Finger;
use crate::tapes::layout::open_hz;
use crate::tapes::settings::MarkerSettings;

/// An instrument's strings as a class tunes them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TunedStrings {
    /// Which instrument.
    pub instrument: Instrument,
    /// Low to high.
    pub strings: Vec<TunedString>,
}

/// A string as a class tunes it, and what the hand's fingers stop on it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TunedString {
    /// Letter and octave.
    pub note: String,
    /// The open string in hertz.
    pub hz: f64,
    /// What each finger of the run stops, up the string.
    pub fingers: Vec<FingerTone>,
}

/// What a finger stops.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FingerTone {
    /// 1 to 4.
    pub finger: u8,
    /// In hertz.
    pub hz: f64,
}

/// The fingers that a hand is built from: whole tones with the semitone above the second on violin and viola, the closed hand of
/// the cello, and the whole tone of the bass, whose third only helps the fourth.
const fn fingers(on: Instrument) -> &'static [Finger] {
    match on {
        Instrument::Violin | Instrument::Viola => &[Finger::One, Finger::Two, Finger::Three],
        Instrument::Cello => &[Finger::One, Finger::Two, Finger::Three, Finger::Four],
        Instrument::Bass => &[Finger::One, Finger::Two, Finger::Four],
    }
}

impl TunedStrings {
    /// The strings of an instrument, at the A4 and in the temperament of a class.
    #[must_use]
    pub fn new(facts: &InstrumentFacts, settings: &MarkerSettings) -> Self {
        let tone = |finger: &Finger, string: usize| {
            let semitones = finger.semitones(facts.instrument)?;
            Some(FingerTone { finger: finger.number(), hz: stopped_notes(facts, semitones, settings)[string].hz })
        };
        let strings = facts.strings.iter().enumerate().map(|(string, open)| TunedString {
            note: open.note.clone(),
            hz: open_hz(facts, string, settings),
            fingers: fingers(facts.instrument).iter().filter_map(|finger| tone(finger, string)).collect(),
        });
        Self { instrument: facts.instrument, strings: strings.collect() }
    }
}
