//! How one child grew: how far each strand was learned when each meeting was over, and when its stages were reached.

use std::collections::BTreeMap;

use crate::ChildId;
use crate::craft::id::{CheckpointId, StageId};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::progress::context::ChildContext;
use crate::progress::outlook::Outlook;
use crate::progress::standing::Standing;
use crate::progress::strand_view::glow;
use crate::progress::tape_status::TapeStatus;
use crate::progress::unfolding::Unfolding;
use crate::tapes::status::TapeState;
use crate::term::markers_then::MarkersThen;
use crate::term::past::{Past, REACHED, Span};

/// A child when a meeting was over.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Then {
    /// What it played.
    pub instrument: Instrument,
    /// How far each strand was learned, 0 to 1, in their order.
    pub glow: [f64; 4],
}

impl Then {
    /// The mean of its four strings, 0 to 1: how warm its chair was.
    #[must_use]
    pub fn brightness(&self) -> f64 {
        self.glow.iter().sum::<f64>() / 4.0
    }
}

/// How one child grew.
#[derive(Clone, Debug, PartialEq)]
pub struct Growth {
    /// Whom.
    pub child: ChildId,
    /// By meeting, the first at place 0; `None` before it joined.
    pub then: Vec<Option<Then>>,
    /// When each stage was first reached, by meeting; 0 before the first one. Stages that ask nothing of it are left out.
    pub reached: BTreeMap<StageId, u32>,
}

impl Growth {
    /// Reads a child's past meeting by meeting.
    ///
    /// How far hold, bow and frame are learned follows from levels as in [`crate::progress::ladder`]; the tapes follow from the log
    /// of the instrument that the child had then, and from looks at them in class. What does not apply to the child now counts
    /// at no meeting.
    #[must_use]
    pub fn of(past: &Past<'_>, span: &Span<'_>) -> Self {
        let mut reading = Reading::new(past, span);
        let mut growth = Self { child: past.child, then: Vec::new(), reached: BTreeMap::new() };
        for meeting in 0..=span.now {
            reading.goes_on(meeting);
            for stage in reading.reached() {
                growth.reached.entry(stage).or_insert(meeting);
            }
            if meeting > 0 {
                growth.then.push((meeting >= past.joined).then_some(reading.then));
            }
        }
        growth
    }
}

/// A child's past while it is read.
struct Reading<'a> {
    past: &'a Past<'a>,
    span: &'a Span<'a>,
    unfolding: Unfolding<'a>,
    /// How many of its observations were read.
    read: usize,
    markers: MarkersThen,
    tapes: TapeState,
    required: Vec<Vec<usize>>,
    then: Then,
    /// Stages that were not reached yet, by places.
    ahead: Vec<usize>,
    changed: bool,
}

impl<'a> Reading<'a> {
    fn new(past: &'a Past<'a>, span: &'a Span<'a>) -> Self {
        let instrument = past.played_at(span, 0);
        Self {
            past,
            span,
            unfolding: Unfolding::new(past.checklist, span.calendar, span.rhythm),
            read: 0,
            markers: MarkersThen::default(),
            tapes: TapeState::NotMeasured,
            required: past.required(instrument),
            then: Then { instrument, glow: [0.0; 4] },
            ahead: (0..past.checklist.stages().len()).collect(),
            changed: true,
        }
    }

    /// Reads everything that happened until a meeting was over.
    fn goes_on(&mut self, meeting: u32) {
        let instrument = self.past.played_at(self.span, meeting);
        self.changed = meeting == 0 || instrument != self.then.instrument;
        if instrument != self.then.instrument {
            self.required = self.past.required(instrument);
        }
        let mut at_tapes = self.markers.goes_on(&self.past.held, self.span, meeting) || meeting == 0;
        while let Some(look) = self.past.seen.get(self.read) {
            if self.span.calendar.meeting_at(look.observed_at) > meeting {
                break;
            }
            self.unfolding.take(look);
            at_tapes |= self.past.checklist.strand_of_target(&look.target) == Some(Strand::Tape);
            (self.read, self.changed) = (self.read + 1, true);
        }
        if at_tapes {
            (self.tapes, self.changed) = (self.tapes_at(meeting), true);
        }
        if self.changed {
            self.then = Then { instrument, glow: Strand::ALL.map(|strand| self.glow(strand)) };
        }
    }

    fn tapes_at(&self, meeting: u32) -> TapeState {
        let checklist = self.past.checklist;
        let of_tapes = |place: &usize| checklist.strand_of(&checklist.checkpoints()[*place]) == Strand::Tape;
        let places = (0..checklist.checkpoints().len()).filter(of_tapes);
        let standings: BTreeMap<CheckpointId, Standing> = places
            .filter_map(|place| Some((checklist.checkpoints()[place].id.clone(), self.unfolding.standing(place)?)))
            .collect();
        let context = ChildContext { tapes: self.markers.assessment(), ..ChildContext::default() };
        let outlook = Outlook { checklist, calendar: self.span.calendar, rhythm: self.span.rhythm, now: meeting };
        TapeStatus::of(&outlook, &standings, &context).state
    }

    fn glow(&self, strand: Strand) -> f64 {
        if strand == Strand::Tape {
            return self.tapes.glow();
        }
        let stages = self.past.checklist.stages().iter().zip(&self.required);
        let required = stages.filter(|(stage, _)| stage.strand == strand).flat_map(|(_, places)| places);
        glow(required.map(|place| self.unfolding.level(*place)))
    }

    /// The stages that are reached now and were not when this was asked last.
    fn reached(&mut self) -> Vec<StageId> {
        if !self.changed {
            return Vec::new();
        }
        let stages = self.past.checklist.stages();
        let is_reached = |place: &usize| {
            let required = &self.required[*place];
            match stages[*place].strand {
                Strand::Tape => self.tapes.stage() >= stages[*place].number,
                Strand::Hold | Strand::Bow | Strand::Frame => {
                    !required.is_empty() && required.iter().all(|place| self.unfolding.level(*place) >= Some(REACHED))
                }
            }
        };
        let (reached, ahead): (Vec<usize>, Vec<usize>) = self.ahead.iter().partition(|place| is_reached(place));
        self.ahead = ahead;
        reached.into_iter().map(|place| stages[place].id.clone()).collect()
    }
}
