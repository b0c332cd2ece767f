//! Listening in a page's audio thread, where there is no text: samples come in as bytes, and what is heard goes out as numbers.
//!
//! The thread writes the notes that count to [`crate::room_for`] and calls [`begin_to_listen`] once; then again and again it writes
//! samples there, calls [`hear`], and reads the moments at [`heard`], the sounds that are over at [`sounds`] and the run at [`run`].

use std::cell::RefCell;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::{
    HandPattern, Heard, Kind, Listener, MAX_NOTES, Range, Run, RunNote, Sound, Sounds, Tuner, Turn, Verdict,
};
use bright_row_core::tapes::plausible::MAX_HEARD_CENTS;

use crate::MEMORY;

/// Numbers of a moment: seconds, level in decibels, hertz (0: none), confidence, place of the string or note that is meant (-1:
/// none), cents above it, what to do (see [`code`]), and which strings are done as bits, the lowest string first.
pub const NUMBERS: usize = 8;

/// Numbers of a sound that is over: when it began and how long it was in seconds, how it was made (0 plucked, 1 bowed, 2 neither),
/// hertz (0: none), confidence, seconds that it rang (0: it was no pluck), how it was (see [`verdict`]), the open string that is as
/// high (-1: none), and seconds that an open string of this instrument rang (0: none was heard yet).
pub const SOUND_NUMBERS: usize = 9;

/// What is listened for.
#[derive(Debug)]
enum Task {
    /// Four open strings, one after the other.
    Tune(Tuner),
    /// Notes one after the other.
    Run(Box<Run>),
    /// Whatever sounds: does it ring, how is the tone.
    Sounds(Box<Sounds>),
}

/// An instrument that is listened to.
#[derive(Debug)]
pub struct Ear {
    listener: Listener,
    task: Task,
    over: Vec<f64>,
}

impl Task {
    /// What a moment means for it: place, cents, what to do and which are done (see [`NUMBERS`]); adds a sound that is over.
    fn hear(&mut self, heard: &Heard, over: &mut Vec<f64>) -> [f64; 4] {
        match self {
            Self::Tune(strings) => {
                let meant = strings.hear(heard);
                let bits = strings.done().into_iter().zip([1.0, 2.0, 4.0, 8.0]);
                let done = bits.filter(|(done, _)| *done).map(|(_, bit)| bit).sum();
                let said = meant.map(|string| [PLACES[string.place], string.cents, code(string.turn), done]);
                said.unwrap_or([-1.0, 0.0, 0.0, done])
            }
            Self::Run(run) => {
                let place = PLACES[run.taken().len()];
                run.hear(heard).map_or([-1.0, 0.0, 0.0, 0.0], |cents| [place, cents, 0.0, 0.0])
            }
            Self::Sounds(sounds) => {
                if let Some(sound) = sounds.hear(*heard) {
                    over.extend(numbers(&sound, sounds.open_ring()));
                }
                [-1.0, 0.0, 0.0, 0.0]
            }
        }
    }
}

thread_local! {
    static EAR: RefCell<Option<Ear>> = const { RefCell::new(None) };
    static HEARD: RefCell<Vec<f64>> = const { RefCell::new(Vec::new()) };
}

impl Ear {
    /// For the instrument at this place of [`Instrument::ALL`], at a sample rate, and a task: 0 to tune four open strings, 1 for a
    /// run of notes, 2 for sounds beside the four open strings, low to high. `None` where there is no such instrument or task, or nobody listens at that rate.
    #[must_use]
    pub fn new(rate: f64, instrument: usize, task: usize, notes: &[RunNote]) -> Option<Self> {
        let instrument = *Instrument::ALL.get(instrument)?;
        let open: [f64; 4] = std::array::from_fn(|string| notes.get(string).map_or(f64::NAN, |note| note.hz));
        let task = match task {
            0 => Task::Tune(Tuner::new(open)),
            1 => Task::Run(Box::new(Run::new(notes, MAX_HEARD_CENTS))),
            2 => Task::Sounds(Box::new(Sounds::new(Some(instrument)).with_open(open))),
            _ => return None,
        };
        let listener = Listener::new(rate, Range::of(instrument)).ok()?;
        // Neighbours are of interest only where tone is judged.
        let listener = if let Task::Sounds(_) = task { listener.with_open(open) } else { listener };
        Some(Self { listener, task, over: Vec::new() })
    }

    /// Takes samples as bytes, four each, the lowest first; adds [`NUMBERS`] for each moment.
    pub fn hear(&mut self, bytes: &[u8], moments: &mut Vec<f64>) {
        self.over.clear();
        for four in bytes.chunks_exact(4) {
            let sample = f32::from_le_bytes([four[0], four[1], four[2], four[3]]);
            for heard in self.listener.push(&[sample]) {
                let [place, cents, turn, done] = self.task.hear(&heard, &mut self.over);
                let pitch = heard.pitch.map_or([0.0; 2], |pitch| [pitch.hz, pitch.confidence]);
                moments.extend([heard.at, heard.level_db, pitch[0], pitch[1], place, cents, turn, done]);
            }
        }
    }

    /// The sounds that were over in the samples that came last, [`SOUND_NUMBERS`] each.
    #[must_use]
    pub fn sounds(&self) -> &[f64] {
        &self.over
    }

