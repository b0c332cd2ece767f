//! The planner of a round by itself: the same rule as everywhere, without a database.

use std::collections::BTreeSet;

use axum::Json;
use bright_row_core::round::planner::{NotReached, PlanCheck, PlanChild, PlanStop, RoundPlan, RoundTerms};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::auth::guard::SignedIn;
use crate::error::{ApiError, FieldError, Problem};
use crate::extract::Body;

/// Four hours.
const MAX_ROUND_SECONDS: u32 = 14_400;
/// More children than any class.
const MAX_CHILDREN: usize = 300;
/// More than any ladder has open at once.
const MAX_CHECKS_OF_CHILD: usize = 60;
/// More than any visit needs.
const MAX_CHECKS_AT_VISIT: usize = 10;
/// The longest check or walk.
const MAX_CHECK_SECONDS: u32 = 600;
/// The most points of one thing.
const MAX_POINTS: u32 = 100_000;

/// What a round is to be planned from.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct RoundQuestion {
    /// 0 to 14400.
    seconds_available: u32,
    /// To walk to the next child and greet it, 0 to 600.
    visit_seconds: u32,
    /// 1 to 10.
    max_checks_per_child: usize,
    /// Unseen for so many meetings or more: must be seen.
    must_see_after_meetings: u32,
    /// At most 300.
    children: Vec<ChildToPlan>,
}

/// A child to plan for.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct ChildToPlan {
    id: String,
    /// Where it comes along the walk.
    seat_order: u32,
    #[serde(default)]
    absent: bool,
    meetings_unseen: u32,
    visit_points: u32,
    /// In the order of the ladder, at most 60.
    checks: Vec<CheckToPlan>,
}

/// Something to look at.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct CheckToPlan {
    /// A checkpoint's or a stage's id.
    checkpoint: String,
    /// 1 to 600.
    seconds: u32,
    points: u32,
}

/// A planned round.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PlannedRound {
    /// In walking order.
    stops: Vec<PlannedStop>,
    seconds_used: u32,
    points: u64,
    /// How many visited had to be seen.
    must_see_visited: usize,
    /// Those present who had to be seen and are not.
    must_see_missed: Vec<String>,
    not_reached: Vec<NotReachedView>,
}

/// A visit.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PlannedStop {
    child: String,
    seat_order: u32,
    checks: Vec<String>,
    /// With walking there.
    seconds: u32,
    /// With those of the visit.
    points: u64,
}

/// A child that is not visited.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NotReachedView {
    child: String,
    reason: NotReached,
}

impl RoundQuestion {
    fn faults(&self) -> Vec<FieldError> {
        let mut faults = Vec::new();
        let mut fault = |wrong: bool, field: &str, words: String| {
            if wrong {
                faults.push(FieldError::new(field, words));
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

    fn plan(&self) -> PlannedRound {
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
                checks: stop.checks.iter().map(|check| child.checks[*check].checkpoint.clone()).collect(),
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
            not_reached: left.map(|(child, reason)| NotReachedView { child: id(child), reason }).collect(),
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

/// Whom to visit and what to look at: exact, for the seconds there are.
#[utoipa::path(post, path = "/api/calc/round", tag = "calc", request_body = RoundQuestion, responses(
    (status = 200, body = PlannedRound),
    (status = 401, body = Problem, content_type = "application/problem+json"),
    (status = 422, body = Problem, content_type = "application/problem+json"),
))]
pub async fn calc_round(
    _signed_in: SignedIn,
    Body(question): Body<RoundQuestion>,
) -> Result<Json<PlannedRound>, ApiError> {
    let faults = question.faults();
    if !faults.is_empty() {
        return Err(ApiError::Invalid(faults));
    }
    let plan = tokio::task::spawn_blocking(move || question.plan()).await;
    plan.map(Json).map_err(|error| ApiError::Internal(error.to_string()))
}
