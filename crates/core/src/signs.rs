//! From sign to cause: what the director hears or sees, and what may have led to it, best first.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use crate::causes::SignId;
use crate::checklist::{CheckpointId, SlipId};
use crate::instrument::Instrument;

/// A slip counts for a cause when it was ticked within so many meetings.
pub const RECENT_MEETINGS: u32 = 10;
/// What a recent slip, the child's word, and a fact each add.
const EXTRA: u32 = 1;

/// Whether a sign is heard or seen.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum How {
    /// Heard.
    Hear,
    /// Seen.
    See,
}

/// Something the director hears or sees.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sign {
    /// `buzz`.
    pub id: SignId,
    /// A few words, on its key.
    pub name: String,
    /// Heard or seen.
    pub how: How,
    /// Where it is known.
    pub instruments: BTreeSet<Instrument>,
}

/// Where a cause lies.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Side {
    /// In the instrument, the bow or the set-up: checked in seconds, and first at an equal score.
    Instrument,
    /// In how it is held or played.
    Child,
}

/// What is known of the instrument and its tapes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Fact {
    /// The tapes are due for a recheck.
    RecheckDue,
    /// A mark is no longer true.
    Drifted,
    /// A mark has come off.
    Missing,
    /// The marks are another instrument's.
    WrongInstrument,
    /// The instrument is larger than the child's measures propose.
    TooBig,
    /// The instrument is not in good condition.
    NeedsRepair,
    /// The bridge leans or has moved.
    BridgeMoved,
    /// The strings are far from the board.
    StringsHigh,
}

impl Fact {
    /// All of them.
    pub const ALL: [Self; 8] = [
        Self::RecheckDue,
        Self::Drifted,
        Self::Missing,
        Self::WrongInstrument,
        Self::TooBig,
        Self::NeedsRepair,
        Self::BridgeMoved,
        Self::StringsHigh,
    ];

    /// The word in content and on the web: `recheck-due`.
    #[must_use]
    pub const fn word(self) -> &'static str {
        match self {
            Self::RecheckDue => "recheck-due",
            Self::Drifted => "drifted",
            Self::Missing => "missing",
            Self::WrongInstrument => "wrong-instrument",
            Self::TooBig => "too-big",
            Self::NeedsRepair => "needs-repair",
            Self::BridgeMoved => "bridge-moved",
            Self::StringsHigh => "strings-high",
        }
    }

    /// The fact of a word.
    #[must_use]
    pub fn parse(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|fact| fact.word() == word)
    }
}

/// Something that signs may come from.
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
    /// Where marking it counts.
    pub checkpoint: Option<CheckpointId>,
    /// The slip that it is.
    pub slip: Option<SlipId>,
    /// The first help.
    pub help: String,
    /// A child that says "tight" speaks for it: thumb, size, support.
    pub tight: bool,
    /// Facts that speak for it.
    pub facts: BTreeSet<Fact>,
    /// How strongly each sign speaks for it, 1 to 3.
    pub votes: BTreeMap<SignId, u32>,
}

/// Slips that together silence signs.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Silence {
    /// All of these ticked recently.
    pub slips: BTreeSet<SlipId>,
    /// Signs that then decide nothing.
    pub signs: BTreeSet<SignId>,
}

/// Every sign and cause.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Signs {
    /// In content order.
    pub signs: Vec<Sign>,
    /// In content order.
    pub causes: Vec<Cause>,
    /// What silences what.
    pub silences: Vec<Silence>,
}

/// What is asked about one child.
#[derive(Clone, Debug)]
pub struct Ask<'a> {
    /// What the child plays.
    pub instrument: Instrument,
    /// What is heard and seen.
    pub signs: &'a BTreeSet<SignId>,
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
pub struct Ranked<'a> {
    /// Which.
    pub cause: &'a Cause,
    /// The sum of what speaks for it.
    pub score: u32,
    /// The signs that voted, strongest first.
    pub voters: Vec<SignId>,
    /// Its slip was ticked lately.
    pub ticked: bool,
    /// The child says tight, and that speaks for it.
    pub tight: bool,
    /// Facts that speak for it.
    pub facts: Vec<Fact>,
}

impl Signs {
    /// The sign of an id.
    #[must_use]
    pub fn sign(&self, id: &str) -> Option<&Sign> {
        self.signs.iter().find(|sign| sign.id.0 == id)
    }

    /// The causes that at least one of the signs speaks for, best first.
    ///
    /// Score: the votes of the signs, and one more each for a slip ticked lately, for what the child said and for a fact
    /// that fits. At an equal score: instrument before child, what the child's stage asks for before what it does not
    /// yet, more voters, then content order.
    #[must_use]
    pub fn rank<'a>(&'a self, ask: &Ask<'_>) -> Vec<Ranked<'a>> {
        let silent: BTreeSet<&SignId> = self
            .silences
            .iter()
            .filter(|silence| silence.slips.is_subset(ask.recent_slips))
            .flat_map(|silence| &silence.signs)
            .collect();
        let known = |cause: &&Cause| {
            let applies = cause.checkpoint.as_ref().is_none_or(|id| !ask.exempt.contains(id));
            applies && cause.instruments.contains(&ask.instrument)
        };
        let mut ranked: Vec<Ranked<'_>> =
            self.causes.iter().filter(known).filter_map(|c| c.weigh(ask, &silent)).collect();
        ranked.sort_by_key(|ranked| {
            let shut = ranked.cause.checkpoint.as_ref().is_some_and(|id| ask.shut.contains(id));
            (std::cmp::Reverse(ranked.score), ranked.cause.side, shut, std::cmp::Reverse(ranked.voters.len()))
        });
        ranked
    }
}

impl Cause {
    fn weigh(&self, ask: &Ask<'_>, silent: &BTreeSet<&SignId>) -> Option<Ranked<'_>> {
        let mut voters: Vec<(&SignId, u32)> = self
            .votes
            .iter()
            .filter(|(sign, _)| ask.signs.contains(*sign) && !silent.contains(sign))
            .map(|(sign, weight)| (sign, *weight))
            .collect();
        if voters.is_empty() {
            return None;
        }
        voters.sort_by_key(|(sign, weight)| (std::cmp::Reverse(*weight), *sign));
        let ticked = self.slip.as_ref().is_some_and(|slip| ask.recent_slips.contains(slip));
        let tight = self.tight && ask.tight;
        let facts: Vec<Fact> = self.facts.intersection(ask.facts).copied().collect();
        let extras = [ticked, tight, !facts.is_empty()].into_iter().filter(|extra| *extra);
        let score = voters.iter().map(|(_, weight)| weight).sum::<u32>() + extras.map(|_| EXTRA).sum::<u32>();
        let voters = voters.into_iter().map(|(sign, _)| sign.clone()).collect();
        Some(Ranked { cause: self, score, voters, ticked, tight, facts })
    }
}
