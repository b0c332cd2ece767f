//! From a draft to content: what does not fit together is a fault.

use std::collections::{BTreeMap, BTreeSet};

use super::read::{
    CheckpointDraft, ChoiceDraft, Draft, InstrumentDraft, SlipDraft, StageDraft, StrandDraft, WordingDraft,
};
use super::{At, Content, Fault};
use crate::approach::{Approach, Choice, ChoiceOption};
use crate::checklist::{Checklist, Checkpoint, CheckpointId, Need, Slip, SlipId, Stage, StageId, Strand, Wording};
use crate::instrument::{Instrument, InstrumentFacts, MainMeasure, OpenString, Size, midi_of};
use crate::mark::Level;

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
/// String lengths that can be, in millimetres.
const LENGTHS_MM: std::ops::RangeInclusive<f64> = 150.0..=1300.0;

type Faults = Vec<Fault>;

pub(super) fn all(draft: Draft, faults: &mut Faults) -> Content {
    let whole = At { file: "checklist".to_owned(), line: 1, value: () };
    for strand in Strand::ALL {
        let files = draft.strands.iter().filter(|draft| draft.key.value == strand.key()).count();
        if files != 1 {
            faults.push(whole.fault(format!("the strand `{}` has one file, not {files}", strand.key())));
        }
    }
    let instruments = instruments(draft.instruments, faults);
    let mut ids: BTreeSet<String> = BTreeSet::new();
    let mut checklist = Checklist::empty();
    let mut needs = Vec::new();
    let mut strands: Vec<(Strand, StrandDraft)> = Vec::new();
    for draft in draft.strands {
        match Strand::parse(&draft.key.value) {
            Some(strand) => strands.push((strand, draft)),
            None => faults.push(draft.key.fault("a strand is hold, bow, frame or tape")),
        }
    }
    strands.sort_by_key(|(strand, _)| *strand);
    for (strand, draft) in strands {
        checklist.strand_names.insert(strand, draft.name);
        for (index, stage) in draft.stages.into_iter().enumerate() {
            add_stage(&mut checklist, strand, index, stage, &mut ids, &mut needs, faults);
        }
    }
    link(&mut checklist, needs, faults);
    for slip in draft.slips {
        add_slip(&mut checklist, slip, &mut ids, faults);
    }
    let approach = approach(draft.choices, faults);
    Content { instruments, checklist, approach }
}

/// Choices the code asks for by name: they must be there.
const WANTED_CHOICES: [(&str, &[&str]); 2] = [
    (crate::approach::SUPPORT, &["sponge", "shoulder-rest", "bare"]),
    (crate::approach::PIN, &["seated", "standing", "floor", "cheekbone"]),
];

fn approach(drafts: Vec<ChoiceDraft>, faults: &mut Faults) -> Approach {
    let mut keys = BTreeSet::new();
    let mut choices = Vec::new();
    for draft in drafts {
        if !keys.insert(draft.key.value.clone()) {
            faults.push(draft.key.fault(format!("`{}` stands here twice", draft.key.value)));
        }
        short(&draft.name, "name", NAME_MOST, faults);
        let mut ids = BTreeSet::new();
        for option in &draft.options {
            short(&option.name, "name", MEANS_MOST, faults);
            short(&option.means, "meaning", MEANS_MOST, faults);
            if !ids.insert(&option.id.value) {
                faults.push(option.id.fault(format!("`{}` stands here twice", option.id.value)));
            }
        }
        if draft.options.len() < 2 {
            faults.push(draft.key.fault("a choice has at least two options, the default first"));
        }
        let instruments = instrument_set(&draft.instruments, faults);
        let options = draft.options.into_iter().map(|option| ChoiceOption {
            id: option.id.value,
            name: option.name.value,
            means: option.means.value,
        });
        choices.push(Choice { key: draft.key.value, name: draft.name.value, instruments, options: options.collect() });
    }
    let whole = At { file: "approach.toml".to_owned(), line: 1, value: () };
    for (key, options) in WANTED_CHOICES {
        let known = |id: &str| choices.iter().any(|c| c.key == key && c.options.iter().any(|option| option.id == id));
        for id in options.iter().filter(|id| !known(id)) {
            faults.push(whole.fault(format!("the choice `{key}` has no option `{id}`")));
        }
    }
    Approach { choices }
}

fn instrument_set(keys: &[At<String>], faults: &mut Faults) -> BTreeSet<Instrument> {
    let mut instruments = BTreeSet::new();
    for key in keys {
        match Instrument::parse(&key.value) {
            Some(instrument) => drop(instruments.insert(instrument)),
            None => faults.push(key.fault(format!("`{}` is not one of vn, va, vc, db", key.value))),
        }
    }
    instruments
}

