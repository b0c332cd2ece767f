//! How a marker is proved by ear: against an open string where there is one to compare, else step by step from a marker that
//! is proved, else against a reference tone. Found from the tuning alone.

use serde::{Deserialize, Serialize};

use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::craft::pitch::note_name;
use crate::tapes::finger::Finger;
use crate::tapes::layout::open_hz;
use crate::tapes::settings::{MarkerSettings, Temperament};

/// Cents allowed on top where the compared strings are two octaves apart or tuned in pure fifths.
pub const FAR_CENTS: f64 = 6.0;

/// A stopped note on one string.
#[derive(Clone, Debug, PartialEq)]
pub struct Stopped {
    /// The string, from the lowest.
    pub string: usize,
    /// MIDI note number.
    pub midi: u8,
    /// Its frequency in hertz.
    pub hz: f64,
}

impl Stopped {
    /// Letter and octave.
    #[must_use]
    pub fn note(&self) -> String {
        note_name(self.midi)
    }
}

/// How a stopped note lies to an open string: so many octaves above it, 0 for the same pitch, negative for below.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Relation(pub i8);

impl Relation {
    /// `unison`, `octave above`, `two octaves below`.
    #[must_use]
    pub fn words(self) -> String {
        let way = if self.0 < 0 { "below" } else { "above" };
        match self.0.unsigned_abs() {
            0 => "unison".to_owned(),
            1 => format!("octave {way}"),
            2 => format!("two octaves {way}"),
            3 => format!("three octaves {way}"),
            more => format!("{more} octaves {way}"),
        }
    }
}

/// A comparison with an open string.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct EarCheck {
    /// The string that is stopped, from the lowest.
    pub string: usize,
    /// The note that it sounds, by MIDI note number.
    pub midi: u8,
    /// The open string to compare it with.
    pub open: usize,
    /// How the stopped note lies to it.
    pub relation: Relation,
}

impl EarCheck {
    /// Cents allowed beside the class's tolerance.
    #[must_use]
    pub fn allows_cents(&self, temperament: Temperament) -> f64 {
        let far = self.relation.0.unsigned_abs() >= 2 || temperament == Temperament::Pythagorean;
        if far { FAR_CENTS } else { 0.0 }
    }
}

/// A comparison with a marker that is proved already.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct StepCheck {
    /// The proved marker.
    pub from: Finger,
    /// Semitones from it, negative for lower.
    pub semitones: i8,
}

/// What a marker `semitones` above the open strings sounds like on each string, low to high.
#[must_use]
pub fn stopped_notes(facts: &InstrumentFacts, semitones: u8, settings: &MarkerSettings) -> Vec<Stopped> {
    let ratio = settings.temperament.ratio(semitones);
    let stopped = |(string, open): (usize, &crate::craft::instrument::OpenString)| Stopped {
        string,
        midi: open.midi + semitones,
        hz: open_hz(facts, string, settings) * ratio,
    };
    facts.strings.iter().enumerate().map(stopped).collect()
}

/// Every comparison of a marker with an open string at the unison or in whole octaves: the nearest relation first, then the
/// lower string.
#[must_use]
pub fn ear_checks(facts: &InstrumentFacts, semitones: u8) -> Vec<EarCheck> {
    let mut found = Vec::new();
    for (string, stopped) in facts.strings.iter().enumerate() {
        let midi = stopped.midi + semitones;
        for (open, other) in facts.strings.iter().enumerate() {
            let apart = i16::from(midi) - i16::from(other.midi);
            if apart % 12 == 0 {
                let octaves = i8::try_from(apart / 12).unwrap_or(i8::MAX);
                found.push(EarCheck { string, midi, open, relation: Relation(octaves) });
            }
        }
    }
    found.sort_by_key(|check| (check.relation.0.unsigned_abs(), check.string, check.open));
    found
}

/// The nearest marker among these from which `finger` can be found by steps: one with an ear check of its own, the lower of
/// two equally near. `None` where there is none, or where the finger has an ear check itself.
#[must_use]
pub fn step_check(facts: &InstrumentFacts, finger: Finger, among: &[Finger]) -> Option<StepCheck> {
    let semitones = finger.semitones(facts.instrument)?;
    if !ear_checks(facts, semitones).is_empty() {
        return None;
    }
    let apart = |from: &Finger| {
        let other = from.semitones(facts.instrument)?;
        let proved = *from != finger && other != semitones && !ear_checks(facts, other).is_empty();
        proved.then(|| (*from, i16::from(semitones) - i16::from(other)))
    };
    let (from, semitones) = among.iter().filter_map(apart).min_by_key(|(_, apart)| (apart.abs(), -*apart))?;
    Some(StepCheck { from, semitones: i8::try_from(semitones).ok()? })
}

/// The order in which markers are laid and proved: the anchor first, the one whose ear check is nearest (a unison or octave
/// with an open string, of equals the one that the hand is built from), then the others that have one, then those found by
/// steps.
#[must_use]
pub fn placing_order(facts: &InstrumentFacts, fingers: &[Finger]) -> Vec<Finger> {
    let mut order = fingers.to_vec();
    let built_from: &[Finger] = match facts.instrument {
        Instrument::Violin | Instrument::Viola => &[Finger::Three, Finger::One, Finger::Four, Finger::Two],
        Instrument::Cello => &[Finger::Four, Finger::One, Finger::Three, Finger::Two],
        Instrument::Bass => &[Finger::One, Finger::Four, Finger::Two],
    };
    let rank = |finger: &Finger| {
        let semitones = finger.semitones(facts.instrument).unwrap_or_default();
        let nearest = ear_checks(facts, semitones).first().map_or(9, |check| check.relation.0.unsigned_abs().max(1));
        let built = built_from.iter().position(|known| known == finger).unwrap_or(built_from.len());
        (nearest, built, semitones)
    };
    order.sort_by_key(rank);
    order
}
