//! What has to hold of symptoms and causes as a whole: it takes longer than reading them, so it is proved where content is checked.

use std::collections::BTreeSet;

use super::content::Content;
use super::fault::{Fault, Source};
use crate::craft::cause_ranking::{CauseQuery, RankedCause};
use crate::craft::id::SymptomId;
use crate::craft::instrument::Instrument;
use crate::craft::symptoms::{Answer, Cause, Fact};

/// A cause is to be first for one, two or three of its symptoms.
const MOST_SYMPTOMS: usize = 3;

/// Every cause can be first, those that are slips on each of their instruments; every slip is a cause or is only seen; nothing that
/// says a symptom once more is named before what it comes from.
pub(super) fn all(content: &Content, sources: &[Source<'_>]) -> Vec<Fault> {
    let fault = |id: &str, message: String| {
        let text = sources.iter().find(|source| source.path == "symptoms.toml").map_or("", |source| source.text);
        let at = [format!("id = \"{id}\""), format!("slip = \"{id}\"")];
        let line = text.lines().position(|line| at.iter().any(|at| line == at)).map_or(1, |line| line + 1);
        Fault { file: "symptoms.toml".to_owned(), line, message }
    };
    let mut faults = Vec::new();
    for cause in &content.symptoms.causes {
        let first = |instrument: &Instrument| can_be_first(content, cause, *instrument);
        let (id, on) = (&cause.id, &cause.instruments);
        if cause.slip.is_none() && !on.iter().any(first) {
            faults.push(fault(id, format!("`{id}` is first for no symptoms: another cause always speaks louder")));
        }
        for instrument in on.iter().filter(|instrument| cause.slip.is_some() && !first(instrument)) {
            let instrument = instrument.key();
            faults.push(fault(id, format!("`{id}` is first for no symptoms on {instrument}, and not only seen")));
        }
        for root in on.iter().filter_map(|instrument| stands_above_a_root(content, cause, *instrument)) {
            faults.push(fault(id, format!("`{id}` restates its symptom and is named before `{root}`, its own root")));
        }
    }
    for slip in content.standard().slips() {
        let caused = content.symptoms.causes.iter().any(|cause| cause.slip.as_ref() == Some(&slip.id));
        if caused == content.symptoms.only_seen.contains(&slip.id) {
            faults
                .push(fault(slip.id.as_str(), format!("the slip `{}` is a cause, or stands in `only_seen`", slip.id)));
        }
    }
    faults
}

/// A question about nothing but symptoms, answers and facts.
fn ask<T>(
    content: &Content,
    instrument: Instrument,
    symptoms: &BTreeSet<SymptomId>,
    (answers, facts): (&BTreeSet<Answer>, &BTreeSet<Fact>),
    read: impl FnOnce(Vec<RankedCause<'_>>) -> T,
) -> T {
    let (slips, said, none) = (BTreeSet::new(), BTreeSet::new(), BTreeSet::new());
    let ask = CauseQuery {
        instrument,
        symptoms,
        answers,
        recent_slips: &slips,
        said: &said,
        facts,
        shut: &none,
        exempt: &none,
    };
    read(content.symptoms.rank(&content.causes, &ask))
}

fn can_be_first(content: &Content, cause: &Cause, instrument: Instrument) -> bool {
    let symptoms: Vec<&SymptomId> =
        cause.weights.get(&instrument).into_iter().flat_map(|weights| weights.keys()).collect();
    let none = (BTreeSet::new(), BTreeSet::new());
    let all = (cause.only.clone(), cause.facts.clone());
    some_of(&symptoms, MOST_SYMPTOMS).into_iter().any(|some| {
        [(&none.0, &none.1), (&all.0, &none.1), (&all.0, &all.1)].into_iter().any(|known| {
            ask(content, instrument, &some, known, |ranked| {
                ranked.first().is_some_and(|first| first.cause.id == cause.id)
            })
        })
    })
}

/// Every choice of one to `most` of these.
fn some_of(all: &[&SymptomId], most: usize) -> Vec<BTreeSet<SymptomId>> {
    let mut found: Vec<BTreeSet<SymptomId>> = vec![BTreeSet::new()];
    for one in all {
        let with: Vec<_> = found.iter().filter(|some| some.len() < most).cloned().collect();
        found.extend(with.into_iter().map(|mut some| {
            some.insert((*one).clone());
            some
        }));
    }
    found.retain(|some| !some.is_empty());
    found
}

/// The root that a cause stands above when its symptom is asked that it only says once more.
fn stands_above_a_root(content: &Content, cause: &Cause, instrument: Instrument) -> Option<String> {
    let symptoms = BTreeSet::from([cause.restates.clone()?]);
    ask(content, instrument, &symptoms, (&BTreeSet::new(), &BTreeSet::new()), |ranked| {
        let below = ranked.iter().skip_while(|other| other.cause.id != cause.id);
        let (to, graph) = (cause.node()?, &content.causes);
        let mut roots = below
            .filter(|other| other.score > 0)
            .filter(|other| other.cause.node().is_some_and(|from| graph.leads(instrument, &from, &to)));
        roots.next().map(|root| root.cause.id.clone())
    })
}
