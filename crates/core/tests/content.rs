//! Content: what ships is sound, and what is not is told with its file and line.

mod support;

use bright_row_core::checklist::Strand;
use bright_row_core::content::{self, Source};
use bright_row_core::instrument::Instrument;
use support::{content, content_files};

/// The first checkpoint of every stage, by the checklist's own plan.
const FIRST_OF_ITS_STAGE: [&str; 18] = [
    "hold.size",
    "hold.rest",
    "hold.raise",
    "hold.contact",
    "hold.free",
    "bow.pluck",
    "bow.thumb",
    "bow.alone",
    "bow.stroke",
    "frame.arm",
    "frame.thumb",
    "frame.square",
    "frame.ring",
    "tape.measured",
    "tape.placed",
    "tape.heard",
    "tape.holding",
    "frame.land",
];

/// The shipped files with one of them changed, read; every fault as a line of text.
fn faults(path: &str, change: impl Fn(&str) -> String) -> String {
    let mut files = content_files();
    let file = files.iter_mut().find(|(name, _)| name == path).expect("a shipped file");
    file.1 = change(&file.1);
    let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
    let faults = content::read(&sources).expect_err("the change is a fault");
    faults.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
}

#[test]
fn the_shipped_content_words_every_checkpoint_for_all_four_instruments() {
    let content = content();
    for id in FIRST_OF_ITS_STAGE {
        let checkpoint = content.checklist.checkpoint(id).unwrap_or_else(|| panic!("{id} is missing"));
        for instrument in Instrument::ALL {
            assert!(checkpoint.wording.contains_key(&instrument), "{id} for the {}", instrument.name());
        }
    }
    let stages = Strand::ALL.map(|strand| content.checklist.stages_of(strand).count());
    assert_eq!(stages, [5, 4, 4, 6]);
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
    insta::assert_snapshot!(text, @"checklist/hold.toml:72: the look-for for `db` is missing");
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
    let faults = content::read(&sources).expect_err("faults");
    insta::assert_snapshot!(faults.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n"));
}

#[test]
fn nothing_at_all_is_told_as_missing_and_not_as_fine() {
    let faults = content::read(&[]).expect_err("faults");
    assert_eq!(faults.len(), 15, "four strands, four instruments, seven ways: {faults:?}");
}

#[test]
fn a_way_that_the_code_asks_for_cannot_be_left_out_and_no_way_stands_twice() {
    let text = faults("approach.toml", |text| {
        text.replace("id = \"standing\"", "id = \"seated\"")
            .replace("key = \"support\"", "key = \"pin\"")
            .replace("on = [\"vc\"]", "on = [\"tuba\"]")
    });
    insta::assert_snapshot!(text);
}

#[test]
fn sizes_that_do_not_fall_and_marks_that_are_no_fingers_are_told() {
    let text = faults("instruments.toml", |text| {
        text.replace("from_mm = 546 }", "from_mm = 500 }")
            .replace("marks = [\"1\", \"3\", \"4\"]", "marks = [\"1\", \"thumb\"]")
            .replacen("measure = \"height\"", "measure = \"weight\"", 1)
            .replace("strip_mm = 110", "strip_mm = \"long\"")
    });
    insta::assert_snapshot!(text);
}
