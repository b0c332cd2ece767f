//! A sound that is over: how it was made, how long it rang, and how it was.

use super::listener::{Heard, STEP};
use super::sounds::{Kind, Sound, Verdict};
use super::stroke::Stroke;

/// A ring is over when it is so much quieter.
const RING_DB: f64 = 20.0;
/// What is plucked is at its loudest within so many moments.
pub(super) const STRUCK_WITHIN: usize = 5;
/// What is plucked loses at least so much a second.
const FADES_DB: f64 = 5.0;

/// A sound from its first moment to its last.
pub(super) struct Whole<'a> {
    pub(super) moments: &'a [Heard],
    /// How loud the room is, in decibels; minus infinity where nobody knows.
    pub(super) floor: f64,
    /// Seconds that an open string of this instrument rings.
    pub(super) open_ring: f64,
}

/// Which moment was the loudest of the first ones, and the loudest level of all.
pub(super) fn loudest(moments: &[Heard]) -> (usize, f64) {
    let levels = || moments.iter().map(|moment| moment.level_db);
    let most = levels().fold(f64::NEG_INFINITY, f64::max);
    let near = |level: &f64| *level > most - 1.0;
    (levels().position(|level| near(&level)).unwrap_or(0), most)
}

impl Whole<'_> {
    /// What it was; `room` is where numbers are sorted.
    pub(super) fn judged(&self, room: &mut Vec<f64>) -> Option<Sound> {
        let first = self.moments.first()?.at;
        let (struck, _) = loudest(self.moments);
        let fades = self.fades(struck);
        let pitch = self.middle(room);
        let ringing = self.ring(struck, fades);
        let repeats = self.moments.iter().map(|moment| moment.alike).fold(0.0, f64::max);
        let kind = if struck < STRUCK_WITHIN && fades < -FADES_DB && repeats > 0.4 {
            Kind::Pluck
        } else if self.moments.len() > 12 && repeats > 0.2 && (pitch.is_some() || self.floor.is_finite()) {
            Kind::Bow
        } else {
            Kind::Noise
        };
        let verdict = match kind {
            Kind::Pluck => Some(self.pluck(struck, ringing)),
            Kind::Bow => Stroke::of(self.moments).map(|stroke| stroke.verdict(pitch.map(|(hz, _)| hz), room)),
            Kind::Noise => None,
        };
        Some(Sound {
            at: first - STEP,
            seconds: self.moments.len() as f64 * STEP,
            kind,
            hz: pitch.map(|(hz, _)| hz).filter(|_| kind != Kind::Noise),
            confidence: pitch.map_or(0.0, |(_, confidence)| confidence),
            ring_seconds: (kind == Kind::Pluck).then_some(ringing),
            verdict,
            open: None,
            beside: self.beside(),
        })
    }

    /// The open string that sounded beside it, where one did for a third of the time.
    fn beside(&self) -> Option<usize> {
        let mut times = [0_usize; 4];
        for place in self.moments.iter().filter_map(|moment| moment.beside) {
            times[place] += 1;
        }
        let (place, most) = times.into_iter().enumerate().max_by_key(|(_, times)| *times)?;
        (most * 3 > self.moments.len()).then_some(place)
    }

    /// How its level changes from its loudest moment on, in decibels a second: a straight line through half a second at most.
    fn fades(&self, from: usize) -> f64 {
        let after = &self.moments[from..(from + 25).min(self.moments.len())];
        let count = after.len() as f64;
        let middle = (count - 1.0) / 2.0;
        let mean = after.iter().map(|moment| moment.level_db).sum::<f64>() / count;
        let both = after.iter().enumerate().map(|(at, moment)| {
            let aside = at as f64 - middle;
            (aside * (moment.level_db - mean), aside * aside)
        });
        let (rise, run) = both.fold((0.0, 0.0), |(rise, run), (a, b)| (rise + a, run + b));
        if run > 0.0 { rise / run / STEP } else { 0.0 }
    }

    /// Seconds from the loudest moment until it is 20 dB quieter.
    fn ring(&self, from: usize, fades: f64) -> f64 {
        let most = self.moments[from].level_db;
        let quiet = most - RING_DB;
        let over = self.moments[from..].iter().position(|moment| moment.level_db < quiet);
        match over {
            Some(at) => {
                let [before, after] = [at.saturating_sub(1), at].map(|at| self.moments[from + at].level_db);
                let share = if before > after { ((before - quiet) / (before - after)).clamp(0.0, 1.0) } else { 0.0 };
                (at as f64 - 1.0 + share).max(0.0) * STEP
            }
            None => RING_DB / fades.abs().max(1.0),
        }
    }

    /// The middle of its pitches after the first, and how sure they are.
    fn middle(&self, room: &mut Vec<f64>) -> Option<(f64, f64)> {
        room.clear();
        room.extend(self.moments.iter().filter_map(|moment| moment.pitch).map(|pitch| pitch.hz));
        // What comes first is not steady yet.
        let early = room.len() / 4;
        let steady = &mut room[early..];
        steady.sort_unstable_by(f64::total_cmp);
        let middle = *steady.get(steady.len() / 2)?;
        let sure = self.moments.iter().filter_map(|moment| moment.pitch).map(|pitch| pitch.confidence);
        Some((middle, sure.fold(0.0, f64::max)))
    }

    fn pluck(&self, struck: usize, ringing: f64) -> Verdict {
        let hiss = |from: usize, to: usize| {
            let of = &self.moments[from.min(self.moments.len())..to.min(self.moments.len())];
            of.iter().map(|moment| moment.hiss).sum::<f64>() / of.len().max(1) as f64
        };
        let calm = (struck + 8..self.moments.len().max(struck + 9)).map(|at| hiss(at, at + 4)).fold(1.0, f64::min);
        if ringing < (self.open_ring * 0.12).clamp(0.09, 0.16) {
            Verdict::Thud
        } else if hiss(struck + 2, struck + 10) > 0.03 + 1.8 * calm {
            Verdict::Buzz
        } else if ringing < self.open_ring * 0.25 {
            Verdict::Short
        } else {
            Verdict::Rings
        }
    }
}
