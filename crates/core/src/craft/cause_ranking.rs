//! Which causes the symptoms of a child speak for, best first, and what each comes from before it.

use std::cmp::Reverse;
use std::collections::BTreeSet;

use crate::craft::cause_graph::CauseGraph;
use crate::craft::id::{CheckpointId, SlipId, SymptomId};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::craft::symptoms::{Answer, Cause, Fact, Symptoms, Undecided};

/// What a recent slip, the child's word, a fact and an answered split each add.
const EXTRA: i32 = 1;
/// What a fact that speaks against takes away.
const AGAINST: i32 = 2;
/// The weight of a symptom by which a cause counts as seen.
const SEEN: u32 = 3;

/// What is asked about one child.
#[derive(Clone, Debug)]
pub struct CauseQuery<'a> {
    /// What the child plays.
    pub instrument: Instrument,
    /// What is heard, seen and said to hurt.
    pub symptoms: &'a BTreeSet<SymptomId>,
    /// What was answered to the splits.
    pub answers: &'a BTreeSet<Answer>,
    /// Slips ticked within the last [`RECENT_MEETINGS`](crate::craft::symptoms::RECENT_MEETINGS) meetings.
    pub recent_slips: &'a BTreeSet<SlipId>,
    /// The strands at whose checkpoints the child said lately that it is tight or hurts.
    pub said: &'a BTreeSet<Strand>,
    /// What is known of instrument and tapes.
    pub facts: &'a BTreeSet<Fact>,
    /// Checkpoints that the child's stage does not ask for yet; causes there come last at an equal score.
    pub shut: &'a BTreeSet<CheckpointId>,
    /// Checkpoints that do not apply to the child: causes there are left out.
    pub exempt: &'a BTreeSet<CheckpointId>,
}

/// A cause with what speaks for it and against it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RankedCause<'a> {
    /// Which.
    pub cause: &'a Cause,
    /// What speaks for it less what speaks against it.
    pub score: i32,
    /// The symptoms that speak for it, strongest first.
    pub symptoms: Vec<SymptomId>,
    /// What was answered and fits it.
    pub answers: Vec<Answer>,
    /// Its slip was ticked lately.
    pub ticked: bool,
    /// The child said of this hand that it is tight or hurts.
    pub said: bool,
    /// Facts that speak for it.
    pub facts: Vec<Fact>,
    /// Facts that speak against it.
    pub against: Vec<Fact>,
    /// The names of causes below it that often come from it: it stands here because of them.
    pub leads_to: Vec<&'a str>,
    /// The strongest of its symptoms.
    strongest: u32,
}

impl RankedCause<'_> {
    /// Whether it is more than a guess: its own symptom, a tick or a fact.
    fn is_seen(&self) -> bool {
        self.strongest == SEEN || self.ticked || !self.facts.is_empty()
    }
}

