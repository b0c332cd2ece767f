//! How strongly symptoms speak for a cause, on each of its instruments.

use std::collections::{BTreeMap, BTreeSet};

use super::draft::WeightsDraft;
use super::fault::{At, Faults, instrument_set};
use crate::craft::id::SymptomId;
use crate::craft::instrument::Instrument;
use crate::craft::symptoms::{Answer, Symptoms};

/// The strongest weight of a symptom.
const MAX_WEIGHT: u32 = 3;

pub(super) type Weights = BTreeMap<Instrument, BTreeMap<SymptomId, u32>>;

/// What is written in a cause.
pub(super) struct Written {
    pub(super) everywhere: WeightsDraft,
    pub(super) on: Vec<(At<String>, WeightsDraft)>,
}

/// The weights on each instrument of a cause that knows the symptom; what is written for an instrument stands in the place of what is
/// written for all.
pub(super) fn weights(
    written: &Written,
    cause: (&str, &BTreeSet<Instrument>),
    symptoms: &Symptoms,
    faults: &mut Faults,
) -> Weights {
    let mut weights = Weights::new();
    check(&written.everywhere, 1, cause, symptoms, faults);
    add(&mut weights, &written.everywhere, cause.1, symptoms);
    for (keys, of) in &written.on {
        let keys = keys.value.split_whitespace().map(|key| At {
            value: key.to_owned(),
            file: keys.file.clone(),
            line: keys.line,
        });
        let on = instrument_set(&keys.collect::<Vec<_>>(), faults);
        let on: BTreeSet<Instrument> = on.intersection(cause.1).copied().collect();
        check(of, 0, (cause.0, &on), symptoms, faults);
        add(&mut weights, of, &on, symptoms);
    }
    for weights in weights.values_mut() {
        weights.retain(|_, weight| *weight > 0);
    }
    weights.retain(|_, weights| !weights.is_empty());
    weights
}

fn check(
    written: &WeightsDraft,
    least: u32,
    (cause, on): (&str, &BTreeSet<Instrument>),
    symptoms: &Symptoms,
    faults: &mut Faults,
) {
    for (symptom, weight) in written {
        match symptoms.symptom(&symptom.value) {
            None => faults.push(symptom.fault(format!("there is no symptom `{}`", symptom.value))),
            Some(known) if known.instruments.is_disjoint(on) => {
                faults.push(symptom.fault(format!("no instrument knows both `{}` and `{cause}`", symptom.value)));
            }
            Some(_) => {}
        }
        if !(least..=MAX_WEIGHT).contains(&weight.value) {
            faults.push(symptom.fault(format!("a weight is {least} to {MAX_WEIGHT}")));
        }
    }
}

fn add(weights: &mut Weights, written: &WeightsDraft, on: &BTreeSet<Instrument>, symptoms: &Symptoms) {
    for (symptom, weight) in written {
        let known = symptoms.symptom(&symptom.value).map(|symptom| &symptom.instruments);
        for instrument in on.iter().filter(|instrument| known.is_some_and(|known| known.contains(instrument))) {
            let here = weights.entry(*instrument).or_default();
            here.insert(SymptomId(symptom.value.clone()), weight.value);
        }
    }
}

/// Whether a symptom that speaks for the cause asks the question of an answer.
pub(super) fn is_asked(weights: &Weights, symptoms: &Symptoms, answer: Answer) -> bool {
    let mut asked = weights.values().flat_map(BTreeMap::keys).filter_map(|id| symptoms.symptom(&id.0));
    asked.any(|symptom| symptom.asks.contains(&answer.split()))
}
