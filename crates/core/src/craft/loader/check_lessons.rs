//! Lessons from their draft: drills in words for every instrument, and what differs on each.

use std::collections::{BTreeMap, BTreeSet};

use super::fault::{At, Fault};
use super::fault::{Faults, instrument_set, short};
use super::read_lessons::{DrillDraft, GlanceDraft, LessonsDraft, StepDraft};
use crate::craft::checklist::Checklist;
use crate::craft::drills::{Drill, DrillStep, Glance, Lessons};
use crate::craft::id::StageId;
use crate::craft::instrument::Instrument;
use crate::craft::limits::{MAX_CUE_LENGTH, MAX_LOOK_FOR_LENGTH, MAX_NAME_LENGTH};
use crate::craft::strand::Strand;

pub(super) fn lessons(draft: LessonsDraft, checklist: &Checklist, faults: &mut Faults) -> Lessons {
    let mut ids = BTreeSet::new();
    let mut lessons = Lessons::default();
    for draft in draft.drills {
        if !ids.insert(draft.id.value.clone()) {
            faults.push(draft.id.fault(format!("`{}` stands here twice", draft.id.value)));
        }
        lessons.drills.extend(drill(draft, checklist, faults));
    }
    for draft in draft.glances {
        glance(&draft, &mut lessons.glances, faults);
    }
    let whole = At { file: "lessons.toml".to_owned(), line: 1, value: () };
    for instrument in Instrument::ALL.into_iter().filter(|instrument| !lessons.glances.contains_key(instrument)) {
        faults.push(whole.fault(format!("what differs on the {} is missing", instrument.name())));
    }
    lessons
}

fn drill(draft: DrillDraft, checklist: &Checklist, faults: &mut Faults) -> Option<Drill> {
    short(&draft.name, "name", MAX_NAME_LENGTH + 7, faults);
    short(&draft.aim, "aim", MAX_CUE_LENGTH, faults);
    if !(1..=10).contains(&draft.minutes.value) {
        faults.push(draft.minutes.fault("a drill takes 1 to 10 minutes"));
    }
    let strand = Strand::parse(&draft.strand.value);
    if strand.is_none() {
        faults.push(draft.strand.fault("a strand is hold, bow, frame or tape"));
    }
    let after = draft.after.map(|after| {
        if checklist.stage(&after.value).is_none() {
            faults.push(after.fault(format!("there is no stage `{}`", after.value)));
        }
        StageId::new(after.value)
    });
    if draft.steps.is_empty() {
        faults.push(draft.id.fault(format!("`{}` has no step", draft.id.value)));
    }
    let steps = draft.steps.into_iter().map(|draft| step(draft, faults)).collect();
    Some(Drill {
        id: draft.id.value,
        name: draft.name.value,
        strand: strand?,
        after,
        minutes: draft.minutes.value,
        load: draft.load,
        aim: draft.aim.value,
        steps,
    })
}

fn step(draft: StepDraft, faults: &mut Faults) -> DrillStep {
    if !(1..=32).contains(&draft.count.value) {
        faults.push(draft.count.fault("a step takes 1 to 32 beats"));
    }
    let mut text = BTreeMap::new();
    for (keys, words) in draft.text {
        short(&words, "text", MAX_LOOK_FOR_LENGTH, faults);
        let keys: Vec<At<String>> = keys
            .value
            .split_whitespace()
            .map(|key| At { file: keys.file.clone(), line: keys.line, value: key.to_owned() })
            .collect();
        for instrument in instrument_set(&keys, faults) {
            if text.insert(instrument, words.value.clone()).is_some() {
                faults.push(words.fault(format!("the {} stands here twice", instrument.name())));
            }
        }
    }
    let missing = Instrument::ALL.into_iter().filter(|instrument| !text.contains_key(instrument));
    let missing: Vec<Fault> = missing
        .map(|instrument| draft.count.fault(format!("this step says nothing to the {}", instrument.name())))
        .collect();
    faults.extend(missing);
    DrillStep { count: draft.count.value, text }
}

fn glance(draft: &GlanceDraft, known: &mut BTreeMap<Instrument, Glance>, faults: &mut Faults) {
    for (text, what) in [(&draft.thumb, "thumb"), (&draft.spacing, "spacing")] {
        short(text, what, MAX_LOOK_FOR_LENGTH, faults);
    }
    for instrument in instrument_set(&draft.instruments, faults) {
        let glance = Glance { thumb: draft.thumb.value.clone(), spacing: draft.spacing.value.clone() };
        if known.insert(instrument, glance).is_some() {
            faults.push(draft.thumb.fault(format!("the {} stands here twice", instrument.name())));
        }
    }
}
