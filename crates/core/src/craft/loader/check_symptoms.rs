//! Symptoms, their causes, and the graph of what leads to what.

use crate::craft::loader::fault::unique;
use std::collections::BTreeSet;
use std::mem::take;

use super::check_weights::{Written, is_asked, weights};
use super::draft::{CauseDraft, LeadsDraft, SymptomsDraft};
use super::fault::At;
use super::fault::{Faults, instrument_set, short};
use crate::craft::cause_graph::{CauseGraph, Node};
use crate::craft::checklist::{Checklist, Slip};
use crate::craft::id::SymptomId;
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::instrument::Instrument;
use crate::craft::limits::{MAX_CAUSE_LENGTH, MAX_LOOK_FOR_LENGTH, MAX_NAME_LENGTH};
use crate::craft::strand::Strand;
use crate::craft::symptoms::{Answer, ByEar, Cause, Fact, Sense, Side, Split, Symptom, Symptoms, Undecided};

pub(super) fn symptoms(
    draft: SymptomsDraft,
    checklist: &Checklist,
    ids: &mut BTreeSet<String>,
    faults: &mut Faults,
) -> Symptoms {
    let mut symptoms = Symptoms::default();
    for symptom in draft.symptoms {
        unique(&symptom.id, ids, faults);
        short(&symptom.name, "name", MAX_NAME_LENGTH, faults);
        let how = match symptom.how.value.as_str() {
            "hear" => Sense::Hear,
            "see" => Sense::See,
            "hurts" => Sense::Hurts,
            other => {
                faults.push(symptom.how.fault(format!("`{other}` is neither hear, see nor hurts")));
                Sense::See
            }
        };
        let instruments = instrument_set(&symptom.instruments, faults);
        if symptom.normal && how != Sense::Hurts {
            faults.push(symptom.id.fault("only what hurts is `normal`"));
        }
        let asks = known(&symptom.asks, "question", Split::parse, faults);
        if let Some(heard) = symptom.by_ear.first().filter(|_| how != Sense::Hear) {
            faults.push(heard.fault("only what one hears is `by_ear`"));
        }
        let by_ear = known(&symptom.by_ear, "sound", ByEar::parse, faults);
        let (id, name, normal) = (SymptomId(symptom.id.value), symptom.name.value, symptom.normal);
        symptoms.symptoms.push(Symptom { id, name, how, instruments, asks, by_ear, normal });
    }
    let mut causes = BTreeSet::new();
    for draft in draft.causes {
        let Some(cause) = cause(draft, checklist, &symptoms, faults) else { continue };
        let (cause, here) = cause;
        if !causes.insert(cause.id.clone()) {
            faults.push(here.fault(format!("`{}` stands here twice", cause.id)));
        }
        symptoms.causes.push(cause);
    }
    for undecided in draft.undecided {
        slips_known(&undecided.slips, checklist, faults);
        for symptom in undecided.symptoms.iter().filter(|symptom| symptoms.symptom(&symptom.value).is_none()) {
            faults.push(symptom.fault(format!("there is no symptom `{}`", symptom.value)));
        }
        symptoms.undecided.push(Undecided {
            slips: undecided.slips.into_iter().map(|slip| SlipId::new(slip.value)).collect(),
            symptoms: undecided.symptoms.into_iter().map(|symptom| SymptomId(symptom.value)).collect(),
        });
    }
    slips_known(&draft.only_seen, checklist, faults);
    symptoms.only_seen = draft.only_seen.into_iter().map(|slip| SlipId::new(slip.value)).collect();
    symptoms
}

fn cause(
    mut draft: CauseDraft,
    checklist: &Checklist,
    symptoms: &Symptoms,
    faults: &mut Faults,
) -> Option<(Cause, At<()>)> {
    let here = At { file: draft.here.file.clone(), line: draft.here.line, value: () };
    let facts = known(&draft.facts, "fact", Fact::parse, faults);
    let against = known(&draft.against, "fact", Fact::parse, faults);
    let only = known(&draft.only, "answer", Answer::parse, faults);
    let written = Written { everywhere: take(&mut draft.weights), on: take(&mut draft.weights_on) };
    let restates = draft.restates.take();
    let cause = match &draft.slip {
        Some(id) => of_slip(id, &draft, checklist, faults),
        None => of_its_own(draft, checklist, faults),
    };
    let cause = cause?;
    let weights = weights(&written, (&cause.id, &cause.instruments), symptoms, faults);
    if weights.is_empty() {
        faults.push(here.fault("a cause has at least one weight"));
    }
    if only.iter().any(|answer| !is_asked(&weights, symptoms, *answer)) {
        faults.push(here.fault("an answer in `only` belongs to a question that one of its symptoms asks"));
    }
    let restates = restates.map(|at| {
        let symptom = SymptomId(at.value.clone());
        if !weights.values().any(|weights| weights.contains_key(&symptom)) {
            faults.push(at.fault(format!("`{symptom}` speaks for what restates it", symptom = at.value)));
        }
        symptom
    });
    Some((Cause { restates, facts, against, only, weights, ..cause }, here))
}

/// What is written in a file, as what it means.
fn known<T: Ord>(
    written: &[At<String>],
    what: &str,
    parse: impl Fn(&str) -> Option<T>,
    faults: &mut Faults,
) -> BTreeSet<T> {
    let found = written.iter().filter_map(|word| {
        let known = parse(&word.value);
        if known.is_none() {
            faults.push(word.fault(format!("there is no {what} `{}`", word.value)));
        }
        known
    });
    found.collect()
}

