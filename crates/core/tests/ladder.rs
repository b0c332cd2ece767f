//! Stages, glow, tapes: what follows for a child.

mod support;

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::craft::instrument::{Instrument, Playing};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::ladder::{Ladder, StageState};
use bright_row_core::progress::observation::{Observation, Says};
use bright_row_core::progress::outlook::Outlook;
use bright_row_core::progress::rhythm::{Recheck, Rhythm};
use bright_row_core::progress::standing::{Standing, standings};
use bright_row_core::progress::strand_view::Flag;
use bright_row_core::tapes::status::{TapeState, TapeTrouble};
use proptest::prelude::*;
use support::{calendar, checklist, choosing, content, level, looks, observation, saying, with_slip};

fn ladder_with(
    checklist: &Checklist,
    now: u32,
    context: &ChildContext,
    standings: &BTreeMap<CheckpointId, Standing>,
) -> Ladder {
    let (calendar, rhythm) = (calendar(), Rhythm::default());
    let outlook = Outlook { checklist, calendar: &calendar, rhythm: &rhythm, now };
    outlook.ladder(&Instrument::Viola.into(), context, standings)
}

fn ladder_of(now: u32, exempt: &[&str], standings: &BTreeMap<CheckpointId, Standing>) -> Ladder {
    let exempt = exempt.iter().map(|id| CheckpointId::new(*id)).collect();
    ladder_with(&checklist(), now, &ChildContext { exempt, ..ChildContext::default() }, standings)
}

fn standings_of(observations: &[Observation]) -> BTreeMap<CheckpointId, Standing> {
    standings(&checklist(), observations, &calendar(), &Rhythm::default())
}

fn ladder(now: u32, observations: &[Observation]) -> Ladder {
    ladder_of(now, &[], &standings_of(observations))
}

fn state<'a>(ladder: &'a Ladder, stage: &str) -> &'a StageState {
    &ladder.stages.iter().find(|view| view.stage.as_str() == stage).expect("a stage").state
}

fn is_shut(ladder: &Ladder, stage: &str) -> bool {
    matches!(state(ladder, stage), StageState::Shut(_))
}

const HOLD_TO_SETTLE: [(&str, Level); 4] =
    [("hold.1", Level::Alone), ("hold.2", Level::Alone), ("hold.3", Level::Alone), ("hold.4", Level::Prompted)];

#[test]
fn on_the_first_day_only_the_first_stages_without_needs_are_open() {
    let ladder = ladder(1, &[]);
    let open: Vec<&str> =
        ladder.stages.iter().filter(|view| view.state == StageState::Open).map(|view| view.stage.as_str()).collect();
    assert_eq!(open, ["hold.1", "bow.1", "tape.1"]);
    assert!(ladder.strands.iter().all(|strand| !strand.seen && strand.glow == 0.0 && strand.recheck.is_none()));
}

#[test]
fn a_stage_opens_when_the_one_before_is_at_prompted() {
    assert!(is_shut(&ladder(1, &looks(&[("hold.1", Level::Placed)])), "hold.2"));
    assert!(is_shut(&ladder(1, &looks(&[("hold.size", Level::Alone)])), "hold.2"));
    assert_eq!(state(&ladder(1, &looks(&[("hold.1", Level::Prompted)])), "hold.2"), &StageState::Open);
}

#[test]
fn a_stage_is_reached_at_alone_and_settled_while_lasting_and_not_due() {
    let reached = ladder(2, &looks(&[("hold.1", Level::Alone)]));
    assert_eq!(state(&reached, "hold.1"), &StageState::Reached);
    let lasting = looks(&[("hold.1", Level::Lasting)]);
    assert_eq!(state(&ladder(8, &lasting), "hold.1"), &StageState::Settled);
    assert_eq!(state(&ladder(9, &lasting), "hold.1"), &StageState::Reached);
}

