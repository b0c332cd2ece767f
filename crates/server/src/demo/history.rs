//! Eight weeks of a class, played from each child's pace and turn.
//!
//! The story goes through the rules themselves: at each meeting a round is planned as the application plans it, and what a look
//! finds is what the child can do by the model of [`bright_row_core::round::play`].

use std::collections::{BTreeMap, BTreeSet};
use std::ops::RangeInclusive;

use bright_row_core::AccountId;
use bright_row_core::craft::cause_graph::CauseGraph;
use bright_row_core::craft::checklist::{Checklist, Slip};
use bright_row_core::craft::id::{CheckpointId, Target};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::ladder::Ladder;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::observation::{Observation, Observed, Says, Via};
use bright_row_core::progress::outlook::Outlook;
use bright_row_core::progress::pupil::Pupil as Learner;
use bright_row_core::progress::standing::{Standing, standings};
use bright_row_core::round::checks::{Check, visit_points};
use bright_row_core::round::planner::{PlanCheck, PlanChild, RoundTerms};
use bright_row_core::round::play::{Player, Setting};
use bright_row_core::round::rates::Rates;
use bright_row_store::children::Child;
use bright_row_store::classes::Class;
use chrono::{DateTime, Duration, NaiveDate, NaiveTime, TimeZone, Utc};
use chrono_tz::Tz;
use rand::{Rng, RngExt};

use super::id;
use super::school::{Pace, Pupil, Turn};

/// Minutes of a round.
const MINUTES: u32 = 20;
/// How children get on, for a usual pace.
const RATES: Rates = Rates { base: 0.55, coach: 0.75, slip: 0.03 };
/// The meetings of three weeks in which the director was ill: nobody walked a round.
const ILL: RangeInclusive<u32> = 9..=14;
/// Every so many visits is the assistant's.
const ASSISTANTS_SHARE: usize = 4;
/// How often a slip is ticked below Alone.
const SLIPS: f64 = 0.4;
/// Meetings at which a seldom seen child is visited all the same.
const SELDOM_AT: u32 = 2;
/// The meeting at which somebody's tapes have drifted.
const DRIFTS_AT: u32 = 13;
/// From this meeting on a sore child says so, once.
const SORE_FROM: u32 = 14;
/// The same for one that rested then and plays again.
const RESTED_FROM: u32 = 7;
/// The meetings at which tapes are measured, laid, proved and looked at again, by row from there on.
const TAPE_WORK: [(&str, u32); 4] = [("tape.measured", 2), ("tape.placed", 4), ("tape.heard", 6), ("tape.holding", 9)];

/// A child, how it was thought up, and how many meetings later its row began.
pub(super) type Member<'a> = (Child, &'a Pupil, u32);

pub(super) struct Story<'a> {
    pub(super) class: &'a Class,
    pub(super) checklist: &'a Checklist,
    pub(super) causes: &'a CauseGraph,
    pub(super) order: Order,
    pub(super) time_zone: Tz,
    pub(super) director: AccountId,
    pub(super) assistant: AccountId,
    pub(super) until: NaiveDate,
}

/// A child's part of the story so far.
struct Part<'a> {
    member: &'a Member<'a>,
    observations: Vec<Observation>,
    player: Player<'a>,
}

impl Part<'_> {
    /// Whether its row has begun.
    fn is_here(&self, meeting: u32) -> bool {
        self.member.2 < meeting
    }

    /// Whether somebody may come to its chair at this meeting.
    fn can_be_visited(&self, meeting: u32) -> bool {
        let (_, pupil, late) = self.member;
        self.is_here(meeting) && (pupil.turn != Some(Turn::Seldom) || meeting == SELDOM_AT + late)
    }
}

/// A child as it stands when a meeting begins.
struct Now {
    standings: BTreeMap<CheckpointId, Standing>,
    ladder: Ladder,
}

