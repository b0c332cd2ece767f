//! Observations and standing: what one observation after another means, and what no order of arrival may change.

mod support;

use std::collections::BTreeMap;

use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::observation::{Observation, Observed, Says, in_force};
use bright_row_core::progress::rhythm::{Recheck, Rhythm};
use bright_row_core::progress::standing::{RULES_VERSION, Standing, standings};
use proptest::prelude::*;
use support::{at, calendar, checklist, holds, holds_except, level, observation, saying, scanned, with_slip};
use uuid::Uuid;

fn of(observations: &[Observation]) -> BTreeMap<CheckpointId, Standing> {
    standings(&checklist(), observations, &calendar(), &Rhythm::default())
}

fn raise(observations: &[Observation]) -> Standing {
    of(observations).remove(&CheckpointId::new("hold.raise")).expect("a standing for hold.raise")
}

fn story(looks: &[(u32, Observed)]) -> Vec<Observation> {
    let numbered = (0..).zip(looks);
    numbered.map(|(number, (meeting, seen))| observation(number, *meeting, "hold.raise", seen.clone())).collect()
}

#[test]
fn a_checkpoint_nobody_looked_at_has_no_standing() {
    assert!(of(&[]).is_empty());
    assert!(of(&[observation(0, 1, "hold.no-such-thing", level(Level::Alone))]).is_empty());
}

#[test]
fn what_stands_has_a_clock_and_what_is_in_work_has_none() {
    for (seen, meetings) in Level::ALL.into_iter().zip([None, None, None, Some(4), Some(8)]) {
        assert_eq!(raise(&story(&[(3, level(seen))])).interval, meetings, "{seen:?}");
    }
}

#[test]
fn each_further_lasting_in_a_row_doubles_the_interval_up_to_the_longest() {
    let looks: Vec<_> = (1..=5).map(|meeting| (meeting, level(Level::Lasting))).collect();
    let intervals = |longest| -> Vec<u32> {
        let rhythm = Rhythm { longest, ..Rhythm::default() };
        let of = |many: usize| standings(&checklist(), &story(&looks[..many]), &calendar(), &rhythm);
        (1..=5).filter_map(|many| of(many)[&CheckpointId::new("hold.raise")].interval).collect()
    };
    assert_eq!(intervals(40), [8, 16, 32, 40, 40]);
    assert_eq!(intervals(Rhythm::default().longest), [8, 12, 12, 12, 12]);
}

#[test]
fn a_lower_level_than_before_is_a_slip_and_what_still_stands_comes_back_at_the_next_meeting() {
    let standing = raise(&story(&[(1, level(Level::Alone)), (4, level(Level::Prompted))]));
    assert!(standing.slipped);
    assert_eq!((standing.level, standing.peak, standing.interval), (Level::Prompted, Level::Alone, None));
    let still_stands = raise(&story(&[(1, level(Level::Lasting)), (4, level(Level::Alone))]));
    assert!(still_stands.slipped);
    assert_eq!((still_stands.interval, still_stands.due_at(&calendar())), (Some(1), Some(5)));
}

fn tries(looks: &[(u32, Observed)]) -> u32 {
    raise(&story(looks)).tries
}

#[test]
fn visits_in_a_row_without_rising_are_counted_and_a_rise_begins_anew() {
    let low = |meeting| (meeting, level(Level::Placed));
    assert_eq!(tries(&[low(1)]), 1);
    assert_eq!(tries(&[low(1), low(3), low(4)]), 3);
    assert_eq!(tries(&[low(1), low(3), low(3)]), 2, "twice at one meeting is one visit");
    assert_eq!(tries(&[low(1), low(2), (3, level(Level::NotYet))]), 3, "lower is not risen");
    assert_eq!(tries(&[low(1), low(2), (3, level(Level::Prompted))]), 1);
    assert_eq!(tries(&[low(1), low(2), (3, level(Level::Alone))]), 0);
    assert_eq!(tries(&[low(1), low(2), (3, level(Level::Alone)), low(4)]), 1);
    let scan = scanned(observation(9, 5, "hold.raise", level(Level::Placed)));
    let visited: Vec<Observation> = story(&[low(1), low(2)]);
    assert_eq!(raise(&visited.into_iter().chain([scan]).collect::<Vec<_>>()).tries, 2, "a scan is no visit");
    let three = raise(&story(&[low(1), low(2), low(3)]));
    assert!(three.is_stuck() && three.rests());
    let four = raise(&story(&[low(1), low(2), low(3), low(5)]));
    assert!(four.is_stuck() && !four.rests());
}