#[test]
fn frame_waits_for_the_hold_to_settle_and_its_fingers_for_the_tapes() {
    assert_eq!(state(&ladder(2, &looks(&HOLD_TO_SETTLE)), "frame.1"), &StageState::Open);
    let mut all = HOLD_TO_SETTLE.to_vec();
    all.extend([("frame.1", Level::Alone), ("frame.2", Level::Prompted)]);
    assert!(is_shut(&ladder(2, &looks(&all)), "frame.3"));
    all.extend([("tape.measured", Level::Alone), ("tape.placed", Level::Alone)]);
    assert_eq!(state(&ladder(2, &looks(&all)), "frame.3"), &StageState::Open);
}

#[test]
fn the_bow_comes_to_the_string_after_its_own_hold_and_the_instruments() {
    let mut all = vec![("bow.1", Level::Prompted), ("bow.2", Level::Prompted), ("bow.3", Level::Prompted)];
    assert!(is_shut(&ladder(2, &looks(&all)), "bow.4"));
    all.extend(HOLD_TO_SETTLE);
    assert_eq!(state(&ladder(2, &looks(&all)), "bow.4"), &StageState::Open);
}

#[test]
fn thinning_waits_until_the_child_lands_alone() {
    let holding = [("tape.measured", Level::Alone), ("tape.holding", Level::Alone)];
    let mut prompted = holding.to_vec();
    prompted.push(("frame.land", Level::Prompted));
    assert!(is_shut(&ladder(2, &looks(&prompted)), "tape.5"));
    let mut alone = holding.to_vec();
    alone.push(("frame.land", Level::Alone));
    assert_eq!(state(&ladder(2, &looks(&alone)), "tape.5"), &StageState::Open);
}

#[test]
fn the_fourth_string_rings_with_the_state_of_the_tapes() {
    let steps = ["tape.measured", "tape.placed", "tape.heard", "tape.holding"];
    let glows: Vec<f64> = (0..=4)
        .map(|many| {
            let done: Vec<_> = steps[..many].iter().map(|id| (*id, Level::Alone)).collect();
            ladder(1, &looks(&done)).strands[3].glow
        })
        .collect();
    assert_eq!(glows, [0.0, 0.25, 0.5, 0.75, 1.0]);
}

#[test]
fn a_drift_is_flagged_and_shuts_later_gates_but_dims_nothing() {
    let mut observations = looks(&[("tape.placed", Level::Alone), ("tape.heard", Level::Alone)]);
    observations.push(observation(9, 3, "tape.heard", level(Level::NotYet)));
    let drifted = ladder(3, &observations);
    assert_eq!((drifted.tapes.state, drifted.tapes.trouble), (TapeState::Heard, Some(TapeTrouble::Drifted)));
    assert_eq!((drifted.strands[3].glow, drifted.tapes.counts_as()), (0.75, 2));
    assert_eq!(drifted.strands[3].flags, BTreeSet::from([Flag::Tape]));
}

#[test]
fn tapes_are_looked_at_after_three_meetings_and_after_twenty_once_they_held() {
    let placed = looks(&[("tape.placed", Level::Alone)]);
    assert_eq!(ladder(3, &placed).tapes.recheck, Some(Recheck::Fresh(1)));
    assert_eq!(ladder(4, &placed).tapes.recheck, Some(Recheck::Due));
    let holding = looks(&[("tape.holding", Level::Alone)]);
    assert_eq!(ladder(22, &holding).tapes.recheck, Some(Recheck::Overdue(1)));
    assert_eq!(ladder(9, &looks(&[("tape.measured", Level::Alone)])).tapes.recheck, None);
}

#[test]
fn a_slip_and_a_pain_raise_their_flags() {
    let observations = [
        observation(0, 1, "bow.pluck", with_slip(Level::Alone, "pluck-up")),
        observation(1, 1, "hold.rest", level(Level::Alone)),
    ];
    assert_eq!(ladder(1, &observations).strands[1].flags, BTreeSet::from([Flag::Slip]));
    // Pain stays flagged until somebody says what was done, whatever is seen or said later.
    let pain = [Target::from_id("hold.2"), Target::from_id("frame.wrist")].into();
    let hurts = ChildContext { pain, ..ChildContext::default() };
    let after = ladder_with(&checklist(), 1, &hurts, &standings_of(&observations));
    let pain = BTreeSet::from([Flag::Pain]);
    assert_eq!((&after.strands[0].flags, &after.strands[2].flags), (&pain, &pain));
    let hurt = saying(Says::Hurts, observation(2, 1, "hold.rest", level(Level::Alone)));
    assert_eq!(ladder(1, &[hurt]).strands[0].flags, BTreeSet::new());
}

