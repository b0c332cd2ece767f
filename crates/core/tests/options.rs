//! The checklist that a class reads: its ways, its own changes, and the file in which they travel.

mod support;

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::checklist::{Checklist, Need, Wording};
use bright_row_core::craft::drills::Drill;
use bright_row_core::craft::edits::{Edits, OwnCheckpoint, Rewording};
use bright_row_core::craft::family_wording::Language;
use bright_row_core::craft::home::{HomePhrase, MAX_PHRASE_LENGTH};
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::craft::instrument::Instrument::{self, Bass, Cello, Viola, Violin};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::loader::class_file::{self, ClassChecklist};
use bright_row_core::craft::loader::{Content, Source};
use bright_row_core::craft::template::{Change, changes};
use bright_row_core::figure::{FigureSpec, View};
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::standings;
use proptest::prelude::*;
use support::{calendar, checklist, choosing, content, level, observation};

fn with(choices: &[(&str, &str)]) -> Checklist {
    content().checklist(&choosing(choices), &Edits::default())
}

fn look_for(checklist: &Checklist, id: &str, instrument: Instrument) -> Option<String> {
    checklist.checkpoint(id).and_then(|c| c.wording.get(&instrument)).map(|wording| wording.look_for.clone())
}

#[test]
fn an_option_words_the_look_for_anew_on_its_instruments_alone() {
    let (standard, clear) = (checklist(), with(&[("bow-thumb", "clear")]));
    assert_eq!(
        look_for(&clear, "bow.thumb", Violin).as_deref(),
        Some("Thumb bent, the corner of its tip on the wrapping, clear of the frog")
    );
    assert_eq!(look_for(&clear, "bow.thumb", Cello), look_for(&standard, "bow.thumb", Cello));
    let under = with(&[("bass-bow", "underhand")]);
    assert_eq!(look_for(&under, "bow.little", Bass).as_deref(), Some("Little finger under the frog"));
    let two = with(&[("left-thumb", "between"), ("thumb-height", "flat")]);
    assert_eq!(
        look_for(&two, "frame.thumb", Viola).as_deref(),
        Some("Thumb relaxed, between markers 1 and 2, flat at mid-height")
    );
}

#[test]
fn an_option_leaves_checkpoints_out_and_they_stay_known() {
    let rests = with(&[("neck-contact", "fleshy-base"), ("bow-way", "frog")]);
    assert_eq!(look_for(&rests, "frame.space", Violin), None);
    assert!(look_for(&rests, "frame.space", Cello).is_some(), "only violin and viola");
    assert_eq!(look_for(&rests, "bow.pencil", Bass), None);
    assert!(rests.checkpoint("bow.pencil").is_some_and(|pencil| pencil.name == "On a pencil"));
}

#[test]
fn an_option_changes_what_a_stage_waits_for() {
    let stage =
        |checklist: &Checklist, id: &str, instrument| checklist.stage(id).expect("a stage").needs(instrument).to_vec();
    let needs = |id: &str| Need::Stage(StageId::new(id));
    let rest_first = with(&[("first-fingers", "rest-first")]);
    assert_eq!(stage(&rest_first, "frame.1", Violin), [needs("hold.2")]);
    assert_eq!(stage(&rest_first, "frame.1", Cello), [needs("hold.4")]);
    let bow_first = with(&[("order", "bow-first")]);
    let shapes = ["bow.shape", "bow.pencil"].map(|id| Need::Checkpoint(CheckpointId::new(id), Level::Prompted));
    assert_eq!(stage(&bow_first, "bow.2", Bass), shapes);
    let may_help = with(&[("carry", "hand-may-help")]);
    assert_eq!(stage(&may_help, "hold.5", Viola), [needs("hold.4"), needs("frame.2")]);
}

#[test]
fn an_option_may_call_a_slip_otherwise() {
    let flat = with(&[("cello-thumb", "pad-flat")]);
    assert_eq!(flat.slip("thumb-hook").map(|slip| slip.name.as_str()), Some("Thumb hooked over"));
    assert_eq!(checklist().slip("thumb-hook").map(|slip| slip.name.as_str()), Some("Thumb flat or hooked"));
}

