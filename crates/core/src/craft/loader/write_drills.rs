//! A drill of a class's own as it stands in the class's file.

use super::class_file::{alike, keys, quoted};
use crate::craft::drills::{Drill, DrillStep};

/// The drill; reading it gives the same back.
pub(super) fn drill(drill: &Drill) -> String {
    let mut text = format!("\n[[drill]]\nid = {}\nstrand = {}\n", quoted(&drill.id), quoted(drill.strand.key()));
    text += &format!("name = {}\naim = {}\n", quoted(&drill.name), quoted(&drill.aim));
    text += &format!("on = [{}]\n", keys(&drill.instruments, ", ", quoted));
    text.extend(drill.after.iter().map(|after| format!("after = {}\n", quoted(after.as_str()))));
    text += &format!("tempo = {}\nrounds = {}\n", drill.tempo, drill.rounds);
    text += &list("levels", drill.levels.iter().map(|level| level.word()));
    for (key, option) in [("with", &drill.with), ("prefer", &drill.prefer)] {
        text.extend(
            option
                .iter()
                .map(|of| format!("{key} = {{ choice = {}, option = {} }}\n", quoted(&of.choice), quoted(&of.option))),
        );
    }
    text.extend(drill.steps.iter().map(step));
    text
}

fn step(step: &DrillStep) -> String {
    let mut text = format!("[[drill.step]]\nbeats = {}\n", step.beats);
    if step.repeats != 1 {
        text += &format!("repeats = {}\n", step.repeats);
    }
    for (key, flag) in [("load", step.load), ("quiet", step.quiet)] {
        text += if flag { key } else { continue };
        text += " = true\n";
    }
    text += &list("only", step.only.iter().map(|level| level.word()));
    text += &list("say", step.say.iter().map(String::as_str));
    for (words, on) in alike(&step.text) {
        text += &format!("text.{} = {}\n", quoted(&keys(&on, " ", str::to_owned)), quoted(words));
    }
    text
}

/// `key = ["a", "b"]`, or nothing.
fn list<'a>(key: &str, words: impl Iterator<Item = &'a str>) -> String {
    let words: Vec<String> = words.map(quoted).collect();
    if words.is_empty() { String::new() } else { format!("{key} = [{}]\n", words.join(", ")) }
}