#[test]
fn a_ticked_slip_counts_as_one_even_when_the_level_rises() {
    let observations = [
        observation(0, 1, "bow.pluck", level(Level::Prompted)),
        observation(1, 2, "bow.pluck", with_slip(Level::Alone, "pluck-up")),
    ];
    let standing = of(&observations).remove(&CheckpointId::new("bow.pluck")).expect("a standing");
    assert!(standing.slipped);
    assert_eq!((standing.level, standing.interval, standing.slips.len()), (Level::Alone, Some(1), 1));
}

#[test]
fn lasting_after_a_slip_starts_its_row_again() {
    let looks =
        [(1, level(Level::Lasting)), (2, level(Level::Lasting)), (3, level(Level::Alone)), (4, level(Level::Lasting))];
    assert_eq!(raise(&story(&looks)).interval, Some(8));
}

#[test]
fn a_stage_look_counts_as_a_look_at_the_present_level() {
    let observations = [observation(0, 1, "hold.raise", level(Level::Alone)), observation(1, 6, "hold.3", holds())];
    let standing = raise(&observations);
    assert_eq!((standing.level, standing.interval, standing.looked_at), (Level::Alone, Some(4), at(6, 1)));
}

#[test]
fn the_second_holds_in_a_row_at_another_meeting_makes_alone_lasting() {
    let start = observation(0, 1, "hold.raise", level(Level::Alone));
    let same_meeting = [start.clone(), observation(1, 6, "hold.3", holds()), observation(2, 6, "hold.3", holds())];
    assert_eq!(raise(&same_meeting).level, Level::Alone);
    let next_time = [start.clone(), observation(1, 6, "hold.3", holds()), observation(2, 11, "hold.3", holds())];
    let standing = raise(&next_time);
    assert_eq!((standing.level, standing.interval), (Level::Lasting, Some(8)));
    let broken_row = [
        start,
        observation(1, 6, "hold.3", holds()),
        observation(2, 8, "hold.raise", level(Level::Alone)),
        observation(3, 11, "hold.3", holds()),
    ];
    assert_eq!(raise(&broken_row).level, Level::Alone);
}

#[test]
fn a_stage_look_leaves_the_unseen_the_lower_and_the_excepted_as_they_are() {
    let lower = observation(0, 1, "frame.ring", level(Level::Prompted));
    let above = observation(1, 1, "frame.land", level(Level::Alone));
    let looked = of(&[lower.clone(), above.clone(), observation(2, 6, "frame.4", holds())]);
    assert_eq!(looked[&CheckpointId::new("frame.ring")].looked_at, at(1, 0));
    assert_eq!(looked[&CheckpointId::new("frame.land")].looked_at, at(6, 2));
    let excepted = of(&[above, observation(2, 6, "frame.4", holds_except("frame.land"))]);
    assert_eq!(excepted[&CheckpointId::new("frame.land")].looked_at, at(1, 1));
    assert!(of(&[observation(2, 6, "frame.4", holds())]).is_empty());
}

#[test]
fn a_scan_confirms_what_stands_and_raises_nobody() {
    let scan = scanned(observation(5, 6, "hold.raise", level(Level::Lasting)));
    assert!(of(std::slice::from_ref(&scan)).is_empty(), "a scan gives no level to somebody unseen");
    let low = raise(&[observation(0, 1, "hold.raise", level(Level::Prompted)), scan.clone()]);
    assert_eq!((low.level, low.looked_at), (Level::Prompted, at(1, 0)));
    let fine = raise(&[observation(0, 1, "hold.raise", level(Level::Alone)), scan]);
    assert_eq!((fine.level, fine.looked_at, fine.visited_at), (Level::Alone, at(6, 5), Some(at(1, 0))));
}

