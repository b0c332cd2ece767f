//! Symptoms, their causes, and the graph of what leads to what.

use crate::craft::loader::fault::unique;
use std::collections::{BTreeMap, BTreeSet};

use super::draft::{CauseDraft, LeadsDraft, SymptomsDraft};
use super::fault::At;
use super::fault::{Faults, instrument_set, short};
use crate::craft::cause_graph::{CauseGraph, Node};
use crate::craft::checklist::{Checklist, Slip};
use crate::craft::id::SymptomId;
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::instrument::Instrument;
use crate::craft::limits::{MAX_CAUSE_LENGTH, MAX_LOOK_FOR_LENGTH, MAX_NAME_LENGTH};
use crate::craft::symptoms::{Cause, Fact, Sense, Side, Silence, Symptom, Symptoms};

/// The strongest weight of a symptom.
const MAX_WEIGHT: u32 = 3;

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
            other => {
                faults.push(symptom.how.fault(format!("`{other}` is neither hear nor see")));
                Sense::See
            }
        };
        let instruments = instrument_set(&symptom.instruments, faults);
        symptoms.symptoms.push(Symptom { id: SymptomId(symptom.id.value), name: symptom.name.value, how, instruments });
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
    for silence in draft.silences {
        for slip in silence.slips.iter().filter(|slip| checklist.slip(&slip.value).is_none()) {
            faults.push(slip.fault(format!("there is no slip `{}`", slip.value)));
        }
        for symptom in silence.symptoms.iter().filter(|symptom| symptoms.symptom(&symptom.value).is_none()) {
            faults.push(symptom.fault(format!("there is no symptom `{}`", symptom.value)));
        }
        symptoms.silences.push(Silence {
            slips: silence.slips.into_iter().map(|slip| SlipId::new(slip.value)).collect(),
            symptoms: silence.symptoms.into_iter().map(|symptom| SymptomId(symptom.value)).collect(),
        });
    }
    symptoms
}

fn cause(
    draft: CauseDraft,
    checklist: &Checklist,
    symptoms: &Symptoms,
    faults: &mut Faults,
) -> Option<(Cause, At<()>)> {
    let here = At { file: draft.here.file.clone(), line: draft.here.line, value: () };
    let mut weights = BTreeMap::new();
    let facts = draft.facts.iter().filter_map(|fact| {
        let known = Fact::parse(&fact.value);
        if known.is_none() {
            faults.push(fact.fault(format!("there is no fact `{}`", fact.value)));
        }
        known
    });
    let facts: BTreeSet<Fact> = facts.collect();
    let tight = draft.tight;
    let written = std::mem::take(&mut draft_weights(&draft));
    let cause = match &draft.slip {
        Some(id) => of_slip(id, &draft, checklist, faults),
        None => of_its_own(draft, checklist, faults),
    };
    let cause = cause?;
    for (symptom, weight) in written {
        match symptoms.symptom(&symptom.value) {
            None => faults.push(symptom.fault(format!("there is no symptom `{}`", symptom.value))),
            Some(known) if known.instruments.is_disjoint(&cause.instruments) => {
                faults.push(symptom.fault(format!("no instrument knows both `{}` and `{}`", symptom.value, cause.id)));
            }
            Some(_) => {}
        }
        if !(1..=MAX_WEIGHT).contains(&weight) {
            faults.push(symptom.fault(format!("a weight is 1 to {MAX_WEIGHT}")));
        }
        weights.insert(SymptomId(symptom.value), weight);
    }
    if weights.is_empty() {
        faults.push(here.fault("a cause has at least one weight"));
    }
    Some((Cause { tight, facts, weights, ..cause }, here))
}

fn draft_weights(draft: &CauseDraft) -> Vec<(At<String>, u32)> {
    let weight = |(symptom, weight): &(At<String>, At<u32>)| {
        (At { file: symptom.file.clone(), line: symptom.line, value: symptom.value.clone() }, weight.value)
    };
    draft.weights.iter().map(weight).collect()
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
        slip: Some(slip.id.clone()),
        help: slip.help.clone(),
        tight: false,
        facts: BTreeSet::new(),
        weights: BTreeMap::new(),
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
    Some(Cause {
        id: id.value,
        name: name.value,
        side,
        instruments,
        checkpoint: draft.checkpoint.map(|at| CheckpointId::new(at.value)),
        slip: None,
        help: help.value,
        tight: false,
        facts: BTreeSet::new(),
        weights: BTreeMap::new(),
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
