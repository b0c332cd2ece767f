//! No text contradicts an option: what a class with that option reads holds none of the words that the option refuses.

use super::content::Content;
use super::fault::{Fault, Source};
use crate::craft::approach::{Choice, ChoiceOption, Choices};
use crate::craft::edits::Edits;
use crate::craft::instrument::Instrument;

pub(super) fn all(content: &Content, sources: &[Source<'_>]) -> Vec<Fault> {
    let mut faults = Vec::new();
    for choice in &content.approach.choices {
        for option in choice.options.iter().filter(|option| !option.refuses.is_empty()) {
            let choices = Choices::from([(choice.key.clone(), option.id.clone())]);
            for (whose, text) in texts(content, choice, &choices) {
                faults.extend(refused(option, &text).map(|words| {
                    let message = format!(
                        "`{whose}` says “{words}”, which contradicts the option `{}` of `{}`: “{text}”",
                        option.id, choice.key
                    );
                    Fault { file: "approach.toml".to_owned(), line: line_of(choice, sources), message }
                }));
            }
        }
    }
    faults
}

fn refused<'a>(option: &'a ChoiceOption, text: &str) -> Option<&'a String> {
    let text = text.to_lowercase();
    option.refuses.iter().find(|words| text.contains(words.as_str()))
}

/// Everything that somebody with these choices reads on the instruments of a choice, each with where it stands.
fn texts(content: &Content, choice: &Choice, choices: &Choices) -> Vec<(String, String)> {
    let is_on = |instrument: &Instrument| choice.instruments.contains(instrument);
    let checklist = content.checklist(choices, &Edits::default());
    let lessons = content.lessons(choices, &Edits::default());
    let mut texts = Vec::new();
    for checkpoint in checklist.checkpoints() {
        for (_, wording) in checkpoint.wording.iter().filter(|(on, _)| is_on(on)) {
            let words = [&wording.look_for, &wording.proof, &wording.cue];
            texts.extend(words.map(|text| (checkpoint.id.to_string(), text.clone())));
        }
    }
    // A slip of a checkpoint that is not asked is not shown.
    let asked = |instrument: &&Instrument, slip: &crate::craft::checklist::Slip| {
        let checkpoint = checklist.checkpoint(slip.checkpoint.as_str());
        is_on(instrument) && checkpoint.is_some_and(|checkpoint| checkpoint.wording.contains_key(instrument))
    };
    for slip in checklist.slips().iter().filter(|slip| slip.instruments.iter().any(|on| asked(&on, slip))) {
        texts.push((slip.id.to_string(), slip.help.clone()));
    }
    // The words of a slip are those above.
    let own =
        content.symptoms.causes.iter().filter(|cause| cause.slip.is_none() && cause.instruments.iter().any(is_on));
    texts.extend(own.map(|cause| (cause.id.clone(), cause.help.clone())));
    for drill in &lessons.drills {
        let steps = drill.steps.iter().flat_map(|step| &step.text).filter(|(on, _)| is_on(on));
        texts.extend(steps.map(|(_, text)| (drill.id.clone(), text.clone())));
    }
    for (instrument, glance) in lessons.glances.iter().filter(|(on, _)| is_on(on)) {
        let whose = format!("what differs on the {}", instrument.name());
        texts.extend([&glance.thumb, &glance.spacing].map(|text| (whose.clone(), text.clone())));
    }
    texts
}

fn line_of(choice: &Choice, sources: &[Source<'_>]) -> usize {
    let text = sources.iter().find(|source| source.path == "approach.toml").map_or("", |source| source.text);
    let line = text.lines().position(|line| line == format!("key = \"{}\"", choice.key));
    line.map_or(1, |line| line + 1)
}