#[test]
fn a_child_tapped_in_a_scan_gets_the_level_that_was_seen() {
    let tapped = scanned(observation(5, 6, "hold.raise", level(Level::Prompted)));
    let standing = raise(&[observation(0, 1, "hold.raise", level(Level::Alone)), tapped]);
    assert_eq!((standing.level, standing.slipped), (Level::Prompted, true));
}

#[test]
fn what_the_child_said_stays_until_it_says_something_else() {
    let hurt = saying(Says::Hurts, observation(0, 1, "hold.raise", level(Level::Prompted)));
    let unasked = observation(1, 2, "hold.raise", level(Level::Alone));
    assert_eq!(raise(&[hurt.clone(), unasked.clone()]).says, Some(Says::Hurts));
    let easy = saying(Says::Easy, observation(2, 3, "hold.raise", level(Level::Alone)));
    assert_eq!(raise(&[hurt, unasked, easy]).says, Some(Says::Easy));
}

#[test]
fn a_retracted_observation_counts_no_more_even_when_the_retraction_comes_first() {
    let good = observation(0, 1, "hold.raise", level(Level::Alone));
    let wrong = observation(1, 2, "hold.raise", level(Level::NotYet));
    let undo = observation(2, 2, "hold.raise", Observed::Retracts(wrong.id));
    let standing = raise(&[undo.clone(), wrong.clone(), good.clone()]);
    assert_eq!((standing.level, standing.peak, standing.slipped), (Level::Alone, Level::Alone, false));
    let undo_of_the_undo = observation(3, 2, "hold.raise", Observed::Retracts(undo.id));
    assert_eq!(raise(&[good, wrong, undo, undo_of_the_undo]), standing);
}

#[test]
fn a_retraction_that_names_another_child_or_target_takes_nothing_back() {
    let seen = observation(1, 2, "hold.raise", level(Level::Alone));
    let elsewhere = observation(2, 2, "hold.rest", Observed::Retracts(seen.id));
    let somebody = Observation {
        child: Uuid::from_u128(8).into(),
        ..observation(3, 2, "hold.raise", Observed::Retracts(seen.id))
    };
    assert_eq!(in_force(&[seen.clone(), elsewhere, somebody]), [&seen]);
}

#[test]
fn a_look_is_due_when_its_meeting_is_reached_and_overdue_after_it() {
    assert_eq!(raise(&story(&[(3, level(Level::Prompted))])).due_at(&calendar()), None);
    let due_at = raise(&story(&[(3, level(Level::Alone))])).due_at(&calendar()).expect("a clock");
    assert_eq!(due_at, 7);
    assert_eq!(Recheck::at(6, due_at), Recheck::Fresh(1));
    assert_eq!(Recheck::at(7, due_at), Recheck::Due);
    assert_eq!(Recheck::at(10, due_at), Recheck::Overdue(3));
    assert!(Recheck::Fresh(2) < Recheck::Fresh(1) && Recheck::Fresh(1) < Recheck::Due);
}

fn any_seen() -> impl Strategy<Value = (&'static str, Observed)> {
    let checkpoints = prop::sample::select(vec!["frame.ring", "frame.land", "hold.raise"]);
    let levels = prop::sample::select(Level::ALL.to_vec());
    prop_oneof![
        4 => (checkpoints, levels).prop_map(|(target, seen)| (target, level(seen))),
        1 => Just(("bow.pluck", with_slip(Level::Alone, "pluck-nail"))),
        1 => Just(("frame.4", holds())),
        1 => Just(("frame.4", holds_except("frame.ring"))),
    ]
}

prop_compose! {
    /// Up to forty observations over twenty meetings; some take another one back.
    fn any_observations()(
        looks in prop::collection::vec((1u32..20, any_seen(), any::<bool>()), 1..40),
        undone in prop::collection::vec(any::<prop::sample::Index>(), 0..6),
    ) -> Vec<Observation> {
        let mut observations: Vec<Observation> = (0..)
            .zip(looks)
            .map(|(number, (meeting, (target, seen), scan))| {
                let observation = observation(number, meeting, target, seen);
                if scan { scanned(observation) } else { observation }
            })
            .collect();
        for (number, index) in (1000..).zip(undone) {
            let taken_back = index.get(&observations).clone();
            observations.push(observation(number, 20, taken_back.target.id(), Observed::Retracts(taken_back.id)));
        }
        observations
    }
}

