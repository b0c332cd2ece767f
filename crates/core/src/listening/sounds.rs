//! One sound after the other: where each begins and ends, whether it was plucked or bowed, and how it was.

use super::judging::{STRUCK_WITHIN, Whole, loudest};
use super::listener::Heard;
use super::note::open_string;
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
    /// A light bow close to the bridge: much of the tone lies high.
    Glass,
    /// A bow whose next stroke lands with a jump.
    Jump,
    /// A bow that sets a neighbour string sounding too.
    TwoStrings,
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
    /// Which open string is as high, as its place among them; `None` where they are not known.
    pub open: Option<usize>,
    /// Which open string sounded beside it most of the time that one did, as its place among them.
    pub beside: Option<usize>,
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

/// So near an open string what sounds is as high, in cents.
const OPEN_CENTS: f64 = 40.0;
/// An open string rings between these shares of what is usual; what does not says nothing of the instrument.
const OPEN_SHARES: (f64, f64) = (0.4, 3.0);

/// Gathers moments into sounds. It has all its room from the start.
#[derive(Clone, Debug)]
pub struct Sounds {
    usual_ring: f64,
    /// The longest that an open string of this instrument was heard to ring.
    open_ring: Option<f64>,
    open_hz: [f64; 4],
    room: [f64; ROOM],
    known: usize,
    floor: f64,
    last_db: f64,
    moments: Vec<Heard>,
    sounding: bool,
    pitches: Vec<f64>,
}

impl Sounds {
    /// For an instrument, or for any.
    #[must_use]
    pub fn new(instrument: Option<Instrument>) -> Self {
        Self {
            usual_ring: usual_ring(instrument),
            open_ring: None,
            open_hz: [f64::NAN; 4],
            room: [0.0; ROOM],
            known: 0,
            floor: f64::NEG_INFINITY,
            last_db: f64::NEG_INFINITY,
            moments: Vec::with_capacity(MAX_MOMENTS),
            sounding: false,
            pitches: Vec::with_capacity(MAX_MOMENTS),
        }
    }

    /// What an open string of this very instrument rang like, in seconds: others are compared with it from now on.
    pub fn compare_with(&mut self, ring_seconds: f64) {
        if ring_seconds.is_finite() && ring_seconds > 0.0 {
            self.open_ring = Some(ring_seconds);
        }
    }

    /// With the open strings, low to high, in hertz: a pluck that rings as high as one of them is compared with from then on.
    #[must_use]
    pub const fn with_open(mut self, open_hz: [f64; 4]) -> Self {
        self.open_hz = open_hz;
        self
    }

    /// What rings are compared with: seconds that an open string of this instrument was heard to ring.
    #[must_use]
    pub const fn open_ring(&self) -> Option<f64> {
        self.open_ring
    }

    /// A stopped note may be as high as an open string, and rings shorter: of several the longest counts.
    fn learn(&mut self, sound: &mut Sound) {
        let near = sound.hz.and_then(|hz| open_string(hz, &self.open_hz)).filter(|(_, off)| off.abs() < OPEN_CENTS);
        sound.open = near.map(|(place, _)| place);
        let Some(ring) = sound.ring_seconds.filter(|_| near.is_some()) else { return };
        let (least, most) = OPEN_SHARES;
        if (self.usual_ring * least..self.usual_ring * most).contains(&ring) {
            self.open_ring = Some(self.open_ring.map_or(ring, |before| before.max(ring)));
        }
    }

    /// Takes a moment; the sound that is over with it.
    pub fn hear(&mut self, heard: Heard) -> Option<Sound> {
        let over = self.take(heard);
        self.last_db = heard.level_db;
        over
    }

    fn take(&mut self, heard: Heard) -> Option<Sound> {
        if !self.sounding {
            self.wait(heard);
            return None;
        }
        let anew = self.again(&heard) || self.moments.len() == MAX_MOMENTS;
        let over = if anew { self.cut() } else { None };
        self.moments.push(heard);
        let last = &self.moments[self.moments.len().saturating_sub(3)..];
        let quiet = (self.floor + ENDS_DB).max(loudest(&self.moments).1 - GONE_DB);
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
        let open_ring = self.open_ring.unwrap_or(self.usual_ring);
        let whole = Whole { moments: &self.moments, floor: self.floor, open_ring };
        let mut over = whole.judged(&mut self.pitches);
        if let Some(sound) = &mut over {
            self.learn(sound);
        }
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
        // What only dies away does not begin.
        let rises = heard.level_db > self.last_db;
        if rises && heard.level_db > -150.0 && (room.is_empty() || heard.level_db > floor + BEGINS_DB) {
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
}
