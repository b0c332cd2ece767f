//! From a draft to content: what does not fit together is a fault.

use crate::craft::limits::MAX_LOOK_FOR_LENGTH;
use crate::craft::limits::MAX_NAME_LENGTH;
use crate::craft::loader::check_needs::WrittenAlternative;
use crate::craft::loader::check_needs::WrittenNeed;
use crate::craft::loader::check_needs::link;
use crate::craft::loader::fault::Faults;
use crate::craft::loader::fault::Texts;
use crate::craft::loader::fault::instrument_set;
use crate::craft::loader::fault::positive;
use crate::craft::loader::fault::short;
use crate::craft::loader::fault::unique;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use super::check_instruments::instruments;
use super::content::Content;
use super::draft::{CheckpointDraft, Draft, SlipDraft, StageDraft, StrandDraft, WordingDraft};
use super::fault::At;
use super::{check_drawings, check_home, check_lessons, check_options, check_symptoms, tunes};
use crate::craft::approach::Approach;
use crate::craft::checklist::{Checklist, Checkpoint, Slip, Stage, Wording};
use crate::craft::id::{CheckpointId, SlipId, StageId};
use crate::craft::instrument::Instrument;
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::craft::template::ChecklistTemplate;

/// What is being put together.
struct Building {
    checklist: Checklist,
    ids: BTreeSet<String>,
    needs: Vec<WrittenNeed>,
    /// Stages with an option under which they wait for something else.
    alternatives: Vec<WrittenAlternative>,
    texts: Texts,
}

pub(super) fn all(draft: Draft, faults: &mut Faults) -> Content {
    let whole = At { file: "checklist".to_owned(), line: 1, value: () };
    for strand in Strand::ALL {
        let files = draft.strands.iter().filter(|draft| draft.key.value == strand.key()).count();
        if files != 1 {
            faults.push(whole.fault(format!("the strand `{}` has one file, not {files}", strand.key())));
        }
    }
    let instruments = instruments(draft.instruments, faults);
    let mut built = Building {
        checklist: Checklist::empty(),
        ids: BTreeSet::new(),
        needs: Vec::new(),
        alternatives: Vec::new(),
        texts: Vec::new(),
    };
    let mut strands: Vec<(Strand, StrandDraft)> = Vec::new();
    for draft in draft.strands {
        match Strand::parse(&draft.key.value) {
            Some(strand) => strands.push((strand, draft)),
            None => faults.push(draft.key.fault("a strand is hold, bow, frame or tape")),
        }
    }
    strands.sort_by_key(|(strand, _)| *strand);
    for (strand, draft) in strands {
        built.checklist.strand_names.insert(strand, draft.name);
        for (index, stage) in draft.stages.into_iter().enumerate() {
            add_stage(&mut built, strand, index, stage, faults);
        }
    }
    let Building { mut checklist, mut ids, needs, alternatives: written, mut texts } = built;
    let alternatives = link(&mut checklist, needs, &written, faults);
    for slip in draft.slips {
        add_slip(&mut checklist, slip, &mut ids, &mut texts, faults);
    }
    let approach = check_options::approach(draft.choices, &checklist, faults);
    let lessons = check_lessons::lessons(draft.lessons, (&checklist, &approach), &mut texts, faults);
    check_options::texts(&texts, &approach, faults);
    check_alternatives(&written, &approach, faults);
    let symptoms = check_symptoms::symptoms(draft.symptoms, &checklist, &mut ids, faults);
    let causes = check_symptoms::causes(draft.leads, &checklist, &symptoms, faults);
    let tunes = tunes::check(draft.tunes, faults);
    let drawings = check_drawings::all(draft.drawings, (&checklist, &approach, &lessons), faults);
    let home = check_home::all(draft.home, (&checklist, &lessons), faults);
    Content {
        instruments,
        template: ChecklistTemplate { base: checklist, alternatives },
        approach,
        symptoms,
        causes: Arc::new(causes),
        lessons,
        drawings,
        home,
        tunes,
    }
}

fn check_alternatives(written: &[WrittenAlternative], approach: &Approach, faults: &mut Faults) {
    for instead in written.iter().filter(|instead| !approach.has(&instead.choice.value, &instead.option)) {
        let message = format!("there is no choice `{}` with an option `{}`", instead.choice.value, instead.option);
        faults.push(instead.choice.fault(message));
    }
}

