//! A child of a class that is played meeting by meeting: what it can really do, and what has been seen of it.
//!
//! The model: each child has a pace. At each meeting every checkpoint of a stage that is not shut may rise while it is below
//! Alone, what is at Alone may become Lasting, and what was seen at Alone or better may slip. A look at something below Alone
//! may raise it for the next look. What was seen follows from the looks by the rules of [`crate::progress`] alone.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};

use crate::craft::cause_graph::CauseGraph;
use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, Target};
use crate::craft::instrument::Playing;
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::context::ChildContext;
use crate::progress::ladder::{Ladder, StageState};
use crate::progress::outlook::Outlook;
use crate::progress::projection::StandingProjection;
use crate::progress::pupil::Pupil;
use crate::progress::rhythm::{REACHES, Rhythm};
use crate::progress::standing::Standing;

/// How children get on, as chances at one meeting for a child of pace 1.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Rates {
    /// What is below Alone in a stage that is not shut rises by class teaching.
    pub base: f64,
    /// What was looked at below Alone rises for the next look.
    pub coach: f64,
    /// What was seen at Alone or better slips.
    pub slip: f64,
}

/// What is at Alone becomes Lasting, as a chance at one meeting.
const LASTS: f64 = 0.05;

/// Random numbers, at least 0 and below 1.
pub type Chance<'a> = dyn FnMut() -> f64 + 'a;

/// By what a class is played.
#[derive(Clone, Copy, Debug)]
pub struct Setting<'a> {
    /// When it meets.
    pub calendar: &'a MeetingCalendar,
    /// How soon things are looked at again.
    pub rhythm: &'a Rhythm,
    /// What leads to what.
    pub causes: &'a CauseGraph,
}

/// A child that is played.
#[derive(Clone, Debug)]
pub struct Player<'a> {
    /// The checklist it is read by.
    pub checklist: &'a Checklist,
    /// What it plays.
    pub playing: &'a Playing,
    /// Its context.
    pub context: &'a ChildContext,
    /// How fast it gets on; 1 is usual.
    pub pace: f64,
    /// What it can really do, by the place of the checkpoint; `None` where its stage never was open.
    truth: Vec<Option<Level>>,
    /// Since which meeting what was seen is not there any more.
    slipped_at: Vec<Option<u32>>,
    seen: BTreeMap<CheckpointId, StandingProjection>,
    standings: BTreeMap<CheckpointId, Standing>,
    /// The meeting of the last visit; 0 for none.
    pub last_visit: u32,
}

/// What a look found.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Found {
    /// Meetings since a slip that it found.
    pub delay: u32,
}

impl<'a> Player<'a> {
    /// A child of whom nothing has been seen.
    #[must_use]
    pub fn new(checklist: &'a Checklist, playing: &'a Playing, context: &'a ChildContext, pace: f64) -> Self {
        let count = checklist.checkpoints().len();
        Self {
            checklist,
            playing,
            context,
            pace,
            truth: vec![None; count],
            slipped_at: vec![None; count],
            seen: BTreeMap::new(),
            standings: BTreeMap::new(),
            last_visit: 0,
        }
    }

    /// What follows from what was seen.
    #[must_use]
    pub fn ladder(&self, setting: &Setting<'_>, now: u32) -> Ladder {
        let Setting { calendar, rhythm, .. } = *setting;
        let outlook = Outlook { checklist: self.checklist, calendar, rhythm, now };
        outlook.ladder(self.playing, self.context, &self.standings)
    }

