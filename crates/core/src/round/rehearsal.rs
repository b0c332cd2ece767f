//! Rehearsal: a class is played meeting by meeting to judge a policy, with random numbers that are handed in.
//!
//! [`Policy::Next`] plans rounds as the application does. [`Policy::Rows`] walks on in seat order from where the last meeting
//! ended. [`Policy::Limit`] knows what each child can really do: how far any policy could come.

use std::collections::BTreeSet;
use std::sync::Arc;

use serde::{Deserialize, Serialize};

use crate::craft::cause_graph::CauseGraph;
use crate::craft::checklist::Checklist;
use crate::craft::id::Target;
use crate::craft::instrument::{Instrument, Playing};
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::context::ChildContext;
use crate::progress::ladder::{Ladder, StageState};
use crate::progress::next::Order;
use crate::progress::rhythm::{REACHES, Recheck, Rhythm};
use crate::round::outcome::{Outcome, Tally};
use crate::round::planner::{PlanCheck, RoundTerms};
use crate::round::play::{Chance, Player, Setting};
use crate::round::rates::ClassRates;
use crate::round::reading::{Reading, Wanted};
use crate::round::rounds::Rounds;

/// How children are chosen for a visit, and what is looked at there.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase")]
pub enum Policy {
    /// The beginning of each child's list, by the planner.
    Next,
    /// On in seat order, the first three of what is due or in work, in the order of the ladder.
    Rows,
    /// Where the truth fell below what was seen, then where it has risen, then on.
    Limit,
}

/// What is played.
#[derive(Clone, Copy, Debug)]
pub struct Play<'a> {
    /// The class's checklist; without markers, which nobody plays.
    pub checklist: &'a Checklist,
    /// What leads to what.
    pub causes: &'a CauseGraph,
    /// When the class meets.
    pub calendar: &'a MeetingCalendar,
    /// How soon things are looked at again.
    pub rhythm: &'a Rhythm,
    /// Which hand comes first.
    pub order: Order,
    /// How children get on.
    pub rates: ClassRates,
    /// What a round keeps to.
    pub terms: RoundTerms,
    /// Meetings played, from the first of the calendar on.
    pub meetings: u32,
}

/// The clocks of [`Policy::Rows`] below Alone, in meetings.
const ROWS_BELOW: [u32; 3] = [1, 1, 2];
/// The clocks of [`Policy::Rows`] from Alone on.
const ROWS_RHYTHM: Rhythm = Rhythm { alone: 5, lasting: 10, longest: 40, tapes_first: 3, tapes_later: 20 };
/// [`Policy::Limit`] goes after so many falls at a visit.
const FALLS: usize = 2;
/// Points of [`Policy::Limit`] for a fall, for what has risen, and for the rest.
const LIMIT_POINTS: (u32, u32, u32) = (60, 40, 20);

/// The sections of a class of so many: half of it violins, then violas, cellos and basses.
#[must_use]
pub fn section(place: usize) -> Instrument {
    const TEN: [Instrument; 10] = {
        use Instrument::{Bass, Cello, Viola, Violin};
        [Violin, Violin, Viola, Cello, Violin, Violin, Cello, Viola, Violin, Bass]
    };
    TEN[place % TEN.len()]
}