#[test]
fn what_a_change_of_options_changes_is_told_before_it_is_made() {
    let (before, after) =
        (checklist(), with(&[("scroll", "nose"), ("bow-way", "frog"), ("first-fingers", "rest-first")]));
    let text: Vec<String> = changes(&before, &after)
        .iter()
        .map(|change| match change {
            Change::Asked { checkpoint, instrument, asked } => {
                format!("{checkpoint} {} asked: {asked}", instrument.name())
            }
            Change::Worded { checkpoint, instrument, before, after } => {
                let (was, is) = if before.look_for == after.look_for {
                    (&before.cue, &after.cue)
                } else {
                    (&before.look_for, &after.look_for)
                };
                format!("{checkpoint} {}: {was} -> {is}", instrument.name())
            }
            Change::Waits { stage, instrument, after } => format!("{stage} {} waits for {after:?}", instrument.name()),
        })
        .collect();
    insta::assert_snapshot!(text.join("\n"));
    assert_eq!(changes(&before, &before), []);
}

fn own(stage: &str, name: &str) -> OwnCheckpoint {
    let wording = Wording {
        look_for: "Music open at today's page".to_owned(),
        proof: String::new(),
        cue: "Page open, ready to play".to_owned(),
    };
    OwnCheckpoint {
        stage: StageId::new(stage),
        name: name.to_owned(),
        seconds: 5,
        required: false,
        far: true,
        play: false,
        wording: [(Violin, wording.clone()), (Cello, wording)].into(),
        figure: Some(FigureSpec::usual(View::Body)),
    }
}

#[test]
fn own_checkpoints_stand_last_in_their_stage_and_continue_being_known_when_switched_off() {
    let mut edits = Edits::default();
    let id = edits.new_id(&checklist(), &StageId::new("hold.2"), "Music ready!");
    assert_eq!(id.as_str(), "hold.own-music-ready");
    edits.own.insert(id.clone(), own("hold.2", "Music ready!"));
    assert_eq!(edits.faults(content().template.shared()), []);
    assert_eq!(edits.new_id(&checklist(), &StageId::new("hold.2"), "Music ready").as_str(), "hold.own-music-ready-b");
    let list = content().checklist(&Choices::new(), &edits);
    let stage: Vec<&str> = list.checkpoints_of(&StageId::new("hold.2")).map(|c| c.id.as_str()).collect();
    assert_eq!(stage, ["hold.rest", "hold.own-music-ready"]);
    assert_eq!(look_for(&list, id.as_str(), Violin).as_deref(), Some("Music open at today's page"));
    edits.off.insert(id.clone());
    edits.off.insert(CheckpointId::new("hold.nails"));
    let list = content().checklist(&Choices::new(), &edits);
    assert_eq!(look_for(&list, id.as_str(), Violin), None);
    assert_eq!(look_for(&list, "hold.nails", Violin), None);
    assert_eq!(list.checkpoint(id.as_str()).map(|own| own.name.as_str()), Some("Music ready!"));
}

#[test]
fn a_rewording_stands_whatever_way_is_chosen_and_leaves_the_other_texts() {
    let rewording = Rewording { cue: Some("Thumb like a banana".to_owned()), ..Rewording::default() };
    let edits =
        Edits { reworded: [(CheckpointId::new("bow.thumb"), [(Violin, rewording)].into())].into(), ..Edits::default() };
    for option in ["against", "clear"] {
        let list = content().checklist(&choosing(&[("bow-thumb", option)]), &edits);
        let wording = &list.checkpoint("bow.thumb").expect("known").wording[&Violin];
        assert_eq!(wording.cue, "Thumb like a banana");
        assert_eq!(Some(&wording.look_for), look_for(&with(&[("bow-thumb", option)]), "bow.thumb", Violin).as_ref());
    }
}

