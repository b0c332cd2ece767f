//! Signs, their causes, and the graph of what leads to what.

use std::collections::{BTreeMap, BTreeSet};

use super::At;
use super::check::{CAUSE_MOST, Faults, LOOK_FOR_MOST, NAME_MOST, instrument_set, short};
use super::read::{CauseDraft, LeadsDraft, SignsDraft};
use crate::causes::{Causes, Node, SignId};
use crate::checklist::{Checklist, CheckpointId, Slip, SlipId};
use crate::instrument::Instrument;
use crate::signs::{Cause, Fact, How, Side, Sign, Signs, Silence};

/// The strongest vote of a sign.
const STRONGEST: u32 = 3;

pub(super) fn signs(
    draft: SignsDraft,
    checklist: &Checklist,
    ids: &mut BTreeSet<String>,
    faults: &mut Faults,
) -> Signs {
    let mut signs = Signs::default();
    for sign in draft.signs {
        super::check::unique(&sign.id, ids, faults);
        short(&sign.name, "name", NAME_MOST, faults);
        let how = match sign.how.value.as_str() {
            "hear" => How::Hear,
            "see" => How::See,
            other => {
                faults.push(sign.how.fault(format!("`{other}` is neither hear nor see")));
                How::See
            }
        };
        let instruments = instrument_set(&sign.instruments, faults);
        signs.signs.push(Sign { id: SignId(sign.id.value), name: sign.name.value, how, instruments });
    }
    let mut causes = BTreeSet::new();
    for draft in draft.causes {
        let Some(cause) = cause(draft, checklist, &signs, faults) else { continue };
        let (cause, here) = cause;
        if !causes.insert(cause.id.clone()) {
            faults.push(here.fault(format!("`{}` stands here twice", cause.id)));
        }
        signs.causes.push(cause);
    }
    for silence in draft.silences {
        for slip in silence.slips.iter().filter(|slip| checklist.slip(&slip.value).is_none()) {
            faults.push(slip.fault(format!("there is no slip `{}`", slip.value)));
        }
        for sign in silence.signs.iter().filter(|sign| signs.sign(&sign.value).is_none()) {
            faults.push(sign.fault(format!("there is no sign `{}`", sign.value)));
        }
        signs.silences.push(Silence {
            slips: silence.slips.into_iter().map(|slip| SlipId::new(slip.value)).collect(),
            signs: silence.signs.into_iter().map(|sign| SignId(sign.value)).collect(),
        });
    }
    signs
}

fn cause(draft: CauseDraft, checklist: &Checklist, signs: &Signs, faults: &mut Faults) -> Option<(Cause, At<()>)> {
    let here = At { file: draft.here.file.clone(), line: draft.here.line, value: () };
    let mut votes = BTreeMap::new();
    let facts = draft.facts.iter().filter_map(|fact| {
        let known = Fact::parse(&fact.value);
        if known.is_none() {
            faults.push(fact.fault(format!("there is no fact `{}`", fact.value)));
        }
        known
    });
    let facts: BTreeSet<Fact> = facts.collect();
    let tight = draft.tight;
    let written = std::mem::take(&mut draft_votes(&draft));
    let cause = match &draft.slip {
        Some(id) => of_slip(id, &draft, checklist, faults),
        None => of_its_own(draft, checklist, faults),
    };
    let cause = cause?;
    for (sign, weight) in written {
        match signs.sign(&sign.value) {
            None => faults.push(sign.fault(format!("there is no sign `{}`", sign.value))),
            Some(known) if known.instruments.is_disjoint(&cause.instruments) => {
                faults.push(sign.fault(format!("no instrument knows both `{}` and `{}`", sign.value, cause.id)));
            }
            Some(_) => {}
        }
        if !(1..=STRONGEST).contains(&weight) {
            faults.push(sign.fault(format!("a vote is 1 to {STRONGEST}")));
        }
        votes.insert(SignId(sign.value), weight);
    }
    if votes.is_empty() {
        faults.push(here.fault("a cause has at least one vote"));
    }
    Some((Cause { tight, facts, votes, ..cause }, here))
}

fn draft_votes(draft: &CauseDraft) -> Vec<(At<String>, u32)> {
    let vote = |(sign, weight): &(At<String>, At<u32>)| {
        (At { file: sign.file.clone(), line: sign.line, value: sign.value.clone() }, weight.value)
    };
    draft.votes.iter().map(vote).collect()
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
        votes: BTreeMap::new(),
    })
}

fn of_its_own(draft: CauseDraft, checklist: &Checklist, faults: &mut Faults) -> Option<Cause> {
    let (Some(id), Some(name), Some(side), Some(help)) = (draft.id, draft.name, draft.side, draft.help) else {
        faults.push(draft.here.fault("a cause has a `slip`, or `id`, `name`, `side` and `help`"));
        return None;
    };
    short(&name, "name", CAUSE_MOST, faults);
    short(&help, "help", LOOK_FOR_MOST, faults);
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
        faults.push(id.fault("a cause on the child's side names the checkpoint where marking it counts"));
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
        votes: BTreeMap::new(),
    })
}

/// What leads to what: every end is known, and nothing leads to itself in the end.
pub(super) fn causes(drafts: Vec<LeadsDraft>, checklist: &Checklist, signs: &Signs, faults: &mut Faults) -> Causes {
    let mut edges: Vec<(Node, Node, BTreeSet<Instrument>)> = Vec::new();
    let mut places = Vec::new();
    for draft in drafts {
        let Some((from, from_on)) = end(&draft.from, checklist, signs, faults) else { continue };
        for to in draft.to {
            let Some((node, to_on)) = end(&to, checklist, signs, faults) else { continue };
            let on: BTreeSet<Instrument> = from_on.intersection(&to_on).copied().collect();
            if on.is_empty() {
                faults.push(to.fault(format!("no instrument knows both `{}` and `{}`", draft.from.value, to.value)));
            }
            edges.push((from.clone(), node, on));
            places.push(to);
        }
    }
    Causes::new(&edges).unwrap_or_else(|circles| {
        for index in circles {
            faults.push(
                places[index]
                    .fault(format!("`{}` leads to itself in the end: take one edge away", places[index].value)),
            );
        }
        Causes::default()
    })
}

fn end(
    at: &At<String>,
    checklist: &Checklist,
    signs: &Signs,
    faults: &mut Faults,
) -> Option<(Node, BTreeSet<Instrument>)> {
    let id = at.value.as_str();
    let slip = |slip: &Slip| (Node::Slip(slip.id.clone()), slip.instruments.clone());
    let found = checklist.slip(id).map(slip);
    let found = found.or_else(|| {
        let checkpoint = checklist.checkpoint(id)?;
        Some((Node::Checkpoint(checkpoint.id.clone()), checkpoint.wording.keys().copied().collect()))
    });
    let found = found.or_else(|| signs.sign(id).map(|sign| (Node::Sign(sign.id.clone()), sign.instruments.clone())));
    if found.is_none() {
        faults.push(at.fault(format!("`{id}` is neither a slip, a checkpoint nor a sign")));
    }
    found
}