impl Play<'_> {
    /// Plays a policy for a class of so many children of whom nothing is known.
    #[must_use]
    pub fn rehearse(&self, policy: Policy, children: usize, chance: &mut Chance<'_>) -> Outcome {
        let playing: Vec<Playing> = (0..children).map(|place| section(place).into()).collect();
        let context = ChildContext::default();
        let mut players: Vec<Player<'_>> = Vec::with_capacity(children);
        for playing in &playing {
            players.push(Player::new(self.checklist, playing, &context, 0.6 + 0.9 * chance()));
        }
        let mut tally = Tally::default();
        let mut from = 0;
        for meeting in 1..=self.meetings {
            self.meet(policy, meeting, &mut players, &mut from, &mut tally, chance);
        }
        tally.outcome()
    }

    pub(super) fn rounds(&self, policy: Policy) -> Rounds<'_> {
        let rhythm = if policy == Policy::Rows { &ROWS_RHYTHM } else { self.rhythm };
        let setting = Setting { calendar: self.calendar, rhythm, causes: self.causes };
        Rounds { setting, order: self.order, terms: self.terms, rates: self.rates }
    }

    fn meet(
        &self,
        policy: Policy,
        meeting: u32,
        players: &mut [Player<'_>],
        from: &mut usize,
        tally: &mut Tally,
        chance: &mut Chance<'_>,
    ) {
        let rounds = self.rounds(policy);
        let asked: Vec<Arc<Reading>> = players
            .iter_mut()
            .map(|player| match policy {
                Policy::Next => rounds.begins(player, meeting, chance),
                Policy::Rows | Policy::Limit => Arc::new(self.asked(policy, player, meeting, chance)),
            })
            .collect();
        tally.begins(meeting, players, &asked);
        let visits = match policy {
            Policy::Rows => self.rows(&asked, from),
            Policy::Next | Policy::Limit => rounds.planned(players, &asked, meeting),
        };
        let visited = rounds.visit(players, &asked, &visits, meeting, chance, |_, _, _| ());
        tally.ends(meeting, players, visited);
    }

    /// A meeting begins for one child by another policy than the application's.
    fn asked(&self, policy: Policy, player: &mut Player<'_>, meeting: u32, chance: &mut Chance<'_>) -> Reading {
        let ladder = player.ladder(&self.rounds(policy).setting, meeting);
        player.goes_on(&ladder, meeting, &self.rates, chance);
        match policy {
            Policy::Rows => self.asked_in_rows(player, &ladder, meeting),
            Policy::Next | Policy::Limit => {
                Reading::of(self.checklist, &ladder, self.asked_by_truth(player, &ladder), meeting)
            }
        }
    }

    /// On in seat order while there is time.
    fn rows(&self, asked: &[Arc<Reading>], from: &mut usize) -> Vec<(usize, usize)> {
        let (mut left, mut visits) = (self.terms.seconds_available, Vec::new());
        for step in 0..asked.len() {
            let place = (*from + step) % asked.len();
            let wanted = &asked[place].wanted;
            let checks = wanted.len().min(self.terms.max_checks_per_child);
            let seconds = self.terms.visit_seconds + wanted[..checks].iter().map(|one| one.plan.seconds).sum::<u32>();
            if checks == 0 {
                continue;
            }
            if seconds > left {
                break;
            }
            left -= seconds;
            visits.push((place, checks));
        }
        *from = visits.last().map_or(*from, |(place, _)| (place + 1) % asked.len());
        visits
    }

    /// Checkpoints of stages that are not shut, by their places, in the order of the ladder; tapes left out.
    fn open<'b>(&'b self, player: &'b Player<'_>, ladder: &'b Ladder) -> impl Iterator<Item = (usize, &'b StageState)> {
        let asked: BTreeSet<usize> = player.asked().collect();
        let open = ladder.stages.iter().enumerate().filter(|(_, view)| !matches!(view.state, StageState::Shut(_)));
        open.flat_map(move |(stage, view)| {
            let places = self.checklist.places_of(stage).filter(|place| asked.contains(place)).collect::<Vec<_>>();
            places.into_iter().map(move |place| (place, &view.state))
        })
    }

    fn one(&self, place: usize, points: u32) -> Wanted {
        let checkpoint = &self.checklist.checkpoints()[place];
        let plan = PlanCheck { seconds: checkpoint.seconds, points };
        Wanted { target: Target::Checkpoint(checkpoint.id.clone()), plan }
    }

    fn asked_in_rows(&self, player: &Player<'_>, ladder: &Ladder, meeting: u32) -> Reading {
        let (mut wanted, mut due_strands, mut late) = (Vec::new(), BTreeSet::new(), Vec::new());
        for (stage, view) in self.checklist.stages().iter().zip(&ladder.stages) {
            let reached = matches!(view.state, StageState::Reached | StageState::Settled);
            if reached && stage.strand != Strand::Tape && view.recheck.is_some_and(Recheck::is_due) {
                let plan = PlanCheck { seconds: stage.seconds, points: 0 };
                wanted.push(Wanted { target: Target::Stage(stage.id.clone()), plan });
                due_strands.insert(stage.strand);
                late.extend(view.recheck.and_then(Recheck::late));
            }
        }
        let mut in_work = Vec::new();
        for (place, state) in self.open(player, ladder) {
            let checkpoint = &self.checklist.checkpoints()[place];
            let standing = player.standings().get(&checkpoint.id);
            let clock = standing.map(|standing| {
                let below = ROWS_BELOW.get(usize::from(standing.level.number())).copied();
                let looked = self.calendar.meeting_at(standing.looked_at);
                looked + below.or(standing.interval).unwrap_or_default()
            });
            let below = standing.is_none_or(|standing| standing.level < REACHES);
            let due = clock.is_some_and(|due| due <= meeting) && (below || *state == StageState::Open);
            if due {
                due_strands.insert(self.checklist.strand_of(checkpoint));
                late.extend(clock.and_then(|due| Recheck::at(meeting, due).late()));
            }
            if below {
                in_work.push(self.one(place, 0));
            } else if due {
                wanted.push(self.one(place, 0));
            }
        }
        wanted.extend(in_work);
        let mut read = Reading::of(self.checklist, ladder, wanted, meeting);
        (read.due, read.late) = (due_strands.len(), late);
        read
    }

    fn asked_by_truth(&self, player: &Player<'_>, ladder: &Ladder) -> Vec<Wanted> {
        let (fell, risen, rest) = LIMIT_POINTS;
        let mut wanted: Vec<Wanted> =
            player.asked().filter(|place| player.fell(*place)).take(FALLS).map(|place| self.one(place, fell)).collect();
        let seen = |place: usize| player.standings().get(&self.checklist.checkpoints()[place].id).map(|one| one.level);
        let mut in_work: Vec<usize> =
            self.open(player, ladder).map(|(place, _)| place).filter(|place| seen(*place) < Some(REACHES)).collect();
        in_work.retain(|place| !player.fell(*place));
        let has_risen = |place: usize| {
            let required = self.checklist.checkpoints()[place].required;
            required && player.truth(place) > seen(place).unwrap_or(Level::NotYet)
        };
        in_work.sort_by_key(|place| {
            let checkpoint = &self.checklist.checkpoints()[*place];
            let number = self.checklist.stage(checkpoint.stage.as_str()).map_or(0, |stage| stage.number);
            (!has_risen(*place), !checkpoint.required, number, *place)
        });
        wanted.extend(in_work.into_iter().map(|place| self.one(place, if has_risen(place) { risen } else { rest })));
        wanted
    }
}
