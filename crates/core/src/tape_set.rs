//! The marks that a class calls for on an instrument, how they are laid, and in which order they go again.

use crate::approach::{Choices, MARKS, NO_MARKS};
use crate::finger::{Finger, Spot};
use crate::fingerboard::distance_mm;
use crate::instrument::{Instrument, InstrumentFacts};
use crate::laying::Laying;
use crate::tape_log::{Presence, Strips};
use crate::tape_told::Told;

/// The choice of a colour for each finger.
pub const COLOURS: &str = "mark-colours";
/// The choice of a felt spot for the thumb.
pub const THUMB_PAD: &str = "thumb-pad";
/// The choice of a line at the base of the first finger.
pub const FINGER_LINE: &str = "finger-line";

/// The choice of where a cellist's thumb lies.
pub const CELLO_THUMB: &str = "cello-thumb";

/// What marks are made of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// Strips of tape across the fingerboard.
    Tapes,
    /// Small dots.
    Dots,
    /// A printed overlay.
    Overlay,
    /// Pencil marks.
    Pencil,
    /// Nothing, by choice.
    None,
}

/// The marks of a class on one instrument.
#[derive(Clone, Debug, PartialEq)]
pub struct TapeSet {
    /// On which instrument.
    pub instrument: Instrument,
    /// What is known of it.
    pub facts: InstrumentFacts,
    /// What they are made of.
    pub kind: Kind,
    /// Whether only those are laid that the hand is built from.
    pub short: bool,
    /// Which marks, up the string; the thumb pad and the line on the hand last.
    pub spots: Vec<Spot>,
    /// Whether each finger has its own colour.
    pub colours: bool,
    /// How they are laid.
    pub laying: Laying,
}

impl TapeSet {
    /// The set that these choices call for.
    #[must_use]
    pub fn new(facts: &InstrumentFacts, choices: &Choices, laying: Laying) -> Self {
        let chosen = |key: &str| choices.get(key).map_or("", String::as_str);
        let (kind, short) = match chosen(MARKS) {
            NO_MARKS => (Kind::None, false),
            "short-set" => (Kind::Tapes, true),
            "dots" => (Kind::Dots, false),
            "overlay" => (Kind::Overlay, false),
            "pencil" => (Kind::Pencil, false),
            _ => (Kind::Tapes, false),
        };
        let usual = facts.marks.iter().filter_map(|mark| Finger::parse(mark));
        let mut fingers: Vec<Finger> = if kind == Kind::None { Vec::new() } else { usual.collect() };
        if let (true, [first, .., last]) = (short, fingers.as_slice()) {
            fingers = vec![*first, *last];
        }
        let mut spots: Vec<Spot> = fingers.into_iter().map(Spot::Finger).collect();
        let instrument = facts.instrument;
        if chosen(THUMB_PAD) == "on" && Spot::Thumb.is_on(instrument) {
            spots.push(Spot::Thumb);
        }
        if chosen(FINGER_LINE) == "on" {
            spots.push(Spot::FingerLine);
        }
        Self { instrument, facts: facts.clone(), kind, short, spots, colours: chosen(COLOURS) == "on", laying }
    }

    /// How its strips lie; none where it marks with something else.
    #[must_use]
    pub fn strips(&self) -> Option<Strips> {
        let strips = Strips { width_mm: self.laying.strip_mm, align: self.laying.align };
        (self.kind == Kind::Tapes).then_some(strips)
    }

    /// Where the thumb's pad goes under the neck of a string of `length_mm`, in millimetres from the nut, by how the class
    /// places the thumb; `None` on instruments without one.
    #[must_use]
    pub fn thumb_mm(&self, length_mm: f64, choices: &Choices) -> Option<f64> {
        let line = |finger: Finger| {
            let semitones = finger.semitones(self.instrument)?;
            Some(distance_mm(length_mm, semitones, self.laying.temperament))
        };
        let (first, second) = (line(Finger::One)?, line(Finger::Two)?);
        if !Spot::Thumb.is_on(self.instrument) {
            return None;
        }
        Some(match (self.instrument, choices.get(CELLO_THUMB).map(String::as_str)) {
            (Instrument::Cello, Some("between")) => f64::midpoint(first, second),
            (Instrument::Cello, Some("level-1")) => first,
            _ => second,
        })
    }

