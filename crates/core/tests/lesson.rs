//! A lesson put together from what the class is ready for.

mod support;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::loader::Content;
use bright_row_core::craft::strand::Strand;
use bright_row_core::lessons::lesson::{LessonBlock, LessonPart, MAX_AIMS, MAX_LESSON_MINUTES, MIN_LESSON_MINUTES};
use proptest::prelude::*;
use support::story::{Child, lines};
use support::{checklist, content};

/// Drills of a stage take turns from one meeting to the next.
const MEETING: usize = 0;

fn class(checklist: &Checklist, stories: &[&str]) -> Vec<Child> {
    let child = |(place, story): (usize, &&str)| {
        let (observations, context) = lines(story);
        Child::new(checklist, Instrument::ALL[place % 4], context, &observations, 5)
    };
    stories.iter().enumerate().map(child).collect()
}

fn proposed(content: &Content, checklist: &Checklist, stories: &[&str], minutes: u32) -> Vec<LessonBlock> {
    let children = class(checklist, stories);
    let pupils: Vec<_> = children.iter().map(|child| child.pupil(checklist, content)).collect();
    content.lessons(&Choices::new(), &Edits::default()).propose(minutes, MEETING, &pupils, checklist)
}

fn words(blocks: &[LessonBlock]) -> String {
    let part = |block: &LessonBlock| match &block.part {
        LessonPart::SetUp => "set-up".to_owned(),
        LessonPart::Drill(id) => id.clone(),
        LessonPart::Look => "look".to_owned(),
        LessonPart::Book => "book".to_owned(),
        LessonPart::Tune => "tune".to_owned(),
    };
    blocks.iter().map(|block| format!("{} {}", part(block), block.minutes)).collect::<Vec<_>>().join(", ")
}

#[test]
fn on_the_first_day_strings_are_plucked() {
    let blocks = proposed(&content(), &checklist(), &["", "", "", ""], 40);
    assert_eq!(words(&blocks), "set-up 5, pluck-open 2, names-numbers 2, look 12, book 13, tune 6");
}

#[test]
fn the_furthest_drill_is_proposed_that_most_are_ready_for() {
    let (content, checklist) = (content(), checklist());
    let settled = "hold.1=3 hold.2=3 hold.3=3 hold.4=3 bow.1=3 bow.2=2 frame.1=2";
    let begun = "hold.1=2";
    let most = proposed(&content, &checklist, &[settled, settled, settled, begun], 40);
    assert_eq!(words(&most), "set-up 5, free-hand 3, lay-back 3, thumb-taps 2, look 12, book 10, tune 5");
    let few = proposed(&content, &checklist, &[settled, begun, begun, begun], 40);
    assert_eq!(words(&few), "set-up 5, statue 3, pluck-open 2, names-numbers 2, look 12, book 11, tune 5");
}

#[test]
fn it_is_told_how_many_are_ready_for_each_drill() {
    let (content, checklist) = (content(), checklist());
    let children = class(&checklist, &["hold.1=3", "hold.1=1", "hold.1=2"]);
    let pupils: Vec<_> = children.iter().map(|child| child.pupil(&checklist, &content)).collect();
    let ready = content.lessons.ready(&pupils);
    let of = |id: &str| {
        let one = ready.iter().find(|one| one.drill.id == id).expect("a drill");
        (one.ready, one.of, one.is_ready())
    };
    assert_eq!(of("statue"), (2, 3, true));
    assert_eq!(of("pluck-open"), (3, 3, true));
    assert_eq!(of("free-hand"), (0, 3, false));
    assert!(!content.lessons.ready(&[])[0].is_ready(), "nobody is not most");
}

#[test]
fn every_strand_of_the_hands_has_drills_from_its_first_stages_on() {
    let lessons = content().lessons;
    for (strand, least) in [(Strand::Hold, 3), (Strand::Bow, 12), (Strand::Frame, 20)] {
        let drills = lessons.drills.iter().filter(|drill| drill.strand == strand).count();
        assert!(drills >= least, "{strand:?}: {drills}");
    }
}

#[test]
fn the_drills_of_a_stage_take_turns() {
    let (content, checklist) = (content(), checklist());
    let children = class(&checklist, &["", "", "", ""]);
    let pupils: Vec<_> = children.iter().map(|child| child.pupil(&checklist, &content)).collect();
    let lessons = content.lessons(&Choices::new(), &Edits::default());
    let first = |meeting: usize| words(&lessons.propose(40, meeting, &pupils, &checklist));
    let turns: std::collections::BTreeSet<String> = (0..12).map(first).collect();
    assert!(turns.len() >= 4, "{turns:?}");
    assert_eq!(first(0), first(12), "and come again");
}

#[test]
fn the_pattern_that_the_class_chose_comes_first_and_a_drill_for_some_waits_to_be_chosen() {
    let (content, checklist) = (content(), checklist());
    let ready = "hold.1=3 hold.2=3 hold.3=3 hold.4=3 frame.1=3 frame.2=3";
    let children = class(&checklist, &[ready, ready, ready, ready]);
    let pupils: Vec<_> = children.iter().map(|child| child.pupil(&checklist, &content)).collect();
    let frames = |option: &str| -> Vec<String> {
        let lessons = content.lessons(&support::choosing(&[("cello-first-pattern", option)]), &Edits::default());
        let of = |meeting: usize| lessons.propose(60, meeting, &pupils, &checklist);
        let frame = |block: LessonBlock| match block.part {
            LessonPart::Drill(id) if lessons.drill(&id).is_some_and(|drill| drill.strand == Strand::Frame) => Some(id),
            _ => None,
        };
        (0..6).flat_map(of).filter_map(frame).collect()
    };
    assert_eq!(frames("down"), ["pattern-down"; 6]);
    assert_eq!(frames("up"), ["pattern-up"; 6]);
    assert_eq!(frames("one-two-four"), ["pattern-one-two-four"; 6]);
    let free = frames("free");
    assert!(free.iter().collect::<std::collections::BTreeSet<_>>().len() > 3, "{free:?}");
}

proptest! {
    #[test]
    fn the_blocks_take_the_lessons_minutes_exactly(
        minutes in 0_u32..140,
        stories in prop::collection::vec(
            prop::sample::select(vec!["", "hold.1=3", "hold.1=3 hold.2=3 hold.3=3 bow.1=4 bow.2=3 bow.3=2", "hold.1=0"]),
            0..6,
        ),
    ) {
        let blocks = proposed(&content(), &checklist(), &stories, minutes);
        prop_assert_eq!(blocks.iter().map(|block| block.minutes).sum::<u32>(), minutes.clamp(MIN_LESSON_MINUTES, MAX_LESSON_MINUTES));
        prop_assert!(blocks.iter().all(|block| block.minutes > 0));
        prop_assert_eq!(&blocks[0].part, &LessonPart::SetUp);
        prop_assert_eq!(blocks.iter().filter(|block| block.part == LessonPart::Look).count(), 1);
        let drills = blocks.iter().filter(|block| matches!(block.part, LessonPart::Drill(_))).count();
        prop_assert!(drills <= MAX_AIMS);
    }
}