#[test]
fn what_is_in_work_is_never_due_and_what_stands_beside_it_is() {
    let observations = looks(&[("hold.size", Level::Alone), ("hold.support", Level::Prompted)]);
    for now in [2, 5, 30] {
        let ladder = ladder(now, &observations);
        assert_eq!(state(&ladder, "hold.1"), &StageState::Open);
        assert_eq!(recheck(&ladder, "hold.size"), Some(Recheck::at(now, 5)));
        assert_eq!(ladder.strands[0].recheck, Some(Recheck::at(now, 5)));
        assert!(ladder.strands[0].in_work);
    }
    assert_eq!(ladder(30, &looks(&[("hold.1", Level::Prompted)])).strands[0].recheck, None);
}

#[test]
fn what_did_not_rise_in_three_visits_is_set_aside_for_the_next_one() {
    let low = |number, meeting| observation(number, meeting, "hold.tall", level(Level::Placed));
    let mut observations = vec![low(1, 1), low(2, 2), low(3, 4)];
    let set_aside = |observations: &[Observation]| ladder(6, observations).set_aside;
    assert_eq!(set_aside(&observations[..2]), BTreeSet::new());
    assert_eq!(set_aside(&observations), BTreeSet::from([CheckpointId::new("hold.tall")]));
    observations.push(observation(4, 4, "hold.rest", level(Level::Alone)));
    assert_eq!(set_aside(&observations).len(), 1, "the same visit");
    observations.push(observation(5, 5, "hold.rest", level(Level::Alone)));
    assert_eq!(set_aside(&observations), BTreeSet::new(), "it was set aside for that visit");
}

#[test]
fn what_stands_in_a_shut_stage_is_not_asked_for() {
    let observations = looks(&[("bow.stroke", Level::Alone)]);
    let ladder = ladder(9, &observations);
    assert!(is_shut(&ladder, "bow.4"));
    assert_eq!(ladder.strands[1].recheck, None);
}

#[test]
fn a_reached_stage_is_due_as_a_whole_when_its_first_checkpoint_is() {
    let observations = looks(&[("frame.ring", Level::Lasting), ("frame.land", Level::Alone)]);
    let ladder = ladder(5, &observations);
    let view = ladder.stages.iter().find(|view| view.stage.as_str() == "frame.4").expect("frame.4");
    assert_eq!((&view.state, view.recheck), (&StageState::Reached, Some(Recheck::Due)));
}

#[test]
fn a_child_in_its_fifth_week_reads_like_this() {
    let mut observations = looks(&HOLD_TO_SETTLE);
    observations.extend([
        observation(10, 2, "bow.pluck", level(Level::Alone)),
        observation(11, 3, "bow.thumb", with_slip(Level::Prompted, "bow-thumb-lock")),
        observation(12, 3, "tape.measured", level(Level::Alone)),
        observation(13, 3, "tape.placed", level(Level::Alone)),
        observation(14, 4, "frame.arm", level(Level::Prompted)),
    ]);
    let ladder = ladder(5, &observations);
    let mut text = String::new();
    for strand in &ladder.strands {
        let (key, glow, due) = (strand.strand.key(), strand.glow, strand.recheck);
        writeln!(text, "{key:5} glow {glow:.2} in work {} {due:?} {:?}", strand.in_work, strand.flags).expect("text");
    }
    for view in &ladder.stages {
        writeln!(text, "{:8} {:?} {:?}", view.stage.as_str(), view.state, view.recheck).expect("text");
    }
    insta::assert_snapshot!(text);
}