    /// The fingers that get a mark, up the string.
    #[must_use]
    pub fn fingers(&self) -> Vec<Finger> {
        let finger = |spot: &Spot| if let Spot::Finger(finger) = spot { Some(*finger) } else { None };
        self.spots.iter().filter_map(finger).collect()
    }
}

/// The order in which marks are taken away: what is laid beyond the plain fingers first, the marks that the hand is built
/// from last, the thumb pad after all of them.
#[must_use]
pub const fn thinning_order(instrument: Instrument) -> &'static [Spot] {
    use Finger::{Four, Low1, Low2, One, Stretched2, Stretched4, Three, Two};
    const fn f(finger: Finger) -> Spot {
        Spot::Finger(finger)
    }
    match instrument {
        Instrument::Violin | Instrument::Viola => {
            const HIGH: [Spot; 6] = [f(Low1), f(Low2), f(Two), f(Four), f(One), f(Three)];
            &HIGH
        }
        Instrument::Cello => {
            const CELLO: [Spot; 7] = [f(Stretched2), f(Stretched4), f(Two), f(Three), f(One), f(Four), Spot::Thumb];
            &CELLO
        }
        Instrument::Bass => {
            const BASS: [Spot; 4] = [f(Two), f(Four), f(One), Spot::Thumb];
            &BASS
        }
    }
}

/// What is still wanting before a mark may go.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NotYet {
    /// Landing in tune with eyes away was not seen in two looks at different meetings.
    Landing,
    /// The last ear check was not true.
    Ear,
    /// No mark is on.
    Nothing,
}

/// The next mark to take away.
///
/// Ready when landing in tune (frame.land) was seen at Alone or better in two looks at different meetings, and every mark
/// that is on was last heard true.
///
/// # Errors
/// [`NotYet`] says what is wanting.
pub fn next_to_go(set: &TapeSet, told: &Told, landed_in_looks: u32) -> Result<Spot, NotYet> {
    let on = |spot: Spot| told.spots.iter().any(|told| told.spot == spot && told.presence == Presence::On);
    let next = thinning_order(set.instrument).iter().copied().find(|spot| on(*spot)).ok_or(NotYet::Nothing)?;
    let mut sounding = told.spots.iter().filter(|told| told.spot.sounds() && told.presence == Presence::On);
    if landed_in_looks < LANDED_LOOKS {
        Err(NotYet::Landing)
    } else if !sounding.all(|told| told.proved) {
        Err(NotYet::Ear)
    } else {
        Ok(next)
    }
}

/// Looks at landing in tune, at different meetings, before a mark may go.
pub const LANDED_LOOKS: u32 = 2;

/// The looks in a row, at different meetings, that found `frame.land` at Alone or better, up to now.
#[must_use]
pub fn landed_looks(marks: &[crate::mark::Mark], calendar: &crate::calendar::MeetingCalendar) -> u32 {
    use crate::mark::{Level, Seen, in_force};
    let mut looks = 0;
    let mut last = None;
    for mark in in_force(marks) {
        let landed = match &mark.seen {
            Seen::Level { level, .. } if mark.target.id() == LANDING => *level >= Level::Alone,
            // A look at its stage vouches for what stood there already.
            Seen::Holds { except } if mark.target.id() == LANDING_STAGE && looks > 0 => {
                if except.iter().any(|checkpoint| checkpoint.as_str() == LANDING) {
                    continue;
                }
                true
            }
            _ => continue,
        };
        let meeting = calendar.meeting_at(mark.observed_at);
        if !landed {
            (looks, last) = (0, None);
        } else if last != Some(meeting) {
            (looks, last) = (looks + 1, Some(meeting));
        }
    }
    looks
}

/// The checkpoint of landing in tune with eyes away.
pub const LANDING: &str = "frame.land";
/// Its stage.
pub const LANDING_STAGE: &str = "frame.4";
