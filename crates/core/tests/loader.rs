//! Content: what ships is sound, and what is not is reported with its file and line.

mod support;

use bright_row_core::craft::checklist::Wording;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::loader::{self, Source};
use bright_row_core::craft::strand::Strand;
use support::{checklist, choosing, content, content_files};

/// Every checkpoint of the checklist's own plan: its stage, the seconds of a look, and whether the stage waits for it (r), it
/// is seen from afar (far) and needs the child to play (play).
const PLAN: [(&str, u32, u32, &str); 50] = [
    ("hold.size", 1, 20, "r"),
    ("hold.support", 1, 15, "r"),
    ("hold.seat", 1, 8, "r-far"),
    ("hold.nails", 1, 4, ""),
    ("hold.rest", 2, 5, "r-far"),
    ("hold.raise", 3, 10, "r-far"),
    ("hold.tall", 3, 6, "r-far"),
    ("hold.contact", 4, 10, "r"),
    ("hold.aim", 4, 8, "far"),
    ("hold.space", 4, 8, "r"),
    ("hold.free", 5, 10, "r"),
    ("bow.pluck", 1, 8, "r"),
    ("bow.loose", 1, 5, ""),
    ("bow.shape", 1, 8, "r"),
    ("bow.pencil", 1, 12, "r"),
    ("bow.care", 2, 10, ""),
    ("bow.thumb", 2, 8, "r"),
    ("bow.middle", 2, 6, ""),
    ("bow.index", 2, 6, ""),
    ("bow.little", 2, 6, "r"),
    ("bow.lean", 2, 6, ""),
    ("bow.alone", 3, 12, "r"),
    ("bow.frog", 3, 10, "r"),
    ("bow.drill", 3, 15, ""),
    ("bow.air", 3, 8, "far"),
    ("bow.stroke", 4, 12, "r-play"),
    ("bow.arm", 4, 12, "r-far-play"),
    ("bow.wrist", 4, 10, "play"),
    ("bow.midway", 4, 10, "far-play"),
    ("bow.weight", 4, 10, "r-play"),
    ("bow.levels", 4, 12, "far-play"),
    ("frame.arm", 1, 6, "r-far"),
    ("frame.wrist", 1, 6, "r-far"),
    ("frame.thumb", 2, 8, "r"),
    ("frame.space", 2, 6, "r"),
    ("frame.height", 2, 6, "r"),
    ("frame.lift", 2, 8, ""),
    ("frame.square", 3, 8, "r"),
    ("frame.tips", 3, 8, "r"),
    ("frame.spread", 3, 8, "r"),
    ("frame.keep", 3, 10, "play"),
    ("frame.ring", 4, 12, "r-play"),
    ("frame.light", 4, 8, ""),
    ("frame.land", 4, 12, "r-play"),
    ("tape.measured", 1, 30, "r"),
    ("tape.placed", 2, 60, "r"),
    ("tape.heard", 3, 30, "r"),
    ("tape.holding", 4, 10, "r"),
    ("tape.thinning", 5, 15, ""),
    ("tape.off", 6, 15, ""),
];

/// The shipped files with one of them changed, read; every fault as a line of text.
fn faults(path: &str, change: impl Fn(&str) -> String) -> String {
    let mut files = content_files();
    let file = files.iter_mut().find(|(name, _)| name == path).expect("a shipped file");
    file.1 = change(&file.1);
    let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
    let faults = loader::read(&sources).expect_err("the change is a fault");
    faults.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
}

