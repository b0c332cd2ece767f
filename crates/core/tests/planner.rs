//! The planner of a round, against trying everything and against an integer program.

use std::cmp::Reverse;

use bright_row_core::round::planner::{NotReached, PlanCheck, PlanChild, RoundPlan, RoundTerms};
use microlp::{ComparisonOp, LinearExpr, OptimizationDirection, Problem};
use proptest::prelude::*;

fn child(seat_order: u32, meetings_unseen: u32, checks: &[(u32, u32)]) -> PlanChild {
    let checks = checks.iter().map(|(seconds, points)| PlanCheck { seconds: *seconds, points: *points }).collect();
    PlanChild { seat_order, absent: false, meetings_unseen, visit_points: 3 * meetings_unseen, checks }
}

fn terms(seconds_available: u32) -> RoundTerms {
    RoundTerms { seconds_available, visit_seconds: 8, max_checks_per_child: 3, must_see_after_meetings: 4 }
}

/// A plan while everything is tried: how many checks of each child, in seat order, and what they come to.
#[derive(Clone, Default)]
struct Tried {
    visits: Vec<usize>,
    must_see: usize,
    points: u64,
    seconds: u32,
}

/// Must-see and points the wrong way round, seconds, and the checks of each child the wrong way round; smaller is better.
type Rank = (Reverse<(usize, u64)>, u32, Vec<Reverse<usize>>);

impl Tried {
    fn rank(&self) -> Rank {
        let visits = self.visits.iter().copied().map(Reverse);
        (Reverse((self.must_see, self.points)), self.seconds, visits.collect())
    }
}

/// The best plan by trying every one there is.
fn exhaustive(terms: &RoundTerms, children: &[PlanChild]) -> Vec<(usize, usize)> {
    let mut order: Vec<usize> = (0..children.len()).collect();
    order.sort_by_key(|index| (children[*index].seat_order, *index));
    let mut plans = vec![Tried::default()];
    for index in &order {
        let child = &children[*index];
        let most = if child.absent { 0 } else { child.checks.len().min(terms.max_checks_per_child) };
        let mut next = Vec::new();
        for plan in plans {
            for many in 1..=most {
                let seconds: u32 = child.checks[..many].iter().map(|check| check.seconds).sum();
                let points: u32 = child.checks[..many].iter().map(|check| check.points).sum();
                let mut with = plan.clone();
                with.seconds += terms.visit_seconds + seconds;
                with.points += u64::from(child.visit_points + points);
                with.must_see += usize::from(child.meetings_unseen >= terms.must_see_after_meetings);
                with.visits.push(many);
                if with.seconds <= terms.seconds_available {
                    next.push(with);
                }
            }
            let mut without = plan;
            without.visits.push(0);
            next.push(without);
        }
        plans = next;
    }
    let best = plans.into_iter().min_by_key(Tried::rank).expect("visiting nobody is a plan");
    let visits = order.into_iter().zip(best.visits);
    visits.filter(|(_, checks)| *checks > 0).collect()
}

fn stops(plan: &RoundPlan) -> Vec<(usize, usize)> {
    plan.stops.iter().map(|stop| (stop.child, stop.checks)).collect()
}

fn any_child() -> impl Strategy<Value = PlanChild> {
    let checks = prop::collection::vec((1_u32..12, 0_u32..40), 0..4);
    (0_u32..4, prop::bool::weighted(0.15), 0_u32..7, 0_u32..30, checks).prop_map(
        |(seat_order, absent, meetings_unseen, visit_points, checks)| PlanChild {
            absent,
            visit_points,
            ..child(seat_order, meetings_unseen, &checks)
        },
    )
}

proptest! {
    #[test]
    fn the_plan_is_the_one_that_trying_everything_finds(
        children in prop::collection::vec(any_child(), 0..5),
        seconds in 0_u32..90,
        visit in 0_u32..10,
        most in 0_usize..4,
    ) {
        let terms = RoundTerms { visit_seconds: visit, max_checks_per_child: most, ..terms(seconds) };
        prop_assert_eq!(stops(&terms.plan(&children)), exhaustive(&terms, &children));
    }

    #[test]
    fn a_plan_keeps_to_its_terms_and_adds_up(
        children in prop::collection::vec(any_child(), 0..14),
        seconds in 0_u32..200,
    ) {
        let terms = terms(seconds);
        let plan = terms.plan(&children);
        prop_assert!(plan.seconds_used <= seconds);
        prop_assert_eq!(plan.stops.iter().map(|stop| stop.seconds).sum::<u32>(), plan.seconds_used);
        let walk: Vec<_> = plan.stops.iter().map(|stop| (children[stop.child].seat_order, stop.child)).collect();
        prop_assert!(walk.is_sorted());
        for stop in &plan.stops {
            let child = &children[stop.child];
            prop_assert!(!child.absent && (1..=3).contains(&stop.checks));
            let checks = child.checks[..stop.checks].iter().map(|check| check.seconds).sum::<u32>();
            prop_assert_eq!(stop.seconds, 8 + checks);
        }
        prop_assert_eq!(plan.stops.len() + plan.not_reached.len(), children.len());
        for (index, why) in &plan.not_reached {
            prop_assert_eq!(*why == NotReached::Absent, children[*index].absent);
        }
        let missed: Vec<_> = plan.not_reached.iter().map(|(index, _)| *index)
            .filter(|index| children[*index].meetings_unseen >= 4 && !children[*index].absent).collect();
        prop_assert_eq!(missed, plan.must_see_missed);
    }

    #[test]
    fn more_time_never_lowers_what_is_seen(
        children in prop::collection::vec(any_child(), 0..10),
        seconds in 0_u32..150,
        more in 1_u32..30,
    ) {
        let (less, longer) = (terms(seconds).plan(&children), terms(seconds + more).plan(&children));
        prop_assert!((longer.must_see_visited, longer.points) >= (less.must_see_visited, less.points));
    }
}