fn slips_known(written: &[At<String>], checklist: &Checklist, faults: &mut Faults) {
    for slip in written.iter().filter(|slip| checklist.slip(&slip.value).is_none()) {
        faults.push(slip.fault(format!("there is no slip `{}`", slip.value)));
    }
}

fn strand_of(checkpoint: Option<&CheckpointId>, checklist: &Checklist) -> Option<Strand> {
    let checkpoint = checklist.checkpoint(checkpoint?.as_str())?;
    checklist.stage(checkpoint.stage.as_str()).map(|stage| stage.strand)
}

fn of_slip(id: &At<String>, draft: &CauseDraft, checklist: &Checklist, faults: &mut Faults) -> Option<Cause> {
    let own = [&draft.id, &draft.name, &draft.side, &draft.checkpoint, &draft.help];
    if let Some(written) = own.into_iter().flatten().next() {
        faults.push(written.fault("a cause with a `slip` takes this from the slip"));
    }
    let Some(slip) = checklist.slip(&id.value) else {
        faults.push(id.fault(format!("there is no slip `{}`", id.value)));
        return None;
    };
    Some(Cause {
        id: slip.id.to_string(),
        name: slip.name.clone(),
        side: Side::Child,
        instruments: slip.instruments.clone(),
        checkpoint: Some(slip.checkpoint.clone()),
        strand: strand_of(Some(&slip.checkpoint), checklist),
        slip: Some(slip.id.clone()),
        help: slip.help.clone(),
        ..Cause::nothing()
    })
}

fn of_its_own(draft: CauseDraft, checklist: &Checklist, faults: &mut Faults) -> Option<Cause> {
    let (Some(id), Some(name), Some(side), Some(help)) = (draft.id, draft.name, draft.side, draft.help) else {
        faults.push(draft.here.fault("a cause has a `slip`, or `id`, `name`, `side` and `help`"));
        return None;
    };
    short(&name, "name", MAX_CAUSE_LENGTH, faults);
    short(&help, "help", MAX_LOOK_FOR_LENGTH, faults);
    let side = match side.value.as_str() {
        "instrument" => Side::Instrument,
        "child" => Side::Child,
        other => {
            faults.push(side.fault(format!("`{other}` is neither instrument nor child")));
            Side::Child
        }
    };
    let instruments = instrument_set(&draft.instruments, faults);
    if side == Side::Child && draft.checkpoint.is_none() {
        faults.push(id.fault("a cause on the child's side names the checkpoint where recording it counts"));
    }
    for checkpoint in draft.checkpoint.iter().filter(|at| checklist.checkpoint(&at.value).is_none()) {
        faults.push(checkpoint.fault(format!("there is no checkpoint `{}`", checkpoint.value)));
    }
    let checkpoint = draft.checkpoint.map(|at| CheckpointId::new(at.value));
    if draft.is_its_checkpoint && checkpoint.is_none() {
        faults.push(id.fault("what stands for its checkpoint names one"));
    }
    Some(Cause {
        id: id.value,
        name: name.value,
        side,
        instruments,
        strand: strand_of(checkpoint.as_ref(), checklist),
        checkpoint,
        is_its_checkpoint: draft.is_its_checkpoint,
        help: help.value,
        ..Cause::nothing()
    })
}

/// What leads to what: every end is known, and nothing leads to itself in the end.
pub(super) fn causes(
    drafts: Vec<LeadsDraft>,
    checklist: &Checklist,
    symptoms: &Symptoms,
    faults: &mut Faults,
) -> CauseGraph {
    let mut edges: Vec<(Node, Node, BTreeSet<Instrument>)> = Vec::new();
    let mut places = Vec::new();
    for draft in drafts {
        let Some((from, from_on)) = end(&draft.from, checklist, symptoms, faults) else { continue };
        for to in draft.to {
            let Some((node, to_on)) = end(&to, checklist, symptoms, faults) else { continue };
            let on: BTreeSet<Instrument> = from_on.intersection(&to_on).copied().collect();
            if on.is_empty() {
                faults.push(to.fault(format!("no instrument knows both `{}` and `{}`", draft.from.value, to.value)));
            }
            edges.push((from.clone(), node, on));
            places.push(to);
        }
    }
    CauseGraph::new(&edges).unwrap_or_else(|circles| {
        for index in circles {
            faults.push(
                places[index]
                    .fault(format!("`{}` leads to itself in the end: take one edge away", places[index].value)),
            );
        }
        CauseGraph::default()
    })
}

fn end(
    at: &At<String>,
    checklist: &Checklist,
    symptoms: &Symptoms,
    faults: &mut Faults,
) -> Option<(Node, BTreeSet<Instrument>)> {
    let id = at.value.as_str();
    let slip = |slip: &Slip| (Node::Slip(slip.id.clone()), slip.instruments.clone());
    let found = checklist.slip(id).map(slip);
    let found = found.or_else(|| {
        let checkpoint = checklist.checkpoint(id)?;
        Some((Node::Checkpoint(checkpoint.id.clone()), checkpoint.wording.keys().copied().collect()))
    });
    let found = found.or_else(|| {
        symptoms.symptom(id).map(|symptom| (Node::Symptom(symptom.id.clone()), symptom.instruments.clone()))
    });
    if found.is_none() {
        faults.push(at.fault(format!("`{id}` is neither a slip, a checkpoint nor a symptom")));
    }
    found
}
