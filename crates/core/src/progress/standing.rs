//! Standing: how one child stands at one checkpoint, computed from observations alone.
//!
//! A standing depends on the set of observations in force, never on the order in which they arrived or how often. What stands
//! at Alone or better has a clock, in meetings of the class's calendar; what stands below is in work and has none.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::craft::checklist::Checklist;
use crate::craft::id::Target;
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::level::Level;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::observation::{Observation, Observed, Says, Via, in_force};
use crate::progress::rhythm::{AFTER_SLIP, PASSES, REACHES, Rhythm, STUCK_AFTER};

/// The version of the rules by which standings follow from observations, and tape records from logs. Raised with every change
/// after which something else follows: what an older version left is computed anew.
pub const RULES_VERSION: u32 = 2;

/// How a child stands at a checkpoint that somebody has looked at. No standing at all means unseen.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Standing {
    /// The present level.
    pub level: Level,
    /// The highest level ever.
    pub peak: Level,
    /// Since when it has stood at Prompted or better; `None` below.
    pub passed_at: Option<DateTime<Utc>>,
    /// The last look of any kind.
    pub looked_at: DateTime<Utc>,
    /// The last look at the child's own chair; scans do not count.
    pub visited_at: Option<DateTime<Utc>>,
    /// Meetings from the last look until the next; `None` below Alone.
    pub interval: Option<u32>,
    /// In how many visits in a row it was looked at since it rose last, below Alone; 0 from there on.
    pub tries: u32,
    /// Whether the last look found a slip: a lower level than before, or a slip ticked.
    pub slipped: bool,
    /// The slips ticked at the last look.
    pub slips: BTreeSet<SlipId>,
    /// What the child said when last asked.
    pub says: Option<Says>,
}

impl Standing {
    /// The meeting at which this checkpoint is due again; `None` below Alone.
    #[must_use]
    pub fn due_at(&self, calendar: &MeetingCalendar) -> Option<u32> {
        Some(calendar.meeting_at(self.looked_at).saturating_add(self.interval?))
    }

    /// Whether it was looked at time and again without rising: time to try another way.
    #[must_use]
    pub fn is_stuck(&self) -> bool {
        self.tries >= STUCK_AFTER
    }

    /// Whether the next visit leaves it for something else: after every so many tries.
    #[must_use]
    pub fn rests(&self) -> bool {
        self.is_stuck() && self.tries.is_multiple_of(STUCK_AFTER)
    }
}

/// How a checkpoint stands, with what its next observations need to know of those before.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct StandingSoFar {
    /// How it stands.
    pub standing: Standing,
    /// Lasting in a row.
    pub lasting_run: u32,
    /// The meeting of the stage look that would make the next one, at another meeting, the second in a row.
    pub held_at: Option<u32>,
    /// The meeting of the last visit at which it was looked at below Alone.
    pub tried_at: Option<u32>,
}

/// The standings of one child at every checkpoint its observations speak of, unseen ones left out.
///
/// `observations` are one child's, in any order, with any repeats; targets the checklist does not know are passed over. They
/// may be limited to some stages: a stage's standings follow from the observations on it and on its checkpoints alone.
#[must_use]
pub fn standings(
    checklist: &Checklist,
    observations: &[Observation],
    calendar: &MeetingCalendar,
    rhythm: &Rhythm,
) -> BTreeMap<CheckpointId, Standing> {
    let nothing = BTreeMap::new();
    let folds = fold(checklist, &nothing, observations, calendar, rhythm);
    let standings = checklist.checkpoints().iter().zip(folds);
    standings.filter_map(|(checkpoint, fold)| Some((checkpoint.id.clone(), fold.current?.standing()))).collect()
}

/// [`standings`] that go on: `before` is what came of all observations that were made before the first of these.
#[must_use]
pub fn standings_so_far(
    checklist: &Checklist,
    before: &BTreeMap<CheckpointId, StandingSoFar>,
    observations: &[Observation],
    calendar: &MeetingCalendar,
    rhythm: &Rhythm,
) -> BTreeMap<CheckpointId, StandingSoFar> {
    let folds = fold(checklist, before, observations, calendar, rhythm);
    let standings = checklist.checkpoints().iter().zip(folds);
    let so_far = |fold: StandingFold<'_>| {
        let StandingFold { current, lasting_run, held_at, tried_at } = fold;
        Some(StandingSoFar { standing: current?.standing(), lasting_run, held_at, tried_at })
    };
    standings.filter_map(|(checkpoint, fold)| Some((checkpoint.id.clone(), so_far(fold)?))).collect()
}

/// The fold of each checkpoint of the checklist, in its order.
fn fold<'a>(
    checklist: &Checklist,
    before: &'a BTreeMap<CheckpointId, StandingSoFar>,
    observations: &'a [Observation],
    calendar: &MeetingCalendar,
    rhythm: &Rhythm,
) -> Vec<StandingFold<'a>> {
    // By place, not by id: a class has tens of thousands of observations.
    let mut folds: Vec<StandingFold<'a>> = Vec::new();
    folds.resize_with(checklist.checkpoints().len(), StandingFold::default);
    for (id, so_far) in before {
        if let Some(place) = checklist.place(id.as_str()) {
            let current = Some(CurrentStanding::of(&so_far.standing));
            let &StandingSoFar { lasting_run, held_at, tried_at, .. } = so_far;
            folds[place] = StandingFold { current, lasting_run, held_at, tried_at };
        }
    }
    for observation in in_force(observations) {
        match (&observation.target, &observation.seen) {
            (Target::Checkpoint(id), Observed::Level { level, slips }) => {
                if let Some(place) = checklist.place(id.as_str()) {
                    let meeting = || calendar.meeting_at(observation.observed_at);
                    folds[place].look(observation.into(), *level, Some(slips), meeting, rhythm);
                }
            }
            (Target::Stage(id), Observed::Holds { except }) => {
                let meeting = calendar.meeting_at(observation.observed_at);
                let Some(stage) = checklist.stages().iter().position(|stage| stage.id == *id) else { continue };
                for place in checklist.places_of(stage) {
                    if !except.contains(&checklist.checkpoints()[place].id) {
                        folds[place].holds(observation.into(), meeting, rhythm);
                    }
                }
            }
            _ => {}
        }
    }
    folds
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
