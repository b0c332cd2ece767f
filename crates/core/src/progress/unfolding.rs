//! Standings as they unfold: one observation after the other, in order.

use std::collections::BTreeSet;

use chrono::{DateTime, Utc};

use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, SlipId, Target};
use crate::craft::level::Level;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::observation::{Observation, Observed, Says, Via};
use crate::progress::rhythm::{AFTER_SLIP, PASSES, REACHES, Rhythm};
use crate::progress::standing::{Standing, StandingSoFar};

/// The standings of one child while its observations are read one after the other.
///
/// Checkpoints are known by their places, not by their ids: a class has tens of thousands of observations.
pub struct Unfolding<'a> {
    checklist: &'a Checklist,
    calendar: &'a MeetingCalendar,
    rhythm: &'a Rhythm,
    pub(super) folds: Vec<StandingFold<'a>>,
}

impl<'a> Unfolding<'a> {
    /// Nobody has looked yet.
    #[must_use]
    pub fn new(checklist: &'a Checklist, calendar: &'a MeetingCalendar, rhythm: &'a Rhythm) -> Self {
        let mut folds = Vec::new();
        folds.resize_with(checklist.checkpoints().len(), StandingFold::default);
        Self { checklist, calendar, rhythm, folds }
    }

    /// A checkpoint goes on from where earlier observations brought it.
    pub(super) fn goes_on(&mut self, id: &CheckpointId, so_far: &'a StandingSoFar) {
        if let Some(place) = self.checklist.place(id.as_str()) {
            let current = Some(CurrentStanding::of(&so_far.standing));
            let &StandingSoFar { lasting_run, held_at, tried_at, .. } = so_far;
            self.folds[place] = StandingFold { current, lasting_run, held_at, tried_at };
        }
    }

    /// Takes the next observation; they come in force and in order, as [`super::observation::in_force`] gives them. Targets
    /// that the checklist does not know are passed over.
    pub fn take(&mut self, observation: &'a Observation) {
        match (&observation.target, &observation.seen) {
            (Target::Checkpoint(id), Observed::Level { level, slips }) => {
                if let Some(place) = self.checklist.place(id.as_str()) {
                    let meeting = || self.calendar.meeting_at(observation.observed_at);
                    self.folds[place].look(observation.into(), *level, Some(slips), meeting, self.rhythm);
                }
            }
            (Target::Stage(id), Observed::Holds { except }) => {
                let meeting = self.calendar.meeting_at(observation.observed_at);
                let Some(stage) = self.checklist.stage_place(id) else { return };
                for place in self.checklist.places_of(stage) {
                    if !except.contains(&self.checklist.checkpoints()[place].id) {
                        self.folds[place].holds(observation.into(), meeting, self.rhythm);
                    }
                }
            }
            _ => {}
        }
    }

    /// The level of the checkpoint at a place, `None` where nobody has looked.
    #[must_use]
    pub fn level(&self, place: usize) -> Option<Level> {
        self.folds[place].current.map(|now| now.level)
    }

    /// How the checkpoint at a place stands.
    #[must_use]
    pub fn standing(&self, place: usize) -> Option<Standing> {
        self.folds[place].current.map(CurrentStanding::standing)
    }
}

/// What the rules read of an observation beside what was seen.
#[derive(Clone, Copy)]
pub(super) struct Look {
    at: DateTime<Utc>,
    via: Via,
    says: Option<Says>,
}

impl From<&Observation> for Look {
    fn from(observation: &Observation) -> Self {
        Self { at: observation.observed_at, via: observation.via, says: observation.says }
    }
}

impl Look {
    pub(super) fn visit(at: DateTime<Utc>) -> Self {
        Self { at, via: Via::Visit, says: None }
    }
}

/// The fold of a checkpoint's observations, read in order.
#[derive(Default)]
pub(super) struct StandingFold<'a> {
    pub(super) current: Option<CurrentStanding<'a>>,
    /// Lasting in a row.
    pub(super) lasting_run: u32,
    /// The meeting of the stage look that would make the next one, at another meeting, the second in a row.
    pub(super) held_at: Option<u32>,
    /// The meeting of the last visit at which it was looked at below Alone.
    pub(super) tried_at: Option<u32>,
}

