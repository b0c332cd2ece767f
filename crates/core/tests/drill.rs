//! Drills: the beats of a run, rests where they are due, and what a class makes of the shared ones.

mod support;

use std::collections::BTreeSet;
use std::fmt::Write as _;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::drills::{Drill, DrillLevel, DrillStep, MAX_ROUNDS, MAX_STEP_BEATS, MAX_TEMPO, MIN_TEMPO};
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::id::StageId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::lessons::drill::{DrillProgram, READY_BEATS, REST_SECONDS, SegmentKind};
use bright_row_core::lessons::lesson::REST_AFTER_SECONDS;
use proptest::prelude::*;
use support::{choosing, content};

/// Each segment on a line: its first beat, what is done on the cello, and how long.
fn run(drill: &Drill, level: Option<DrillLevel>) -> String {
    let program = drill.program(level, drill.tempo);
    let mut text = format!("{} beats, {} s, {} s of load\n", program.beats, program.seconds, program.load_seconds);
    for segment in &program.segments {
        let what = match segment.step {
            Some(step) => drill.steps[step].text[&Instrument::Cello].clone(),
            None => segment.kind.word().to_owned(),
        };
        writeln!(text, "{:>3} +{} round {}: {what}", segment.first_beat, segment.beats, segment.round).expect("text");
    }
    text
}

fn shipped(id: &str) -> Drill {
    let content = content();
    content.lessons(&Choices::new(), &Edits::default()).drill(id).expect("a shipped drill").clone()
}

#[test]
fn prepared_fingers_at_each_level() {
    let drill = Drill { rounds: 1, ..shipped("prepared-fingers") };
    for level in DrillLevel::ALL {
        insta::assert_snapshot!(format!("prepared_fingers_{}", level.word()), run(&drill, Some(*level)));
    }
    assert_eq!(drill.program(None, 60), drill.program(Some(DrillLevel::Rests), 60), "the easiest comes first");
}

#[test]
fn arms_come_down_between_rounds_and_after_two_minutes_of_load() {
    let held = Drill { rounds: 1, levels: Vec::new(), ..shipped("statue") };
    let step = DrillStep { beats: 30, repeats: 6, load: true, ..held.steps[1].clone() };
    let long = Drill { steps: vec![step], ..held };
    // At 60 beats a minute a time takes 30 seconds: four of them, a rest, two more.
    let kinds: Vec<&str> = long.program(None, 60).segments.iter().map(|segment| segment.kind.word()).collect();
    assert_eq!(kinds, ["ready", "step", "step", "step", "step", "rest", "step", "step"]);
    let quick = long.program(None, 120).segments.iter().filter(|segment| segment.kind == SegmentKind::Rest).count();
    assert_eq!(quick, 0, "six times 15 seconds are below two minutes");
    let rounds = Drill { rounds: 2, ..long }.program(None, 120);
    let rests: Vec<_> = rounds.segments.iter().filter(|segment| segment.kind == SegmentKind::Rest).collect();
    assert_eq!(rests.len(), 1);
    assert_eq!(rests[0].beats, 20, "ten seconds");
    assert_eq!(rounds.load_seconds, 180);
}

/// No rest is needed before the first load or after the last, and none is longer than needed.
fn check(drill: &Drill, level: Option<DrillLevel>, tempo: u32, program: &DrillProgram) {
    let tempo = tempo.clamp(MIN_TEMPO, MAX_TEMPO);
    let mut at = 0;
    let mut loaded = 0;
    for segment in &program.segments {
        assert_eq!(segment.first_beat, at, "without a gap");
        assert!(segment.beats > 0);
        at += segment.beats;
        match segment.kind {
            SegmentKind::Rest => {
                assert!(segment.beats * 60 >= REST_SECONDS * tempo, "{segment:?} is shorter than a rest");
                loaded = 0;
            }
            SegmentKind::Step => {
                let step = &drill.steps[segment.step.expect("a step")];
                assert_eq!(segment.beats, step.beats);
                loaded += if step.load { step.beats } else { 0 };
                assert!(loaded * 60 <= REST_AFTER_SECONDS * tempo, "{loaded} loaded beats in a row at {tempo}");
            }
            SegmentKind::Ready => assert_eq!((segment.first_beat, segment.beats), (0, READY_BEATS)),
        }
    }
    assert_eq!(program.beats, at, "so many ticks");
    let level = level.filter(|level| drill.levels.contains(level)).or(drill.levels.first().copied());
    for (index, step) in drill.steps.iter().enumerate() {
        let played = match level {
            None => true,
            Some(level) if step.only.is_empty() => !step.quiet || level == DrillLevel::Rests,
            Some(level) => step.only.contains(&level),
        };
        let times = program.segments.iter().filter(|segment| segment.step == Some(index)).count();
        let wanted = if played { step.repeats * drill.rounds } else { 0 };
        assert_eq!(times, usize::try_from(wanted).expect("few"), "step {index}");
    }
    let last = program.segments.last().expect("segments");
    assert_ne!(last.kind, SegmentKind::Rest, "nobody rests after the end");
}

