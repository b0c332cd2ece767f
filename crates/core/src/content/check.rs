//! From a draft to content: what does not fit together is a fault.

use std::collections::{BTreeMap, BTreeSet};

use super::check_instruments::instruments;
use super::read::{CheckpointDraft, Draft, SlipDraft, StageDraft, StrandDraft, WordingDraft};
use super::{At, Content, Fault, check_lessons, check_signs, check_ways, tunes};
use crate::approach::Approach;
use crate::checklist::{Checklist, Checkpoint, CheckpointId, Need, Slip, SlipId, Stage, StageId, Strand, Wording};
use crate::instrument::Instrument;
use crate::mark::Level;
use crate::plan::{Instead, Plan};

/// The longest name of a stage, checkpoint or slip, in characters.
pub const NAME_MOST: usize = 28;
/// The longest look-for, in characters: what can be read at arm's length.
pub const LOOK_FOR_MOST: usize = 90;
/// The longest proof, in characters.
pub const PROOF_MOST: usize = 90;
/// The longest cue, in characters: what a child takes in at once.
pub const CUE_MOST: usize = 40;
/// The longest line on what a choice means, in characters.
pub const MEANS_MOST: usize = 140;
/// The longest name of a cause, in characters.
pub const CAUSE_MOST: usize = 40;

pub(super) type Faults = Vec<Fault>;
/// The texts with places in them: each with its kind and an instrument that it is for.
pub(super) type Texts = Vec<(At<String>, &'static str, Instrument)>;

/// What is being put together.
struct Building {
    checklist: Checklist,
    ids: BTreeSet<String>,
    needs: Vec<WrittenNeed>,
    /// Stages with a way under which they wait for something else.
    insteads: Vec<WrittenInstead>,
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
        insteads: Vec::new(),
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
    let Building { mut checklist, mut ids, needs, insteads: written, texts } = built;
    let insteads = link(&mut checklist, needs, &written, faults);
    for slip in draft.slips {
        add_slip(&mut checklist, slip, &mut ids, faults);
    }
    let approach = check_ways::approach(draft.choices, &checklist, faults);
    check_ways::texts(&texts, &approach, faults);
    check_insteads(&written, &approach, faults);
    let signs = check_signs::signs(draft.signs, &checklist, &mut ids, faults);
    let causes = check_signs::causes(draft.leads, &checklist, &signs, faults);
    let lessons = check_lessons::lessons(draft.lessons, &checklist, faults);
    let tunes = tunes::check(draft.tunes, faults);
    Content { instruments, plan: Plan { base: checklist, insteads }, approach, signs, causes, lessons, tunes }
}

fn check_insteads(written: &[WrittenInstead], approach: &Approach, faults: &mut Faults) {
    for instead in written.iter().filter(|instead| !approach.has(&instead.choice.value, &instead.option)) {
        let message = format!("there is no choice `{}` with an option `{}`", instead.choice.value, instead.option);
        faults.push(instead.choice.fault(message));
    }
}

pub(super) fn instrument_set(keys: &[At<String>], faults: &mut Faults) -> BTreeSet<Instrument> {
    let mut instruments = BTreeSet::new();
    for key in keys {
        match Instrument::parse(&key.value) {
            Some(instrument) => drop(instruments.insert(instrument)),
            None => faults.push(key.fault(format!("`{}` is not one of vn, va, vc, db", key.value))),
        }
    }
    instruments
}

/// A need that was written, to be looked up once every stage and checkpoint is known.
struct WrittenNeed {
    stage: StageId,
    text: At<String>,
    level: Level,
}

/// What a stage waits for under a way, as it was written.
struct WrittenInstead {
    stage: StageId,
    choice: At<String>,
    option: String,
    needs: Vec<At<String>>,
}

fn add_stage(built: &mut Building, strand: Strand, index: usize, draft: StageDraft, faults: &mut Faults) {
    if usize::try_from(draft.number.value).ok() != Some(index + 1) {
        faults.push(draft.number.fault(format!("stages are numbered in order from 1; this is number {}", index + 1)));
    }
    short(&draft.name, "name", NAME_MOST, faults);
    positive(&draft.seconds, faults);
    let id = StageId::new(format!("{}.{}", strand.key(), draft.number.value));
    let written = draft.needs.into_iter().map(|text| (text, Level::Prompted));
    let written = written.chain(draft.needs_alone.into_iter().map(|text| (text, Level::Alone)));
    built.needs.extend(written.map(|(text, level)| WrittenNeed { stage: id.clone(), text, level }));
    built.insteads.extend(draft.insteads.into_iter().map(|instead| WrittenInstead {
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
    short(&draft.name, "name", NAME_MOST, faults);
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
    // With places in them they are longer than they read: their length is looked at once the ways are known.
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

/// The checkpoint or stage that a need names.
fn need(checklist: &Checklist, text: &At<String>, level: Level, faults: &mut Faults) -> Option<Need> {
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

fn link(
    checklist: &mut Checklist,
    written: Vec<WrittenNeed>,
    insteads: &[WrittenInstead],
    faults: &mut Faults,
) -> Vec<Instead> {
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
    for instead in insteads {
        let needs = instead.needs.iter().filter_map(|text| need(checklist, text, Level::Prompted, faults)).collect();
        places.entry(instead.stage.clone()).or_insert_with(|| place(&instead.choice));
        let (choice, option) = (instead.choice.value.clone(), instead.option.clone());
        linked.push(Instead { stage: instead.stage.clone(), choice, option, needs });
    }
    for (stage, place) in &places {
        if reaches(checklist, &linked, stage, stage) {
            faults.push(place.fault(format!("`{stage}` waits for itself in the end: take one of the needs away")));
        }
    }
    linked
}

/// Whether following the needs of `from`, under whatever ways, leads to `goal`.
fn reaches(checklist: &Checklist, insteads: &[Instead], from: &StageId, goal: &StageId) -> bool {
    let mut open = vec![from.clone()];
    let mut passed = BTreeSet::new();
    while let Some(id) = open.pop() {
        let own = checklist.stage(id.as_str()).map_or(&[][..], |stage| &stage.needs);
        let others = insteads.iter().filter(|instead| instead.stage == id).flat_map(|instead| &instead.needs);
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

fn add_slip(checklist: &mut Checklist, draft: SlipDraft, ids: &mut BTreeSet<String>, faults: &mut Faults) {
    unique(&draft.id, ids, faults);
    short(&draft.name, "name", NAME_MOST, faults);
    short(&draft.look, "look", LOOK_FOR_MOST, faults);
    short(&draft.help, "help", LOOK_FOR_MOST, faults);
    let instruments = instrument_set(&draft.instruments, faults);
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

pub(super) fn unique(id: &At<String>, ids: &mut BTreeSet<String>, faults: &mut Faults) {
    if !ids.insert(id.value.clone()) {
        faults.push(id.fault(format!("`{}` stands here twice; an id is used once", id.value)));
    }
}

fn positive(seconds: &At<u32>, faults: &mut Faults) {
    if seconds.value == 0 {
        faults.push(seconds.fault("a look takes at least one second"));
    }
}

pub(super) fn short(text: &At<String>, what: &str, most: usize, faults: &mut Faults) {
    let long = text.value.chars().count();
    if text.value.trim().is_empty() {
        faults.push(text.fault(format!("the {what} is empty")));
    } else if long > most {
        faults.push(text.fault(format!("the {what} has {long} characters; {most} is the most")));
    }
}