fn instruments(drafts: Vec<InstrumentDraft>, faults: &mut Faults) -> BTreeMap<Instrument, InstrumentFacts> {
    let mut known = BTreeMap::new();
    for draft in drafts {
        let Some(instrument) = Instrument::parse(&draft.name.value) else {
            faults.push(draft.name.fault(format!("`{}` is not one of the four instruments", draft.name.value)));
            continue;
        };
        let facts = instrument_facts(instrument, &draft, faults);
        if known.insert(instrument, facts).is_some() {
            faults.push(draft.name.fault(format!("the {} stands here twice", instrument.name())));
        }
    }
    let whole = At { file: "instruments.toml".to_owned(), line: 1, value: () };
    for instrument in Instrument::ALL.into_iter().filter(|instrument| !known.contains_key(instrument)) {
        faults.push(whole.fault(format!("the {} is missing", instrument.name())));
    }
    known
}

fn instrument_facts(instrument: Instrument, draft: &InstrumentDraft, faults: &mut Faults) -> InstrumentFacts {
    let mut strings = Vec::new();
    for note in &draft.strings {
        match midi_of(&note.value) {
            Some(midi) => strings.push(OpenString { note: note.value.clone(), midi }),
            None => faults.push(note.fault(format!("`{}` is not a note with its octave, such as D4", note.value))),
        }
    }
    if strings.len() != 4 || !strings.is_sorted_by(|low, high| low.midi < high.midi) {
        faults.push(draft.name.fault("four open strings are wanted, low to high"));
    }
    let mut sizes: Vec<Size> = Vec::new();
    for size in &draft.sizes {
        let (Some(name), Some(length)) = (&size.name, &size.string_length_mm) else {
            faults.push(draft.name.fault("every size has a `name` and a `string_length_mm`"));
            continue;
        };
        if !LENGTHS_MM.contains(&length.value) {
            faults.push(length.fault("a string is 150 to 1300 mm long"));
        }
        if sizes.iter().any(|size| size.name == name.value) {
            faults.push(name.fault(format!("the size {} stands here twice", name.value)));
        }
        let value = |at: &Option<At<f64>>| at.as_ref().map(|at| at.value);
        sizes.push(Size {
            name: name.value.clone(),
            string_length_mm: length.value,
            from_mm: value(&size.from_mm),
            span_from_mm: value(&size.span_from_mm),
            without_pin_mm: value(&size.without_pin_mm),
        });
    }
    if sizes.is_empty() || !sizes.is_sorted_by(|large, small| large.string_length_mm > small.string_length_mm) {
        faults.push(draft.name.fault("sizes are wanted, largest first"));
    }
    let starts: Vec<f64> = sizes.iter().filter_map(|size| size.from_mm).collect();
    if starts.is_empty() || !starts.is_sorted_by(|large, small| large > small) {
        faults.push(draft.name.fault("the sizes' `from_mm` fall from the largest to the smallest"));
    }
    let measure = match draft.measure.as_ref().map(|measure| (measure, measure.value.as_str())) {
        Some((_, "arm")) | None => MainMeasure::Arm,
        Some((_, "height")) => MainMeasure::Height,
        Some((at, other)) => {
            faults.push(at.fault(format!("`{other}` is neither arm nor height")));
            MainMeasure::Arm
        }
    };
    for mark in draft.marks.iter().filter(|mark| !matches!(mark.value.as_str(), "1" | "2" | "3" | "4")) {
        faults.push(mark.fault(format!("`{}` is not a finger, 1 to 4", mark.value)));
    }
    let marks = draft.marks.iter().map(|mark| mark.value.clone()).collect();
    InstrumentFacts { instrument, strings, sizes, measure, marks, strip_mm: draft.strip_mm.value }
}

/// A need that was written, to be looked up once every stage and checkpoint is known.
struct WrittenNeed {
    stage: StageId,
    text: At<String>,
    level: Level,
}

fn add_stage(
    checklist: &mut Checklist,
    strand: Strand,
    index: usize,
    draft: StageDraft,
    ids: &mut BTreeSet<String>,
    needs: &mut Vec<WrittenNeed>,
    faults: &mut Faults,
) {
    if usize::try_from(draft.number.value).ok() != Some(index + 1) {
        faults.push(draft.number.fault(format!("stages are numbered in order from 1; this is number {}", index + 1)));
    }
    short(&draft.name, "name", NAME_MOST, faults);
    positive(&draft.seconds, faults);
    let id = StageId::new(format!("{}.{}", strand.key(), draft.number.value));
    let written = draft.needs.into_iter().map(|text| (text, Level::Prompted));
    let written = written.chain(draft.needs_alone.into_iter().map(|text| (text, Level::Alone)));
    needs.extend(written.map(|(text, level)| WrittenNeed { stage: id.clone(), text, level }));
    checklist.stages.push(Stage {
        id: id.clone(),
        strand,
        number: draft.number.value,
        name: draft.name.value,
        needs: Vec::new(),
        seconds: draft.seconds.value,
    });
    for checkpoint in draft.checkpoints {
        add_checkpoint(checklist, strand, &id, checkpoint, ids, faults);
    }
}

