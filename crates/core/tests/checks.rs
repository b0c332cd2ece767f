//! What could be looked at in a round, with its points and reasons; and what a scan from afar resolves.

mod support;

use bright_row_core::ChildId;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::instrument::Instrument::{self, Cello, Viola, Violin};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::standings;
use bright_row_core::round::checks::{Check, MAX_VISIT_POINTS, Why, visit_points};
use bright_row_core::round::scans::{ClassPart, PartKind, Scan, scans};
use proptest::prelude::*;
use support::story::{Child, lines};
use support::{calendar, checklist, content, holds, level, observation, scanned};
use uuid::Uuid;

fn candidates(instrument: Instrument, story: &str, now: u32, must_see: bool) -> Vec<Check> {
    let (checklist, content) = (checklist(), content());
    let (observations, context) = lines(story);
    let child = Child::new(&checklist, instrument, context, &observations, now);
    child.pupil(&checklist, &content).checks(must_see)
}

/// A candidate in words.
fn words(candidate: &Check) -> String {
    let why = candidate.why.iter().map(|why| match why {
        Why::Overdue(meetings) => format!("overdue {meetings}"),
        Why::Due => "due".to_owned(),
        Why::Unseen => "unseen".to_owned(),
        Why::Below(level) => format!("at {}", level.number()),
        Why::Leads(slips) => format!("leads to {}", slips.len()),
        Why::Tapes(trouble) => format!("{trouble:?}"),
        Why::MustSee => "must see".to_owned(),
    });
    let why: Vec<String> = why.collect();
    let scan = if candidate.by_scan { ", by scan" } else { "" };
    format!("{} {} points, {} s: {}{scan}", candidate.target.id(), candidate.points, candidate.seconds, why.join(", "))
}

fn list(instrument: Instrument, story: &str, now: u32) -> String {
    candidates(instrument, story, now, false).iter().map(words).collect::<Vec<_>>().join("\n")
}

#[test]
fn on_the_first_day_everything_open_is_unseen_and_tapes_are_no_work_for_a_round() {
    insta::assert_snapshot!(list(Violin, "", 1));
}

#[test]
fn what_is_below_alone_counts_more_once_it_is_due_and_ever_more_when_it_is_late() {
    let story = "hold.size=3 hold.support=1 hold.seat=2";
    let points = |now| -> Vec<(String, u32)> {
        let found = candidates(Violin, story, now, false).into_iter();
        found.map(|found| (found.target.id().to_owned(), found.points)).filter(|(id, _)| id == "hold.support").collect()
    };
    let now = |meeting: u32| points(meeting)[0].1;
    assert_eq!([now(1), now(2), now(3), now(12), now(13), now(40)], [12, 30, 44, 80, 80, 80]);
}

#[test]
fn in_a_stage_not_yet_reached_what_stands_is_looked_at_only_when_it_is_due() {
    let story = "hold.size=3 hold.support=3 hold.seat=2";
    let ids = |now| -> Vec<String> {
        let found = candidates(Violin, story, now, false).into_iter();
        found.map(|found| found.target.id().to_owned()).filter(|id| id.starts_with("hold.s")).collect()
    };
    assert_eq!(ids(2), ["hold.seat"]);
    assert_eq!(ids(6), ["hold.size", "hold.support", "hold.seat"]);
}

#[test]
fn a_reached_stage_is_looked_at_as_a_whole_when_it_is_due() {
    insta::assert_snapshot!(list(Cello, "hold.1=3 hold.2=3 @3 bow.1=3", 6));
}

#[test]
fn a_slip_that_leads_to_another_counts_more() {
    let story = "hold.1=3 hold.2=3 hold.3=3 bow.1=3 bow.thumb=2+bow-thumb-lock bow.little=2+little-straight";
    let found = candidates(Violin, story, 2, false);
    let of = |id: &str| found.iter().find(|found| found.target.id() == id).map(words);
    insta::assert_snapshot!(of("bow.thumb").expect("a candidate"), @"bow.thumb 45 points, 8 s: due, leads to 1");
    insta::assert_snapshot!(of("bow.little").expect("a candidate"), @"bow.little 30 points, 6 s: due");
}

#[test]
fn tapes_get_ten_seconds_when_they_are_due_or_in_trouble() {
    let of_tapes = |story: &str, now| -> String {
        let found = candidates(Viola, story, now, false);
        found.iter().filter(|found| found.target.id().starts_with("tape")).map(words).collect::<Vec<_>>().join("; ")
    };
    assert_eq!(of_tapes("tape.measured=3 tape.placed=3", 3), "");
    assert_eq!(of_tapes("tape.measured=3 tape.placed=3", 4), "tape.placed 30 points, 10 s: due");
    assert_eq!(of_tapes("tape.measured=3 tape.placed=3 tape.heard=3", 5), "tape.holding 44 points, 10 s: overdue 1");
    assert_eq!(
        of_tapes("tape.measured=3 tape.placed=3 tape.heard=3 tape.heard=0", 1),
        "tape.holding 37 points, 10 s: Drifted"
    );
    assert_eq!(of_tapes("tape.measured=0", 9), "");
}

#[test]
fn a_child_that_must_be_seen_always_has_something_to_look_at() {
    let everything = "hold.1=4 hold.2=4 hold.3=4 hold.4=4 hold.5=4 bow.1=4 bow.2=4 bow.3=4 bow.4=4 \
                      frame.1=4 frame.2=4 frame.3=4 frame.4=4 hold.relax=4";
    let open = candidates(Violin, everything, 1, false);
    let rest: Vec<String> = open.iter().map(|found| format!("{}=4", found.target.id())).collect();
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
    // Five looks of 6 s at hold 2 take 30 s, the scan 10 s and 1 s a child.
    let said: Vec<_> = found.iter().map(|scan| (scan.target.id(), scan.part, scan.seconds, scan.saves)).collect();
    assert_eq!(said, [("hold.2", 1, 15, 15)]);
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
    assert_eq!((after.level, after.interval), (Level::Alone, rhythm.after[3]));
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
            prop_assert!((12..=80 + 25).contains(&candidate.points), "{}", words(candidate));
            prop_assert!(candidate.seconds > 0 && !candidate.why.is_empty());
        }
        let mut targets: Vec<&Target> = found.iter().map(|found| &found.target).collect();
        targets.sort();
        targets.dedup();
        prop_assert_eq!(targets.len(), found.len(), "each once");
    }
}