#[test]
fn changes_that_cannot_be_are_told() {
    let mut edits = Edits { off: [CheckpointId::new("hold.shoes")].into(), ..Edits::default() };
    let long = Rewording { look_for: Some("x".repeat(91)), cue: Some("  ".to_owned()), proof: Some("{a}".to_owned()) };
    edits.reworded.insert(CheckpointId::new("bow.thumb"), [(Violin, long)].into());
    edits.reworded.insert(CheckpointId::new("bow.toe"), BTreeMap::new());
    edits.own.insert(CheckpointId::new("hold.own-tape"), own("tape.1", "On tape"));
    edits.own.insert(CheckpointId::new("bow.own-stand"), own("hold.1", "Stand"));
    edits.own.insert(CheckpointId::new("hold.own-Slow"), OwnCheckpoint { seconds: 0, ..own("hold.1", "") });
    let text: Vec<String> = edits
        .faults(content().template.shared())
        .into_iter()
        .map(|fault| format!("{} {}: {}", fault.checkpoint, fault.field, fault.message))
        .collect();
    insta::assert_snapshot!(text.join("\n"));
}

#[test]
fn a_class_file_reads_like_this_and_comes_back_the_same() {
    let mut class = ClassChecklist {
        choices: choosing(&[("scroll", "nose"), ("markers", "dots")]),
        edits: Edits { off: [CheckpointId::new("hold.nails")].into(), ..Edits::default() },
    };
    let rewording = Rewording { cue: Some("Thumb like a \"banana\"".to_owned()), ..Rewording::default() };
    let both: BTreeMap<Instrument, Rewording> = [(Violin, rewording.clone()), (Viola, rewording)].into();
    class.edits.reworded.insert(CheckpointId::new("bow.thumb"), both);
    class.edits.own.insert(CheckpointId::new("hold.own-music"), own("hold.2", "Music ready"));
    let text = class_file::write(&class);
    insta::assert_snapshot!(text);
    assert_eq!(read(&text, &content()), Ok(class));
}

fn read(text: &str, content: &Content) -> Result<ClassChecklist, Vec<String>> {
    class_file::read(Source { path: "class.toml", text }, content)
        .map_err(|faults| faults.iter().map(ToString::to_string).collect())
}

#[test]
fn a_class_file_that_does_not_fit_is_told_line_by_line() {
    let text = "format = \"something else\"\noff = [\"hold.shoes\"]\ncolour = 1\n\n[choices]\nscroll = \"up\"\npin = 4\n\n\
                [[reword]]\ncheckpoint = \"bow.thumb\"\non = [\"tuba\"]\n\n[[reword]]\ncheckpoint = \"bow.toe\"\non = [\"vn\"]\n\
                cue = \"Toe\"\n\n[[own]]\nid = \"hold.mine\"\nstage = \"hold.1\"\nname = \"Mine\"\nseconds = 500\n\
                [own.wording.vn]\ncue = \"Mine\"\n";
    insta::assert_snapshot!(read(text, &content()).expect_err("faults").join("\n"));
    insta::assert_snapshot!(read("", &content()).expect_err("faults").join("\n"));
}

fn any_text(most: usize) -> impl Strategy<Value = String> {
    prop::string::string_regex("[A-Za-z\"\\\\'äé,. #=\\[\\]]{1,40}")
        .expect("a pattern")
        .prop_map(move |text| text.chars().take(most).collect::<String>())
        .prop_filter("not blank", |text| !text.trim().is_empty())
}

