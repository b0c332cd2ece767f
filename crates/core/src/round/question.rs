//! The planner asked with ids and answering with ids: what goes over the wire and through the door of the page.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

use crate::round::planner::{NotReached, PlanCheck, PlanChild, PlanStop, RoundPlan, RoundTerms};

/// The longest round: four hours.
pub const MAX_ROUND_SECONDS: u32 = 14_400;
/// More children than any class.
const MAX_CHILDREN: usize = 300;
/// More than any ladder has open at once.
pub(crate) const MAX_CHECKS_OF_CHILD: usize = 60;
/// More than any visit needs.
const MAX_CHECKS_AT_VISIT: usize = 10;
/// The longest check or walk.
const MAX_CHECK_SECONDS: u32 = 600;
/// The most points of one thing.
const MAX_POINTS: u32 = 100_000;

/// What a round is to be planned from.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct RoundQuestion {
    /// 0 to 14400.
    pub seconds_available: u32,
    /// To walk to the next child and greet it, 0 to 600.
    pub visit_seconds: u32,
    /// 1 to 10.
    pub max_checks_per_child: usize,
    /// Unseen for so many meetings or more: must be seen.
    pub must_see_after_meetings: u32,
    /// At most 300.
    pub children: Vec<ChildToPlan>,
}

/// A child to plan for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct ChildToPlan {
    /// Whom.
    pub id: String,
    /// Where it comes along the walk.
    pub seat_order: u32,
    /// Not here today.
    #[serde(default)]
    pub absent: bool,
    /// Meetings since somebody was last at its chair.
    pub meetings_unseen: u32,
    /// What a visit is worth beside its checks.
    pub visit_points: u32,
    /// In the child's own order, at most 60; a visit takes the first of them.
    pub checks: Vec<CheckToPlan>,
}

/// Something to look at.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct CheckToPlan {
    /// A checkpoint's or a stage's id.
    pub checkpoint: String,
    /// 1 to 600.
    pub seconds: u32,
    /// What it is worth.
    pub points: u32,
}

/// A planned round.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct PlannedRound {
    /// In walking order.
    pub stops: Vec<PlannedStop>,
    /// With walking.
    pub seconds_used: u32,
    /// In all.
    pub points: u64,
    /// How many visited had to be seen.
    pub must_see_visited: usize,
    /// Those present who had to be seen and are not.
    pub must_see_missed: Vec<String>,
    /// Everybody not visited, in seat order.
    pub not_reached: Vec<NotReachedChild>,
}

/// A visit.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct PlannedStop {
    /// Whom.
    pub child: String,
    /// Its place along the walk.
    pub seat_order: u32,
    /// What is looked at, in order.
    pub checks: Vec<String>,
    /// With walking there.
    pub seconds: u32,
    /// With those of the visit.
    pub points: u64,
}

/// A child that is not visited.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct NotReachedChild {
    /// Whom.
    pub child: String,
    /// Why not.
    pub reason: NotReached,
}

impl RoundQuestion {
    /// What of a question cannot be: a path of a field with what it takes.
    #[must_use]
    pub fn faults(&self) -> Vec<(String, String)> {
        let mut faults = Vec::new();
        let mut fault = |wrong: bool, field: &str, words: String| {
            if wrong {
                faults.push((field.to_owned(), words));
            }
        };
        let seconds = format!("0 to {MAX_ROUND_SECONDS} seconds.");
        fault(self.seconds_available > MAX_ROUND_SECONDS, "secondsAvailable", seconds);
        fault(self.visit_seconds > MAX_CHECK_SECONDS, "visitSeconds", format!("0 to {MAX_CHECK_SECONDS} seconds."));
        let checks = !(1..=MAX_CHECKS_AT_VISIT).contains(&self.max_checks_per_child);
        fault(checks, "maxChecksPerChild", format!("1 to {MAX_CHECKS_AT_VISIT} checks."));
        fault(self.children.len() > MAX_CHILDREN, "children", format!("At most {MAX_CHILDREN} children."));
        let mut ids = BTreeSet::new();
        for (index, child) in self.children.iter().enumerate().take(MAX_CHILDREN) {
            let field = |name: &str| format!("children[{index}].{name}");
            fault(!ids.insert(&child.id), &field("id"), "Each child once.".to_owned());
            let points = |points: u32| points > MAX_POINTS;
            fault(points(child.visit_points), &field("visitPoints"), format!("0 to {MAX_POINTS}."));
            fault(
                child.checks.len() > MAX_CHECKS_OF_CHILD,
                &field("checks"),
                format!("At most {MAX_CHECKS_OF_CHILD} checks."),
            );
            let seconds = child.checks.iter().any(|check| !(1..=MAX_CHECK_SECONDS).contains(&check.seconds));
            fault(seconds, &field("checks"), format!("Each takes 1 to {MAX_CHECK_SECONDS} seconds."));
            let many = child.checks.iter().any(|check| points(check.points));
            fault(many, &field("checks"), format!("Each has 0 to {MAX_POINTS} points."));
        }
        faults
    }

    /// The best plan. Takes memory and time with children and seconds: look for [`Self::faults`] first.
    #[must_use]
    pub fn plan(&self) -> PlannedRound {
        let terms = RoundTerms {
            seconds_available: self.seconds_available,
            visit_seconds: self.visit_seconds,
            max_checks_per_child: self.max_checks_per_child,
            must_see_after_meetings: self.must_see_after_meetings,
        };
        let children: Vec<PlanChild> = self.children.iter().map(ChildToPlan::read).collect();
        self.planned(terms.plan(&children))
    }

    fn planned(&self, plan: RoundPlan) -> PlannedRound {
        let id = |child: usize| self.children[child].id.clone();
        let stop = |stop: PlanStop| {
            let child = &self.children[stop.child];
            PlannedStop {
                child: child.id.clone(),
                seat_order: child.seat_order,
                checks: child.checks[..stop.checks].iter().map(|check| check.checkpoint.clone()).collect(),
                seconds: stop.seconds,
                points: stop.points,
            }
        };
        let left = plan.not_reached.into_iter();
        PlannedRound {
            stops: plan.stops.into_iter().map(stop).collect(),
            seconds_used: plan.seconds_used,
            points: plan.points,
            must_see_visited: plan.must_see_visited,
            must_see_missed: plan.must_see_missed.into_iter().map(id).collect(),
            not_reached: left.map(|(child, reason)| NotReachedChild { child: id(child), reason }).collect(),
        }
    }
}

impl ChildToPlan {
    fn read(&self) -> PlanChild {
        let checks = self.checks.iter().map(|check| PlanCheck { seconds: check.seconds, points: check.points });
        PlanChild {
            seat_order: self.seat_order,
            absent: self.absent,
            meetings_unseen: self.meetings_unseen,
            visit_points: self.visit_points,
            checks: checks.collect(),
        }
    }
}
