//! What goes home from what is written: nothing of a stage or drill that there is not, and a sign for all that a child works on.

use std::collections::{BTreeMap, BTreeSet};

use super::fault::{At, Faults, instrument_set};
use super::read_home::{ExerciseDraft, HomeDraft, SheetDraft, SignDraft};
use crate::craft::checklist::Checklist;
use crate::craft::drills::Lessons;
use crate::craft::home::{
    BlockKind, Exercise, HomeContent, HomePhrase, HomeSheet, MAX_HOME_TEXT_LENGTH, MAX_PHRASE_LENGTH, SheetText,
};
use crate::craft::id::{CheckpointId, StageId};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;

pub(super) fn all(draft: HomeDraft, (checklist, lessons): (&Checklist, &Lessons), faults: &mut Faults) -> HomeContent {
    let mut home = HomeContent::default();
    for written in draft.exercises {
        home.exercises.extend(exercise(written, (checklist, lessons), faults));
    }
    for written in draft.signs {
        sign(written, &mut home, checklist, faults);
    }
    for written in draft.sheets {
        sheet(written, &mut home, faults);
    }
    for id in draft.not_at_home {
        match checklist.checkpoint(&id.value) {
            Some(known) => drop(home.not_at_home.insert(known.id.clone())),
            None => faults.push(id.fault(format!("there is no checkpoint `{}`", id.value))),
        }
    }
    for (key, line) in draft.phrases {
        let Some(phrase) = HomePhrase::parse(&key.value) else {
            faults.push(key.fault(format!("no card has a line `{}`", key.value)));
            continue;
        };
        readable(&line, MAX_PHRASE_LENGTH, [&line.value].into_iter(), faults);
        home.phrases.insert(phrase, line.value);
    }
    missing(&home, checklist, faults);
    home
}

fn exercise(
    draft: ExerciseDraft,
    (checklist, lessons): (&Checklist, &Lessons),
    faults: &mut Faults,
) -> Option<Exercise> {
    let Some(block) = BlockKind::parse(&draft.block.value) else {
        faults.push(draft.block.fault(format!("there is no block `{}`", draft.block.value)));
        return None;
    };
    if let Some(after) = draft.after.as_ref().filter(|after| checklist.stage(&after.value).is_none()) {
        faults.push(after.fault(format!("there is no stage `{}`", after.value)));
    }
    let drill = draft.drill.as_ref().map(|id| (id, lessons.drills.iter().find(|drill| drill.id == id.value)));
    if let Some((id, None)) = drill {
        faults.push(id.fault(format!("there is no drill `{}`", id.value)));
    }
    let everywhere = Instrument::ALL.iter().all(|instrument| draft.text.contains_key(instrument));
    if !everywhere {
        faults.push(draft.block.fault("say what is done on each of the four instruments"));
    }
    readable(&draft.block, MAX_HOME_TEXT_LENGTH, draft.text.values(), faults);
    let after = draft.after.map(|after| StageId::new(after.value));
    Some(Exercise { block, after, drill: draft.drill.map(|id| id.value), text: draft.text })
}

fn sign(draft: SignDraft, home: &mut HomeContent, checklist: &Checklist, faults: &mut Faults) {
    let id = &draft.checkpoint;
    let Some(checkpoint) = checklist.checkpoint(&id.value) else {
        faults.push(id.fault(format!("there is no checkpoint `{}`", id.value)));
        return;
    };
    for instrument in checkpoint.wording.keys().filter(|instrument| !draft.text.contains_key(instrument)) {
        faults.push(id.fault(format!("`{}` says nothing to the {}", id.value, instrument.name())));
    }
    readable(id, MAX_HOME_TEXT_LENGTH, draft.text.values(), faults);
    if home.signs.insert(checkpoint.id.clone(), draft.text).is_some() {
        faults.push(id.fault(format!("`{}` stands here twice", id.value)));
    }
}

fn sheet(draft: SheetDraft, home: &mut HomeContent, faults: &mut Faults) {
    let Some(kind) = HomeSheet::parse(&draft.kind.value) else {
        faults.push(draft.kind.fault(format!("there is no sheet `{}`", draft.kind.value)));
        return;
    };
    if draft.lines.is_empty() {
        faults.push(draft.kind.fault("a sheet has lines"));
    }
    for text in [&draft.title].into_iter().chain(&draft.lines).chain(&draft.fields) {
        readable(text, MAX_PHRASE_LENGTH, [&text.value].into_iter(), faults);
        let bare = SheetText::PLACES.iter().fold(text.value.clone(), |bare, place| bare.replace(place, ""));
        if bare.contains(['{', '}']) {
            faults.push(text.fault(format!("a sheet has places for {} only", SheetText::PLACES.join(", "))));
        }
    }
    let values = |texts: Vec<At<String>>| texts.into_iter().map(|text| text.value).collect::<Vec<_>>();
    let text = SheetText { title: draft.title.value, lines: values(draft.lines), fields: values(draft.fields) };
    for instrument in instrument_set(&draft.instruments, faults) {
        if home.sheets.entry(kind).or_default().insert(instrument, text.clone()).is_some() {
            faults.push(draft.kind.fault(format!("`{}` stands here twice for the {}", kind.word(), instrument.name())));
        }
    }
}

/// Lines of a card are short.
fn readable<'a>(at: &At<String>, most: usize, texts: impl Iterator<Item = &'a String>, faults: &mut Faults) {
    for text in texts {
        let long = text.chars().count();
        if text.trim().is_empty() || long > most {
            faults.push(at.fault(format!("a line of a card has 1 to {most} characters, not {long}")));
        }
    }
}

/// What is not written but would be asked for.
fn missing(home: &HomeContent, checklist: &Checklist, faults: &mut Faults) {
    let whole = At { file: "home.toml".to_owned(), line: 1, value: () };
    let works_on: BTreeSet<&CheckpointId> = checklist
        .stages()
        .iter()
        .filter(|stage| stage.strand != Strand::Tape)
        .flat_map(|stage| checklist.checkpoints_of(&stage.id))
        .map(|checkpoint| &checkpoint.id)
        .collect();
    for id in works_on.into_iter().filter(|id| home.signs.contains_key(*id) == home.not_at_home.contains(*id)) {
        faults.push(
            whole.fault(format!(
                "`{}` needs a sign for a grown-up or a place in `not_at_home`, one of both",
                id.as_str()
            )),
        );
    }
    for phrase in HomePhrase::ALL.iter().filter(|phrase| !home.phrases.contains_key(phrase)) {
        faults.push(whole.fault(format!("the line `{}` is missing", phrase.word())));
    }
    for kind in HomeSheet::ALL {
        let on = home.sheets.get(kind);
        for instrument in Instrument::ALL.iter().filter(|on_it| on.is_none_or(|on| !on.contains_key(on_it))) {
            faults.push(whole.fault(format!("the sheet `{}` is missing for the {}", kind.word(), instrument.name())));
        }
    }
    let first: BTreeMap<BlockKind, &Exercise> =
        home.exercises.iter().rev().map(|exercise| (exercise.block, exercise)).collect();
    for kind in BlockKind::ALL.iter().filter(|kind| !first.contains_key(kind)) {
        faults.push(whole.fault(format!("what is done in the block `{}` is missing", kind.word())));
    }
}
