//! Forecast: a class as it stands, played forward many times with rounds as the application plans them, at the class's own pace.
//!
//! Each run draws rates and paces as likely as the class's observations say ([`crate::round::class_rates`]), lets happen what
//! may have happened since each thing was last looked at, and plays on ([`crate::round::play`]). Nobody is absent; markers are
//! taken to go on once the hand is ready for them, and to be found true.

use std::collections::BTreeMap;
use std::sync::Arc;

use chrono::NaiveDate;

use crate::craft::cause_graph::CauseGraph;
use crate::craft::checklist::Checklist;
use crate::craft::id::CheckpointId;
use crate::craft::instrument::Playing;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::context::ChildContext;
use crate::progress::next::Order;
use crate::progress::rhythm::Rhythm;
use crate::progress::standing::Standing;
use crate::round::class_rates::{Evidence, RatesLikely};
use crate::round::milestones::{Milestone, milestones_ahead};
use crate::round::planner::RoundTerms;
use crate::round::play::{Chance, Player, Setting};
use crate::round::rates::ClassRates;
use crate::round::reading::Reading;
use crate::round::rounds::Rounds;
use crate::round::start::Start;

/// What the class keeps to.
#[derive(Clone, Copy, Debug)]
pub struct Class<'a> {
    /// When it meets.
    pub calendar: &'a MeetingCalendar,
    /// How soon things are looked at again, so far.
    pub rhythm: &'a Rhythm,
    /// What leads to what.
    pub causes: &'a CauseGraph,
    /// Which hand comes first.
    pub order: Order,
    /// Seconds to walk to the next child and greet it.
    pub visit_seconds: u32,
    /// The most checks at one visit.
    pub max_checks_per_child: usize,
    /// Unseen for so many meetings or more: must be seen.
    pub must_see_after_meetings: u32,
}

/// A child as it stands before the first meeting of the forecast. In walking order.
#[derive(Clone, Debug)]
pub struct Prospect<'a> {
    /// The checklist it is read by.
    pub checklist: &'a Checklist,
    /// What it plays.
    pub playing: &'a Playing,
    /// Its context.
    pub context: &'a ChildContext,
    /// Its standings.
    pub standings: &'a BTreeMap<CheckpointId, Standing>,
    /// The meeting of the last visit; that before joining, where there was none.
    pub last_visit: u32,
    /// The meeting before joining.
    pub joined: u32,
    /// What its observations say of how it gets on.
    pub evidence: Evidence,
}

/// A look that is late by more meetings than this stays late.
pub const LATE_AT_MOST: u32 = 2;

/// One meeting of one run.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Met {
    /// Looks that are late when it begins.
    pub late: u32,
    /// Those that are late by more than [`LATE_AT_MOST`] meetings.
    pub too_late: u32,
    /// The longest wait of any child since its last visit when it begins, in meetings.
    pub longest_wait: u32,
    /// The mean of these waits.
    pub mean_wait: f64,
    /// Children visited.
    pub visited: u32,
}

/// One way in which the meetings to come may go.
#[derive(Clone, Debug, PartialEq)]
pub struct Run {
    /// The meetings, in order.
    pub met: Vec<Met>,
    /// The meeting by which each milestone was reached; `None` where it was not.
    pub reached: Vec<Option<u32>>,
}

/// A class before its meetings to come are played.
pub struct Forecast<'a> {
    class: Class<'a>,
    rhythm: Rhythm,
    now: u32,
    starts: Vec<Start<'a>>,
    likely: RatesLikely,
    milestones: Vec<Milestone>,
    /// The days of the meetings to come.
    days: Vec<NaiveDate>,
}