fn any_levels() -> impl Strategy<Value = Vec<(CheckpointId, Level)>> {
    let ids: Vec<CheckpointId> = checklist().checkpoints().iter().map(|c| c.id.clone()).collect();
    let levels = prop::sample::select(Level::ALL.to_vec());
    prop::collection::vec((prop::sample::select(ids), levels), 0..30)
}

fn all_glows(ladder: &Ladder) -> [f64; 4] {
    [0, 1, 2, 3].map(|strand: usize| ladder.strands[strand].glow)
}

fn observations_for(levels: &[(CheckpointId, Level)]) -> Vec<Observation> {
    (0..)
        .zip(levels)
        .map(|(number, (id, seen))| observation(number, 1 + number / 4, id.as_str(), level(*seen)))
        .collect()
}

proptest! {
    #[test]
    fn a_observation_at_a_higher_level_never_lowers_a_glow(levels in any_levels(), which in any::<prop::sample::Index>()) {
        let checklist = checklist();
        let id = &which.get(checklist.checkpoints()).id;
        let observations = observations_for(&levels);
        let standings = standings_of(&observations);
        let present = standings.get(id).map(|standing| standing.level);
        let before = ladder_of(10, &[], &standings);
        for higher in Level::ALL.into_iter().filter(|level| Some(*level) > present) {
            let mut more = observations.clone();
            more.push(observation(50, 12, id.as_str(), level(higher)));
            let after = ladder(12, &more);
            for (glow_before, glow_after) in all_glows(&before).iter().zip(all_glows(&after)) {
                prop_assert!(glow_after >= *glow_before);
            }
        }
    }

    #[test]
    fn what_does_not_apply_never_changes_the_glow_of_the_other_strands(
        levels in any_levels(), which in any::<prop::sample::Index>(),
    ) {
        let checklist = checklist();
        let standings = standings_of(&observations_for(&levels));
        let exempt = which.get(checklist.checkpoints());
        let strand = checklist.strand_of(exempt);
        let before = ladder_of(10, &[], &standings);
        let after = ladder_of(10, &[exempt.id.as_str()], &standings);
        for index in 0..4 {
            if Strand::ALL[index] != strand {
                prop_assert!((before.strands[index].glow - after.strands[index].glow).abs() < f64::EPSILON);
            }
        }
    }

    #[test]
    fn what_does_not_apply_leaves_the_others_of_its_strand_their_own_share(levels in any_levels()) {
        // The strand's glow is then the mean over the rest, whatever the exempt checkpoint stands at.
        let checklist = checklist();
        let others: Vec<&str> = checklist.stages_of(Strand::Hold)
            .flat_map(|stage| checklist.checkpoints_of(&stage.id))
            .filter(|checkpoint| checkpoint.required && checkpoint.id.as_str() != "hold.free")
            .map(|checkpoint| checkpoint.id.as_str())
            .collect();
        let rest: Vec<_> = levels.iter().filter(|(id, _)| id.as_str() != "hold.free").cloned().collect();
        let of = |levels: &[(CheckpointId, Level)]| {
            let standings = standings_of(&observations_for(levels));
            let hold = |id: &&str| f64::from(standings.get(*id).map_or(0, |s| s.level.number()));
            let most = others.iter().map(|_| 4.0).sum::<f64>();
            (ladder_of(10, &["hold.free"], &standings).strands[0].glow, others.iter().map(hold).sum::<f64>() / most)
        };
        for (glow, mean) in [of(&levels), of(&rest)] {
            prop_assert!((glow - mean).abs() < 1e-12);
        }
    }

    #[test]
    fn every_glow_lies_between_nothing_and_all(levels in any_levels(), now in 1u32..60) {
        for glow in all_glows(&ladder(now, &observations_for(&levels))) {
            prop_assert!((0.0..=1.0).contains(&glow));
        }
    }
}