fn add_stage(built: &mut Building, strand: Strand, index: usize, draft: StageDraft, faults: &mut Faults) {
    if usize::try_from(draft.number.value).ok() != Some(index + 1) {
        faults.push(draft.number.fault(format!("stages are numbered in order from 1; this is number {}", index + 1)));
    }
    short(&draft.name, "name", MAX_NAME_LENGTH, faults);
    positive(&draft.seconds, faults);
    let id = StageId::new(format!("{}.{}", strand.key(), draft.number.value));
    let written = draft.needs.into_iter().map(|text| (text, Level::Prompted));
    let written = written.chain(draft.needs_alone.into_iter().map(|text| (text, Level::Alone)));
    built.needs.extend(written.map(|(text, level)| WrittenNeed { stage: id.clone(), text, level }));
    built.alternatives.extend(draft.alternatives.into_iter().map(|instead| WrittenAlternative {
        stage: id.clone(),
        choice: instead.choice,
        option: instead.option.value,
        needs: instead.needs,
    }));
    built.checklist.stages.push(Stage {
        id: id.clone(),
        strand,
        number: draft.number.value,
        name: draft.name.value,
        needs: Vec::new(),
        needs_on: BTreeMap::new(),
        seconds: draft.seconds.value,
    });
    for checkpoint in draft.checkpoints {
        add_checkpoint(built, strand, &id, checkpoint, faults);
    }
}

fn add_checkpoint(built: &mut Building, strand: Strand, stage: &StageId, draft: CheckpointDraft, faults: &mut Faults) {
    let id = &draft.id.value;
    let word = id.strip_prefix(strand.key()).and_then(|rest| rest.strip_prefix('.'));
    if !word.is_some_and(|word| !word.is_empty() && word.chars().all(|c| c.is_ascii_lowercase() || c == '-')) {
        faults.push(draft.id.fault(format!("`{id}` is not `{}.` and a word in small letters", strand.key())));
    }
    unique(&draft.id, &mut built.ids, faults);
    short(&draft.name, "name", MAX_NAME_LENGTH, faults);
    positive(&draft.seconds, faults);
    let mut wording = BTreeMap::new();
    for text in draft.wording {
        add_wording(&mut wording, text, &mut built.texts, faults);
    }
    if wording.is_empty() {
        faults.push(draft.id.fault(format!("`{id}` has no wording for any instrument")));
    }
    built.checklist.push(Checkpoint {
        id: CheckpointId::new(id.clone()),
        stage: stage.clone(),
        name: draft.name.value,
        seconds: draft.seconds.value,
        required: draft.required,
        far: draft.far,
        play: draft.play,
        wording,
    });
}

fn add_wording(known: &mut BTreeMap<Instrument, Wording>, draft: WordingDraft, texts: &mut Texts, faults: &mut Faults) {
    let Some(look_for) = draft.look_for else {
        faults.push(draft.instruments.fault(format!("the look-for for `{}` is missing", draft.instruments.value)));
        return;
    };
    let (Some(proof), Some(cue)) = (draft.proof, draft.cue) else { return };
    // With placeholders in them they are longer than they read: their length is looked at once the options are known.
    for (text, kind) in [(&look_for, "look-for"), (&proof, "proof"), (&cue, "cue")] {
        short(text, kind, usize::MAX, faults);
    }
    for key in draft.instruments.value.split_whitespace() {
        let Some(instrument) = Instrument::parse(key) else {
            faults.push(draft.instruments.fault(format!("`{key}` is not one of vn, va, vc, db")));
            continue;
        };
        for (text, kind) in [(&look_for, "look-for"), (&proof, "proof"), (&cue, "cue")] {
            let text = At { file: text.file.clone(), line: text.line, value: text.value.clone() };
            texts.push((text, kind, instrument));
        }
        let wording = Wording { look_for: look_for.value.clone(), proof: proof.value.clone(), cue: cue.value.clone() };
        if known.insert(instrument, wording).is_some() {
            faults.push(draft.instruments.fault(format!("the {} is worded twice", instrument.name())));
        }
    }
}

fn add_slip(
    checklist: &mut Checklist,
    draft: SlipDraft,
    ids: &mut BTreeSet<String>,
    texts: &mut Texts,
    faults: &mut Faults,
) {
    unique(&draft.id, ids, faults);
    short(&draft.name, "name", MAX_NAME_LENGTH, faults);
    short(&draft.look, "look", MAX_LOOK_FOR_LENGTH, faults);
    short(&draft.help, "help", usize::MAX, faults);
    let instruments = instrument_set(&draft.instruments, faults);
    for instrument in &instruments {
        let text = At { file: draft.help.file.clone(), line: draft.help.line, value: draft.help.value.clone() };
        texts.push((text, "help", *instrument));
    }
    if instruments.is_empty() {
        faults.push(draft.id.fault("`on` names at least one instrument"));
    }
    match checklist.checkpoint(&draft.checkpoint.value) {
        None => faults.push(
            draft
                .checkpoint
                .fault(format!("`{}` is not known, so nothing can be ticked on it", draft.checkpoint.value)),
        ),
        Some(checkpoint) => {
            for instrument in instruments.iter().filter(|instrument| !checkpoint.wording.contains_key(instrument)) {
                let message = format!("`{}` has no wording for the {}", checkpoint.id, instrument.name());
                faults.push(draft.checkpoint.fault(message));
            }
        }
    }
    checklist.slips.push(Slip {
        id: SlipId::new(draft.id.value),
        name: draft.name.value,
        checkpoint: CheckpointId::new(draft.checkpoint.value),
        instruments,
        look: draft.look.value,
        help: draft.help.value,
    });
}
