//! What could be looked at in a round, with its points and reasons; and what a scan from afar resolves.

mod support;

use bright_row_core::ChildId;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::instrument::Instrument::{self, Cello, Viola, Violin};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::next::{Order, Reason};
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::standings;
use bright_row_core::round::checks::{Check, MAX_VISIT_POINTS, visit_points};
use bright_row_core::round::scans::{ClassPart, PartKind, Scan, scans};
use proptest::prelude::*;
use support::story::{Child, lines};
use support::{calendar, checklist, content, holds, level, observation, scanned};
use uuid::Uuid;

fn candidates(instrument: Instrument, story: &str, now: u32, must_see: bool) -> Vec<Check> {
    let (checklist, content) = (checklist(), content());
    let (observations, context) = lines(story);
    let child = Child::new(&checklist, instrument, context, &observations, now);
    child.pupil(&checklist, &content).checks(Order::SideBySide, must_see)
}

/// A candidate in words.
fn words(candidate: &Check) -> String {
    let why = match &candidate.next.reason {
        Reason::Hurts => "hurts".to_owned(),
        Reason::Tapes(trouble) => format!("{trouble:?}"),
        Reason::Root(slips) => format!("leads to {}", slips.len()),
        Reason::Due(meetings) => format!("due, {meetings} late"),
        Reason::Soon => "soon".to_owned(),
        Reason::InWork { how, seen, .. } => format!("{how:?}, {}", if *seen { "seen" } else { "unseen" }),
        Reason::MustSee => "must see".to_owned(),
    };
    let scan = if candidate.by_scan { ", by scan" } else { "" };
    format!("{} {} points, {} s: {why}{scan}", candidate.target().id(), candidate.points, candidate.next.seconds)
}

fn list(instrument: Instrument, story: &str, now: u32) -> String {
    candidates(instrument, story, now, false).iter().map(words).collect::<Vec<_>>().join("\n")
}

fn points_of(story: &str, target: &str, now: u32) -> Option<u32> {
    let found = candidates(Violin, story, now, false);
    found.iter().find(|found| found.target().id() == target).map(|found| found.points)
}

#[test]
fn on_the_first_day_the_first_stages_are_in_work_and_tapes_are_no_work_for_a_round() {
    insta::assert_snapshot!(list(Violin, "", 1));
}

#[test]
fn what_is_in_work_counts_the_same_however_long_nobody_looked() {
    let now = |now| points_of("hold.seat=2 hold.nails=2", "hold.seat", now);
    assert_eq!([1, 2, 13, 40].map(now), [Some(20); 4]);
    assert_eq!(points_of("hold.seat=1", "hold.seat", 9), Some(35), "it keeps the next stage shut");
    assert_eq!(points_of("bow.loose=1", "bow.loose", 9), Some(10), "nothing waits for it");
}

#[test]
fn what_stands_counts_from_the_meeting_before_it_is_due_and_ever_more_when_it_is_late() {
    let now = |now| points_of("hold.1=3", "hold.1", now);
    assert_eq!([3, 4, 5, 6, 12, 13, 40].map(now), [None, Some(50), Some(50), Some(54), Some(78), Some(80), Some(80)]);
}

#[test]
fn in_a_stage_not_yet_reached_what_stands_is_looked_at_with_one_look_that_takes_no_longer_than_its_parts() {
    let of_hold = |story: &str| -> Vec<String> {
        let found = candidates(Violin, story, 6, false).into_iter();
        found.filter(|found| found.target().id().starts_with("hold.1")).map(|found| words(&found)).collect()
    };
    assert_eq!(of_hold("hold.size=3 hold.support=3 hold.seat=2"), ["hold.1 54 points, 12 s: due, 1 late"]);
    assert_eq!(of_hold("hold.size=2 hold.support=2 hold.seat=3"), ["hold.1 54 points, 8 s: due, 1 late"]);
}

#[test]
fn a_reached_stage_is_looked_at_as_a_whole_when_it_is_due() {
    insta::assert_snapshot!(list(Cello, "hold.1=3 hold.2=3 @3 bow.1=3", 6));
}

#[test]
fn a_root_counts_more_with_each_slip_that_it_leads_to_and_its_effect_waits() {
    let story = "hold.1=3 hold.2=3 hold.3=3 bow.1=3 bow.thumb=2+bow-thumb-lock bow.little=2+little-straight";
    let found = candidates(Violin, story, 2, false);
    let of = |id: &str| found.iter().find(|found| found.target().id() == id).map(words);
    insta::assert_snapshot!(of("bow.thumb").expect("a candidate"), @"bow.thumb 60 points, 8 s: leads to 1");
    assert_eq!(of("bow.little"), None);
}

#[test]
fn tapes_get_ten_seconds_when_they_are_due_or_in_trouble() {
    let of_tapes = |story: &str, now| -> String {
        let found = candidates(Viola, story, now, false);
        found.iter().filter(|found| found.target().id().starts_with("tape")).map(words).collect::<Vec<_>>().join("; ")
    };
    assert_eq!(of_tapes("tape.measured=3 tape.placed=3", 2), "");
    assert_eq!(of_tapes("tape.measured=3 tape.placed=3", 3), "tape.placed 50 points, 10 s: soon");
    assert_eq!(of_tapes("tape.measured=3 tape.placed=3", 4), "tape.placed 50 points, 10 s: due, 0 late");
    assert_eq!(of_tapes("tape.measured=3 tape.placed=3 tape.heard=3", 5), "tape.holding 54 points, 10 s: due, 1 late");
    assert_eq!(
        of_tapes("tape.measured=3 tape.placed=3 tape.heard=3 tape.heard=0", 1),
        "tape.holding 60 points, 10 s: Drifted"
    );
    assert_eq!(of_tapes("tape.measured=0", 9), "");
}

