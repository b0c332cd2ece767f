//! Eight weeks of a class, made from each child's pace and turn.
//!
//! The story goes through the rules themselves: at each meeting the children who waited longest are visited, and what is
//! looked at is what their ladders call for on that day.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::AccountId;
use bright_row_core::craft::checklist::{Checklist, Slip};
use bright_row_core::craft::id::Target;
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::ladder::StageState;
use bright_row_core::progress::observation::{Observation, Observed, Says, Via};
use bright_row_core::progress::outlook::Outlook;
use bright_row_core::progress::rhythm::Recheck;
use bright_row_core::progress::standing::{Standing, standings};
use bright_row_store::children::Child;
use bright_row_store::classes::Class;
use chrono::{DateTime, Duration, NaiveDate, NaiveTime, TimeZone, Utc};
use chrono_tz::Tz;
use rand::{Rng, RngExt};

use super::id;
use super::school::{Pace, Pupil, Turn};

/// Children visited in one meeting.
const VISITS: usize = 24;
/// Every so many visits is the assistant's.
const ASSISTANTS_SHARE: usize = 4;
/// Most checkpoints looked at in one visit.
const LOOKS: usize = 5;
/// Most looks at whole stages in one visit; they are quick.
const STAGE_LOOKS: usize = 5;
/// A stage that is due within so many meetings is looked at along with the rest.
const MAX_MEETINGS_AHEAD: u32 = 2;
/// Meetings at which a seldom seen child is visited all the same.
const SELDOM_AT: u32 = 2;
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
    pub(super) time_zone: Tz,
    pub(super) director: AccountId,
    pub(super) assistant: AccountId,
    pub(super) until: NaiveDate,
}

/// A child's part of the story so far.
struct Part<'a> {
    member: &'a Member<'a>,
    observations: Vec<Observation>,
    last_visit: u32,
}

