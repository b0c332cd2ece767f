//! A child of a class that is played meeting by meeting: what it can really do, and what has been seen of it.
//!
//! The model: each child has a pace. At each meeting every checkpoint of a stage that is not shut may rise while it is below
//! Alone, what is at Alone may become Lasting, and what was seen at Alone or better may slip. A look at something below Alone
//! may raise it for the next look. What was seen follows from the looks by the rules of [`crate::progress`] alone.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use chrono::{DateTime, Utc};

use crate::craft::cause_graph::CauseGraph;
use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, Target};
use crate::craft::instrument::Playing;
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::context::ChildContext;
use crate::progress::ladder::Ladder;
use crate::progress::next::Order;
use crate::progress::observation::Observed;
use crate::progress::outlook::Outlook;
use crate::progress::projection::StandingProjection;
use crate::progress::pupil::Pupil;
use crate::progress::rhythm::{REACHES, Rhythm};
use crate::progress::standing::Standing;
use crate::round::planner::{PlanCheck, RoundTerms};
use crate::round::rates::{ClassRates, Rates};
use crate::round::reading::{Reading, Wanted};

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
    pub(super) truth: Vec<Option<Level>>,
    /// Since which meeting what was seen is not there any more.
    slipped_at: Vec<Option<u32>>,
    /// What follows the looks so far, by the place of the checkpoint.
    pub(super) seen: Vec<Option<StandingProjection>>,
    pub(super) standings: BTreeMap<CheckpointId, Standing>,
    /// The meeting of the last visit; 0 for none.
    pub last_visit: u32,
    /// What was last read of it, until somebody looks or something comes due.
    read: Option<Arc<Reading>>,
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
            seen: vec![None; count],
            standings: BTreeMap::new(),
            last_visit: 0,
            read: None,
        }
    }

    /// The beginning of its list and what else a play asks, when a meeting begins.
    pub(super) fn reading(
        &mut self,
        setting: &Setting<'_>,
        order: Order,
        terms: &RoundTerms,
        now: u32,
    ) -> Arc<Reading> {
        if let Some(read) = self.read.as_ref().filter(|read| now <= read.until) {
            return Arc::clone(read);
        }
        let ladder = self.ladder(setting, now);
        let must_see = now.saturating_sub(self.last_visit) >= terms.must_see_after_meetings;
        let checks = self.pupil(setting, &ladder).first_checks(order, must_see, terms.max_checks_per_child);
        let wanted = checks.into_iter().map(|check| Wanted {
            plan: PlanCheck { seconds: check.next.seconds, points: check.points },
            target: check.next.target,
        });
        let read = Arc::new(Reading::of(self.checklist, &ladder, wanted.collect(), now));
        self.read = Some(Arc::clone(&read));
        read
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
    pub fn goes_on(&mut self, ladder: &Ladder, now: u32, rates: &ClassRates, chance: &mut Chance<'_>) {
        let open = Reading::of(self.checklist, ladder, Vec::new(), now).open;
        self.goes_on_in(&open, now, rates, chance);
    }

    /// The same, where it is known which stages are worked on.
    pub(super) fn goes_on_in(&mut self, open: &[bool], now: u32, rates: &ClassRates, chance: &mut Chance<'_>) {
        let checklist = self.checklist;
        for (stage, _) in open.iter().enumerate().filter(|(_, open)| **open) {
            let rates = rates.of(checklist.stages()[stage].strand);
            for place in checklist.places_of(stage) {
                self.checkpoint_goes_on(place, now, rates, chance);
            }
        }
    }

    pub(super) fn checkpoint_goes_on(&mut self, place: usize, now: u32, rates: &Rates, chance: &mut Chance<'_>) {
        let truth = self.truth[place].get_or_insert(Level::NotYet);
        if *truth < REACHES {
            if chance() < rates.base * self.pace {
                *truth = truth.next();
            }
        } else if *truth == REACHES && chance() < LASTS * self.pace {
            *truth = Level::Lasting;
        }
        let seen = self.seen[place].as_ref();
        if let Some(seen) = seen.filter(|seen| seen.standing.level >= REACHES && *truth >= REACHES)
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
        rates: &ClassRates,
        chance: &mut Chance<'_>,
    ) -> Vec<Found> {
        self.last_visit = now;
        self.read = None;
        let Some(strand) = self.checklist.strand_of_target(target) else { return Vec::new() };
        let mut found = Vec::new();
        for place in self.looked_at(target) {
            // Markers are as they should be, or are put right at once.
            let truth = if strand == Strand::Tape { REACHES } else { self.truth(place) };
            self.see(place, (at, now), truth, matches!(target, Target::Stage(_)), setting.rhythm);
            found.extend(self.slipped_at[place].take().map(|since| Found { delay: now - since }));
            if truth < REACHES && chance() < rates.of(strand).coach * self.pace {
                self.truth[place] = Some(truth.next());
            }
        }
        found
    }

    /// What a look at a target finds: a level; of a stage that it holds but for what is not there any more, and that.
    #[must_use]
    pub fn finds(&self, target: &Target) -> Vec<(Target, Observed)> {
        let found = |place: usize| {
            let target = Target::Checkpoint(self.checklist.checkpoints()[place].id.clone());
            (target, Observed::Level { level: self.truth(place), slips: BTreeSet::new() })
        };
        let places = self.looked_at(target);
        let Target::Stage(stage) = target else { return places.into_iter().map(found).collect() };
        let gone: Vec<usize> = places.into_iter().filter(|place| self.truth(*place) < REACHES).collect();
        let except = gone.iter().map(|place| self.checklist.checkpoints()[*place].id.clone()).collect();
        let holds = (Target::Stage(stage.clone()), Observed::Holds { except });
        [holds].into_iter().chain(gone.into_iter().map(found)).collect()
    }

    /// The places that a look at a target speaks of: of a stage those of what stands there.
    fn looked_at(&self, target: &Target) -> Vec<usize> {
        let stands = |place: &usize| self.seen[*place].as_ref().is_some_and(|seen| seen.standing.level >= REACHES);
        match target {
            Target::Checkpoint(id) => self.checklist.place(id.as_str()).into_iter().collect(),
            Target::Stage(id) => {
                let stage = self.checklist.stage_place(id);
                stage.into_iter().flat_map(|stage| self.checklist.places_of(stage)).filter(stands).collect()
            }
        }
    }

    /// What a look leaves.
    pub(super) fn see(
        &mut self,
        place: usize,
        (at, now): (DateTime<Utc>, u32),
        truth: Level,
        stage: bool,
        rhythm: &Rhythm,
    ) {
        let projection = match self.seen[place].take() {
            Some(mut seen) => {
                if stage && truth >= REACHES {
                    seen.holds(at, now, rhythm);
                } else {
                    seen.look(at, truth, now, rhythm);
                }
                seen
            }
            None => StandingProjection::begun(at, truth, now, rhythm),
        };
        self.standings.insert(self.checklist.checkpoints()[place].id.clone(), projection.standing.clone());
        self.seen[place] = Some(projection);
    }

    /// The strands of which anything was seen.
    #[must_use]
    pub fn seen_strands(&self) -> BTreeSet<Strand> {
        let strand = |id: &CheckpointId| Some(self.checklist.strand_of(self.checklist.checkpoint(id.as_str())?));
        self.standings.keys().filter_map(strand).collect()
    }
}

