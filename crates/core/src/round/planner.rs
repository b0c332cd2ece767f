//! The round: whom to visit in the minutes there are, and what to look at.
//!
//! Exact, not greedy: a knapsack over whole seconds with one choice for each child (not to visit it, or to visit it for a
//! few checks). Plans are compared by, in this order: more children visited who must be seen; more points; fewer seconds;
//! then in seat order, at the first child where two plans differ, the one that visits it, and there the one whose checks
//! come first in the order they were given. So the plan is one.
//!
//! This module knows seconds and points only; [`crate::round::checks`] says where they come from.

use serde::{Deserialize, Serialize};

/// What a round has to keep to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct RoundTerms {
    /// Seconds for the whole round.
    pub seconds_available: u32,
    /// Seconds to walk to the next child and greet it.
    pub visit_seconds: u32,
    /// At most so many checks at one visit.
    pub max_checks_per_child: usize,
    /// A child unseen for so many meetings or more must be seen.
    pub must_see_after_meetings: u32,
}

/// One thing that could be looked at.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct PlanCheck {
    /// Seconds it takes, at least 1.
    pub seconds: u32,
    /// What it is worth.
    pub points: u32,
}

/// A child as the planner sees it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PlanChild {
    /// Its place along the walk; equal places follow the order they were given in.
    pub seat_order: u32,
    /// Not here today.
    pub absent: bool,
    /// Meetings since somebody was last at its chair.
    pub meetings_unseen: u32,
    /// What a visit is worth beside its checks.
    pub visit_points: u32,
    /// What could be looked at, in the order of the ladder.
    pub checks: Vec<PlanCheck>,
}

/// A visit of the plan.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PlanStop {
    /// Which child, by its place in what was given.
    pub child: usize,
    /// Which of its checks, by their places, in order.
    pub checks: Vec<usize>,
    /// Seconds with walking there.
    pub seconds: u32,
    /// Points with those of the visit.
    pub points: u64,
}

/// Why a child is not in the plan.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum NotReached {
    /// Not here today.
    Absent,
    /// Nothing is open or due.
    NothingToLookAt,
    /// Its shortest check takes longer than the whole round.
    LongerThanTheRound,
    /// The seconds do more elsewhere.
    NoTime,
}

/// Whom to visit and what to look at.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct RoundPlan {
    /// In the order of the walk.
    pub stops: Vec<PlanStop>,
    /// Seconds in all.
    pub seconds_used: u32,
    /// Points in all.
    pub points: u64,
    /// How many of the children visited had to be seen.
    pub must_see_visited: usize,
    /// Those present who had to be seen and are not, in seat order.
    pub must_see_missed: Vec<usize>,
    /// Everybody not visited with the reason, in seat order.
    pub not_reached: Vec<(usize, NotReached)>,
}

/// No way to fill exactly so many seconds.
const NO_WAY: u64 = u64::MAX;

impl RoundTerms {
    fn must_see(&self, child: &PlanChild) -> bool {
        child.meetings_unseen >= self.must_see_after_meetings
    }

    /// The best plan for these children. Its tables hold one number for each child and second.
    #[must_use]
    pub fn plan(&self, children: &[PlanChild]) -> RoundPlan {
        let mut order: Vec<usize> = (0..children.len()).collect();
        order.sort_by_key(|index| (children[*index].seat_order, *index));
        let choices: Vec<Choices<'_>> =
            order.iter().filter_map(|index| Choices::of(self, *index, &children[*index])).collect();
        // One child that must be seen outweighs all points there are.
        let weight = 1 + choices.iter().map(Choices::most_points).sum::<u64>();
        let values: Vec<Vec<(usize, u64)>> = choices.iter().map(|choices| choices.options(weight)).collect();
        let stops = walk(&choices, &values, usize_of(self.seconds_available), weight);
        self.with_stops(children, &order, stops)
    }

    /// The plan with what follows from its stops.
    fn with_stops(&self, children: &[PlanChild], order: &[usize], stops: Vec<PlanStop>) -> RoundPlan {
        let mut visited = vec![false; children.len()];
        for stop in &stops {
            visited[stop.child] = true;
        }
        let left = || order.iter().copied().filter(|index| !visited[*index]);
        let why = |child: &PlanChild| {
            let shortest = child.checks.iter().map(|check| check.seconds).min();
            match shortest {
                _ if child.absent => NotReached::Absent,
                None => NotReached::NothingToLookAt,
                _ if self.max_checks_per_child == 0 => NotReached::NothingToLookAt,
                Some(shortest) if self.visit_seconds.saturating_add(shortest) > self.seconds_available => {
                    NotReached::LongerThanTheRound
                }
                Some(_) => NotReached::NoTime,
            }
        };
        let missed = left().filter(|index| !children[*index].absent && self.must_see(&children[*index]));
        RoundPlan {
            seconds_used: stops.iter().map(|stop| stop.seconds).sum(),
            points: stops.iter().map(|stop| stop.points).sum(),
            must_see_visited: stops.iter().filter(|stop| self.must_see(&children[stop.child])).count(),
            must_see_missed: missed.collect(),
            not_reached: left().map(|index| (index, why(&children[index]))).collect(),
            stops,
        }
    }
}

/// Tables index by seconds.
fn usize_of(seconds: u32) -> usize {
    usize::try_from(seconds).unwrap_or(usize::MAX)
}

/// What could be done with one child.
struct Choices<'a> {
    index: usize,
    child: &'a PlanChild,
    must_see: bool,
    visit_seconds: usize,
    /// The most points of exactly so many seconds of checks, by first check that may be taken, by how many may be taken.
    best: Vec<Vec<Vec<u64>>>,
}

