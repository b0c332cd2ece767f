//! Notes that are played one after the other: each is taken when it holds still, and all together say how a marker or a hand lies.

use super::hand::{HandPattern, StoppedNote, hand_pattern};
use super::listener::Heard;
use super::note::cents;

/// The most notes of a run.
pub const MAX_NOTES: usize = 8;
/// Moments that hold still before a note is taken: 0.3 s.
const HELD: usize = 15;
/// So many of them, at either end, may stray.
const STRAY: usize = 2;
/// The others lie within so many cents.
const STILL_CENTS: f64 = 12.0;
/// A pitch so far from the note that was taken last is another note.
const OTHER_CENTS: f64 = 70.0;
/// Moments without a pitch after which what comes is played anew: 60 ms.
const SILENT: u32 = 3;
/// So much louder it is played anew, in decibels.
const ANEW_DB: f64 = 8.0;

/// A note that is to be played.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct RunNote {
    /// What it should sound.
    pub hz: f64,
    /// Which finger stops it, 1 to 4; 0: a sound that those after it are compared with, such as an open string.
    pub finger: u8,
}

/// Follows a run. What is stopped is compared with the sound before it that nothing was to be compared with: an open string that is
/// low does not make its fingers low.
#[derive(Clone, Debug)]
pub struct Run {
    notes: [RunNote; MAX_NOTES],
    count: usize,
    within: f64,
    /// How far above each note that was taken was.
    taken: [f64; MAX_NOTES],
    at: usize,
    /// How far off the sound to compare with was.
    against: f64,
    still: [f64; HELD],
    known: usize,
    /// Since the last note was taken it has not been played anew.
    wait: Option<Waiting>,
}

/// A note was taken and may still sound.
#[derive(Clone, Copy, Debug)]
struct Waiting {
    hz: f64,
    quietest_db: f64,
    silent: u32,
}

impl Run {
    /// For at most [`MAX_NOTES`] notes, those after are left out; what is further than `within` cents from a note is not that note.
    #[must_use]
    pub fn new(notes: &[RunNote], within: f64) -> Self {
        let mut run = Self {
            notes: [RunNote { hz: 0.0, finger: 0 }; MAX_NOTES],
            count: notes.len().min(MAX_NOTES),
            within,
            taken: [0.0; MAX_NOTES],
            at: 0,
            against: 0.0,
            still: [0.0; HELD],
            known: 0,
            wait: None,
        };
        run.notes[..run.count].copy_from_slice(&notes[..run.count]);
        run
    }

    /// Takes a moment; how far above the note that is to be played it is, in cents, where it is that note.
    pub fn hear(&mut self, heard: &Heard) -> Option<f64> {
        let note = *self.notes[..self.count].get(self.at)?;
        if self.waits(heard) {
            return None;
        }
        let hz = heard.pitch?.hz;
        let off = cents(hz, note.hz) - if note.finger == 0 { 0.0 } else { self.against };
        if !off.is_finite() || off.abs() > self.within {
            self.known = 0;
            return None;
        }
        self.still[self.known % HELD] = off;
        self.known += 1;
        if let Some(middle) = self.holds_still() {
            self.take(note, middle, hz, heard.level_db);
        }
        Some(off)
    }

    fn waits(&mut self, heard: &Heard) -> bool {
        let Some(mut last) = self.wait else { return false };
        last.silent = if heard.pitch.is_none() { last.silent + 1 } else { 0 };
        let anew = heard.level_db > last.quietest_db + ANEW_DB;
        let other = heard.pitch.is_some_and(|pitch| cents(pitch.hz, last.hz).abs() > OTHER_CENTS);
        last.quietest_db = last.quietest_db.min(heard.level_db);
        self.wait = (last.silent < SILENT && !anew && !other).then_some(last);
        self.wait.is_some()
    }

    /// The middle of the latest moments, where they hold still.
    fn holds_still(&self) -> Option<f64> {
        if self.known < HELD {
            return None;
        }
        let mut sorted = self.still;
        sorted.sort_unstable_by(f64::total_cmp);
        (sorted[HELD - 1 - STRAY] - sorted[STRAY] <= STILL_CENTS).then_some(sorted[HELD / 2])
    }

    fn take(&mut self, note: RunNote, off: f64, hz: f64, level_db: f64) {
        if note.finger == 0 {
            self.against = off;
        }
        self.taken[self.at] = off;
        self.at += 1;
        self.known = 0;
        self.wait = Some(Waiting { hz, quietest_db: level_db, silent: 0 });
    }

    /// How far above each note that was played was, in the order of the run, in cents; what is stopped beside the sound before it.
    #[must_use]
    pub fn taken(&self) -> &[f64] {
        &self.taken[..self.at]
    }

    /// Whether every note was played.
    #[must_use]
    pub const fn is_over(&self) -> bool {
        self.at == self.count
    }

    /// What the stopped notes say together, once the run is over and at least two were stopped.
    #[must_use]
    pub fn pattern(&self) -> Option<HandPattern> {
        let mut stopped = [StoppedNote { finger: 0, cents: 0.0 }; MAX_NOTES];
        let mut count = 0;
        for (note, cents) in self.notes.iter().zip(self.taken()).filter(|(note, _)| note.finger > 0) {
            stopped[count] = StoppedNote { finger: note.finger, cents: *cents };
            count += 1;
        }
        if self.is_over() { hand_pattern(&stopped[..count]) } else { None }
    }
}