#[cfg(test)]
mod tests {
    use std::path::Path;

    use chrono::{Days, NaiveDate, Weekday};

    use super::*;
    use crate::craft::instrument::Instrument;
    use crate::craft::loader::{self, Source};
    use crate::round::rates::Rates;
    use crate::round::rounds::Rounds;

    /// Both the newest and the one that was kept.
    fn readings(rounds: &Rounds<'_>, player: &Player<'_>, meeting: u32) -> [String; 2] {
        let fresh = Player { read: None, ..player.clone() };
        [fresh, player.clone()].map(|mut player| {
            let Reading { open, reached, wanted, due, late, .. } = (*rounds.read(&mut player, meeting)).clone();
            format!("{open:?} {reached:?} {wanted:?} {due} {late:?}")
        })
    }

    #[test]
    fn what_was_read_of_a_child_is_kept_only_as_long_as_it_would_be_read_again() {
        let files = ["hold", "bow", "frame", "tape"].map(|strand| format!("checklist/{strand}.toml")).into_iter();
        let others = ["approach", "home", "instruments", "lessons", "symptoms", "slips", "tunes"]
            .map(|name| format!("{name}.toml"));
        let read = |path: String| {
            let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../content").join(&path);
            (path, std::fs::read_to_string(file).expect("a content file"))
        };
        let drills = ["bow", "frame", "hold"].map(|strand| format!("drills/{strand}.toml"));
        let drawings =
            ["bow", "drills", "frame", "hold", "options", "slips"].map(|what| format!("drawings/{what}.toml"));
        let files: Vec<_> = files.chain(drills).chain(drawings).chain(others).map(read).collect();
        let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
        let content = loader::read(&sources).expect("the shipped content");
        let checklist = content.standard();
        let first: NaiveDate = "2026-01-05".parse().expect("a date");
        let calendar =
            MeetingCalendar::new(chrono_tz::UTC, first, first + Days::new(400), &[Weekday::Mon], &BTreeSet::new());
        let (calendar, rhythm) = (calendar.expect("a calendar"), Rhythm::default());
        let setting = Setting { calendar: &calendar, rhythm: &rhythm, causes: &content.causes };
        let terms =
            RoundTerms { seconds_available: 60, visit_seconds: 8, max_checks_per_child: 3, must_see_after_meetings: 4 };
        let rates = Rates { base: 0.3, coach: 0.4, slip: 0.05 }.into();
        let rounds = Rounds { setting, order: Order::SideBySide, terms, rates };
        let playing: Vec<Playing> = Instrument::ALL.map(Playing::from).into();
        let context = ChildContext::default();
        let mut players: Vec<Player<'_>> =
            playing.iter().map(|playing| Player::new(&checklist, playing, &context, 1.0)).collect();
        let mut state = 7_u64;
        let mut chance = || {
            state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
            f64::from(u32::try_from(state >> 32).expect("the upper half")) / f64::from(u32::MAX).next_up()
        };
        let mut kept = 0;
        for meeting in 1..=50 {
            for player in &players {
                kept += u32::from(player.read.as_ref().is_some_and(|read| meeting <= read.until));
                let [fresh, read] = readings(&rounds, player, meeting);
                assert_eq!(fresh, read, "meeting {meeting}");
            }
            let asked: Vec<_> = players.iter_mut().map(|player| rounds.begins(player, meeting, &mut chance)).collect();
            let visits = rounds.planned(&players, &asked, meeting);
            let _ = rounds.visit(&mut players, &asked, &visits, meeting, &mut chance, |_, _, _| ());
        }
        assert!(kept > 20, "{kept}");
    }
}
