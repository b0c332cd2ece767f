//! Forecast: the planner played forward over the term, to see what so many minutes a meeting come to.
//!
//! Each check that is visited counts as seen and fine: a stage look as "holds", so that levels and intervals rise as the
//! rules say; one seen for the first time is found at Alone, one below Alone keeps its level; tapes are found true. Nobody
//! is absent, and nothing slips. So it tells what the minutes allow, not what children will do.

use std::collections::BTreeMap;

use chrono::{DateTime, NaiveDate, Utc};

use crate::calendar::MeetingCalendar;
use crate::causes::Causes;
use crate::checklist::{Checklist, CheckpointId, Strand};
use crate::instrument::Playing;
use crate::ladder::{Circumstances, Ladder, Outlook};
use crate::looks::{Candidate, Why, visit_points};
use crate::mark::{Level, Target};
use crate::priorities::Pupil;
use crate::round::{Check, Child, Terms};
use crate::standing::{Going, REACHES, Rhythm, Standing};

/// Nothing is overdue "from some meeting on" where at least so many meetings of the term follow.
pub const SETTLED_FOR: usize = 5;

/// What the class keeps to.
#[derive(Clone, Copy, Debug)]
pub struct Class<'a> {
    /// When it meets.
    pub calendar: &'a MeetingCalendar,
    /// How soon things are looked at again.
    pub rhythm: &'a Rhythm,
    /// What leads to what.
    pub causes: &'a Causes,
    /// Seconds to walk to the next child and greet it.
    pub visit_seconds: u32,
    /// The most checks at one visit.
    pub max_checks_per_child: usize,
    /// Unseen for so many meetings or more: must be seen.
    pub must_see_after_meetings: u32,
}

/// A child as it stands before the first meeting of the forecast. In walking order.
#[derive(Clone, Copy, Debug)]
pub struct Prospect<'a> {
    /// The checklist it is read by.
    pub checklist: &'a Checklist,
    /// What it plays.
    pub playing: &'a Playing,
    /// Its circumstances.
    pub circumstances: &'a Circumstances,
    /// Its standings.
    pub standings: &'a BTreeMap<CheckpointId, Standing>,
    /// The meeting of the last visit; that before joining, where there was none.
    pub last_visit: u32,
}

/// One meeting of the forecast.
#[derive(Clone, Debug, PartialEq)]
pub struct MeetingAhead {
    /// Its number in the calendar.
    pub meeting: u32,
    /// Its day.
    pub day: NaiveDate,
    /// Seconds for looking.
    pub seconds: u32,
    /// Looks overdue when it begins.
    pub overdue: usize,
    /// By how many meetings the latest of them is late; 0 where none is overdue.
    pub latest: u32,
    /// Children visited.
    pub visited: usize,
    /// The longest wait of any child since its last visit when the meeting begins, in meetings.
    pub longest_wait: u32,
    /// The mean of these waits.
    pub mean_wait: f64,
}

/// A child while time goes by.
struct Walker<'a> {
    prospect: Prospect<'a>,
    going: BTreeMap<CheckpointId, Going>,
    standings: BTreeMap<CheckpointId, Standing>,
    last_visit: u32,
}

impl Walker<'_> {
    fn ladder(&self, class: &Class<'_>, now: u32) -> Ladder {
        let outlook =
            Outlook { checklist: self.prospect.checklist, calendar: class.calendar, rhythm: class.rhythm, now };
        outlook.ladder(self.prospect.playing, self.prospect.circumstances, &self.standings)
    }

    fn candidates(&self, class: &Class<'_>, now: u32) -> Vec<Candidate> {
        let must_see = now.saturating_sub(self.last_visit) >= class.must_see_after_meetings;
        let ladder = self.ladder(class, now);
        let pupil = Pupil {
            checklist: self.prospect.checklist,
            causes: class.causes,
            instrument: self.prospect.playing.now,
            circumstances: self.prospect.circumstances,
            standings: &self.standings,
            ladder: &ladder,
        };
        pupil.candidates_for_a_look(must_see)
    }

    /// Looked at and found fine.
    fn visit(&mut self, target: &Target, at: DateTime<Utc>, now: u32, rhythm: &Rhythm) {
        match target {
            Target::Stage(stage) => {
                for checkpoint in self.prospect.checklist.checkpoints_of(stage) {
                    if let Some(going) = self.going.get_mut(&checkpoint.id)
                        && going.standing.level >= REACHES
                    {
                        going.holds(at, now, rhythm);
                        self.standings.insert(checkpoint.id.clone(), going.standing.clone());
                    }
                }
            }
            Target::Checkpoint(id) => {
                let tape = self.prospect.checklist.strand_of_target(target) == Some(Strand::Tape);
                let going = match self.going.remove(id) {
                    Some(mut going) => {
                        let level = if tape { Level::Alone } else { going.standing.level };
                        going.look(at, level, rhythm);
                        going
                    }
                    None => Going::begun(at, Level::Alone, rhythm),
                };
                self.standings.insert(id.clone(), going.standing.clone());
                self.going.insert(id.clone(), going);
            }
        }
    }
}

