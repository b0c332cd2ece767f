//! The logs of the invented school's instruments, made from what was seen of their markers in class.

use std::collections::BTreeMap;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::level::Level;
use bright_row_core::number::tenths;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::tapes::ear_checks::{ear_checks, placing_order};
use bright_row_core::tapes::finger::{Finger, Spot};
use bright_row_core::tapes::layout::{distance_mm, edge_mm};
use bright_row_core::tapes::log::{Heard, Proof, TapeEvent, TapeWork};
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_core::{AccountId, ChildId};
use bright_row_store::instruments::assets::Asset;
use bright_row_store::instruments::tapes::Entry;
use chrono::{DateTime, Duration, Utc};
use rand::{Rng, RngExt};

use super::id;

/// Every so many instruments were heard with a tuner.
const TUNER_EVERY: usize = 3;
/// Every so many were measured with a ruler once their markers were on.
const RULER_EVERY: usize = 7;

/// What was done to one instrument, entry by entry.
struct LogStory<'a, R> {
    asset: &'a Asset,
    set: &'a MarkerSet,
    number: usize,
    by: AccountId,
    chance: &'a mut R,
    entries: Vec<Entry>,
}

/// The logs of lent instruments, from the observations of the children who have them.
pub(super) fn tell(
    lent: &[(ChildId, Asset)],
    sets: &BTreeMap<Instrument, MarkerSet>,
    observations: &[Observation],
    by: AccountId,
    chance: &mut impl Rng,
) -> Vec<Entry> {
    let mut entries = Vec::new();
    for (number, (child, asset)) in lent.iter().enumerate() {
        let mut story = LogStory { asset, set: &sets[&asset.instrument], number, by, chance, entries: Vec::new() };
        let seen = observations.iter().filter(|observation| observation.child == *child);
        let levels = seen.filter_map(|observation| match &observation.seen {
            Observed::Level { level, .. } => {
                Some((observation.target.id(), *level >= Level::Alone, observation.observed_at))
            }
            _ => None,
        });
        let looks: Vec<_> = levels.filter(|(target, ..)| target.starts_with("tape.")).collect();
        for (target, there, at) in looks {
            // Whoever records it in class has done the work just before.
            story.work(target, there, at - Duration::minutes(4));
        }
        entries.extend(story.entries);
    }
    entries
}

impl<R: Rng> LogStory<'_, R> {
    fn log(&mut self, at: DateTime<Utc>, work: TapeWork) {
        let at = at + Duration::seconds(i64::try_from(self.entries.len() % 60).unwrap_or_default());
        let event = TapeEvent { id: id(self.chance, at).into(), at, work };
        self.entries.push(Entry { asset: self.asset.id, event, account: self.by });
    }

    fn work(&mut self, target: &str, there: bool, at: DateTime<Utc>) {
        match (target, there) {
            ("tape.measured", true) if self.asset.string_length_mm.is_none() => {
                let length_mm = self.length_mm() + f64::from(self.chance.random_range(-2..=2_i32));
                self.log(at, TapeWork::Measured { length_mm });
            }
            ("tape.placed", true) => {
                self.log(
                    at,
                    TapeWork::Placed { spots: self.set.spots.iter().copied().collect(), strips: self.set.strips() },
                );
                if self.number.is_multiple_of(RULER_EVERY) {
                    self.measure(at);
                }
            }
            ("tape.heard", true) => self.hear(at),
            ("tape.holding", false) => self.slip(at + Duration::minutes(4)),
            _ => {}
        }
    }

    fn length_mm(&self) -> f64 {
        let usual = || self.set.facts.size(&self.asset.size).map(|size| size.string_length_mm);
        self.asset.string_length_mm.or_else(usual).unwrap_or(bright_row_core::tapes::layout::MIN_STRING_MM)
    }

    fn measure(&mut self, at: DateTime<Utc>) {
        let length = self.length_mm();
        let mut edges: BTreeMap<Finger, f64> = BTreeMap::new();
        for finger in self.set.fingers() {
            let semitones = finger.semitones(self.asset.instrument).unwrap_or_default();
            let line = distance_mm(length, semitones, self.set.settings.temperament);
            let off = f64::from(self.chance.random_range(-8..=8_i32)) / 10.0;
            edges.insert(finger, tenths(edge_mm(&self.set.settings, line) + off));
        }
        self.log(at, TapeWork::Positions { edges });
    }

    fn hear(&mut self, at: DateTime<Utc>) {
        let with_tuner = self.number.is_multiple_of(TUNER_EVERY);
        for finger in placing_order(&self.set.facts, &self.set.fingers()) {
            let semitones = finger.semitones(self.asset.instrument).unwrap_or_default();
            let by_ear =
                if ear_checks(&self.set.facts, semitones).is_empty() { Proof::Step } else { Proof::OpenString };
            let work = if with_tuner {
                let cents = f64::from(self.chance.random_range(2..=6_i32));
                TapeWork::Heard { finger, proof: Proof::Tuner, heard: Heard::Cents(cents), microphone: false }
            } else {
                TapeWork::Heard { finger, proof: by_ear, heard: Heard::True, microphone: false }
            };
            self.log(at, work);
        }
    }

    /// A marker crept, or came off.
    fn slip(&mut self, at: DateTime<Utc>) {
        let fingers = self.set.fingers();
        let finger = fingers[self.chance.random_range(0..fingers.len())];
        let work = if self.asset.instrument == Instrument::Cello {
            TapeWork::Missing { spots: [Spot::Finger(finger)].into() }
        } else {
            TapeWork::Heard { finger, proof: Proof::Tuner, heard: Heard::Cents(17.0), microphone: false }
        };
        self.log(at, work);
    }
}