    /// It as the rules read it.
    #[must_use]
    pub fn pupil<'b>(&'b self, setting: &Setting<'b>, ladder: &'b Ladder) -> Pupil<'b> {
        Pupil {
            checklist: self.checklist,
            causes: setting.causes,
            instrument: self.playing.now,
            context: self.context,
            standings: &self.standings,
            ladder,
        }
    }

    /// How it was seen.
    #[must_use]
    pub fn standings(&self) -> &BTreeMap<CheckpointId, Standing> {
        &self.standings
    }

    /// What it can really do at a checkpoint.
    #[must_use]
    pub fn truth(&self, place: usize) -> Level {
        self.truth[place].unwrap_or(Level::NotYet)
    }

    /// Whether what was seen at a checkpoint is not there any more.
    #[must_use]
    pub fn fell(&self, place: usize) -> bool {
        self.slipped_at[place].is_some()
    }

    /// The places of the checkpoints that are asked of it, tapes left out.
    pub fn asked(&self) -> impl Iterator<Item = usize> {
        let checkpoints = self.checklist.checkpoints().iter().enumerate();
        let asked = checkpoints.filter(|(_, checkpoint)| {
            checkpoint.wording.contains_key(&self.playing.now)
                && !self.context.exempt.contains(&checkpoint.id)
                && self.checklist.strand_of(checkpoint) != Strand::Tape
        });
        asked.map(|(place, _)| place)
    }

    /// A meeting goes by: class teaching, and what slips.
    pub fn goes_on(&mut self, ladder: &Ladder, now: u32, rates: &Rates, chance: &mut Chance<'_>) {
        for (stage, view) in ladder.stages.iter().enumerate() {
            if matches!(view.state, StageState::Shut(_)) || self.checklist.stages()[stage].strand == Strand::Tape {
                continue;
            }
            for place in self.checklist.places_of(stage) {
                self.checkpoint_goes_on(place, now, rates, chance);
            }
        }
    }

    fn checkpoint_goes_on(&mut self, place: usize, now: u32, rates: &Rates, chance: &mut Chance<'_>) {
        let id = &self.checklist.checkpoints()[place].id;
        let truth = self.truth[place].get_or_insert(Level::NotYet);
        if *truth < REACHES {
            if chance() < rates.base * self.pace {
                *truth = truth.next();
            }
        } else if *truth == REACHES && chance() < LASTS * self.pace {
            *truth = Level::Lasting;
        }
        let seen = self.seen.get(id).filter(|seen| seen.standing.level >= REACHES && *truth >= REACHES);
        if let Some(seen) = seen
            && chance() < rates.slip / self.pace / f64::from(1 + seen.lasting_run())
        {
            *truth = if chance() < 0.5 { Level::Placed } else { Level::Prompted };
            self.slipped_at[place].get_or_insert(now);
        }
    }

    /// Looked at, at a visit: what was seen, and the slips that it found.
    pub fn look(
        &mut self,
        target: &Target,
        (at, now): (DateTime<Utc>, u32),
        setting: &Setting<'_>,
        rates: &Rates,
        chance: &mut Chance<'_>,
    ) -> Vec<Found> {
        self.last_visit = now;
        let checklist = self.checklist;
        let places: Vec<usize> = match target {
            Target::Checkpoint(id) => checklist.place(id.as_str()).into_iter().collect(),
            Target::Stage(id) => {
                let stands = |place: &usize| {
                    let seen = self.seen.get(&checklist.checkpoints()[*place].id);
                    seen.is_some_and(|seen| seen.standing.level >= REACHES)
                };
                let stage = checklist.stages().iter().position(|stage| stage.id == *id);
                stage.into_iter().flat_map(|stage| checklist.places_of(stage)).filter(stands).collect()
            }
        };
        let mut found = Vec::new();
        for place in places {
            let truth = self.truth(place);
            let id = &checklist.checkpoints()[place].id;
            let projection = match self.seen.remove(id) {
                Some(mut seen) if matches!(target, Target::Stage(_)) && truth >= REACHES => {
                    seen.holds(at, now, setting.rhythm);
                    seen
                }
                Some(mut seen) => {
                    seen.look(at, truth, now, setting.rhythm);
                    seen
                }
                None => StandingProjection::begun(at, truth, now, setting.rhythm),
            };
            self.standings.insert(id.clone(), projection.standing.clone());
            self.seen.insert(id.clone(), projection);
            found.extend(self.slipped_at[place].take().map(|since| Found { delay: now - since }));
            if truth < REACHES && chance() < rates.coach * self.pace {
                self.truth[place] = Some(truth.next());
            }
        }
        found
    }

    /// The strands of which anything was seen.
    #[must_use]
    pub fn seen_strands(&self) -> BTreeSet<Strand> {
        let strand = |id: &CheckpointId| Some(self.checklist.strand_of(self.checklist.checkpoint(id.as_str())?));
        self.standings.keys().filter_map(strand).collect()
    }
}