fn any_step() -> impl Strategy<Value = (u32, u32, bool, bool, BTreeSet<DrillLevel>)> {
    let only = prop::collection::btree_set(prop::sample::select(DrillLevel::ALL.to_vec()), 0..3);
    (1..=MAX_STEP_BEATS, 1..6_u32, any::<bool>(), any::<bool>(), only)
}

proptest! {
    #[test]
    fn every_beat_is_accounted_for_and_nobody_presses_longer_than_two_minutes(
        steps in prop::collection::vec(any_step(), 1..8),
        rounds in 1..=MAX_ROUNDS,
        level in prop::option::of(prop::sample::select(DrillLevel::ALL.to_vec())),
        tempo in 0_u32..400,
    ) {
        let text = shipped("statue").steps[0].text.clone();
        let steps = steps.into_iter().map(|(beats, repeats, load, quiet, only)| {
            DrillStep { beats, repeats, load, quiet, only, say: Vec::new(), text: text.clone() }
        });
        let drill = Drill { rounds, levels: DrillLevel::ALL.to_vec(), steps: steps.collect(), ..shipped("statue") };
        check(&drill, level, tempo, &drill.program(level, tempo));
    }
}

/// Every drill under every option of every choice.
fn under_every_option() -> Vec<(String, Drill)> {
    let content = content();
    let mut drills = Vec::new();
    for choice in &content.approach.choices {
        for option in &choice.options {
            let choices = choosing(&[(&choice.key, &option.id)]);
            let lessons = content.lessons(&choices, &Edits::default());
            drills.extend(lessons.drills.into_iter().map(|drill| (format!("{}={}", choice.key, option.id), drill)));
        }
    }
    drills
}

#[test]
fn every_shipped_drill_can_be_run_at_every_level_and_ends_with_the_hand_down() {
    for (place, drill) in under_every_option() {
        assert_eq!(drill.faults(content().template.shared()), [], "{place}");
        let levels: Vec<_> =
            if drill.levels.is_empty() { vec![None] } else { drill.levels.iter().copied().map(Some).collect() };
        for level in levels {
            let program = drill.program(level, drill.tempo);
            check(&drill, level, drill.tempo, &program);
            let last = program.segments.iter().rev().find_map(|segment| segment.step).expect("a step");
            if drill.loads() && drill.strand != Strand::Bow {
                assert!(!drill.steps[last].load, "{} ends while something is held", drill.id);
            }
            let minutes = program.seconds.div_ceil(60);
            assert!(minutes <= 6, "{} takes {minutes} minutes at {level:?}", drill.id);
        }
    }
}

#[test]
fn texts_of_drills_are_filled_short_and_free_of_blame() {
    const BLAME: [&str; 9] = ["wrong", "bad", "don't", "never", "lazy", "mistake", "poor", "weak", "fault"];
    for (place, drill) in under_every_option() {
        let texts = drill.steps.iter().flat_map(|step| step.text.values()).chain([&drill.name, &drill.aim]);
        for text in texts {
            assert!(!text.contains(['{', '}']), "{place}: {text}");
            assert!(text.starts_with(|c: char| c.is_uppercase() || c.is_numeric()), "{place}: {text}");
            assert!(text.chars().count() <= 90, "{place}: {text}");
            let words = text.split(|c: char| !c.is_alphabetic() && c != '\'').map(str::to_lowercase);
            for word in words {
                assert!(!BLAME.contains(&word.as_str()), "{}: \"{text}\" says \"{word}\"", drill.id);
            }
        }
    }
}