#[test]
fn the_shipped_checklist_is_the_whole_plan_in_its_order() {
    let checklist = checklist();
    let shipped: Vec<(&str, u32, u32, String)> = checklist
        .checkpoints()
        .iter()
        .map(|checkpoint| {
            let stage = checklist.stage(checkpoint.stage.as_str()).expect("a stage");
            let flags = [(checkpoint.required, "r"), (checkpoint.far, "far"), (checkpoint.play, "play")];
            let flags: Vec<&str> = flags.into_iter().filter(|(is, _)| *is).map(|(_, flag)| flag).collect();
            (checkpoint.id.as_str(), stage.number, checkpoint.seconds, flags.join("-"))
        })
        .collect();
    let plan: Vec<(&str, u32, u32, String)> =
        PLAN.into_iter().map(|(id, stage, seconds, flags)| (id, stage, seconds, flags.to_owned())).collect();
    assert_eq!(shipped, plan);
    let stages = Strand::ALL.map(|strand| checklist.stages_of(strand).count());
    assert_eq!(stages, [5, 4, 4, 6]);
    for checkpoint in checklist.checkpoints() {
        let instruments: Vec<Instrument> = checkpoint.wording.keys().copied().collect();
        let on: &[Instrument] = match checkpoint.id.as_str() {
            // Asked for where the balance point has turned into the frog.
            "bow.frog" => &[],
            "bow.wrist" => &[Instrument::Violin, Instrument::Viola],
            _ => &Instrument::ALL,
        };
        assert_eq!(instruments, on, "{}", checkpoint.id);
    }
}

/// Every wording under every single way, with where it stands.
fn every_wording() -> Vec<(String, Wording)> {
    let content = content();
    let ways = content.approach.choices.iter().flat_map(|choice| choice.options.iter().map(move |o| (choice, o)));
    ways.flat_map(|(choice, option)| {
        let checklist = content.checklist(&choosing(&[(&choice.key, &option.id)]), &Edits::default());
        let worded = checklist.checkpoints().iter().flat_map(|checkpoint| {
            let place = format!("{} with {}={}", checkpoint.id, choice.key, option.id);
            checkpoint.wording.values().map(move |wording| (place.clone(), wording.clone()))
        });
        worded.collect::<Vec<_>>()
    })
    .collect()
}

#[test]
fn every_text_is_within_its_length_and_without_places_under_every_way() {
    for (place, wording) in every_wording() {
        let texts = [(&wording.look_for, 90), (&wording.proof, 90), (&wording.cue, 40)];
        for (text, most) in texts {
            assert!((4..=most).contains(&text.chars().count()), "{place}: {text}");
            assert!(!text.contains(['{', '}']), "{place}: {text}");
            assert!(text.starts_with(char::is_uppercase), "{place}: {text}");
        }
    }
}

/// Words that say what is wrong instead of what to do.
const BLAME: [&str; 24] = [
    "no",
    "not",
    "never",
    "don't",
    "dont",
    "stop",
    "wrong",
    "bad",
    "badly",
    "lazy",
    "ugly",
    "fault",
    "faulty",
    "mistake",
    "fail",
    "fails",
    "poor",
    "poorly",
    "sloppy",
    "careless",
    "incorrect",
    "weak",
    "can't",
    "cannot",
];

fn words(text: &str) -> impl Iterator<Item = String> {
    text.split(|c: char| !c.is_alphanumeric() && c != '\'').filter(|word| !word.is_empty()).map(str::to_lowercase)
}

#[test]
fn a_child_reads_every_cue_and_nothing_in_it_blames() {
    for (place, wording) in every_wording() {
        let all: Vec<String> = words(&wording.cue).collect();
        assert!(all.len() <= 8, "{place}: {}", wording.cue);
        let long = all.iter().filter(|word| word.chars().count() > 8).count();
        // One longer word at most: an instrument's own.
        assert!(long <= 1 && all.iter().all(|word| word.chars().count() <= 11), "{place}: {}", wording.cue);
    }
}

#[test]
fn no_text_about_a_child_blames() {
    let content = content();
    let mut texts: Vec<(String, String)> = every_wording()
        .into_iter()
        .flat_map(|(place, wording)| [wording.look_for, wording.proof, wording.cue].map(|text| (place.clone(), text)))
        .collect();
    let slips = content.template.shared().slips().iter();
    texts.extend(
        slips.flat_map(|slip| [(slip.id.to_string(), slip.help.clone()), (slip.id.to_string(), slip.name.clone())]),
    );
    texts.extend(content.symptoms.causes.iter().map(|cause| (cause.id.clone(), cause.help.clone())));
    for (place, text) in texts {
        for word in words(&text).filter(|word| BLAME.contains(&word.as_str())) {
            // "no more" and "before ... is believed" say how far, not what is wrong.
            assert!(text.contains("no more"), "{place}: \"{text}\" says \"{word}\"");
        }
    }
}

