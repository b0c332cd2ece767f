//! Rehearsal: a class is played meeting by meeting to judge a policy, with random numbers that are handed in.
//!
//! [`Policy::Next`] plans rounds as the application does. [`Policy::Rows`] walks on in seat order from where the last meeting
//! ended. [`Policy::Limit`] knows what each child can really do: how far any policy could come.

use std::collections::BTreeSet;

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
use crate::round::checks::visit_points;
use crate::round::outcome::{Outcome, Tally};
use crate::round::planner::{PlanCheck, PlanChild, RoundTerms};
use crate::round::play::{Chance, Player, Rates, Setting};

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
    pub rates: Rates,
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

/// One thing to look at.
struct Wanted {
    target: Target,
    plan: PlanCheck,
}

/// What one child could be looked at for, and what the picture of the class shows of it.
struct Asked {
    wanted: Vec<Wanted>,
    due: BTreeSet<Strand>,
    late: usize,
}

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

    fn setting(&self, policy: Policy) -> Setting<'_> {
        let rhythm = if policy == Policy::Rows { &ROWS_RHYTHM } else { self.rhythm };
        Setting { calendar: self.calendar, rhythm, causes: self.causes }
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
        let setting = self.setting(policy);
        let ladders: Vec<Ladder> = players.iter().map(|player| player.ladder(&setting, meeting)).collect();
        for (player, ladder) in players.iter_mut().zip(&ladders) {
            player.goes_on(ladder, meeting, &self.rates, chance);
        }
        let asked: Vec<Asked> =
            players.iter().zip(&ladders).map(|(player, ladder)| self.asked(policy, player, ladder, meeting)).collect();
        let due = asked.iter().map(|asked| asked.due.len()).sum();
        tally.begins(meeting, players, due, asked.iter().map(|asked| asked.late).sum());
        let visits = match policy {
            Policy::Rows => self.rows(&asked, from),
            Policy::Next | Policy::Limit => self.planned(players, &asked, meeting),
        };
        let day = self.calendar.date_of(meeting).unwrap_or_default();
        let at = self.calendar.begins(day);
        for (child, checks) in visits {
            tally.seconds += f64::from(self.terms.visit_seconds);
            for wanted in &asked[child].wanted[..checks] {
                tally.seconds += f64::from(wanted.plan.seconds);
                let found = players[child].look(&wanted.target, (at, meeting), &setting, &self.rates, chance);
                tally.delays.extend(found.into_iter().map(|found| found.delay));
            }
        }
        tally.ends(meeting, players);
    }

    /// Whom to visit, and how far down the list.
    fn planned(&self, players: &[Player<'_>], asked: &[Asked], meeting: u32) -> Vec<(usize, usize)> {
        let child = |(place, (player, asked)): (u32, (&Player<'_>, &Asked))| {
            let unseen = meeting - player.last_visit;
            PlanChild {
                seat_order: place,
                absent: false,
                meetings_unseen: unseen,
                visit_points: visit_points(unseen),
                checks: asked.wanted.iter().map(|wanted| wanted.plan).collect(),
            }
        };
        let children: Vec<PlanChild> = (0..).zip(players.iter().zip(asked)).map(child).collect();
        self.terms.plan(&children).stops.into_iter().map(|stop| (stop.child, stop.checks)).collect()
    }

    /// On in seat order while there is time.
    fn rows(&self, asked: &[Asked], from: &mut usize) -> Vec<(usize, usize)> {
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

    fn asked(&self, policy: Policy, player: &Player<'_>, ladder: &Ladder, meeting: u32) -> Asked {
        let late = ladder.stages.iter().filter(|view| matches!(view.recheck, Some(Recheck::Overdue(_)))).count();
        let due = ladder.strands.iter().filter(|view| view.recheck.is_some_and(Recheck::is_due));
        let due = due.map(|view| view.strand).collect();
        match policy {
            Policy::Next => {
                let setting = self.setting(policy);
                let must_see = meeting - player.last_visit >= self.terms.must_see_after_meetings;
                let checks = player.pupil(&setting, ladder).checks(self.order, must_see);
                let wanted = checks.into_iter().take(self.terms.max_checks_per_child).map(|check| Wanted {
                    plan: PlanCheck { seconds: check.next.seconds, points: check.points },
                    target: check.next.target,
                });
                Asked { wanted: wanted.collect(), due, late }
            }
            Policy::Rows => self.asked_in_rows(player, ladder, meeting),
            Policy::Limit => Asked { wanted: self.asked_by_truth(player, ladder), due, late },
        }
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

    fn asked_in_rows(&self, player: &Player<'_>, ladder: &Ladder, meeting: u32) -> Asked {
        let mut asked = Asked { wanted: Vec::new(), due: BTreeSet::new(), late: 0 };
        for (stage, view) in self.checklist.stages().iter().zip(&ladder.stages) {
            let reached = matches!(view.state, StageState::Reached | StageState::Settled);
            if reached && stage.strand != Strand::Tape && view.recheck.is_some_and(Recheck::is_due) {
                let plan = PlanCheck { seconds: stage.seconds, points: 0 };
                asked.wanted.push(Wanted { target: Target::Stage(stage.id.clone()), plan });
                asked.due.insert(stage.strand);
                asked.late += usize::from(matches!(view.recheck, Some(Recheck::Overdue(_))));
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
                asked.due.insert(self.checklist.strand_of(checkpoint));
                asked.late += usize::from(clock.is_some_and(|due| due < meeting));
            }
            if below {
                in_work.push(self.one(place, 0));
            } else if due {
                asked.wanted.push(self.one(place, 0));
            }
        }
        asked.wanted.extend(in_work);
        asked
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
