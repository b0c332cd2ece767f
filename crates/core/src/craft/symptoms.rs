//! From symptom to cause: what the director hears, sees or a child says, what splits it, and what may have led to it.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;

use crate::craft::cause_graph::Node;
use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, SlipId, SymptomId};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::worded::worded;

/// A slip, and what a child said, count for a cause within so many meetings.
pub const RECENT_MEETINGS: u32 = 10;

/// How a symptom is noticed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Sense {
    /// Heard.
    Hear,
    /// Seen.
    See,
    /// The child says that it hurts there.
    Hurts,
}

worded! {
    /// A question that splits what is heard: one tap, never a must.
    Split {
        /// Is it the open string, or a stopped note?
        OpenOrStopped = "open-or-stopped",
        /// Is it plucked, or bowed?
        PluckedOrBowed = "plucked-or-bowed",
        /// Is it one string, or all?
        OneOrAll = "one-or-all",
        /// Does the bow touch the neighbour string, or a finger?
        BowOrFinger = "bow-or-finger",
    }
}

worded! {
    /// The answer to a [`Split`].
    Answer {
        /// The open string.
        Open = "open",
        /// A stopped note.
        Stopped = "stopped",
        /// Plucked.
        Plucked = "plucked",
        /// Bowed.
        Bowed = "bowed",
        /// One string.
        OneString = "one-string",
        /// All strings.
        AllStrings = "all-strings",
        /// The bow.
        ByBow = "by-bow",
        /// A finger.
        ByFinger = "by-finger",
    }
}

impl Split {
    /// Both answers.
    #[must_use]
    pub const fn answers(self) -> [Answer; 2] {
        match self {
            Self::OpenOrStopped => [Answer::Open, Answer::Stopped],
            Self::PluckedOrBowed => [Answer::Plucked, Answer::Bowed],
            Self::OneOrAll => [Answer::OneString, Answer::AllStrings],
            Self::BowOrFinger => [Answer::ByBow, Answer::ByFinger],
        }
    }
}

impl Answer {
    /// The question that it answers.
    #[must_use]
    pub const fn split(self) -> Split {
        match self {
            Self::Open | Self::Stopped => Split::OpenOrStopped,
            Self::Plucked | Self::Bowed => Split::PluckedOrBowed,
            Self::OneString | Self::AllStrings => Split::OneOrAll,
            Self::ByBow | Self::ByFinger => Split::BowOrFinger,
        }
    }
}

worded! {
    /// What the microphone hears, of one sound or of a hand's notes one after the other.
    ByEar {
        /// A pluck that is over sooner than the string would be.
        Short = "short",
        /// A pluck that is over at once.
        Thud = "thud",
        /// A pluck with a rattle.
        Buzz = "buzz",
        /// A bow that grates.
        Scratch = "scratch",
        /// A bow that hardly makes the string sound.
        Whisper = "whisper",
        /// A bow that trembles.
        Wavers = "wavers",
        /// A light bow close to the bridge.
        Glass = "glass",
        /// A bow whose next stroke lands with a jump.
        Jump = "jump",
        /// A bow that sets a neighbour string sounding too.
        TwoStrings = "two-strings",
        /// All fingers are low alike.
        AllLow = "all-low",
        /// All fingers are high alike.
        AllHigh = "all-high",
        /// One finger is off, the others are right with each other.
        OneOff = "one-off",
        /// The second finger beside the third is low, the others are right with each other.
        SecondLow = "second-low",
    }
}