impl<'a> Forecast<'a> {
    /// The at most `most` meetings after meeting `now`, by this rhythm; they end with the calendar.
    #[must_use]
    pub fn new(class: Class<'a>, children: &[Prospect<'a>], rhythm: Rhythm, now: u32, most: u32) -> Self {
        let mut evidence = Evidence::default();
        for child in children {
            evidence.add(&child.evidence);
        }
        let likely = evidence.rates();
        let mean = likely.mean();
        let begin = |child: &Prospect<'a>| Start::of(&class, child, &rhythm, now, &mean);
        let mut starts: Vec<Start<'a>> = children.iter().map(begin).collect();
        let days =
            (now.saturating_add(1)..=now.saturating_add(most)).map_while(|meeting| class.calendar.date_of(meeting));
        let (days, milestones) = (days.collect(), Vec::new());
        let mut forecast = Self { class, rhythm, now, starts: Vec::new(), likely, milestones, days };
        let rounds = forecast.rounds(&mean, 0);
        let readings: Vec<Arc<Reading>> =
            starts.iter_mut().map(|start| rounds.read(&mut start.player, now.saturating_add(1))).collect();
        let milestones = milestones_ahead(children, &readings);
        forecast.starts = starts;
        forecast.milestones = milestones;
        forecast
    }

    /// The days of the meetings that are played, in order.
    #[must_use]
    pub fn days(&self) -> &[NaiveDate] {
        &self.days
    }

    /// What is not reached by most yet.
    #[must_use]
    pub fn milestones(&self) -> &[Milestone] {
        &self.milestones
    }

    fn rounds(&self, rates: &ClassRates, seconds: u32) -> Rounds<'_> {
        let Class { calendar, causes, order, .. } = self.class;
        let terms = RoundTerms {
            seconds_available: seconds,
            visit_seconds: self.class.visit_seconds,
            max_checks_per_child: self.class.max_checks_per_child,
            must_see_after_meetings: self.class.must_see_after_meetings,
        };
        Rounds { setting: Setting { calendar, rhythm: &self.rhythm, causes }, order, terms, rates: *rates }
    }

    /// One run, each meeting with `seconds_at` seconds for its day; `None` as soon as `stopped` says so.
    pub fn run(
        &self,
        seconds_at: &dyn Fn(NaiveDate) -> u32,
        stopped: &dyn Fn() -> bool,
        chance: &mut Chance<'_>,
    ) -> Option<Run> {
        let rates = self.likely.drawn(chance);
        let mut players: Vec<Player<'_>> =
            self.starts.iter().map(|start| start.begins(self.now, &rates, chance)).collect();
        let mut run = Run { met: Vec::with_capacity(self.days.len()), reached: vec![None; self.milestones.len()] };
        for (meeting, day) in (self.now.saturating_add(1)..).zip(&self.days) {
            if stopped() {
                return None;
            }
            let rounds = self.rounds(&rates, seconds_at(*day));
            let asked: Vec<Arc<Reading>> =
                players.iter_mut().map(|player| rounds.begins(player, meeting, chance)).collect();
            self.note_reached(&mut run.reached, &players, &asked, meeting - 1);
            let visits = rounds.planned(&players, &asked, meeting);
            run.met.push(Met { visited: number(visits.len()), ..Met::begins(&players, &asked, meeting) });
            let _ = rounds.visit(&mut players, &asked, &visits, meeting, chance, |_, _, _| ());
        }
        let after = self.now.saturating_add(number(self.days.len()));
        let rounds = self.rounds(&rates, 0);
        let asked = players.iter_mut().map(|player| rounds.read(player, after.saturating_add(1))).collect::<Vec<_>>();
        self.note_reached(&mut run.reached, &players, &asked, after);
        Some(run)
    }

    /// Notes what most have come to before the next meeting.
    fn note_reached(&self, reached: &mut [Option<u32>], players: &[Player<'_>], asked: &[Arc<Reading>], meeting: u32) {
        for (milestone, reached) in self.milestones.iter().zip(reached).filter(|(_, reached)| reached.is_none()) {
            let children =
                players.iter().zip(asked).map(|(player, read)| (player.playing.now, player.checklist, &**read));
            if milestone.is_reached(children) {
                *reached = Some(meeting);
            }
        }
    }
}

fn number(count: usize) -> u32 {
    u32::try_from(count).unwrap_or(u32::MAX)
}

impl Met {
    fn begins(players: &[Player<'_>], asked: &[Arc<Reading>], meeting: u32) -> Self {
        let wait = |player: &Player<'_>| meeting.saturating_sub(player.last_visit);
        let late = || asked.iter().flat_map(|read| &read.late);
        let waits: u32 = players.iter().map(wait).sum();
        Self {
            late: number(late().count()),
            too_late: number(late().filter(|late| **late > LATE_AT_MOST).count()),
            longest_wait: players.iter().map(wait).max().unwrap_or_default(),
            mean_wait: f64::from(waits) / f64::from(number(players.len()).max(1)),
            visited: 0,
        }
    }
}