impl Story<'_> {
    /// Every observation of the story, in order.
    pub(super) fn tell(&self, members: &[Member<'_>], chance: &mut impl Rng) -> Vec<Observation> {
        let context = ChildContext::default();
        let part = |member| {
            let (child, pupil, _): &Member<'_> = member;
            let pace = match pupil.pace {
                Pace::Quick => 1.5,
                Pace::Steady => 1.0,
                Pace::Slow => 0.6,
            };
            let player = Player::new(self.checklist, &child.playing, &context, pace);
            Part { member, observations: Vec::new(), player }
        };
        let mut parts: Vec<Part<'_>> = members.iter().map(part).collect();
        let calendar = &self.class.calendar;
        for meeting in 1..=calendar.total() {
            let Some(day) = calendar.date_of(meeting).filter(|day| *day < self.until) else { break };
            self.sizes(&mut parts, meeting, day, chance);
            self.tape_work(&mut parts, meeting, day, chance);
            self.meet(&mut parts, (meeting, day), &context, chance);
        }
        let mut observations: Vec<Observation> = parts.into_iter().flat_map(|part| part.observations).collect();
        observations.sort_by_key(|observation| (observation.observed_at, observation.id));
        observations
    }

    fn moment(&self, day: NaiveDate, seconds: i64) -> DateTime<Utc> {
        let begins = NaiveTime::from_hms_opt(13, 10, 0).expect("a time of day");
        let local = day.and_time(begins) + Duration::seconds(seconds);
        self.time_zone.from_local_datetime(&local).earliest().map_or_else(|| local.and_utc(), |at| at.to_utc())
    }

    /// Tapes are an evening's work for a whole row, two rows a meeting.
    fn tape_work(&self, parts: &mut [Part<'_>], meeting: u32, day: NaiveDate, chance: &mut impl Rng) {
        for part in parts {
            let (child, pupil, late) = part.member;
            let row = child.seat.map_or(0, |seat| u32::from(seat.row));
            for (target, from) in TAPE_WORK {
                let slack = u32::from(pupil.pace == Pace::Slow);
                if meeting == from + row / 2 + late + slack && pupil.turn != Some(Turn::Seldom) {
                    let at = self.moment(day, -900 + i64::from(row) * 40);
                    part.observations.push(Self::observation(
                        child,
                        target,
                        at,
                        self.assistant,
                        level(Level::Alone),
                        chance,
                    ));
                }
            }
            if pupil.turn == Some(Turn::Drifts) && meeting == DRIFTS_AT {
                let at = self.moment(day, 2100);
                part.observations.push(Self::observation(
                    child,
                    "tape.holding",
                    at,
                    self.assistant,
                    level(Level::NotYet),
                    chance,
                ));
            }
        }
    }

    /// Instruments of the right size are handed out at a row's first meeting: seen while setting up.
    fn sizes(&self, parts: &mut [Part<'_>], meeting: u32, day: NaiveDate, chance: &mut impl Rng) {
        let begin = |part: &&mut Part<'_>| meeting == part.member.2 + 1 && part.member.1.turn != Some(Turn::Seldom);
        for part in parts.iter_mut().filter(begin) {
            let at = self.moment(day, -600);
            let size = Self::observation(&part.member.0, "hold.size", at, self.director, level(Level::Alone), chance);
            part.observations.push(Observation { via: Via::SetUp, ..size });
        }
    }

    /// A meeting: class teaching, and a round as the application plans it.
    fn meet(
        &self,
        parts: &mut [Part<'_>],
        (meeting, day): (u32, NaiveDate),
        context: &ChildContext,
        chance: &mut impl Rng,
    ) {
        let now: Vec<Now> = parts.iter().map(|part| self.now(part, meeting, context)).collect();
        for (part, now) in parts.iter_mut().zip(&now).filter(|(part, _)| part.is_here(meeting)) {
            part.player.goes_on(&now.ladder, meeting, &RATES.into(), &mut || chance.random::<f64>());
        }
        if ILL.contains(&meeting) {
            return;
        }
        let round = self.class.round;
        let checks: Vec<Vec<Check>> = parts
            .iter()
            .zip(&now)
            .map(|(part, now)| {
                let must_see = meeting - part.player.last_visit >= round.must_see_after;
                self.pupil(part, now, context).checks(self.order, must_see)
            })
            .collect();
        let planned = (0..).zip(parts.iter().zip(&checks)).map(|(seat_order, (part, checks))| {
            let unseen = meeting - part.player.last_visit;
            PlanChild {
                seat_order,
                absent: !part.can_be_visited(meeting),
                meetings_unseen: unseen,
                visit_points: visit_points(unseen),
                checks: checks
                    .iter()
                    .map(|check| PlanCheck { seconds: check.next.seconds, points: check.points })
                    .collect(),
            }
        });
        let terms = RoundTerms {
            seconds_available: 60 * MINUTES,
            visit_seconds: round.visit_seconds,
            max_checks_per_child: usize::try_from(round.max_checks).unwrap_or(usize::MAX),
            must_see_after_meetings: round.must_see_after,
        };
        let plan = terms.plan(&planned.collect::<Vec<_>>());
        for (visit, stop) in plan.stops.iter().enumerate() {
            let who = if visit % ASSISTANTS_SHARE == 3 { self.assistant } else { self.director };
            let at = self.moment(day, 120 + 45 * i64::try_from(visit).unwrap_or_default());
            let looks = &checks[stop.child][..stop.checks];
            self.visit(&mut parts[stop.child], looks, (at, meeting), who, chance);
        }
    }

    fn now(&self, part: &Part<'_>, meeting: u32, context: &ChildContext) -> Now {
        let (calendar, rhythm) = (&self.class.calendar, &self.class.rhythm);
        let standings = standings(self.checklist, &part.observations, calendar, rhythm);
        let outlook = Outlook { checklist: self.checklist, calendar, rhythm, now: meeting };
        let ladder = outlook.ladder(&part.member.0.playing, context, &standings);
        Now { standings, ladder }
    }

    fn pupil<'b>(&'b self, part: &Part<'_>, now: &'b Now, context: &'b ChildContext) -> Learner<'b> {
        Learner {
            checklist: self.checklist,
            causes: self.causes,
            instrument: part.member.0.playing.now,
            context,
            standings: &now.standings,
            ladder: &now.ladder,
        }
    }

    fn visit(
        &self,
        part: &mut Part<'_>,
        looks: &[Check],
        (begins, meeting): (DateTime<Utc>, u32),
        who: AccountId,
        chance: &mut impl Rng,
    ) {
        let (child, pupil, _) = part.member;
        let setting = Setting { calendar: &self.class.calendar, rhythm: &self.class.rhythm, causes: self.causes };
        let mut at = begins;
        for look in looks {
            at += Duration::seconds(9);
            if self.checklist.strand_of_target(look.target()) == Some(Strand::Tape) {
                // Whose tapes drifted waits for the bench.
                if pupil.turn == Some(Turn::Drifts) && meeting > DRIFTS_AT {
                    continue;
                }
                let id = look.target().id();
                part.observations.push(Self::observation(child, id, at, who, level(Level::Alone), chance));
                continue;
            }
            for (target, seen) in self.found(part, look.target(), chance) {
                part.observations.push(Self::observation(child, &target, at, who, seen, chance));
            }
            let _ =
                part.player.look(look.target(), (at, meeting), &setting, &RATES.into(), &mut || chance.random::<f64>());
        }
        let sore = match pupil.turn {
            Some(Turn::Sore) => meeting >= SORE_FROM,
            Some(Turn::Rested) => meeting >= RESTED_FROM,
            _ => false,
        };
        let said_so = part.observations.iter().any(|observation| observation.says == Some(Says::Hurts));
        if let Some(last) = part.observations.last_mut() {
            if sore && !said_so {
                last.says = Some(Says::Hurts);
                last.note = Some("Neck, after a few minutes.".to_owned());
            } else if chance.random_bool(0.15) {
                last.says = Some(if chance.random_bool(0.8) { Says::Easy } else { Says::Tight });
            } else if chance.random_bool(0.05) {
                last.note = Some("Better with the stand a hand lower.".to_owned());
            }
        }
    }

    /// What a look finds, now and then with a slip.
    fn found(&self, part: &Part<'_>, target: &Target, chance: &mut impl Rng) -> Vec<(String, Observed)> {
        let with_slip = |(target, seen): (Target, Observed)| {
            let seen = match (&target, seen) {
                (Target::Checkpoint(id), Observed::Level { level, .. }) => self.seen(&part.member.0, id, level, chance),
                (_, seen) => seen,
            };
            (target.id().to_owned(), seen)
        };
        part.player.finds(target).into_iter().map(with_slip).collect()
    }

    /// A level, below Alone now and then with a slip.
    fn seen(&self, child: &Child, id: &CheckpointId, level: Level, chance: &mut impl Rng) -> Observed {
        let here = |slip: &&Slip| slip.checkpoint == *id && slip.instruments.contains(&child.playing.now);
        let slips: Vec<&Slip> = self.checklist.slips().iter().filter(here).collect();
        // Classes share their slips: mostly the usual one.
        let usual = chance.random_bool(0.6);
        let slip = (!slips.is_empty()).then(|| slips[if usual { 0 } else { chance.random_range(0..slips.len()) }]);
        let slips = slip.filter(|_| level < Level::Alone && chance.random_bool(SLIPS)).map(|slip| slip.id.clone());
        Observed::Level { level, slips: slips.into_iter().collect() }
    }

    fn observation(
        child: &Child,
        target: &str,
        at: DateTime<Utc>,
        observer: AccountId,
        seen: Observed,
        chance: &mut impl Rng,
    ) -> Observation {
        Observation {
            id: id(chance, at).into(),
            child: child.id,
            target: Target::from_id(target),
            seen,
            says: None,
            note: None,
            via: Via::Visit,
            observed_at: at,
            recorded_at: at,
            observer,
            round: None,
        }
    }
}

fn level(level: Level) -> Observed {
    Observed::Level { level, slips: BTreeSet::new() }
}