#[test]
fn there_are_enough_symptoms_and_causes_on_every_instrument() {
    let symptoms = content().symptoms;
    for instrument in Instrument::ALL {
        let known = symptoms.symptoms.iter().filter(|symptom| symptom.instruments.contains(&instrument)).count();
        let causes = symptoms.causes.iter().filter(|cause| cause.instruments.contains(&instrument)).count();
        assert!(known >= 45 && causes >= 70, "{}: {known} symptoms, {causes} causes", instrument.name());
        // Every symptom has a cause on every instrument that knows it.
        for symptom in symptoms.symptoms.iter().filter(|symptom| symptom.instruments.contains(&instrument)) {
            let spoken_for = symptoms.causes.iter().any(|cause| cause.weight(instrument, &symptom.id) > 0);
            assert!(spoken_for, "{} on the {}", symptom.id.0, instrument.name());
        }
    }
    let slips = content().template.shared().slips().len();
    assert_eq!(slips, 51, "the table of the craft, whole");
    let with_cause = symptoms.causes.iter().filter(|cause| cause.slip.is_some()).count();
    assert_eq!(with_cause + symptoms.only_seen.len(), slips, "every slip can be found from a symptom, or is only seen");
}

#[test]
fn the_open_strings_are_the_standard_tuning() {
    let content = content();
    let midi = Instrument::ALL.map(|i| content.instruments[&i].strings.iter().map(|s| s.midi).collect::<Vec<_>>());
    assert_eq!(midi, [vec![55, 62, 69, 76], vec![48, 55, 62, 69], vec![36, 43, 50, 57], vec![28, 33, 38, 43]]);
}

