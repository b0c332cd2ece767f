//! What stages wait for: every need is known, and no stage waits for itself in the end.

use std::collections::{BTreeMap, BTreeSet};

use super::fault::At;
use super::fault::Faults;
use crate::craft::checklist::{Checklist, Need};
use crate::craft::id::StageId;
use crate::craft::level::Level;
use crate::craft::template::AlternativeNeeds;

/// A need that was written, to be looked up once every stage and checkpoint is known.
pub(super) struct WrittenNeed {
    pub(super) stage: StageId,
    pub(super) text: At<String>,
    pub(super) level: Level,
}

/// What a stage waits for under an option, as it was written.
pub(super) struct WrittenAlternative {
    pub(super) stage: StageId,
    pub(super) choice: At<String>,
    pub(super) option: String,
    pub(super) needs: Vec<At<String>>,
}

/// The checkpoint or stage that a need names.
pub(super) fn need(checklist: &Checklist, text: &At<String>, level: Level, faults: &mut Faults) -> Option<Need> {
    let found = if let Some(checkpoint) = checklist.checkpoint(&text.value) {
        Some(Need::Checkpoint(checkpoint.id.clone(), level))
    } else if level > Level::Prompted {
        None
    } else {
        checklist.stage(&text.value).map(|stage| Need::Stage(stage.id.clone()))
    };
    if found.is_none() {
        faults.push(text.fault(format!("`{}` is not known, so nothing can wait for it", text.value)));
    }
    found
}

pub(super) fn link(
    checklist: &mut Checklist,
    written: Vec<WrittenNeed>,
    alternatives: &[WrittenAlternative],
    faults: &mut Faults,
) -> Vec<AlternativeNeeds> {
    let mut places: BTreeMap<StageId, At<()>> = BTreeMap::new();
    let place = |text: &At<String>| At { file: text.file.clone(), line: text.line, value: () };
    for written in written {
        let Some(found) = need(checklist, &written.text, written.level, faults) else { continue };
        places.entry(written.stage.clone()).or_insert_with(|| place(&written.text));
        if let Some(stage) = checklist.stages.iter_mut().find(|stage| stage.id == written.stage) {
            stage.needs.push(found);
        }
    }
    let mut linked = Vec::new();
    for instead in alternatives {
        let needs = instead.needs.iter().filter_map(|text| need(checklist, text, Level::Prompted, faults)).collect();
        places.entry(instead.stage.clone()).or_insert_with(|| place(&instead.choice));
        let (choice, option) = (instead.choice.value.clone(), instead.option.clone());
        linked.push(AlternativeNeeds { stage: instead.stage.clone(), choice, option, needs });
    }
    for (stage, place) in &places {
        if reaches(checklist, &linked, stage, stage) {
            faults.push(place.fault(format!("`{stage}` waits for itself in the end: take one of the needs away")));
        }
    }
    linked
}

/// Whether following the needs of `from`, under whatever options, leads to `goal`.
pub(super) fn reaches(
    checklist: &Checklist,
    alternatives: &[AlternativeNeeds],
    from: &StageId,
    goal: &StageId,
) -> bool {
    let mut open = vec![from.clone()];
    let mut passed = BTreeSet::new();
    while let Some(id) = open.pop() {
        let own = checklist.stage(id.as_str()).map_or(&[][..], |stage| &stage.needs);
        let others = alternatives.iter().filter(|instead| instead.stage == id).flat_map(|instead| &instead.needs);
        for need in own.iter().chain(others) {
            let next = match need {
                Need::Stage(stage) => stage.clone(),
                Need::Checkpoint(checkpoint, _) => match checklist.checkpoint(checkpoint.as_str()) {
                    Some(checkpoint) => checkpoint.stage.clone(),
                    None => continue,
                },
            };
            if next == *goal {
                return true;
            }
            if passed.insert(next.clone()) {
                open.push(next);
            }
        }
    }
    false
}