#[test]
fn children_who_must_be_seen_come_before_any_number_of_points() {
    let children = [child(1, 0, &[(10, 1000)]), child(2, 4, &[(10, 1)])];
    let plan = terms(18).plan(&children);
    assert_eq!(stops(&plan), [(1, 1)]);
    assert_eq!(plan.must_see_visited, 1);
    assert_eq!(plan.not_reached, [(0, NotReached::NoTime)]);
}

#[test]
fn everybody_left_out_has_a_reason() {
    let absent = PlanChild { absent: true, ..child(1, 9, &[(5, 5)]) };
    let children = [absent, child(2, 0, &[]), child(3, 0, &[(50, 5)]), child(4, 0, &[(6, 9)]), child(5, 5, &[(6, 8)])];
    let plan = terms(20).plan(&children);
    assert_eq!(stops(&plan), [(4, 1)]);
    let reasons = [
        (0, NotReached::Absent),
        (1, NotReached::NothingToLookAt),
        (2, NotReached::LongerThanTheRound),
        (3, NotReached::NoTime),
    ];
    assert_eq!(plan.not_reached, reasons);
    assert!(plan.must_see_missed.is_empty(), "an absent child is not missed");
}

#[test]
fn of_equal_plans_the_one_that_looks_at_more_in_earlier_seats_is_taken() {
    let same = [(6, 10), (6, 10), (6, 10)];
    let plan = terms(20).plan(&[child(2, 0, &same), child(1, 0, &same)]);
    assert_eq!(stops(&plan), [(1, 2)]);
}

#[test]
fn a_later_check_is_never_taken_instead_of_an_earlier_one() {
    let plan = terms(20).plan(&[child(1, 0, &[(10, 1), (2, 50), (9, 90)])]);
    assert_eq!(stops(&plan), [(0, 2)]);
    assert_eq!(terms(17).plan(&[child(1, 0, &[(10, 1), (2, 50)])]).not_reached, [(0, NotReached::LongerThanTheRound)]);
}

/// Random numbers that are the same in every run.
struct Numbers(u64);

impl Numbers {
    fn below(&mut self, limit: u32) -> u32 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        u32::try_from((self.0 >> 33) % u64::from(limit)).expect("less than the limit")
    }
}

fn class(children: u32, checks: u32, numbers: &mut Numbers) -> Vec<PlanChild> {
    let one = |place: u32, numbers: &mut Numbers| {
        let checks: Vec<_> = (0..checks).map(|_| (4 + numbers.below(9), 12 + numbers.below(60))).collect();
        child(place, numbers.below(7), &checks)
    };
    (0..children).map(|place| one(place, numbers)).collect()
}

/// The most that an integer program can make of it: must-see children by weight, and points.
fn by_integer_program(terms: &RoundTerms, children: &[PlanChild]) -> (usize, u64) {
    const WEIGHT: u32 = 10_000;
    let mut problem = Problem::new(OptimizationDirection::Maximize);
    let mut seconds = LinearExpr::empty();
    let mut visits = Vec::new();
    for child in children.iter().filter(|child| !child.absent) {
        let must_see = child.meetings_unseen >= terms.must_see_after_meetings;
        let visit = problem.add_binary_var(f64::from(child.visit_points + if must_see { WEIGHT } else { 0 }));
        visits.push(visit);
        seconds.add(visit, f64::from(terms.visit_seconds));
        // Each check only with the one before it, the first with the visit.
        let mut before = visit;
        for (place, check) in child.checks.iter().take(terms.max_checks_per_child).enumerate() {
            let taken = problem.add_binary_var(f64::from(check.points));
            seconds.add(taken, f64::from(check.seconds));
            let how = if place == 0 { ComparisonOp::Eq } else { ComparisonOp::Le };
            problem.add_constraint([(taken, 1.0), (before, -1.0)], how, 0.0);
            before = taken;
        }
    }
    problem.add_constraint(seconds, ComparisonOp::Le, f64::from(terms.seconds_available));
    let best =
        problem.solve().expect("visiting nobody is allowed").into_solution().expect("no limit was set").objective();
    let best = format!("{best:.0}").parse::<u64>().expect("whole points");
    let weight = u64::from(WEIGHT);
    (usize::try_from(best / weight).expect("few"), best % weight)
}

#[test]
fn on_large_classes_the_plan_is_worth_what_an_integer_program_finds() {
    let mut numbers = Numbers(11);
    for round in 0..6 {
        let children = class(18 + 4 * round, 6, &mut numbers);
        let terms = terms(240 + 60 * round);
        let plan = terms.plan(&children);
        assert_eq!((plan.must_see_visited, plan.points), by_integer_program(&terms, &children), "class {round}");
    }
}