fn any_class() -> impl Strategy<Value = ClassChecklist> {
    let (content, list) = (content(), checklist());
    let shared = content.template.shared().clone();
    let drills = content.lessons(&Choices::new(), &Edits::default()).drills;
    let ids: Vec<CheckpointId> = list.checkpoints().iter().map(|checkpoint| checkpoint.id.clone()).collect();
    let stages: Vec<StageId> =
        list.stages().iter().filter(|stage| stage.id.as_str() < "tape").map(|stage| stage.id.clone()).collect();
    let choice = any::<prop::sample::Index>().prop_map(move |pick| {
        let all: Vec<(String, String)> = content
            .approach
            .choices
            .iter()
            .flat_map(|choice| choice.options.iter().map(|option| (choice.key.clone(), option.id.clone())))
            .collect();
        pick.get(&all).clone()
    });
    let instruments = prop::sample::subsequence(Instrument::ALL.to_vec(), 1..=4);
    let text = |most| prop::option::of(any_text(most));
    let rewording = (text(90), text(90), any_text(40)).prop_map(|(look_for, proof, cue)| Rewording {
        look_for,
        proof,
        cue: Some(cue),
    });
    let reworded = (prop::sample::select(ids.clone()), instruments.clone(), rewording)
        .prop_map(move |(id, on, text)| {
            // A rewording is of texts that there are.
            let known = shared.checkpoint(id.as_str()).map(|one| &one.wording);
            let on = on.into_iter().filter(|on| known.is_some_and(|wording| wording.contains_key(on)));
            (id, on.map(|on| (on, text.clone())).collect::<BTreeMap<_, _>>())
        })
        .prop_filter("on an instrument", |(_, texts)| !texts.is_empty());
    let added = (prop::sample::select(stages), any_text(28), any_text(90), any_text(40), instruments, 1_u32..120)
        .prop_map(|(stage, name, look_for, cue, on, seconds)| {
            let wording = Wording { look_for, proof: String::new(), cue };
            let wording = on.into_iter().map(|on| (on, wording.clone())).collect();
            OwnCheckpoint {
                stage,
                name,
                seconds,
                required: seconds % 2 == 0,
                far: false,
                play: seconds % 3 == 0,
                wording,
                figure: (seconds % 2 == 0).then(|| FigureSpec::usual(View::BowHand)),
            }
        });
    let lines =
        prop::collection::btree_map(prop::sample::select(HomePhrase::ALL.to_vec()), any_text(MAX_PHRASE_LENGTH), 0..4);
    let own_drill = (prop::sample::select(drills), any_text(28), any_text(40), any_text(90), 1_u32..8, any::<bool>())
        .prop_map(|(drill, name, aim, text, rounds, own)| {
            let mut drill = Drill { name, aim, rounds, prefer: None, with: None, ..drill };
            for step in &mut drill.steps {
                step.text.values_mut().for_each(|words| words.clone_from(&text));
            }
            if own { Drill { id: "own-".to_owned(), ..drill } } else { drill }
        });
    (
        prop::collection::btree_map("x", "x", 0..1),
        prop::collection::vec(choice, 0..6),
        prop::collection::btree_set(prop::sample::select(ids), 0..6),
        prop::collection::vec(reworded, 0..5),
        prop::collection::vec(added, 0..4),
        prop::collection::vec(own_drill, 0..4),
        prop::collection::btree_map(prop::sample::select(vec!["es", "pt-BR", "zh-Hans"]), lines, 0..3),
    )
        .prop_map(|(_, choices, off, reworded, added, drills, phrases)| {
            let mut edits = Edits { off, reworded: reworded.into_iter().collect(), ..Edits::default() };
            edits.phrases = phrases
                .into_iter()
                .map(|(language, lines)| (Language::parse(language).expect("a language"), lines))
                .collect();
            for own in added {
                let id = edits.new_id(&checklist(), &own.stage, &own.name);
                edits.own.insert(id, own);
            }
            for drill in drills {
                let id = if drill.is_own() { edits.new_drill_id(&drill.name) } else { drill.id.clone() };
                edits.drills_off.extend((drill.rounds == 2).then(|| id.clone()));
                edits.drills.insert(id.clone(), Drill { id, ..drill });
            }
            ClassChecklist { choices: choices.into_iter().collect(), edits }
        })
}