proptest! {
    #[test]
    fn any_order_and_any_repeats_give_the_same_standing(
        (observations, shuffled) in any_observations().prop_flat_map(|observations| {
            let twice: Vec<Observation> = observations.iter().chain(&observations).cloned().collect();
            (Just(observations), Just(twice).prop_shuffle())
        })
    ) {
        prop_assert_eq!(of(&observations), of(&shuffled));
    }

    #[test]
    fn taking_a_observation_back_is_the_same_as_never_having_made_it(
        observations in any_observations(), which in any::<prop::sample::Index>(),
    ) {
        let chosen = which.get(&observations).clone();
        prop_assume!(!matches!(chosen.seen, Observed::Retracts(_)));
        let without: Vec<Observation> = observations.iter().filter(|observation| observation.id != chosen.id).cloned().collect();
        let undo = observation(5000, 20, chosen.target.id(), Observed::Retracts(chosen.id));
        let undone: Vec<Observation> = observations.into_iter().chain([undo]).collect();
        prop_assert_eq!(of(&without), of(&undone));
    }

    #[test]
    fn observations_of_one_stage_are_enough_for_its_standings(observations in any_observations()) {
        let checklist = checklist();
        let stage = StageId::new("frame.4");
        let ids: Vec<&str> = checklist.checkpoints_of(&stage).map(|checkpoint| checkpoint.id.as_str()).collect();
        let of_stage = |observation: &&Observation| observation.target.id() == stage.as_str() || ids.contains(&observation.target.id());
        let some: Vec<Observation> = observations.iter().filter(of_stage).cloned().collect();
        let mut all = of(&observations);
        all.retain(|id, _| ids.contains(&id.as_str()));
        prop_assert_eq!(of(&some), all);
    }

    #[test]
    fn what_stands_has_an_interval_from_one_meeting_to_the_longest_and_nothing_else_has(
        observations in any_observations(),
    ) {
        for standing in of(&observations).values() {
            prop_assert_eq!(standing.interval.is_some(), standing.level >= Level::Alone);
            prop_assert!(standing.interval.is_none_or(|meetings| (1..=Rhythm::default().longest).contains(&meetings)));
            prop_assert!(standing.peak >= standing.level);
            prop_assert!(!standing.slipped || standing.interval.is_none_or(|meetings| meetings == 1));
            prop_assert!(standing.tries == 0 || standing.level < Level::Alone);
        }
    }
}

/// Looks of every kind at one checkpoint and its stage: what comes of them stands for all rules by which standings follow.
fn looks_of_every_kind() -> Vec<Observation> {
    let mut looks: Vec<Observation> = (0..)
        .zip(Level::ALL.into_iter().chain(Level::ALL).chain([Level::Lasting; 4]))
        .map(|(number, seen)| observation(number, 1 + 2 * number, "hold.raise", level(seen)))
        .collect();
    looks.push(observation(20, 31, "hold.raise", with_slip(Level::Alone, "hold.raise.shrug")));
    looks.push(scanned(observation(21, 33, "hold.raise", level(Level::Lasting))));
    looks.push(saying(Says::Hurts, observation(22, 34, "hold.raise", level(Level::Prompted))));
    looks.extend([35, 37, 39].map(|meeting| observation(meeting, meeting, "hold.1", holds())));
    looks.push(observation(41, 41, "hold.1", holds_except("hold.raise")));
    looks
}

/// Where this fails because something else follows now, raise [`RULES_VERSION`] along with the snapshot: what an older version
/// left in a database is computed anew by that.
#[test]
fn with_the_rules_their_version_changes() {
    let looks = looks_of_every_kind();
    let after_each: Vec<_> = (1..=looks.len())
        .map(|many| {
            let standing = raise(&looks[..many]);
            let word = serde_json::to_value(&standing).expect("JSON");
            let Standing { interval, tries, slipped, .. } = standing;
            (word["level"].clone(), word["peak"].clone(), interval, tries, slipped, word["says"].clone())
        })
        .collect();
    insta::assert_debug_snapshot!((RULES_VERSION, after_each));
}