impl Story<'_> {
    /// Every observation of the story, in order.
    pub(super) fn tell(&self, members: &[Member<'_>], chance: &mut impl Rng) -> Vec<Observation> {
        let mut parts: Vec<Part<'_>> =
            members.iter().map(|member| Part { member, observations: Vec::new(), last_visit: 0 }).collect();
        let calendar = &self.class.calendar;
        for meeting in 1..=calendar.total() {
            let Some(day) = calendar.date_of(meeting).filter(|day| *day < self.until) else { break };
            self.tape_work(&mut parts, meeting, day, chance);
            self.visits(&mut parts, meeting, day, chance);
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
            if pupil.turn == Some(Turn::Drifts) && meeting == 13 {
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

    fn visits(&self, parts: &mut [Part<'_>], meeting: u32, day: NaiveDate, chance: &mut impl Rng) {
        let mut order: Vec<(u32, u32, usize)> = parts
            .iter()
            .enumerate()
            .filter(|(_, part)| part.member.2 < meeting)
            .filter(|(_, part)| part.member.1.turn != Some(Turn::Seldom) || meeting == SELDOM_AT + part.member.2)
            .map(|(index, part)| (part.last_visit, chance.random_range(0..1000), index))
            .collect();
        order.sort_unstable();
        for (visit, (.., index)) in order.into_iter().take(VISITS).enumerate() {
            let who = if visit % ASSISTANTS_SHARE == 3 { self.assistant } else { self.director };
            let at = self.moment(day, 120 + 45 * i64::try_from(visit).unwrap_or_default());
            let part = &mut parts[index];
            part.last_visit = meeting;
            self.visit(part, meeting, at, who, chance);
        }
    }

    fn visit(&self, part: &mut Part<'_>, meeting: u32, at: DateTime<Utc>, who: AccountId, chance: &mut impl Rng) {
        let (child, pupil, _) = part.member;
        let standings = standings(self.checklist, &part.observations, &self.class.calendar, &self.class.rhythm);
        let mut at = at;
        for look in self.looks(child, &standings, meeting) {
            at += Duration::seconds(9);
            let observation = match look {
                Look::Stage(stage) => {
                    let (target, seen) = self.again(&stage, chance);
                    Self::observation(child, &target, at, who, seen, chance)
                }
                Look::Checkpoint(id) => {
                    let seen = self.next(child, pupil, &id, standings.get(&id), chance);
                    Self::observation(child, id.as_str(), at, who, seen, chance)
                }
            };
            part.observations.push(observation);
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

    /// What this child's ladders call for: due stage looks first, then the lowest open checkpoints of each strand.
    fn looks(&self, child: &Child, standings: &BTreeMap<CheckpointId, Standing>, now: u32) -> Vec<Look> {
        let (calendar, rhythm) = (&self.class.calendar, &self.class.rhythm);
        let outlook = Outlook { checklist: self.checklist, calendar, rhythm, now };
        let ladder = outlook.ladder(&child.playing, &ChildContext::default(), standings);
        let stages = self.checklist.stages().iter().zip(&ladder.stages);
        let stages: Vec<_> = stages.filter(|(stage, _)| stage.strand != Strand::Tape).collect();
        let due = stages
            .iter()
            .filter(|(_, view)| view.recheck >= Some(Recheck::Fresh(MAX_MEETINGS_AHEAD)))
            .map(|(stage, _)| Look::Stage(stage.id.clone()));
        let open = stages
            .iter()
            .filter(|(_, view)| view.state == StageState::Open)
            .flat_map(|(stage, _)| self.checklist.checkpoints_of(&stage.id))
            .filter(|checkpoint| standings.get(&checkpoint.id).is_none_or(|standing| standing.level < Level::Alone))
            .map(|checkpoint| Look::Checkpoint(checkpoint.id.clone()));
        due.take(STAGE_LOOKS).chain(open.take(LOOKS)).collect()
    }

    /// How a reached stage does when it is looked at again: mostly it lasts, now and then something has slipped.
    fn again(&self, stage: &StageId, chance: &mut impl Rng) -> (String, Observed) {
        let one = self.checklist.checkpoints_of(stage).last().map(|checkpoint| checkpoint.id.to_string());
        match one {
            Some(checkpoint) if chance.random_bool(0.3) => (checkpoint, level(Level::Lasting)),
            Some(checkpoint) if chance.random_bool(0.08) => (checkpoint, level(Level::Prompted)),
            _ => (stage.to_string(), Observed::Holds { except: BTreeSet::new() }),
        }
    }

    /// How the child does at a checkpoint this time.
    fn next(
        &self,
        child: &Child,
        pupil: &Pupil,
        id: &CheckpointId,
        before: Option<&Standing>,
        chance: &mut impl Rng,
    ) -> Observed {
        let (first, rises) = match pupil.pace {
            Pace::Quick => (Level::Alone, 0.95),
            Pace::Steady => (Level::Prompted, 0.7),
            Pace::Slow => (Level::Placed, 0.4),
        };
        let here = |slip: &&Slip| slip.checkpoint == *id && slip.instruments.contains(&child.playing.now);
        let slips: Vec<&Slip> = self.checklist.slips().iter().filter(here).collect();
        // Classes share their slips: mostly the usual one.
        let usual = chance.random_bool(0.6);
        let slip = (!slips.is_empty()).then(|| slips[if usual { 0 } else { chance.random_range(0..slips.len()) }]);
        let seen = match before {
            None if chance.random_bool(0.1) => up(first),
            None if chance.random_bool(0.8) => first,
            None => down(first),
            Some(standing) if chance.random_bool(rises) => up(standing.level),
            Some(standing) => standing.level,
        };
        let slips = slip.filter(|_| seen < Level::Alone && chance.random_bool(0.5)).map(|slip| slip.id.clone());
        Observed::Level { level: seen, slips: slips.into_iter().collect() }
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

enum Look {
    Stage(StageId),
    Checkpoint(CheckpointId),
}

fn level(level: Level) -> Observed {
    Observed::Level { level, slips: BTreeSet::new() }
}

fn up(level: Level) -> Level {
    Level::try_from(level.number() + 1).unwrap_or(Level::Lasting)
}

fn down(level: Level) -> Level {
    level.number().checked_sub(1).and_then(|number| Level::try_from(number).ok()).unwrap_or(Level::NotYet)
}