/// The ladder of a child that played the violin until meeting 6 and plays the cello since.
fn after_the_change(now: u32, observations: &[Observation]) -> Ladder {
    let checklist = checklist();
    let (calendar, rhythm) = (calendar(), Rhythm::default());
    let outlook = Outlook { checklist: &checklist, calendar: &calendar, rhythm: &rhythm, now };
    let playing = Playing { now: Instrument::Cello, before: vec![(support::at(6, 0), Instrument::Violin)] };
    outlook.ladder(&playing, &ChildContext::default(), &standings_of(observations))
}

fn recheck(ladder: &Ladder, id: &str) -> Option<Recheck> {
    let checklist = checklist();
    let checkpoint = checklist.checkpoint(id).expect("a checkpoint");
    ladder.stages.iter().find(|view| view.stage == checkpoint.stage).expect("its stage").recheck
}

#[test]
fn what_means_something_else_on_the_new_instrument_is_due_from_the_change_on() {
    // Lasting at meeting 1: due at meeting 9 on the same instrument.
    let observations = looks(&[("hold.size", Level::Lasting)]);
    assert_eq!(recheck(&after_the_change(5, &observations), "hold.size"), Some(Recheck::Fresh(1)));
    assert_eq!(recheck(&after_the_change(6, &observations), "hold.size"), Some(Recheck::Due));
    assert_eq!(recheck(&after_the_change(8, &observations), "hold.size"), Some(Recheck::Overdue(2)));
    let same = ladder(8, &observations);
    assert_eq!(recheck(&same, "hold.size"), Some(Recheck::Fresh(1)));
}

#[test]
fn a_change_of_instrument_keeps_every_standing_and_the_glow() {
    let observations = looks(&HOLD_TO_SETTLE);
    let (before, after) = (ladder(8, &observations), after_the_change(8, &observations));
    assert!((before.strands[0].glow - after.strands[0].glow).abs() < 1e-9);
    assert_eq!(state(&after, "hold.3"), &StageState::Reached);
}

#[test]
fn what_is_worded_alike_on_both_instruments_asks_for_nothing() {
    let checklist = checklist();
    let alike: Vec<&str> = checklist
        .checkpoints()
        .iter()
        .filter(|checkpoint| {
            checkpoint.stage.as_str().starts_with("bow") || checkpoint.stage.as_str().starts_with("frame")
        })
        .filter(|c| c.wording.get(&Instrument::Violin) == c.wording.get(&Instrument::Cello))
        .map(|checkpoint| checkpoint.id.as_str())
        .collect();
    for id in alike {
        let observations = looks(&[(id, Level::Lasting)]);
        assert_eq!(recheck(&after_the_change(8, &observations), id), recheck(&ladder(8, &observations), id), "{id}");
    }
}

#[test]
fn a_look_on_the_new_instrument_ends_the_asking() {
    let mut observations = looks(&[("hold.size", Level::Lasting)]);
    observations.push(observation(30, 7, "hold.size", level(Level::Lasting)));
    assert_eq!(recheck(&after_the_change(8, &observations), "hold.size"), Some(Recheck::Fresh(11)));
}

#[test]
fn a_child_that_came_back_to_its_first_instrument_is_asked_only_for_what_it_did_in_between() {
    let checklist = checklist();
    let (calendar, rhythm) = (calendar(), Rhythm::default());
    let outlook = Outlook { checklist: &checklist, calendar: &calendar, rhythm: &rhythm, now: 8 };
    let before = vec![(support::at(4, 0), Instrument::Violin), (support::at(8, 0), Instrument::Cello)];
    let playing = Playing { now: Instrument::Violin, before };
    let observations =
        [observation(1, 1, "hold.size", level(Level::Lasting)), observation(2, 5, "hold.rest", level(Level::Lasting))];
    let ladder = outlook.ladder(&playing, &ChildContext::default(), &standings_of(&observations));
    assert_eq!(recheck(&ladder, "hold.size"), Some(Recheck::Fresh(1)), "seen on the violin");
    assert_eq!(recheck(&ladder, "hold.rest"), Some(Recheck::Due), "seen on the cello");
}