fn add_checkpoint(
    checklist: &mut Checklist,
    strand: Strand,
    stage: &StageId,
    draft: CheckpointDraft,
    ids: &mut BTreeSet<String>,
    faults: &mut Faults,
) {
    let id = &draft.id.value;
    let word = id.strip_prefix(strand.key()).and_then(|rest| rest.strip_prefix('.'));
    if !word.is_some_and(|word| !word.is_empty() && word.chars().all(|c| c.is_ascii_lowercase() || c == '-')) {
        faults.push(draft.id.fault(format!("`{id}` is not `{}.` and a word in small letters", strand.key())));
    }
    unique(&draft.id, ids, faults);
    short(&draft.name, "name", NAME_MOST, faults);
    positive(&draft.seconds, faults);
    let mut wording = BTreeMap::new();
    for text in &draft.wording {
        add_wording(&mut wording, text, faults);
    }
    if wording.is_empty() {
        faults.push(draft.id.fault(format!("`{id}` has no wording for any instrument")));
    }
    checklist.push(Checkpoint {
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

fn add_wording(known: &mut BTreeMap<Instrument, Wording>, draft: &WordingDraft, faults: &mut Faults) {
    let Some(look_for) = &draft.look_for else {
        faults.push(draft.instruments.fault(format!("the look-for for `{}` is missing", draft.instruments.value)));
        return;
    };
    let (Some(proof), Some(cue)) = (&draft.proof, &draft.cue) else { return };
    short(look_for, "look-for", LOOK_FOR_MOST, faults);
    short(proof, "proof", PROOF_MOST, faults);
    short(cue, "cue", CUE_MOST, faults);
    for key in draft.instruments.value.split_whitespace() {
        let Some(instrument) = Instrument::parse(key) else {
            faults.push(draft.instruments.fault(format!("`{key}` is not one of vn, va, vc, db")));
            continue;
        };
        let wording = Wording { look_for: look_for.value.clone(), proof: proof.value.clone(), cue: cue.value.clone() };
        if known.insert(instrument, wording).is_some() {
            faults.push(draft.instruments.fault(format!("the {} is worded twice", instrument.name())));
        }
    }
}

fn link(checklist: &mut Checklist, written: Vec<WrittenNeed>, faults: &mut Faults) {
    let mut places: BTreeMap<StageId, At<()>> = BTreeMap::new();
    for need in written {
        let text = &need.text.value;
        let found = if let Some(checkpoint) = checklist.checkpoint(text) {
            Some(Need::Checkpoint(checkpoint.id.clone(), need.level))
        } else if need.level > Level::Prompted {
            None
        } else {
            checklist.stage(text).map(|stage| Need::Stage(stage.id.clone()))
        };
        let Some(found) = found else {
            faults.push(need.text.fault(format!("`{text}` is not known, so nothing can wait for it")));
            continue;
        };
        places.entry(need.stage.clone()).or_insert(At {
            file: need.text.file.clone(),
            line: need.text.line,
            value: (),
        });
        if let Some(stage) = checklist.stages.iter_mut().find(|stage| stage.id == need.stage) {
            stage.needs.push(found);
        }
    }
    for (stage, place) in &places {
        if reaches(checklist, stage, stage) {
            faults.push(place.fault(format!("`{stage}` waits for itself in the end: take one of the needs away")));
        }
    }
}

/// Whether following the needs of `from` leads to `goal`.
fn reaches(checklist: &Checklist, from: &StageId, goal: &StageId) -> bool {
    let mut open = vec![from.clone()];
    let mut passed = BTreeSet::new();
    while let Some(id) = open.pop() {
        for need in checklist.stage(id.as_str()).map_or(&[][..], |stage| &stage.needs) {
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

fn unique(id: &At<String>, ids: &mut BTreeSet<String>, faults: &mut Faults) {
    if !ids.insert(id.value.clone()) {
        faults.push(id.fault(format!("`{}` stands here twice; an id is used once", id.value)));
    }
}

fn positive(seconds: &At<u32>, faults: &mut Faults) {
    if seconds.value == 0 {
        faults.push(seconds.fault("a look takes at least one second"));
    }
}

fn short(text: &At<String>, what: &str, most: usize, faults: &mut Faults) {
    let long = text.value.chars().count();
    if text.value.trim().is_empty() {
        faults.push(text.fault(format!("the {what} is empty")));
    } else if long > most {
        faults.push(text.fault(format!("the {what} has {long} characters; {most} is the most")));
    }
}
