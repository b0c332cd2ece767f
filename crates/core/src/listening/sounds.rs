//! One sound after the other: where each begins and ends, whether it was plucked or bowed, and how it was.

use super::listener::{Heard, STEP};
use crate::instrument::Instrument;

/// The longest sound that is kept together: 20 s. What goes on is a new one.
const MAX_MOMENTS: usize = 1_000;
/// What is so much louder than it was before is a sound, in decibels.
const BEGINS_DB: f64 = 10.0;
/// What is so little louder than before is over.
const ENDS_DB: f64 = 4.0;
/// What is so much quieter than its loudest moment is over.
const GONE_DB: f64 = 32.0;
/// So much louder within 60 ms is a new sound.
const AGAIN_DB: f64 = 8.0;
/// A ring is over when it is so much quieter.
const RING_DB: f64 = 20.0;
/// What is plucked is at its loudest within so many moments.
const STRUCK_WITHIN: usize = 5;
/// What is plucked loses at least so much a second.
const FADES_DB: f64 = 5.0;
/// The latest moments whose quietest says how loud the room is.
const ROOM: usize = 100;

/// How a sound was made.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// Plucked.
    Pluck,
    /// Bowed.
    Bow,
    /// Neither, or nobody can say.
    Noise,
}

/// How it sounds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Verdict {
    /// A pluck that rings.
    Rings,
    /// A pluck that is over sooner than the string would be.
    Short,
    /// A pluck that is over at once.
    Thud,
    /// A pluck with a rattle.
    Buzz,
    /// A bow that makes the string sound full.
    Full,
    /// A bow that grates.
    Scratch,
    /// A bow that hardly makes the string sound.
    Whisper,
    /// A bow that trembles.
    Wavers,
}

/// A sound that is over.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Sound {
    /// When it began, in seconds since the first sample.
    pub at: f64,
    /// How long it was, in seconds.
    pub seconds: f64,
    /// How it was made.
    pub kind: Kind,
    /// Its pitch in hertz: the middle of its steady part.
    pub hz: Option<f64>,
    /// How sure the pitch is, 0 to 1; 0 without one.
    pub confidence: f64,
    /// Of a pluck: seconds until it is 20 dB quieter than at its loudest; drawn out where it was cut off before.
    pub ring_seconds: Option<f64>,
    /// How it sounds, where that can be said.
    pub verdict: Option<Verdict>,
}

/// Seconds until an open string that was plucked is 20 dB quieter, as is usual.
const fn usual_ring(instrument: Option<Instrument>) -> f64 {
    match instrument {
        Some(Instrument::Violin) => 0.6,
        Some(Instrument::Viola) | None => 0.8,
        Some(Instrument::Cello) => 1.4,
        Some(Instrument::Bass) => 2.2,
    }
}

/// Gathers moments into sounds. It has all its room from the start.
#[derive(Clone, Debug)]
pub struct Sounds {
    open_ring: f64,
    room: [f64; ROOM],
    known: usize,
    floor: f64,
    moments: Vec<Heard>,
    sounding: bool,
    pitches: Vec<f64>,
}

impl Sounds {
    /// For an instrument, or for any.
    #[must_use]
    pub fn new(instrument: Option<Instrument>) -> Self {
        Self {
            open_ring: usual_ring(instrument),
            room: [0.0; ROOM],
            known: 0,
            floor: f64::NEG_INFINITY,
            moments: Vec::with_capacity(MAX_MOMENTS),
            sounding: false,
            pitches: Vec::with_capacity(MAX_MOMENTS),
        }
    }

    /// What an open string of this very instrument rang like, in seconds: others are compared with it from now on.
    pub fn compare_with(&mut self, ring_seconds: f64) {
        if ring_seconds.is_finite() && ring_seconds > 0.0 {
            self.open_ring = ring_seconds;
        }
    }

