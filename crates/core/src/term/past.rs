//! What a term is read from: the class's calendar, and of each child everything that was ever seen.

use crate::ChildId;
use crate::craft::checklist::Checklist;
use crate::craft::instrument::{Instrument, Playing};
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::context::ChildContext;
use crate::progress::observation::Observation;
use crate::progress::rhythm::Rhythm;
use crate::term::markers_then::Held;

/// By what a class's past is read.
#[derive(Clone, Copy, Debug)]
pub struct Span<'a> {
    /// The class's calendar.
    pub calendar: &'a MeetingCalendar,
    /// The class's intervals.
    pub rhythm: &'a Rhythm,
    /// The number of the present meeting; 0 before the first.
    pub now: u32,
}

/// One child with everything that was ever seen of it.
#[derive(Clone, Debug)]
pub struct Past<'a> {
    /// Whom.
    pub child: ChildId,
    /// The checklist it is read by.
    pub checklist: &'a Checklist,
    /// What it plays, and played before.
    pub playing: &'a Playing,
    /// What counts for it now: what does not apply to it is left out of its whole past.
    pub context: &'a ChildContext,
    /// The first meeting at which it was in the class, from 1.
    pub joined: u32,
    /// What was seen of it and counts, in the order of [`crate::progress::observation::in_force`].
    pub seen: Vec<&'a Observation>,
    /// The instruments that it had, oldest first, with what was done to their markers.
    pub held: Vec<Held<'a>>,
}

impl Past<'_> {
    /// What it played when a meeting was over.
    #[must_use]
    pub fn played_at(&self, span: &Span<'_>, meeting: u32) -> Instrument {
        let ended = |until| span.calendar.meeting_at(until) <= meeting;
        let before = self.playing.before.iter().find(|(until, _)| !ended(*until));
        before.map_or(self.playing.now, |(_, instrument)| *instrument)
    }

    /// Whether the checkpoint at a place is asked of it on an instrument.
    pub(crate) fn is_asked(&self, place: usize, instrument: Instrument) -> bool {
        let asked = self.checklist.asked_on(instrument);
        asked[place] && !self.context.exempt.contains(&self.checklist.checkpoints()[place].id)
    }

    /// The required checkpoints of each stage that are asked of it on an instrument, by places; tape stages have none.
    pub(crate) fn required(&self, instrument: Instrument) -> Vec<Vec<usize>> {
        let required =
            |place: &usize| self.checklist.checkpoints()[*place].required && self.is_asked(*place, instrument);
        let stages = self.checklist.stages().iter().enumerate();
        let of_stage = |(place, stage): (usize, &crate::craft::checklist::Stage)| match stage.strand {
            Strand::Tape => Vec::new(),
            Strand::Hold | Strand::Bow | Strand::Frame => self.checklist.places_of(place).filter(required).collect(),
        };
        stages.map(of_stage).collect()
    }
}

/// The level from which a checkpoint counts as reached, for all that is read here.
pub(crate) const REACHED: Level = crate::progress::rhythm::REACHES;