#[test]
fn pain_comes_first_with_the_most_points() {
    let found = candidates(Violin, "hold.1=3 pain:hold.rest", 2, false);
    assert_eq!(words(&found[0]), "hold.rest 100 points, 5 s: hurts");
}

#[test]
fn a_child_that_must_be_seen_always_has_something_to_look_at() {
    let everything = "hold.1=4 hold.2=4 hold.3=4 hold.4=4 hold.5=4 bow.1=4 bow.2=4 bow.3=4 bow.4=4 \
                      frame.1=4 frame.2=4 frame.3=4 frame.4=4 hold.relax=4";
    let open = candidates(Violin, everything, 1, false);
    let rest: Vec<String> = open.iter().map(|found| format!("{}=4", found.target().id())).collect();
    let story = format!("{everything} {}", rest.join(" "));
    assert_eq!(candidates(Violin, &story, 2, false), []);
    let found = candidates(Violin, &story, 2, true);
    assert_eq!(found.iter().map(words).collect::<Vec<_>>(), ["hold.1 0 points, 12 s: must see"]);
}

#[test]
fn a_visit_is_worth_more_the_longer_the_wait() {
    assert_eq!(
        [0, 1, 4, 15, 16, u32::MAX].map(visit_points),
        [0, 3, 12, MAX_VISIT_POINTS, MAX_VISIT_POINTS, MAX_VISIT_POINTS]
    );
}

fn scans_of(stories: &[&str], parts: &[&[usize]], now: u32) -> Vec<Scan> {
    let found: Vec<Vec<Check>> = stories.iter().map(|story| candidates(Violin, story, now, false)).collect();
    let looked: Vec<(ChildId, &[Check])> = found.iter().map(|found| (Uuid::nil().into(), found.as_slice())).collect();
    let parts: Vec<ClassPart> =
        parts.iter().map(|part| ClassPart { kind: PartKind::Row(1), children: part.to_vec() }).collect();
    scans(&looked, &parts)
}

#[test]
fn a_scan_is_proposed_where_it_spares_time_and_settles_each_look_once() {
    let stories = ["hold.1=3 hold.2=3"; 5];
    let found = scans_of(&stories, &[&[0, 1, 2], &[0, 1, 2, 3, 4]], 6);
    // Five looks of 5 s at hold 2 take 25 s, the scan 10 s and 1 s a child.
    let said: Vec<_> = found.iter().map(|scan| (scan.target.id(), scan.part, scan.seconds, scan.saves)).collect();
    assert_eq!(said, [("hold.2", 1, 15, 10)]);
    assert_eq!(found[0].resolves, [0, 1, 2, 3, 4]);
    assert_eq!(scans_of(&stories[..2], &[&[0, 1]], 6), [], "two looks are as fast one by one");
    assert_eq!(scans_of(&stories, &[&[0, 1, 2, 3, 4]], 2), [], "nothing is due");
}

#[test]
fn a_scan_confirms_what_stands_and_raises_nobody() {
    let (checklist, calendar, rhythm) = (checklist(), calendar(), Rhythm::default());
    let before = observation(1, 1, "hold.rest", level(Level::Alone));
    let scan = |number, meeting| scanned(observation(number, meeting, "hold.2", holds()));
    let observations = [before.clone(), scan(2, 6), scan(3, 12), scan(4, 18)];
    let after = &standings(&checklist, &observations, &calendar, &rhythm)[&before_id(&before)];
    assert_eq!((after.level, after.interval), (Level::Alone, Some(rhythm.alone)));
    assert_eq!(after.looked_at, observations[3].observed_at);
    assert_eq!(after.visited_at, Some(before.observed_at), "a scan is not a visit");
}

fn before_id(
    observation: &bright_row_core::progress::observation::Observation,
) -> bright_row_core::craft::id::CheckpointId {
    match &observation.target {
        Target::Checkpoint(id) => id.clone(),
        Target::Stage(id) => panic!("{id} is a stage"),
    }
}

proptest! {
    #[test]
    fn points_never_leave_their_bounds(levels in prop::collection::vec((0_u8..=4, 1_u32..20), 48), now in 20_u32..55) {
        let checklist = checklist();
        let looks = checklist.checkpoints().iter().zip(&levels);
        let mut story: Vec<(u32, String)> =
            looks.map(|(checkpoint, (level, at))| (*at, format!("@{at} {}={level}", checkpoint.id))).collect();
        story.sort();
        let story: Vec<String> = story.into_iter().map(|(_, words)| words).collect();
        let found = candidates(Violin, &story.join(" "), now, false);
        for candidate in &found {
            let effects = if let Reason::Root(effects) = &candidate.next.reason { effects.len() } else { 0 };
            let most = 100.max(50 + 10 * u32::try_from(effects).expect("few"));
            prop_assert!((10..=most).contains(&candidate.points), "{}", words(candidate));
            prop_assert!(candidate.next.seconds > 0);
        }
        let mut targets: Vec<&Target> = found.iter().map(Check::target).collect();
        targets.sort();
        targets.dedup();
        prop_assert_eq!(targets.len(), found.len(), "each once");
    }
}