proptest! {
    #[test]
    fn a_class_file_comes_back_the_same(class in any_class()) {
        let content = content();
        prop_assert_eq!(class.edits.faults(content.template.shared()), vec![]);
        prop_assert_eq!(class.edits.drill_faults(content.template.shared(), &content.lessons), vec![]);
        prop_assert_eq!(read(&class_file::write(&class), &content), Ok(class));
    }

    #[test]
    fn any_text_is_read_or_told_but_never_breaks_the_reader(text in "[\\[\\]a-z\"=. \n{}]{0,200}") {
        let _ = read(&text, &content());
    }

    #[test]
    fn switching_ways_and_wording_never_changes_a_observation_or_what_follows_from_it(
        class in any_class(), picks in prop::collection::vec((any::<prop::sample::Index>(), 0_u8..5), 0..30),
    ) {
        let (content, standard) = (content(), checklist());
        let observations: Vec<Observation> = (0..).zip(&picks).map(|(number, (pick, seen))| {
            let id = pick.get(standard.checkpoints()).id.to_string();
            observation(number, 1 + number / 6, &id, level(Level::try_from(*seen).expect("a level")))
        }).collect();
        let mine = content.checklist(&class.choices, &class.edits);
        let of = |list: &Checklist| standings(list, &observations, &calendar(), &Rhythm::default());
        prop_assert_eq!(of(&mine), of(&standard));
        // Every observation keeps its checkpoint and its name.
        for checkpoint in standard.checkpoints() {
            let here = mine.checkpoint(checkpoint.id.as_str()).expect("still known");
            prop_assert_eq!((&here.name, &here.stage), (&checkpoint.name, &checkpoint.stage));
        }
        let ids: BTreeSet<&CheckpointId> = mine.checkpoints().iter().map(|checkpoint| &checkpoint.id).collect();
        prop_assert_eq!(ids.len(), mine.checkpoints().len());
    }
}

#[test]
fn a_cause_and_a_slip_read_in_the_words_of_the_options() {
    let content = content();
    let help = |id: &str, choices: &[(&str, &str)]| {
        let checklist = content.checklist(&choosing(choices), &Edits::default());
        let cause = content.symptoms.causes.iter().find(|cause| cause.id == id).expect("a cause");
        let (name, help) = cause.words(&checklist);
        assert_eq!(help, checklist.slip(id).expect("a slip").help);
        format!("{name}: {help}")
    };
    assert_eq!(help("thumb-hook", &[]), "Thumb flat or hooked: Bend it on the middle of the neck");
    let flat = [("cello-thumb", "pad-flat")];
    assert_eq!(help("thumb-hook", &flat), "Thumb hooked over: Lay the pad on the neck's middle, the hand open");
    assert_eq!(help("thumb-wander", &flat), "Thumb behind or ahead: Bring the thumb back, behind the second finger");
    let level = [("cello-thumb", "level-1")];
    assert_eq!(help("thumb-wander", &level), "Thumb behind or ahead: Bring the thumb back, level with finger 1");
    let alone = [("neck-contact", "thumb")];
    assert_eq!(help("neck-palm", &alone), "Neck in the palm: Jaw and shoulder carry; the thumb alone touches");
    let frog = [("bow-way", "frog")];
    assert_eq!(help("bow-squeeze", &frog), "Hand squeezes: Shake it out, go back to the rebuilt hand");
}

#[test]
fn under_the_balance_point_nothing_asks_for_the_frog_and_underhand_has_its_own_words() {
    let content = content();
    let balance = content.checklist(&choosing(&[("bow-way", "balance-point")]), &Edits::default());
    let thumb = balance.checkpoint("bow.thumb").expect("a checkpoint");
    assert_eq!(
        thumb.wording[&Instrument::Violin].look_for,
        "Thumb bent, the corner of its tip on the stick where it balances"
    );
    for checkpoint in balance.checkpoints() {
        for wording in checkpoint.wording.values() {
            for text in [&wording.look_for, &wording.proof, &wording.cue] {
                assert!(!text.contains("frog"), "{}: {text}", checkpoint.id);
            }
        }
    }
    let underhand = content.checklist(&choosing(&[("bass-bow", "underhand")]), &Edits::default());
    let bass = |id: &str| underhand.checkpoint(id).expect("a checkpoint").wording[&Instrument::Bass].clone();
    assert_eq!(bass("bow.thumb").cue, "Soft thumb on top");
    assert_eq!(bass("bow.shape").cue, "Thumb on top, fingers along");
    assert_eq!(bass("bow.shape").proof, "Thumb and fingers meet the stick, the palm soft");
}