    /// Takes a moment; the sound that is over with it.
    pub fn hear(&mut self, heard: Heard) -> Option<Sound> {
        if !self.sounding {
            self.wait(heard);
            return None;
        }
        let anew = self.again(&heard) || self.moments.len() == MAX_MOMENTS;
        let over = if anew { self.cut() } else { None };
        self.moments.push(heard);
        let last = &self.moments[self.moments.len().saturating_sub(3)..];
        let quiet = (self.floor + ENDS_DB).max(self.loudest().1 - GONE_DB);
        if last.len() == 3 && last.iter().all(|moment| moment.level_db < quiet) {
            let over = over.or(self.end());
            // Its last trace is no new sound.
            self.quiet_room(heard.level_db);
            return over;
        }
        over
    }

    /// Nothing more comes: the sound that was under way.
    pub fn end(&mut self) -> Option<Sound> {
        let over = if self.sounding { self.cut() } else { None };
        self.sounding = false;
        over
    }

    /// The sound up to here. What was only noise says how loud the room is.
    fn cut(&mut self) -> Option<Sound> {
        let over = self.judged();
        if over.is_some_and(|sound| sound.kind == Kind::Noise) {
            for at in 0..self.moments.len() {
                self.quiet_room(self.moments[at].level_db);
            }
            self.floor = self.room[..self.known.min(ROOM)].iter().copied().fold(f64::INFINITY, f64::min);
        }
        self.moments.clear();
        over
    }

    fn wait(&mut self, heard: Heard) {
        let room = &self.room[..self.known.min(ROOM)];
        let floor = room.iter().copied().fold(f64::INFINITY, f64::min);
        if heard.level_db > -150.0 && (room.is_empty() || heard.level_db > floor + BEGINS_DB) {
            self.floor = if room.is_empty() { f64::NEG_INFINITY } else { floor };
            self.sounding = true;
            self.moments.clear();
            self.moments.push(heard);
            return;
        }
        self.quiet_room(heard.level_db);
    }

    fn quiet_room(&mut self, level_db: f64) {
        self.room[self.known % ROOM] = level_db;
        self.known += 1;
    }

    /// Whether it begins anew.
    fn again(&self, heard: &Heard) -> bool {
        let count = self.moments.len();
        count > STRUCK_WITHIN + 3
            && self.moments[count - 3..].iter().all(|moment| heard.level_db > moment.level_db + AGAIN_DB)
    }

    /// Which moment was the loudest of the first ones, and the loudest level of all.
    fn loudest(&self) -> (usize, f64) {
        let levels = || self.moments.iter().map(|moment| moment.level_db);
        let most = levels().fold(f64::NEG_INFINITY, f64::max);
        let near = |level: &f64| *level > most - 1.0;
        (levels().position(|level| near(&level)).unwrap_or(0), most)
    }

    fn judged(&mut self) -> Option<Sound> {
        let first = self.moments.first()?.at;
        let (struck, _) = self.loudest();
        let fades = self.fades(struck);
        let pitch = self.middle();
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
            Kind::Bow => self.bow(),
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
        })
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
    fn middle(&mut self) -> Option<(f64, f64)> {
        self.pitches.clear();
        self.pitches.extend(self.moments.iter().filter_map(|moment| moment.pitch).map(|pitch| pitch.hz));
        // What comes first is not steady yet.
        let early = self.pitches.len() / 4;
        let steady = &mut self.pitches[early..];
        steady.sort_by(f64::total_cmp);
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

    fn bow(&self) -> Option<Verdict> {
        // A stroke begins and ends otherwise than it goes on.
        let steady = self.moments.get(8..self.moments.len() - 3).filter(|steady| steady.len() >= 12)?;
        let mut alike = [0.0; 64];
        let every = steady.len().div_ceil(alike.len());
        let count = steady.iter().step_by(every).zip(&mut alike).map(|(moment, to)| *to = moment.alike).count();
        alike[..count].sort_by(f64::total_cmp);
        let flutters = |window: &[Heard]| {
            let mean = window.iter().map(|moment| moment.level_db).sum::<f64>() / window.len() as f64;
            (window[window.len() / 2].level_db - mean).powi(2)
        };
        let flutter = (steady.windows(9).map(flutters).sum::<f64>() / (steady.len() - 8) as f64).sqrt();
        Some(match alike[count / 2] {
            alike if alike < 0.65 => Verdict::Scratch,
            _ if flutter > 1.0 => Verdict::Wavers,
            alike if alike < 0.93 => Verdict::Whisper,
            _ => Verdict::Full,
        })
    }
}