    /// The run so far: its pattern (see [`pattern`]), a finger and cents, then how far above its note each note was that was taken.
    pub fn run(&self, numbers: &mut Vec<f64>) {
        if let Task::Run(run) = &self.task {
            numbers.extend(pattern(run.pattern()));
            numbers.extend_from_slice(run.taken());
        }
    }
}

const PLACES: [f64; MAX_NOTES + 1] = [0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0];

/// Notes that were written as numbers of eight bytes, the lowest first: hertz and finger in turn, at most [`MAX_NOTES`].
#[must_use]
pub fn notes_of(bytes: &[u8]) -> Vec<RunNote> {
    let numbers = |bytes: &[u8; 16]| {
        let (hz, finger) = bytes.split_at(8);
        let number = |bytes: &[u8]| bytes.try_into().map_or(f64::NAN, f64::from_le_bytes);
        let finger = (1..=4).rev().find(|known| number(finger) >= f64::from(*known)).unwrap_or(0);
        RunNote { hz: number(hz), finger }
    };
    bytes.as_chunks().0.iter().take(MAX_NOTES).map(numbers).collect()
}

/// What to do with a string: 0 nothing, 1 and 2 the fine tuner higher and lower, 3 and 4 the peg.
#[must_use]
pub const fn code(turn: Turn) -> f64 {
    match turn {
        Turn::Stay => 0.0,
        Turn::FineUp => 1.0,
        Turn::FineDown => 2.0,
        Turn::PegUp => 3.0,
        Turn::PegDown => 4.0,
    }
}

/// How a sound was, as a number; -1 where nobody can say.
#[must_use]
pub const fn verdict(verdict: Option<Verdict>) -> f64 {
    match verdict {
        None => -1.0,
        Some(Verdict::Rings) => 0.0,
        Some(Verdict::Short) => 1.0,
        Some(Verdict::Thud) => 2.0,
        Some(Verdict::Buzz) => 3.0,
        Some(Verdict::Full) => 4.0,
        Some(Verdict::Scratch) => 5.0,
        Some(Verdict::Whisper) => 6.0,
        Some(Verdict::Wavers) => 7.0,
        Some(Verdict::Glass) => 8.0,
        Some(Verdict::Jump) => 9.0,
        Some(Verdict::TwoStrings) => 10.0,
    }
}

/// How a hand lies: 0 not known yet, 1 in tune, 2 all low, 3 all high, 4 one finger off, 5 spread; the finger that is off; cents.
#[must_use]
pub fn pattern(pattern: Option<HandPattern>) -> [f64; 3] {
    match pattern {
        None => [0.0; 3],
        Some(HandPattern::InTune) => [1.0, 0.0, 0.0],
        Some(HandPattern::AllLow(cents)) => [2.0, 0.0, cents],
        Some(HandPattern::AllHigh(cents)) => [3.0, 0.0, cents],
        Some(HandPattern::OneOff { finger, cents }) => [4.0, f64::from(finger), cents],
        Some(HandPattern::Spread) => [5.0, 0.0, 0.0],
    }
}

fn numbers(sound: &Sound, open_ring: Option<f64>) -> [f64; SOUND_NUMBERS] {
    let kind = match sound.kind {
        Kind::Pluck => 0.0,
        Kind::Bow => 1.0,
        Kind::Noise => 2.0,
    };
    [
        sound.at,
        sound.seconds,
        kind,
        sound.hz.unwrap_or(0.0),
        sound.confidence,
        sound.ring_seconds.unwrap_or(0.0),
        verdict(sound.verdict),
        sound.open.map_or(-1.0, |place| PLACES[place]),
        open_ring.unwrap_or(0.0),
    ]
}

/// Begins to listen, with the notes that were written (see [`notes_of`]); 1, or 0 where that cannot be: see [`Ear::new`].
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn begin_to_listen(rate: f64, instrument: usize, task: usize) -> usize {
    let ear = MEMORY.with_borrow(|bytes| Ear::new(rate, instrument, task, &notes_of(bytes)));
    let begun = usize::from(ear.is_some());
    EAR.set(ear);
    begun
}

/// Hears the samples that were written, and says how many moments there are now.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn hear() -> usize {
    HEARD.with_borrow_mut(|heard| {
        heard.clear();
        EAR.with_borrow_mut(|ear| {
            if let Some(ear) = ear {
                MEMORY.with_borrow(|bytes| ear.hear(bytes, heard));
            }
        });
        heard.len() / NUMBERS
    })
}

/// Where the moments are, and what [`sounds`] and [`run`] counted last.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn heard() -> *const f64 {
    HEARD.with_borrow(Vec::as_ptr)
}

/// Puts the sounds that were over in what was heard last to [`heard`], and says how many.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn sounds() -> usize {
    put(|ear, numbers| numbers.extend_from_slice(ear.sounds())) / SOUND_NUMBERS
}

/// Puts the run to [`heard`], and says how many numbers it has; 0 for another task.
#[allow(unsafe_code, reason = "the page finds exports by their plain names; no memory is read by an address")]
#[unsafe(no_mangle)]
pub extern "C" fn run() -> usize {
    put(Ear::run)
}

fn put(what: impl FnOnce(&Ear, &mut Vec<f64>)) -> usize {
    HEARD.with_borrow_mut(|numbers| {
        numbers.clear();
        EAR.with_borrow(|ear| {
            if let Some(ear) = ear {
                what(ear, numbers);
            }
        });
        numbers.len()
    })
}
