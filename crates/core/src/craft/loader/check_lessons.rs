//! Lessons from what is written: drills whose parts fit together, and what differs on each instrument.

use std::collections::{BTreeMap, BTreeSet};

use super::fault::{At, Faults, Texts, instrument_set, short};
use super::read_lessons::{GlanceDraft, LessonsDraft};
use crate::craft::approach::Approach;
use crate::craft::checklist::Checklist;
use crate::craft::drills::{Glance, Lessons};
use crate::craft::edits::OWN_PREFIX;
use crate::craft::instrument::Instrument;

/// The texts that hold placeholders go to `texts`, to be measured with the longest filling.
pub(super) fn lessons(
    draft: LessonsDraft,
    (checklist, approach): (&Checklist, &Approach),
    texts: &mut Texts,
    faults: &mut Faults,
) -> Lessons {
    let mut ids = BTreeSet::new();
    let mut lessons = Lessons::default();
    for written in draft.drills {
        let drill = &written.drill;
        if !ids.insert(drill.id.clone()) {
            faults.push(written.id.fault(format!("`{}` stands here twice", drill.id)));
        }
        if drill.is_own() {
            faults.push(written.id.fault(format!("an id that begins with `{OWN_PREFIX}` is a class's own")));
        }
        for needed in
            drill.with.iter().chain(&drill.prefer).filter(|needed| !approach.has(&needed.choice, &needed.option))
        {
            let message = format!("there is no choice `{}` with an option `{}`", needed.choice, needed.option);
            faults.push(written.id.fault(message));
        }
        faults.extend(drill.faults(checklist).iter().map(|fault| written.fault(fault)));
        for (step, place) in drill.steps.iter().zip(&written.steps) {
            for (instrument, text) in step.text.iter().filter(|(_, text)| text.contains('{')) {
                let text = At { file: place.file.clone(), line: place.line, value: text.clone() };
                texts.push((text, "text", *instrument));
            }
        }
        lessons.drills.push(written.drill);
    }
    for draft in draft.glances {
        glance(&draft, &mut lessons.glances, texts, faults);
    }
    let whole = At { file: "lessons.toml".to_owned(), line: 1, value: () };
    for instrument in Instrument::ALL.into_iter().filter(|instrument| !lessons.glances.contains_key(instrument)) {
        faults.push(whole.fault(format!("what differs on the {} is missing", instrument.name())));
    }
    lessons
}

fn glance(draft: &GlanceDraft, known: &mut BTreeMap<Instrument, Glance>, texts: &mut Texts, faults: &mut Faults) {
    for instrument in instrument_set(&draft.instruments, faults) {
        for (text, what) in [(&draft.thumb, "thumb"), (&draft.spacing, "spacing")] {
            short(text, what, usize::MAX, faults);
            let text = At { file: text.file.clone(), line: text.line, value: text.value.clone() };
            texts.push((text, what, instrument));
        }
        let glance = Glance { thumb: draft.thumb.value.clone(), spacing: draft.spacing.value.clone() };
        if known.insert(instrument, glance).is_some() {
            faults.push(draft.thumb.fault(format!("the {} stands here twice", instrument.name())));
        }
    }
}