impl Class<'_> {
    /// The meetings after meeting `now`, at most `most`, each with `seconds_at` seconds for its day; `None` as soon as
    /// `stopped` says so. Meetings end with the calendar.
    pub fn forecast(
        &self,
        children: &[Prospect<'_>],
        now: u32,
        most: u32,
        seconds_at: impl Fn(NaiveDate) -> u32,
        stopped: impl Fn() -> bool,
    ) -> Option<Vec<MeetingAhead>> {
        let mut walkers: Vec<Walker<'_>> = children.iter().map(|child| self.walker(child)).collect();
        let mut ahead = Vec::new();
        for meeting in now.saturating_add(1)..=now.saturating_add(most) {
            let Some(day) = self.calendar.date_of(meeting) else { break };
            if stopped() {
                return None;
            }
            ahead.push(self.meet(&mut walkers, meeting, day, seconds_at(day)));
        }
        Some(ahead)
    }

    fn walker<'a>(&self, child: &Prospect<'a>) -> Walker<'a> {
        let going =
            child.standings.iter().map(|(id, standing)| (id.clone(), Going::from(standing.clone(), self.rhythm)));
        Walker {
            prospect: *child,
            going: going.collect(),
            standings: child.standings.clone(),
            last_visit: child.last_visit,
        }
    }

    fn meet(&self, walkers: &mut [Walker<'_>], meeting: u32, day: NaiveDate, seconds: u32) -> MeetingAhead {
        let at = self.calendar.begins(day);
        let candidates: Vec<_> = walkers.iter().map(|walker| walker.candidates(self, meeting)).collect();
        let waits: Vec<u32> = walkers.iter().map(|walker| meeting.saturating_sub(walker.last_visit)).collect();
        let late = candidates.iter().flatten().flat_map(|candidate| &candidate.why).filter_map(|why| match why {
            Why::Overdue(meetings) => Some(*meetings),
            _ => None,
        });
        let late: Vec<u32> = late.collect();
        let terms = Terms {
            seconds_available: seconds,
            visit_seconds: self.visit_seconds,
            max_checks_per_child: self.max_checks_per_child,
            must_see_after_meetings: self.must_see_after_meetings,
        };
        let children = (0..).zip(candidates.iter().zip(&waits)).map(|(seat_order, (candidates, wait))| Child {
            seat_order,
            absent: false,
            meetings_unseen: *wait,
            visit_points: visit_points(*wait),
            checks: candidates.iter().map(|found| Check { seconds: found.seconds, points: found.points }).collect(),
        });
        let plan = terms.plan(&children.collect::<Vec<_>>());
        for stop in &plan.stops {
            let walker = &mut walkers[stop.child];
            for check in &stop.checks {
                walker.visit(&candidates[stop.child][*check].target, at, meeting, self.rhythm);
            }
            walker.last_visit = meeting;
        }
        let count = u32::try_from(waits.len()).unwrap_or(u32::MAX).max(1);
        MeetingAhead {
            meeting,
            day,
            seconds,
            overdue: late.len(),
            latest: late.into_iter().max().unwrap_or_default(),
            visited: plan.stops.len(),
            longest_wait: waits.iter().copied().max().unwrap_or_default(),
            mean_wait: f64::from(waits.iter().sum::<u32>()) / f64::from(count),
        }
    }

    /// The fewest minutes, 1 to `most_minutes`, at which nothing is overdue from some meeting on; `None` where not even
    /// the most are enough, or stopped. Halves the range each time: more minutes are taken never to make things later.
    pub fn fewest_minutes(
        &self,
        children: &[Prospect<'_>],
        now: u32,
        meetings: u32,
        most_minutes: u32,
        stopped: impl Fn() -> bool,
    ) -> Option<u32> {
        let enough = |minutes: u32| -> Option<bool> {
            let ahead = self.forecast(children, now, meetings, |_| minutes * 60, &stopped)?;
            Some(settled_from(&ahead).is_some())
        };
        if !enough(most_minutes)? {
            return None;
        }
        let (mut too_few, mut fewest) = (0, most_minutes);
        while fewest - too_few > 1 {
            let middle = u32::midpoint(too_few, fewest);
            if enough(middle)? { fewest = middle } else { too_few = middle }
        }
        Some(fewest)
    }
}

/// The first meeting from which on nothing is overdue to the end, if at least [`SETTLED_FOR`] meetings are left of it, or all
/// there are.
#[must_use]
pub fn settled_from(ahead: &[MeetingAhead]) -> Option<u32> {
    let settled = ahead.iter().rev().take_while(|meeting| meeting.overdue == 0).count();
    let wanted = SETTLED_FOR.min(ahead.len()).max(1);
    (settled >= wanted).then(|| ahead[ahead.len() - settled].meeting)
}