#[test]
fn a_stage_opened_anyway_is_open_and_says_so() {
    let opened =
        ChildContext { opened: [StageId::new("frame.1"), StageId::new("hold.1")].into(), ..Default::default() };
    let ladder = ladder_with(&checklist(), 2, &opened, &standings_of(&[]));
    let view = |stage: &str| ladder.stages.iter().find(|view| view.stage.as_str() == stage).expect("a stage");
    assert_eq!((&view("frame.1").state, view("frame.1").opened), (&StageState::Open, true));
    assert!(!view("hold.1").opened, "it was open by itself");
    assert!(is_shut(&ladder, "frame.2"));
}

#[test]
fn a_stage_without_anything_asked_counts_as_passed_and_has_no_look() {
    let everything_off = Edits { off: ["hold.rest"].map(CheckpointId::new).into(), ..Edits::default() };
    let checklist = content().checklist(&choosing(&[]), &everything_off);
    let ladder =
        ladder_with(&checklist, 9, &ChildContext::default(), &standings_of(&looks(&[("hold.1", Level::Alone)])));
    let view = ladder.stages.iter().find(|view| view.stage.as_str() == "hold.2").expect("hold.2");
    assert_eq!((&view.state, view.recheck), (&StageState::Settled, None));
    assert_eq!(state(&ladder, "hold.3"), &StageState::Open);
}

#[test]
fn without_markers_by_choice_the_fourth_string_is_bright_and_nothing_waits_for_tapes() {
    let checklist = content().checklist(&choosing(&[("markers", "none")]), &Edits::default());
    let observations = looks(&[("hold.4", Level::Alone), ("frame.1", Level::Alone), ("frame.2", Level::Alone)]);
    let ladder = ladder_with(&checklist, 2, &ChildContext::default(), &standings_of(&observations));
    assert_eq!((ladder.tapes.state, ladder.tapes.recheck), (TapeState::NoneByChoice, None));
    assert_eq!((ladder.strands[3].glow, ladder.strands[3].seen), (1.0, true));
    assert_eq!(state(&ladder, "frame.3"), &StageState::Open);
    assert_eq!(state(&ladder, "tape.6"), &StageState::Settled);
}

#[test]
fn first_fingers_in_rest_position_come_before_the_hold_and_are_asked_again_after_it() {
    let checklist = content().checklist(&choosing(&[("first-fingers", "rest-first")]), &Edits::default());
    let none = ChildContext::default();
    let mut observations = looks(&[
        ("hold.1", Level::Alone),
        ("hold.2", Level::Alone),
        ("frame.1", Level::Prompted),
        ("frame.thumb", Level::Lasting),
    ]);
    let before = ladder_with(&checklist, 3, &none, &standings_of(&observations));
    assert_eq!(state(&before, "frame.1"), &StageState::Open);
    assert_eq!(recheck(&before, "frame.thumb"), Some(Recheck::Fresh(6)));
    // Raised at meeting 4: the thumb, seen in rest position, is asked for again from that meeting on.
    let settle = ["hold.contact", "hold.space"].map(|id| observation(40, 4, id, level(Level::Prompted)));
    observations.extend(
        (60..).zip(settle).map(|(number, seen)| Observation { id: uuid::Uuid::from_u128(number).into(), ..seen }),
    );
    let after = ladder_with(&checklist, 5, &none, &standings_of(&observations));
    assert_eq!(recheck(&after, "frame.thumb"), Some(Recheck::Overdue(1)));
    let standard = ladder_with(&support::checklist(), 5, &none, &standings_of(&observations));
    assert_eq!(recheck(&standard, "frame.thumb"), Some(Recheck::Fresh(4)), "nobody asks again");
    observations.push(observation(90, 5, "frame.thumb", level(Level::Alone)));
    let seen_again = ladder_with(&checklist, 5, &none, &standings_of(&observations));
    assert_eq!(recheck(&seen_again, "frame.thumb"), Some(Recheck::Fresh(1)), "slipped by a level: soon again");
    assert!(is_shut(&ladder_with(&support::checklist(), 3, &none, &standings_of(&[])), "frame.1"));
}
