//! How a bow sounds: what is judged of a sound that was bowed.

use super::listener::Heard;
use super::sounds::Verdict;

/// Strokes begin otherwise than they go on, for so many moments.
const BEGINS: usize = 8;
/// And end so.
const ENDS: usize = 3;
/// Fewer steady moments say nothing.
const MIN_STEADY: usize = 12;
/// Periods that are less alike than this grate.
const GRATES_ALIKE: f64 = 0.65;
/// Periods that are less alike than this have more breath than tone.
const HUSHED_ALIKE: f64 = 0.92;
/// Moments that a tremble is looked for in: 0.18 s.
const TREMBLE: usize = 9;
/// A level that is so far from the mean around it, in decibels, half of the time or more, trembles.
const TREMBLES_DB: f64 = 0.7;
/// So much louder than before and after, in decibels, a stroke lands with a jump.
const JUMPS_DB: f64 = 2.5;
/// So much less alike the periods are while the bow turns.
const TURNS_ALIKE: f64 = 0.015;
/// Moments from the turn to the loudest of a jump.
const LANDS: usize = 18;
/// Moments after which a jump has calmed down.
const CALM: usize = 22;
/// Moments before a jump that are left out: the turn itself.
const TURN: usize = 10;

/// A tone at 440 Hz with so great a share above 3 kHz is glassy; the share grows with the square root of the pitch. Measured on the
/// simulated string (docs/decisions/0034). At 8 kHz and the like nothing lies there, and nothing is called glassy.
const GLASSY: f64 = 0.24;
/// And so where its pitch is not sure all the time, because little lies in the low partials.
const GLASSY_UNSURE: f64 = 0.175;
/// So much of the time a pitch is sure.
const SURE: f64 = 0.92;
/// Periods that are as alike as this and have no sure pitch at all have hardly anything in the low partials.
const HIGH_ALIKE: f64 = 0.8;

/// A stroke of the bow, or several without a stop between them.
pub(super) struct Stroke<'a> {
    steady: &'a [Heard],
}

impl<'a> Stroke<'a> {
    /// What is steady of a sound; `None` where that is too little.
    pub(super) fn of(moments: &'a [Heard]) -> Option<Self> {
        let steady = moments.get(BEGINS..moments.len().checked_sub(ENDS)?)?;
        (steady.len() >= MIN_STEADY).then_some(Self { steady })
    }

    /// How it sounds at this pitch; `room` is where numbers are sorted.
    pub(super) fn verdict(&self, hz: Option<f64>, room: &mut Vec<f64>) -> Verdict {
        let alike = middle(room, self.steady.iter().map(|moment| moment.alike));
        let two = self.steady.iter().filter(|moment| moment.beside.is_some()).count();
        if two * 3 > self.steady.len() {
            Verdict::TwoStrings
        } else if alike < GRATES_ALIKE {
            Verdict::Scratch
        } else if self.trembles(room) {
            Verdict::Wavers
        } else if self.jumps(alike, room) {
            Verdict::Jump
        } else if hz.map_or(alike > HIGH_ALIKE, |hz| self.is_glassy(hz, room)) {
            Verdict::Glass
        } else if alike < HUSHED_ALIKE {
            Verdict::Whisper
        } else {
            Verdict::Full
        }
    }

    /// Whether its level goes up and down all the time; a turn does so only once.
    fn trembles(&self, room: &mut Vec<f64>) -> bool {
        let aside = |window: &[Heard]| (window[TREMBLE / 2].level_db - mean_db(window)).abs();
        middle(room, self.steady.windows(TREMBLE).map(aside)) > TREMBLES_DB
    }

    /// Whether the bow turned and landed louder than it came and than it went on.
    fn jumps(&self, alike: f64, room: &mut Vec<f64>) -> bool {
        let Some(last) = self.steady.len().checked_sub(CALM + ENDS).filter(|last| *last > TURN + ENDS) else {
            return false;
        };
        let loud = |at: usize| mean_db(&self.steady[at..at + 3]);
        let Some(at) = (TURN + ENDS..last).max_by(|a, b| loud(*a).total_cmp(&loud(*b))) else { return false };
        let turn = self.steady[at.saturating_sub(LANDS)..=at].iter().map(|moment| moment.alike).fold(1.0, f64::min);
        let mut level = |of: &[Heard]| middle(room, of.iter().map(|moment| moment.level_db));
        let around = level(&self.steady[..at - TURN]).max(level(&self.steady[at + CALM..]));
        turn < alike - TURNS_ALIKE && loud(at) > around + JUMPS_DB
    }

    /// Whether more of it lies high than a full tone of this pitch has there.
    fn is_glassy(&self, hz: f64, room: &mut Vec<f64>) -> bool {
        // While the bow turns no pitch is sure either.
        let toned = || self.steady.iter().filter(|moment| moment.alike > HUSHED_ALIKE);
        let sure = toned().filter(|moment| moment.pitch.is_some()).count();
        let limit = if sure as f64 >= SURE * toned().count() as f64 { GLASSY } else { GLASSY_UNSURE };
        middle(room, self.steady.iter().map(|moment| moment.hiss)) > limit * (hz / 440.0).sqrt()
    }
}

fn mean_db(moments: &[Heard]) -> f64 {
    moments.iter().map(|moment| moment.level_db).sum::<f64>() / moments.len() as f64
}

/// The middle of some numbers, at least one.
fn middle(room: &mut Vec<f64>, numbers: impl Iterator<Item = f64>) -> f64 {
    room.clear();
    room.extend(numbers);
    room.sort_unstable_by(f64::total_cmp);
    room[room.len() / 2]
}