/// Something the director hears or sees, or where a child says it hurts.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Symptom {
    /// `buzz`.
    pub id: SymptomId,
    /// A few words, on its key.
    pub name: String,
    /// Heard, seen or said.
    pub how: Sense,
    /// Where it is known.
    pub instruments: BTreeSet<Instrument>,
    /// What splits it.
    pub asks: BTreeSet<Split>,
    /// What the microphone hears where it may be so.
    pub by_ear: BTreeSet<ByEar>,
    /// It hurts there at first and passes by itself; everything else that hurts stops the playing.
    pub normal: bool,
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
        /// The instrument is out for repair, or a fault is noted.
        NeedsRepair = "needs-repair",
        /// The bridge leans or has moved.
        BridgeMoved = "bridge-moved",
        /// The strings are far from the board.
        StringsHigh = "strings-high",
        /// Every marker was proved by ear, and the next look at them is not due.
        TapesProved = "tapes-proved",
        /// No marker is on the instrument: none was laid yet, or all were taken away.
        NoMarkers = "no-markers",
        /// The instrument has the size that the child's measures propose.
        SizeFits = "size-fits",
        /// The string was measured and is as long as recorded: the bridge stands where it belongs.
        BridgeAsRecorded = "bridge-as-recorded",
        /// Hair, rosin and stick were looked at lately and were in order.
        BowCaredFor = "bow-cared-for",
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
    /// The strand of that checkpoint.
    pub strand: Option<Strand>,
    /// It stands for that checkpoint in the graph of what leads to what.
    pub is_its_checkpoint: bool,
    /// The symptom that it says once more in other words: what it comes from is named before it.
    pub restates: Option<SymptomId>,
    /// The slip that it is.
    pub slip: Option<SlipId>,
    /// The first help.
    pub help: String,
    /// Facts that speak for it.
    pub facts: BTreeSet<Fact>,
    /// Facts that speak against it.
    pub against: BTreeSet<Fact>,
    /// It is so only where the splits of its symptoms were answered thus.
    pub only: BTreeSet<Answer>,
    /// How strongly each symptom speaks for it, 1 to 3, on each of its instruments that knows the symptom.
    pub weights: BTreeMap<Instrument, BTreeMap<SymptomId, u32>>,
}

impl Cause {
    /// What it is called and its first help, as somebody with this checklist reads them: a slip in the words of the options
    /// chosen.
    #[must_use]
    pub fn words<'a>(&'a self, checklist: &'a Checklist) -> (&'a str, &'a str) {
        let slip = self.slip.as_ref().and_then(|slip| checklist.slip(slip.as_str()));
        slip.map_or((&self.name, &self.help), |slip| (&slip.name, &slip.help))
    }

    /// A cause of nothing, to be filled.
    pub(crate) fn nothing() -> Self {
        Self {
            id: String::new(),
            name: String::new(),
            side: Side::Child,
            instruments: BTreeSet::new(),
            checkpoint: None,
            strand: None,
            is_its_checkpoint: false,
            restates: None,
            slip: None,
            help: String::new(),
            facts: BTreeSet::new(),
            against: BTreeSet::new(),
            only: BTreeSet::new(),
            weights: BTreeMap::new(),
        }
    }

    /// How strongly a symptom speaks for it on an instrument, 0 where it does not.
    #[must_use]
    pub fn weight(&self, instrument: Instrument, symptom: &SymptomId) -> u32 {
        self.weights.get(&instrument).and_then(|weights| weights.get(symptom)).copied().unwrap_or(0)
    }

    /// Where it stands in the graph of what leads to what.
    #[must_use]
    pub fn node(&self) -> Option<Node> {
        match (&self.slip, &self.checkpoint) {
            (Some(slip), _) => Some(Node::Slip(slip.clone())),
            (None, Some(checkpoint)) if self.is_its_checkpoint => Some(Node::Checkpoint(checkpoint.clone())),
            _ => None,
        }
    }
}

/// Slips between which some symptoms decide nothing.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Undecided {
    /// All of these ticked recently.
    pub slips: BTreeSet<SlipId>,
    /// Symptoms that then speak for each of them as strongly as for the other.
    pub symptoms: BTreeSet<SymptomId>,
}

/// Every symptom and cause.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Symptoms {
    /// In content order.
    pub symptoms: Vec<Symptom>,
    /// In content order.
    pub causes: Vec<Cause>,
    /// Between which slips symptoms decide nothing.
    pub undecided: Vec<Undecided>,
    /// Slips that lead to no symptom of their own: they are only seen.
    pub only_seen: BTreeSet<SlipId>,
}

impl Symptoms {
    /// The symptom of an id.
    #[must_use]
    pub fn symptom(&self, id: &str) -> Option<&Symptom> {
        self.symptoms.iter().find(|symptom| symptom.id.0 == id)
    }
}