#[test]
fn what_a_class_chose_decides_which_drills_it_sees() {
    let content = content();
    let sees =
        |choices: &[(&str, &str)], id: &str| content.lessons(&choosing(choices), &Edits::default()).drill(id).is_some();
    assert!(!sees(&[], "tune-spoiled") && sees(&[("contrast", "both")], "tune-spoiled"));
    assert!(!sees(&[], "single-lifts") && sees(&[("keep-down", "lifted-too")], "single-lifts"));
    let build = |choices: &[(&str, &str)]| {
        let lessons = content.lessons(&choosing(choices), &Edits::default());
        lessons.drill("pencil-shape").expect("the build").steps[1].text[&Instrument::Viola].clone()
    };
    assert_eq!(build(&[]), "The bent thumb first, in its place");
    assert_eq!(build(&[("bow-fingers", "little-first")]), "The little finger first, in its place");
}

fn edits_with(drill: Drill) -> Edits {
    Edits { drills: [(drill.id.clone(), drill)].into(), ..Edits::default() }
}

#[test]
fn own_words_stand_in_place_own_drills_come_behind_and_what_is_off_is_gone() {
    let content = content();
    let shared = content.lessons(&Choices::new(), &Edits::default());
    let reworded = Drill { name: "Trees in the wind".to_owned(), ..shipped("statue") };
    let own = Drill { id: "own-rocking".to_owned(), ..shipped("statue") };
    let mut edits = edits_with(reworded);
    edits.drills.insert(own.id.clone(), own);
    edits.drills_off.insert("glide".to_owned());
    assert_eq!(edits.drill_faults(content.template.shared(), &content.lessons), []);
    let mine = content.lessons(&Choices::new(), &edits);
    assert_eq!(mine.drills.len(), shared.drills.len(), "one more, one less");
    assert_eq!(mine.drill("statue").expect("it").name, "Trees in the wind");
    assert_eq!(mine.drills.last().expect("drills").id, "own-rocking");
    assert_eq!(mine.drill("glide"), None);
    assert_eq!(edits.new_drill_id("Rocking"), "own-rocking-b");
    assert_eq!(edits.new_drill_id("猫"), "own-drill");
}

/// What is broken, and how.
type Case<'a> = (&'a str, &'a dyn Fn(&mut Drill));

#[test]
fn what_cannot_be_in_an_own_drill_is_said_by_step_and_field() {
    let content = content();
    let faults = |change: &dyn Fn(&mut Drill)| {
        let mut drill = Drill { id: "own-one".to_owned(), ..shipped("statue") };
        change(&mut drill);
        let faults = edits_with(drill).drill_faults(content.template.shared(), &content.lessons);
        faults.into_iter().map(|(_, fault)| format!("{:?} {}: {}", fault.step, fault.field, fault.message)).collect()
    };
    let mut text = String::new();
    let cases: [Case<'_>; 14] = [
        ("another id", &|drill| drill.id = "sta tue".to_owned()),
        ("no such stage", &|drill| drill.after = Some(StageId::new("hold.9"))),
        ("for nobody", &|drill| drill.instruments.clear()),
        ("for tapes", &|drill| drill.strand = Strand::Tape),
        ("tempo", &|drill| drill.tempo = u32::MAX),
        ("rounds", &|drill| drill.rounds = 0),
        ("without steps", &|drill| drill.steps.clear()),
        ("a thousand steps", &|drill| drill.steps = vec![drill.steps[0].clone(); 1000]),
        ("beats", &|drill| drill.steps[1].beats = 0),
        ("repeats", &|drill| drill.steps[1].repeats = 4_000_000_000),
        ("a long text", &|drill| drop(drill.steps[2].text.insert(Instrument::Bass, "x".repeat(91)))),
        ("braces", &|drill| drop(drill.steps[2].text.insert(Instrument::Bass, "{press.do}".to_owned()))),
        ("a rest without its level", &|drill| drill.steps[0].quiet = true),
        ("words that go uneven", &|drill| drill.steps[0].say = vec!["plum".to_owned(); 3]),
    ];
    for (name, change) in cases {
        let said: Vec<String> = faults(change);
        assert!(!said.is_empty(), "{name}");
        let said = said.into_iter().take(3).collect::<Vec<_>>().join("\n  ");
        writeln!(text, "{name}\n  {said}").expect("text");
    }
    insta::assert_snapshot!(text);
}