impl Symptoms {
    /// The causes that at least one of the symptoms speaks for, best first.
    ///
    /// Score: the weights of the symptoms, less those whose split was answered otherwise; one more each for a slip ticked lately, for
    /// what the child said of this hand, for a fact that fits and for an answer that fits; two less for each fact against it. At an
    /// equal score: instrument before child, what holds either way before what waits for an answer, what the child's stage asks for
    /// before what it does not yet, more symptoms, then content order. A cause that is seen stands before what it leads to, whatever the scores; so does everything that leads to a cause that
    /// says a symptom once more. What leads to a cause and is ticked or known joins the list, also where no symptom speaks for it.
    #[must_use]
    pub fn rank<'a>(&'a self, graph: &CauseGraph, ask: &CauseQuery<'_>) -> Vec<RankedCause<'a>> {
        let undecided: Vec<&Undecided> =
            self.undecided.iter().filter(|undecided| undecided.slips.is_subset(ask.recent_slips)).collect();
        let known = |cause: &&Cause| {
            let applies = cause.checkpoint.as_ref().is_none_or(|id| !ask.exempt.contains(id));
            applies && cause.instruments.contains(&ask.instrument)
        };
        let all: Vec<RankedCause<'_>> =
            self.causes.iter().filter(known).map(|c| self.weigh(c, ask, &undecided)).collect();
        let (mut ranked, others): (Vec<_>, Vec<_>) = all.into_iter().partition(|ranked| !ranked.symptoms.is_empty());
        let is_root = |other: &RankedCause<'_>| {
            let leads = |to: &RankedCause<'_>| to.score > 0 && leads_to(graph, ask.instrument, other.cause, to.cause);
            other.score > 0 && other.is_seen() && ranked.iter().any(leads)
        };
        let roots: Vec<_> = others.into_iter().filter(is_root).collect();
        ranked.extend(roots);
        ranked.sort_by_key(|ranked| {
            let shut = ranked.cause.checkpoint.as_ref().is_some_and(|id| ask.shut.contains(id));
            let guessed = !ranked.cause.only.is_empty() && ranked.answers.is_empty();
            (Reverse(ranked.score), ranked.cause.side, guessed, shut, Reverse(ranked.symptoms.len()))
        });
        roots_first(ranked, graph, ask)
    }

    fn weigh<'a>(&'a self, cause: &'a Cause, ask: &CauseQuery<'_>, undecided: &[&Undecided]) -> RankedCause<'a> {
        let weighed = ask.symptoms.iter().map(|symptom| (symptom, cause.weight(ask.instrument, symptom)));
        let mut symptoms: Vec<(&SymptomId, u32)> = weighed
            .filter(|(symptom, weight)| *weight > 0 && !self.is_answered_otherwise(symptom, cause, ask.answers))
            .collect();
        for undecided in undecided.iter().filter(|of| cause.slip.as_ref().is_some_and(|slip| of.slips.contains(slip))) {
            symptoms.retain(|(symptom, _)| !undecided.symptoms.contains(symptom));
            let alike = undecided.symptoms.intersection(ask.symptoms);
            symptoms
                .extend(alike.map(|symptom| (symptom, self.strongest_for(&undecided.slips, ask.instrument, symptom))));
        }
        symptoms.sort_by_key(|(symptom, weight)| (Reverse(*weight), *symptom));
        let strongest = symptoms.first().map_or(0, |(_, weight)| *weight);
        let ticked = cause.slip.as_ref().is_some_and(|slip| ask.recent_slips.contains(slip));
        let said = cause.strand.is_some_and(|strand| ask.said.contains(&strand));
        let facts: Vec<Fact> = cause.facts.intersection(ask.facts).copied().collect();
        let against: Vec<Fact> = cause.against.intersection(ask.facts).copied().collect();
        let answers: Vec<Answer> = cause.only.intersection(ask.answers).copied().collect();
        let answers: Vec<Answer> = answers.into_iter().filter(|answer| self.is_asked(*answer, &symptoms)).collect();
        let extras = [ticked, said, !facts.is_empty(), !answers.is_empty()].into_iter().filter(|extra| *extra);
        let weights: u32 = symptoms.iter().map(|(_, weight)| weight).sum();
        let score = i32::try_from(weights).unwrap_or(i32::MAX) + extras.map(|_| EXTRA).sum::<i32>()
            - against.iter().map(|_| AGAINST).sum::<i32>();
        let symptoms = symptoms.into_iter().map(|(symptom, _)| symptom.clone()).collect();
        RankedCause { cause, score, symptoms, answers, ticked, said, facts, against, leads_to: Vec::new(), strongest }
    }

    /// The strongest weight that a symptom has for any of some slips.
    fn strongest_for(&self, slips: &BTreeSet<SlipId>, instrument: Instrument, symptom: &SymptomId) -> u32 {
        let of = self.causes.iter().filter(|cause| cause.slip.as_ref().is_some_and(|slip| slips.contains(slip)));
        of.map(|cause| cause.weight(instrument, symptom)).max().unwrap_or(0)
    }

    /// Whether one of the symptoms is split by the question that this answers.
    fn is_asked(&self, answer: Answer, symptoms: &[(&SymptomId, u32)]) -> bool {
        let mut known = symptoms.iter().filter_map(|(id, _)| self.symptom(&id.0));
        known.any(|symptom| symptom.asks.contains(&answer.split()))
    }

    /// Whether a split of the symptom was answered so that the cause is out.
    fn is_answered_otherwise(&self, symptom: &SymptomId, cause: &Cause, answers: &BTreeSet<Answer>) -> bool {
        let Some(symptom) = self.symptom(&symptom.0) else { return false };
        answers.iter().filter(|answer| symptom.asks.contains(&answer.split())).any(|answer| {
            let of_split = cause.only.iter().filter(|only| only.split() == answer.split());
            of_split.clone().count() > 0 && of_split.copied().all(|only| only != *answer)
        })
    }
}

fn leads_to(graph: &CauseGraph, instrument: Instrument, from: &Cause, to: &Cause) -> bool {
    let (Some(from), Some(to)) = (from.node(), to.node()) else { return false };
    graph.leads(instrument, &from, &to)
}

/// The same causes, each after what it comes from. The graph has no circle, so everything finds its place.
fn roots_first<'a>(ranked: Vec<RankedCause<'a>>, graph: &CauseGraph, ask: &CauseQuery<'_>) -> Vec<RankedCause<'a>> {
    let is_root = |root: &RankedCause<'_>, of: &RankedCause<'_>| {
        let restated = of.cause.restates.as_ref().is_some_and(|symptom| ask.symptoms.contains(symptom));
        root.score > 0 && (restated || root.is_seen()) && leads_to(graph, ask.instrument, root.cause, of.cause)
    };
    let mut waiting = ranked;
    let mut placed = Vec::with_capacity(waiting.len());
    while !waiting.is_empty() {
        let mut at = 0;
        while let Some(root) = (0..waiting.len()).find(|other| *other != at && is_root(&waiting[*other], &waiting[at]))
        {
            if root > at {
                let effect = waiting[at].cause.name.as_str();
                let leads_to = &mut waiting[root].leads_to;
                if !leads_to.contains(&effect) {
                    leads_to.push(effect);
                }
            }
            at = root;
        }
        placed.push(waiting.remove(at));
    }
    placed
}