/// A [`Standing`] that borrows its slips from the observation they were ticked in.
#[derive(Clone, Copy)]
pub(super) struct CurrentStanding<'a> {
    level: Level,
    peak: Level,
    passed_at: Option<DateTime<Utc>>,
    looked_at: DateTime<Utc>,
    visited_at: Option<DateTime<Utc>>,
    interval: Option<u32>,
    tries: u32,
    slipped: bool,
    slips: Option<&'a BTreeSet<SlipId>>,
    says: Option<Says>,
}

impl<'a> CurrentStanding<'a> {
    pub(super) fn of(standing: &'a Standing) -> Self {
        Self {
            level: standing.level,
            peak: standing.peak,
            passed_at: standing.passed_at,
            looked_at: standing.looked_at,
            visited_at: standing.visited_at,
            interval: standing.interval,
            tries: standing.tries,
            slipped: standing.slipped,
            slips: Some(&standing.slips),
            says: standing.says,
        }
    }

    pub(super) fn standing(self) -> Standing {
        Standing {
            level: self.level,
            peak: self.peak,
            passed_at: self.passed_at,
            looked_at: self.looked_at,
            visited_at: self.visited_at,
            interval: self.interval,
            tries: self.tries,
            slipped: self.slipped,
            slips: self.slips.cloned().unwrap_or_default(),
            says: self.says,
        }
    }
}

impl<'a> StandingFold<'a> {
    /// `meeting` is asked only where it counts: it takes a while to find.
    pub(super) fn look(
        &mut self,
        look: Look,
        level: Level,
        slips: Option<&'a BTreeSet<SlipId>>,
        meeting: impl FnOnce() -> u32,
        rhythm: &Rhythm,
    ) {
        if look.via == Via::Scan && level >= REACHES {
            self.confirm(look);
            return;
        }
        self.held_at = None;
        let tries = self.tries(look, level, meeting);
        self.settle(look, level, slips, rhythm);
        if let Some(now) = &mut self.current {
            now.tries = tries;
        }
    }

    /// In how many visits in a row it was looked at without rising, with this look.
    fn tries(&mut self, look: Look, level: Level, meeting: impl FnOnce() -> u32) -> u32 {
        if level >= REACHES {
            self.tried_at = None;
            return 0;
        }
        let before = self.current.map_or(0, |now| if level > now.level { 0 } else { now.tries });
        if look.via != Via::Visit {
            return before;
        }
        let meeting = Some(meeting());
        let again = self.tried_at == meeting;
        self.tried_at = meeting;
        if again { before.max(1) } else { before + 1 }
    }

    /// A scan confirms what stands; it gives no level and raises none.
    fn confirm(&mut self, look: Look) {
        if let Some(now) = self.current.as_mut().filter(|now| now.level >= REACHES) {
            now.looked_at = look.at;
            now.says = look.says.or(now.says);
        }
    }

    pub(super) fn holds(&mut self, look: Look, meeting: u32, rhythm: &Rhythm) {
        let Some(before) = self.current.filter(|now| now.level >= REACHES) else { return };
        if look.via == Via::Scan {
            self.confirm(look);
            return;
        }
        let second = self.held_at.is_some_and(|first| first != meeting);
        let level = if second { Level::Lasting } else { before.level };
        self.held_at = self.held_at.or(Some(meeting));
        self.settle(look, level, None, rhythm);
    }

    fn settle(&mut self, look: Look, level: Level, slips: Option<&'a BTreeSet<SlipId>>, rhythm: &Rhythm) {
        let before = self.current;
        let ticked = slips.is_some_and(|slips| !slips.is_empty());
        let slipped = ticked || before.is_some_and(|now| level < now.level);
        self.lasting_run = if level == Level::Lasting && !slipped { self.lasting_run + 1 } else { 0 };
        let passed_at = before.and_then(|now| now.passed_at).or(Some(look.at));
        self.current = Some(CurrentStanding {
            level,
            peak: before.map_or(level, |now| now.peak.max(level)),
            passed_at: passed_at.filter(|_| level >= PASSES),
            looked_at: look.at,
            visited_at: if look.via == Via::Visit { Some(look.at) } else { before.and_then(|now| now.visited_at) },
            interval: rhythm.interval(level, self.lasting_run).map(|usual| if slipped { AFTER_SLIP } else { usual }),
            tries: 0,
            slipped,
            slips,
            says: look.says.or(before.and_then(|now| now.says)),
        });
    }
}
