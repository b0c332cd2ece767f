//! From symptom to cause: what the director hears or sees, and what may have led to it, best first.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;

use crate::craft::id::SymptomId;
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::instrument::Instrument;
use crate::worded::worded;

/// A slip counts for a cause when it was ticked within so many meetings.
pub const RECENT_MEETINGS: u32 = 10;
/// What a recent slip, the child's word, and a fact each add.
const EXTRA: u32 = 1;

/// Whether a symptom is heard or seen.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Sense {
    /// Heard.
    Hear,
    /// Seen.
    See,
}

/// Something the director hears or sees.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Symptom {
    /// `buzz`.
    pub id: SymptomId,
    /// A few words, on its key.
    pub name: String,
    /// Heard or seen.
    pub how: Sense,
    /// Where it is known.
    pub instruments: BTreeSet<Instrument>,
}

/// Where a cause lies.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Side {
    /// In the instrument, the bow or the set-up: checked in seconds, and first at an equal score.
    Instrument,
    /// In how it is held or played.
    Child,
}

worded! {
    /// What is known of the instrument and its markers.
    Fact {
        /// The tapes are due for a recheck.
        RecheckDue = "recheck-due",
        /// A marker is no longer true.
        Drifted = "drifted",
        /// A marker has come off.
        Missing = "missing",
        /// The markers are another instrument's.
        WrongInstrument = "wrong-instrument",
        /// The instrument is larger than the child's measures propose.
        TooBig = "too-big",
        /// The instrument is not in good condition.
        NeedsRepair = "needs-repair",
        /// The bridge leans or has moved.
        BridgeMoved = "bridge-moved",
        /// The strings are far from the board.
        StringsHigh = "strings-high",
    }
}

/// Something that symptoms may come from.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Cause {
    /// `bridge-moved`, or its slip's id.
    pub id: String,
    /// A few words.
    pub name: String,
    /// Where it lies.
    pub side: Side,
    /// Where it is known.
    pub instruments: BTreeSet<Instrument>,
    /// Where recording it counts.
    pub checkpoint: Option<CheckpointId>,
    /// The slip that it is.
    pub slip: Option<SlipId>,
    /// The first help.
    pub help: String,
    /// A child that says "tight" speaks for it: thumb, size, support.
    pub tight: bool,
    /// Facts that speak for it.
    pub facts: BTreeSet<Fact>,
    /// Sense strongly each symptom speaks for it, 1 to 3.
    pub weights: BTreeMap<SymptomId, u32>,
}

/// Slips that together silence symptoms.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Silence {
    /// All of these ticked recently.
    pub slips: BTreeSet<SlipId>,
    /// Symptoms that then decide nothing.
    pub symptoms: BTreeSet<SymptomId>,
}

/// Every symptom and cause.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Symptoms {
    /// In content order.
    pub symptoms: Vec<Symptom>,
    /// In content order.
    pub causes: Vec<Cause>,
    /// What silences what.
    pub silences: Vec<Silence>,
}

/// What is asked about one child.
#[derive(Clone, Debug)]
pub struct CauseQuery<'a> {
    /// What the child plays.
    pub instrument: Instrument,
    /// What is heard and seen.
    pub symptoms: &'a BTreeSet<SymptomId>,
    /// Slips ticked within the last [`RECENT_MEETINGS`] meetings.
    pub recent_slips: &'a BTreeSet<SlipId>,
    /// The child says that it is tight.
    pub tight: bool,
    /// What is known of instrument and tapes.
    pub facts: &'a BTreeSet<Fact>,
    /// Checkpoints that the child's stage does not ask for yet; causes there come last at an equal score.
    pub shut: &'a BTreeSet<CheckpointId>,
    /// Checkpoints that do not apply to the child: causes there are left out.
    pub exempt: &'a BTreeSet<CheckpointId>,
}

/// A cause with what speaks for it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct RankedCause<'a> {
    /// Which.
    pub cause: &'a Cause,
    /// The sum of what speaks for it.
    pub score: u32,
    /// The symptoms that speak for it, strongest first.
    pub symptoms: Vec<SymptomId>,
    /// Its slip was ticked lately.
    pub ticked: bool,
    /// The child says tight, and that speaks for it.
    pub tight: bool,
    /// Facts that speak for it.
    pub facts: Vec<Fact>,
}

impl Symptoms {
    /// The symptom of an id.
    #[must_use]
    pub fn symptom(&self, id: &str) -> Option<&Symptom> {
        self.symptoms.iter().find(|symptom| symptom.id.0 == id)
    }

    /// The causes that at least one of the symptoms speaks for, best first.
    ///
    /// Score: the weights of the symptoms, and one more each for a slip ticked lately, for what the child said and for a fact
    /// that fits. At an equal score: instrument before child, what the child's stage asks for before what it does not
    /// yet, more symptoms, then content order.
    #[must_use]
    pub fn rank<'a>(&'a self, ask: &CauseQuery<'_>) -> Vec<RankedCause<'a>> {
        let silent: BTreeSet<&SymptomId> = self
            .silences
            .iter()
            .filter(|silence| silence.slips.is_subset(ask.recent_slips))
            .flat_map(|silence| &silence.symptoms)
            .collect();
        let known = |cause: &&Cause| {
            let applies = cause.checkpoint.as_ref().is_none_or(|id| !ask.exempt.contains(id));
            applies && cause.instruments.contains(&ask.instrument)
        };
        let mut ranked: Vec<RankedCause<'_>> =
            self.causes.iter().filter(known).filter_map(|c| c.weigh(ask, &silent)).collect();
        ranked.sort_by_key(|ranked| {
            let shut = ranked.cause.checkpoint.as_ref().is_some_and(|id| ask.shut.contains(id));
            (std::cmp::Reverse(ranked.score), ranked.cause.side, shut, std::cmp::Reverse(ranked.symptoms.len()))
        });
        ranked
    }
}

impl Cause {
    fn weigh(&self, ask: &CauseQuery<'_>, silent: &BTreeSet<&SymptomId>) -> Option<RankedCause<'_>> {
        let mut symptoms: Vec<(&SymptomId, u32)> = self
            .weights
            .iter()
            .filter(|(symptom, _)| ask.symptoms.contains(*symptom) && !silent.contains(symptom))
            .map(|(symptom, weight)| (symptom, *weight))
            .collect();
        if symptoms.is_empty() {
            return None;
        }
        symptoms.sort_by_key(|(symptom, weight)| (std::cmp::Reverse(*weight), *symptom));
        let ticked = self.slip.as_ref().is_some_and(|slip| ask.recent_slips.contains(slip));
        let tight = self.tight && ask.tight;
        let facts: Vec<Fact> = self.facts.intersection(ask.facts).copied().collect();
        let extras = [ticked, tight, !facts.is_empty()].into_iter().filter(|extra| *extra);
        let score = symptoms.iter().map(|(_, weight)| weight).sum::<u32>() + extras.map(|_| EXTRA).sum::<u32>();
        let symptoms = symptoms.into_iter().map(|(symptom, _)| symptom.clone()).collect();
        Some(RankedCause { cause: self, score, symptoms, ticked, tight, facts })
    }
}