impl<'a> Choices<'a> {
    /// None where the child cannot be visited.
    fn of(terms: &RoundTerms, index: usize, child: &'a PlanChild) -> Option<Self> {
        let most = terms.max_checks_per_child.min(child.checks.len());
        let left = usize_of(terms.seconds_available.checked_sub(terms.visit_seconds)?);
        if child.absent || most == 0 {
            return None;
        }
        let mut longest: Vec<usize> = child.checks.iter().map(|check| usize_of(check.seconds)).collect();
        longest.sort_unstable_by(|a, b| b.cmp(a));
        let span = longest.iter().take(most).fold(0, |sum: usize, seconds| sum.saturating_add(*seconds)).min(left);
        let mut nothing = vec![NO_WAY; span + 1];
        nothing[0] = 0;
        let mut best = vec![vec![nothing; most + 1]];
        for check in child.checks.iter().rev() {
            let after = best.last().expect("begun above");
            let mut here = after.clone();
            let (seconds, points) = (usize_of(check.seconds), u64::from(check.points));
            for taken in 1..=most {
                for at in seconds..=span {
                    let with = after[taken - 1][at - seconds];
                    if with != NO_WAY && (here[taken][at] == NO_WAY || here[taken][at] < with + points) {
                        here[taken][at] = with + points;
                    }
                }
            }
            best.push(here);
        }
        best.reverse();
        let visit_seconds = usize_of(terms.visit_seconds);
        Some(Self { index, child, must_see: terms.must_see(child), visit_seconds, best })
    }

    fn most(&self) -> usize {
        self.best[0].len() - 1
    }

    fn most_points(&self) -> u64 {
        let all = self.best[0][self.most()].iter().copied().filter(|points| *points != NO_WAY);
        u64::from(self.child.visit_points) + all.max().unwrap_or_default()
    }

    fn visit_value(&self, weight: u64) -> u64 {
        u64::from(self.child.visit_points) + if self.must_see { weight } else { 0 }
    }

    /// Seconds and value of the visits worth weighing: none that takes longer for no more.
    fn options(&self, weight: u64) -> Vec<(usize, u64)> {
        let mut options: Vec<(usize, u64)> = Vec::new();
        for (seconds, points) in self.best[0][self.most()].iter().enumerate().skip(1) {
            if *points != NO_WAY {
                let value = self.visit_value(weight) + points;
                if options.last().is_none_or(|(_, before)| *before < value) {
                    options.push((self.visit_seconds + seconds, value));
                }
            }
        }
        options
    }

    /// The first list of checks, in order, that makes a visit whose value with what follows is `goal`.
    fn first(&self, goal: u64, left: usize, after: &[u64], weight: u64) -> Option<Vec<usize>> {
        let fits = |seconds: usize, points: u64| {
            let seconds = self.visit_seconds + seconds;
            seconds <= left && self.visit_value(weight) + points + after[left - seconds] == goal
        };
        let (mut taken, mut seconds, mut points): (Vec<usize>, usize, u64) = (Vec::new(), 0, 0);
        while taken.is_empty() || !fits(seconds, points) {
            let from = taken.last().map_or(0, |last| last + 1);
            let may = self.most().checked_sub(taken.len() + 1)?;
            let next = (from..self.child.checks.len()).find(|check| {
                let here = &self.child.checks[*check];
                let (seconds, points) = (seconds + usize_of(here.seconds), points + u64::from(here.points));
                let rest = self.best[check + 1][may].iter().enumerate();
                rest.filter(|(_, more)| **more != NO_WAY).any(|(later, more)| fits(seconds + later, points + more))
            })?;
            seconds += usize_of(self.child.checks[next].seconds);
            points += u64::from(self.child.checks[next].points);
            taken.push(next);
        }
        Some(taken)
    }
}

/// The stops of the best plan.
fn walk(choices: &[Choices<'_>], values: &[Vec<(usize, u64)>], available: usize, weight: u64) -> Vec<PlanStop> {
    let longest = values.iter().map(|options| options.last().map_or(0, |(seconds, _)| *seconds));
    let span = longest.sum::<usize>().min(available);
    // After children `i` and on, the most that at most so many seconds are worth.
    let mut after = vec![vec![0_u64; span + 1]];
    for options in values.iter().rev() {
        let next = after.last().expect("begun above");
        let mut here = next.clone();
        for (seconds, value) in options.iter().filter(|(seconds, _)| *seconds <= span) {
            for (best, without) in here[*seconds..].iter_mut().zip(next) {
                *best = (*best).max(without + value);
            }
        }
        after.push(here);
    }
    after.reverse();
    let most = after[0][span];
    // The fewest seconds that are worth as much: with no second to spare, every stop that keeps the value keeps these too.
    let mut left = after[0].partition_point(|value| *value < most);
    let mut stops = Vec::new();
    for (place, choices) in choices.iter().enumerate() {
        let Some(checks) = choices.first(after[place][left], left, &after[place + 1], weight) else { continue };
        let of = |checks: &[usize], number: fn(&PlanCheck) -> u32| -> u32 {
            checks.iter().map(|check| number(&choices.child.checks[*check])).sum()
        };
        let seconds = choices.visit_seconds + usize_of(of(&checks, |check| check.seconds));
        left -= seconds;
        stops.push(PlanStop {
            child: choices.index,
            seconds: u32::try_from(seconds).unwrap_or(u32::MAX),
            points: u64::from(choices.child.visit_points) + u64::from(of(&checks, |check| check.points)),
            checks,
        });
    }
    stops
}