#[test]
fn every_kind_of_fault_is_told_in_one_go() {
    let text = faults("checklist/bow.toml", |text| {
        text.replace(r#"needs = ["bow.1"]"#, r#"needs = ["bow.9", "bow.3"]"#)
            .replace(r#"id = "bow.alone""#, r#"id = "bow.thumb""#)
            .replace(
                r#"cue = "Long, long, gentle turn""#,
                r#"cue = "Long, long, long, and a turn that is as gentle as it can be""#,
            )
            .replace("[stage.checkpoint.wording.db]", "[stage.checkpoint.wording.tuba]")
            .replace("seconds = 10", "seconds = \"ten\"")
            .replace("play = true", "plays = true")
    });
    insta::assert_snapshot!(text);
}

#[test]
fn a_missing_look_for_is_told_with_its_instrument() {
    let text = faults("checklist/hold.toml", |text| {
        text.replacen("look_for = \"Brings the bass to the hip without help\"\n", "", 1)
    });
    insta::assert_snapshot!(text, @r"
    checklist/hold.toml:119: the look-for for `db` is missing
    drawings/hold.toml:30: `hold.raise` has no wording for the bass
    ");
}

#[test]
fn what_a_step_shows_first_is_a_slip_that_is_seen_from_there() {
    let text = faults("drawings/drills.toml", |text| {
        text.replacen(r#"other = "pluck-up""#, r#"other = "bow-squeeze""#, 1)
            .replacen(r#"other = "thumb-behind""#, r#"other = "nowhere""#, 1)
            // The same as right: the slip's number is set there already.
            .replacen(r#"set = { on = "pencil" }, moves"#, "set = { index_place = 46, index_curl = -16 }, moves", 1)
    });
    insta::assert_snapshot!(text);
}

#[test]
fn a_circle_of_needs_is_told_at_each_of_its_stages() {
    let text = faults("checklist/hold.toml", |text| {
        text.replace("seconds = 12\n\n", "seconds = 12\nneeds = [\"hold.5\"]\n\n")
    });
    insta::assert_snapshot!(text);
}

#[test]
fn a_broken_file_does_not_hide_the_faults_of_another() {
    let mut files = content_files();
    for (path, text) in &mut files {
        if path == "slips.toml" {
            *text = text.replace("checkpoint = \"bow.thumb\"", "checkpoint = \"bow.thumbs\"");
        }
        if path == "instruments.toml" {
            *text = text.replacen("strings = [\"G3\", \"D4\"", "strings = [\"G3\", \"H4\"", 1) + "\n[[instrument\n";
        }
    }
    let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
    let faults = loader::read(&sources).expect_err("faults");
    insta::assert_snapshot!(faults.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n"));
}

#[test]
fn nothing_at_all_is_told_as_missing_and_not_as_fine() {
    let faults = loader::read(&[]).expect_err("faults");
    assert_eq!(
        faults.len(),
        63,
        "four strands, four instruments twice, fourteen ways, fifteen lines, six blocks and four sheets four times of what goes home: {faults:?}"
    );
}

#[test]
fn an_option_that_the_code_asks_for_cannot_be_left_out_and_no_option_stands_twice() {
    let text = faults("approach.toml", |text| {
        text.replace("id = \"standing\"", "id = \"seated\"")
            .replace("key = \"support\"", "key = \"pin\"")
            .replace("on = [\"vc\"]", "on = [\"tuba\"]")
    });
    insta::assert_snapshot!(text);
}

#[test]
fn sizes_that_do_not_fall_and_markers_that_are_no_fingers_are_told() {
    let text = faults("instruments.toml", |text| {
        text.replace("from_mm = 546 }", "from_mm = 500 }")
            .replace("markers = [\"1\", \"3\", \"4\"]", "markers = [\"1\", \"thumb\"]")
            .replacen("measure = \"height\"", "measure = \"weight\"", 1)
            .replace("strip_mm = 110", "strip_mm = \"long\"")
    });
    insta::assert_snapshot!(text);
}

#[test]
fn a_placeholder_without_an_option_and_a_text_that_grows_too_long_are_told() {
    let text = faults("checklist/hold.toml", |text| {
        text.replace("{scroll.look}", "{scrol.look}")
            .replace("{support.look}", "{support.feel}")
            .replace("{feet.look}", "{pin.look}")
    });
    insta::assert_snapshot!(text);
    let text = faults("approach.toml", |text| {
        text.replace(
            "out to the left\"",
            "out to the left, halfway between the nose and the shoulder, as far as the arm allows it\"",
        )
    });
    insta::assert_snapshot!(text);
}

#[test]
fn options_that_do_not_fit_the_checklist_are_told() {
    let text = faults("approach.toml", |text| {
        text.replacen("leaves_out = [\"bow.pencil\"]", "leaves_out = [\"bow.crayon\"]", 1)
            .replace("asks_again_after = \"hold.4\"", "asks_again_after = \"hold.9\"")
            .replace("id = \"thumb-hook\"", "id = \"thumb-hooked\"")
            .replacen("[choice.options.words]\nlook = \"in line with the nose\"\n", "", 1)
            .replace("option = \"rest-first\"", "option = \"rest\"")
    });
    insta::assert_snapshot!(text);
    let text = faults("checklist/frame.toml", |text| text.replace("option = \"rest-first\"", "option = \"rest\""));
    insta::assert_snapshot!(text);
}

#[test]
fn a_circle_of_causes_and_unknown_ends_are_told() {
    let text = faults("slips.toml", |text| {
        text.replace("to = [\"scroll-sinks\", ", "to = [\"scroll-swims\", \"scroll-sinks\", ")
            + "\n[[leads]]\nfrom = \"fingers-flat\"\nto = [\"neck-palm\"]\n"
    });
    insta::assert_snapshot!(text);
}

#[test]
fn symptoms_and_causes_that_do_not_fit_are_told() {
    let text = faults("symptoms.toml", |text| {
        text.replacen("how = \"hear\"", "how = \"smell\"", 1)
            .replacen("side = \"instrument\"", "side = \"room\"", 1)
            .replace("slap = 3", "slap = 9")
            .replacen("asks = [\"one-or-all\"]", "asks = [\"one-or-none\"]", 1)
            .replacen("only = [\"open\"]", "only = [\"ajar\"]", 1)
            .replacen("against = [\"tapes-proved\", \"no-markers\"]", "against = [\"tapes-liked\"]", 1)
            .replace("fourth-short = 3\n\n", "first-flat = 3\n\n")
            .replace("how = \"see\"\non = [\"vc\"]", "how = \"see\"\nnormal = true\non = [\"vc\"]")
            .replace("facts = [\"too-big\"]", "facts = [\"too-large\"]")
            .replace("slip = \"wrist-in\"", "slip = \"wrist-in\"\nhelp = \"Again\"")
            .replace("slip = \"hand-low\"", "slip = \"hand-lower\"")
            .replace("arm-folded = 3", "first-flat = 3")
            + "\n[[cause]]\nid = \"nothing\"\n"
    });
    insta::assert_snapshot!(text);
}

#[test]
fn a_drill_that_does_not_fit_is_told_at_its_step() {
    let text = faults("drills/frame.toml", |text| {
        text.replacen("after = \"frame.2\"", "after = \"frame.9\"", 1)
            .replacen("levels = [\"rests\", \"joined\", \"bowed\"]", "levels = [\"rests\", \"slow\"]", 1)
            .replacen("together: {press.do}", "together: {press.how}", 1)
            .replacen("tempo = 84", "tempo = 300", 1)
            .replacen("id = \"glide\"", "id = \"cup-hand\"", 1)
            .replacen("choice = \"contrast\", option = \"both\"", "choice = \"contrast\", option = \"neither\"", 1)
    });
    insta::assert_snapshot!(text);
}

#[test]
fn what_goes_home_and_does_not_fit_is_told() {
    let text = faults("home.toml", |text| {
        text.replacen("block = \"bow-shape\"", "block = \"bow-shapes\"", 1)
            .replacen("after = \"frame.2\"", "after = \"frame.9\"", 1)
            .replacen("drill = \"pluck-open\"", "drill = \"pluck-shut\"", 1)
            .replacen("checkpoint = \"bow.shape\"", "checkpoint = \"hold.size\"", 1)
            .replacen("checkpoint = \"bow.pencil\"", "checkpoint = \"bow.pen\"", 1)
            .replacen("text.\"vn va\" = \"The neck is long and soft.\"", "text.vn = \"\"", 1)
            .replacen("\"hold.support\"]", "\"hold.supports\"]", 1)
            .replace("sore = ", "soar = ")
            .replacen("kind = \"luthier\"", "kind = \"violin maker\"", 1)
            .replacen("Its tag is {tag}", "Its tag is {tags}", 1)
            .replacen("on = [\"vc\", \"db\"]", "on = [\"va\", \"db\"]", 1)
    });
    insta::assert_snapshot!(text);
}

#[test]
fn a_help_that_contradicts_an_option_is_refused() {
    let refused = |path: &str, from: &str, to: &str| {
        let mut files = content_files();
        let file = files.iter_mut().find(|(name, _)| name == path).expect("a shipped file");
        assert!(file.1.contains(from), "{from}");
        file.1 = file.1.replacen(from, to, 1);
        let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
        let faults = loader::prove(&sources).err().unwrap_or_default();
        faults.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
    };
    // A slip's help, a glance and a drill that name one option's place to classes with another.
    let mut text = refused("slips.toml", "{thumb-height.back}", "Let only the thumb's tip show");
    text += &refused("lessons.toml", "thumb = \"{cello-thumb.look}\"", "thumb = \"Bent, behind the second finger\"");
    text += &refused("drills/bow.toml", "on {bow-way.on}, the other", "on a pencil, the other");
    insta::assert_snapshot!(text);
}
