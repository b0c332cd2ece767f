//! The round: whom to visit in the minutes there are, and what to look at.
//!
//! Exact, not greedy: a knapsack over whole seconds with one choice for each child (not to visit it, or how far to go down
//! its list; never a later check instead of an earlier one). Plans are compared by, in this order: more children visited who
//! must be seen; more points; fewer seconds; then in seat order, at the first child where two plans differ, the one with more
//! checks. So the plan is one.
//!
//! This module knows seconds and points only; [`crate::round::checks`] says where they come from.

use std::ops::Add;

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
    /// What could be looked at, in the child's own order.
    pub checks: Vec<PlanCheck>,
}

/// A visit of the plan.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PlanStop {
    /// Which child, by its place in what was given.
    pub child: usize,
    /// How many of its checks, from the first on.
    pub checks: usize,
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
    /// Its first check takes longer than the whole round.
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

impl RoundTerms {
    fn must_see(&self, child: &PlanChild) -> bool {
        child.meetings_unseen >= self.must_see_after_meetings
    }

    /// The best plan for these children. Its tables hold one number for each child and second.
    #[must_use]
    pub fn plan(&self, children: &[PlanChild]) -> RoundPlan {
        let mut order: Vec<usize> = (0..children.len()).collect();
        order.sort_by_key(|index| (children[*index].seat_order, *index));
        let choices: Vec<Choices> =
            order.iter().filter_map(|index| Choices::of(self, *index, &children[*index])).collect();
        // One child that must be seen outweighs all points there are.
        let weight = 1 + choices.iter().map(Choices::most_points).sum::<u64>();
        let most = weight.saturating_mul(u64::try_from(choices.len()).unwrap_or(u64::MAX).saturating_add(1));
        // Smaller numbers make smaller tables.
        let stops = if u32::try_from(most).is_ok() {
            walk::<u32>(&choices, usize_of(self.seconds_available), weight)
        } else {
            walk::<u64>(&choices, usize_of(self.seconds_available), weight)
        };
        self.with_stops(children, &order, stops)
    }

    /// The plan with what follows from its stops.
    fn with_stops(&self, children: &[PlanChild], order: &[usize], stops: Vec<PlanStop>) -> RoundPlan {
        let mut visited = vec![false; children.len()];
        for stop in &stops {
            visited[stop.child] = true;
        }
        let left = || order.iter().copied().filter(|index| !visited[*index]);
        let why = |child: &PlanChild| match child.checks.first().map(|check| check.seconds) {
            _ if child.absent => NotReached::Absent,
            None => NotReached::NothingToLookAt,
            _ if self.max_checks_per_child == 0 => NotReached::NothingToLookAt,
            Some(first) if self.visit_seconds.saturating_add(first) > self.seconds_available => {
                NotReached::LongerThanTheRound
            }
            Some(_) => NotReached::NoTime,
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

/// What could be done with one child: for each number of checks from the first on, the seconds and points of the visit.
struct Choices {
    index: usize,
    must_see: bool,
    /// One check, two checks, ...
    visits: Vec<(usize, u64)>,
}

impl Choices {
    /// None where the child cannot be visited.
    fn of(terms: &RoundTerms, index: usize, child: &PlanChild) -> Option<Self> {
        let (mut seconds, mut points) = (usize_of(terms.visit_seconds), u64::from(child.visit_points));
        let mut visits = Vec::new();
        for check in child.checks.iter().take(terms.max_checks_per_child).filter(|_| !child.absent) {
            seconds = seconds.saturating_add(usize_of(check.seconds));
            points += u64::from(check.points);
            if seconds > usize_of(terms.seconds_available) {
                break;
            }
            visits.push((seconds, points));
        }
        (!visits.is_empty()).then(|| Self { index, must_see: terms.must_see(child), visits })
    }

    fn most_points(&self) -> u64 {
        self.visits.last().map_or(0, |(_, points)| *points)
    }

    fn value(&self, points: u64, weight: u64) -> u64 {
        points + if self.must_see { weight } else { 0 }
    }
}

/// The stops of the best plan, with values that fit the number `N`.
fn walk<N>(choices: &[Choices], available: usize, weight: u64) -> Vec<PlanStop>
where
    N: Copy + Default + Ord + Add<Output = N> + TryFrom<u64>,
{
    let longest = choices.iter().map(|choices| choices.visits.last().map_or(0, |(seconds, _)| *seconds));
    let span = longest.sum::<usize>().min(available);
    let value = |choices: &Choices, points: u64| -> N {
        N::try_from(choices.value(points, weight)).ok().expect("no value is larger than all together")
    };
    // After children `i` and on, the most that at most so many seconds are worth.
    let mut after = vec![vec![N::default(); span + 1]];
    for choices in choices.iter().rev() {
        let next = after.last().expect("begun above");
        let mut here = next.clone();
        for (seconds, points) in choices.visits.iter().filter(|(seconds, _)| *seconds <= span) {
            let value = value(choices, *points);
            for (best, without) in here[*seconds..].iter_mut().zip(next) {
                *best = (*best).max(*without + value);
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
        let keeps = |(_, (seconds, points)): &(usize, &(usize, u64))| {
            *seconds <= left && value(choices, *points) + after[place + 1][left - seconds] == after[place][left]
        };
        let Some((last, (seconds, points))) = choices.visits.iter().enumerate().rev().find(keeps) else { continue };
        left -= seconds;
        stops.push(PlanStop {
            child: choices.index,
            seconds: u32::try_from(*seconds).unwrap_or(u32::MAX),
            points: *points,
            checks: last + 1,
        });
    }
    stops
}
