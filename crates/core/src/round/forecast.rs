//! Forecast: the planner played forward over the term, to see what so many minutes a meeting come to.
//!
//! Each check that is visited counts as seen and fine: a stage look as "holds", so that levels and intervals rise as the
//! rules say; one seen for the first time is found at Alone, one below Alone keeps its level; tapes are found true. Nobody
//! is absent, and nothing slips. So it tells what the minutes allow, not what children will do.

use std::collections::BTreeMap;

use chrono::{DateTime, NaiveDate, Utc};

use crate::craft::cause_graph::CauseGraph;
use crate::craft::checklist::Checklist;
use crate::craft::id::CheckpointId;
use crate::craft::id::Target;
use crate::craft::instrument::Playing;
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::context::ChildContext;
use crate::progress::ladder::Ladder;
use crate::progress::next::{Order, Reason};
use crate::progress::outlook::Outlook;
use crate::progress::projection::StandingProjection;
use crate::progress::pupil::Pupil;
use crate::progress::rhythm::{REACHES, Rhythm};
use crate::progress::standing::Standing;
use crate::round::checks::{Check, visit_points};
use crate::round::planner::{PlanCheck, PlanChild, RoundTerms};

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
#[derive(Clone, Copy, Debug)]
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
struct ChildAhead<'a> {
    prospect: Prospect<'a>,
    projections: BTreeMap<CheckpointId, StandingProjection>,
    standings: BTreeMap<CheckpointId, Standing>,
    last_visit: u32,
}

impl ChildAhead<'_> {
    fn ladder(&self, class: &Class<'_>, now: u32) -> Ladder {
        let outlook =
            Outlook { checklist: self.prospect.checklist, calendar: class.calendar, rhythm: class.rhythm, now };
        outlook.ladder(self.prospect.playing, self.prospect.context, &self.standings)
    }

    fn checks(&self, class: &Class<'_>, now: u32) -> Vec<Check> {
        let must_see = now.saturating_sub(self.last_visit) >= class.must_see_after_meetings;
        let ladder = self.ladder(class, now);
        let pupil = Pupil {
            checklist: self.prospect.checklist,
            causes: class.causes,
            instrument: self.prospect.playing.now,
            context: self.prospect.context,
            standings: &self.standings,
            ladder: &ladder,
        };
        pupil.checks(class.order, must_see)
    }

    /// Looked at and found fine.
    fn visit(&mut self, target: &Target, at: DateTime<Utc>, now: u32, rhythm: &Rhythm) {
        match target {
            Target::Stage(stage) => {
                for checkpoint in self.prospect.checklist.checkpoints_of(stage) {
                    if let Some(projection) = self.projections.get_mut(&checkpoint.id)
                        && projection.standing.level >= REACHES
                    {
                        projection.holds(at, now, rhythm);
                        self.standings.insert(checkpoint.id.clone(), projection.standing.clone());
                    }
                }
            }
            Target::Checkpoint(id) => {
                let tape = self.prospect.checklist.strand_of_target(target) == Some(Strand::Tape);
                let projection = match self.projections.remove(id) {
                    Some(mut projection) => {
                        let level = if tape { Level::Alone } else { projection.standing.level };
                        projection.look(at, level, now, rhythm);
                        projection
                    }
                    None => StandingProjection::begun(at, Level::Alone, now, rhythm),
                };
                self.standings.insert(id.clone(), projection.standing.clone());
                self.projections.insert(id.clone(), projection);
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
        let mut children_ahead: Vec<ChildAhead<'_>> = children.iter().map(|child| self.child(child)).collect();
        let mut ahead = Vec::new();
        for meeting in now.saturating_add(1)..=now.saturating_add(most) {
            let Some(day) = self.calendar.date_of(meeting) else { break };
            if stopped() {
                return None;
            }
            ahead.push(self.meet(&mut children_ahead, meeting, day, seconds_at(day)));
        }
        Some(ahead)
    }

    fn child<'a>(&self, child: &Prospect<'a>) -> ChildAhead<'a> {
        let projection = child
            .standings
            .iter()
            .map(|(id, standing)| (id.clone(), StandingProjection::from(standing.clone(), self.rhythm)));
        ChildAhead {
            prospect: *child,
            projections: projection.collect(),
            standings: child.standings.clone(),
            last_visit: child.last_visit,
        }
    }

    fn meet(&self, children_ahead: &mut [ChildAhead<'_>], meeting: u32, day: NaiveDate, seconds: u32) -> MeetingAhead {
        let at = self.calendar.begins(day);
        let checks: Vec<_> = children_ahead.iter().map(|child| child.checks(self, meeting)).collect();
        let waits: Vec<u32> = children_ahead.iter().map(|child| meeting.saturating_sub(child.last_visit)).collect();
        let late = checks.iter().flatten().filter_map(|check| match check.next.reason {
            Reason::Due(meetings) if meetings > 0 => Some(meetings),
            _ => None,
        });
        let late: Vec<u32> = late.collect();
        let terms = RoundTerms {
            seconds_available: seconds,
            visit_seconds: self.visit_seconds,
            max_checks_per_child: self.max_checks_per_child,
            must_see_after_meetings: self.must_see_after_meetings,
        };
        let children = (0..).zip(checks.iter().zip(&waits)).map(|(seat_order, (checks, wait))| PlanChild {
            seat_order,
            absent: false,
            meetings_unseen: *wait,
            visit_points: visit_points(*wait),
            checks: checks
                .iter()
                .map(|found| PlanCheck { seconds: found.next.seconds, points: found.points })
                .collect(),
        });
        let plan = terms.plan(&children.collect::<Vec<_>>());
        for stop in &plan.stops {
            let child = &mut children_ahead[stop.child];
            for check in &checks[stop.child][..stop.checks] {
                child.visit(check.target(), at, meeting, self.rhythm);
            }
            child.last_visit = meeting;
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
