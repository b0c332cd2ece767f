//! What leads to what: slips, checkpoints that are not there yet and symptoms in one graph without circles. Whoever corrects
//! the effect corrects it again tomorrow, so the cause comes first.

use crate::craft::id::SymptomId;
use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::instrument::Instrument;

/// Something that leads to something, or comes from it.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub enum Node {
    /// A habit that slipped in.
    Slip(SlipId),
    /// A checkpoint that is not there yet.
    Checkpoint(CheckpointId),
    /// Something that is heard or seen.
    Symptom(SymptomId),
}

impl Node {
    /// The checkpoint that it is.
    fn checkpoint(&self) -> Option<&CheckpointId> {
        match self {
            Self::Checkpoint(id) => Some(id),
            Self::Slip(_) | Self::Symptom(_) => None,
        }
    }
}

/// The graph on one instrument.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
struct OnInstrument {
    /// What leads straight to it.
    from: BTreeMap<Node, BTreeSet<Node>>,
    /// Everything that leads to it, however far away.
    origins: BTreeMap<Node, BTreeSet<Node>>,
    /// Checkpoints that lead to something.
    sources: BTreeSet<CheckpointId>,
}

/// What leads to what, for each instrument.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(try_from = "Vec<Edge>", into = "Vec<Edge>")]
pub struct CauseGraph {
    on: BTreeMap<Instrument, OnInstrument>,
}

/// Something that leads to something, on the instruments that know both.
type Edge = (Node, Node, BTreeSet<Instrument>);

impl TryFrom<Vec<Edge>> for CauseGraph {
    type Error = String;

    fn try_from(edges: Vec<Edge>) -> Result<Self, String> {
        Self::new(&edges).map_err(|circles| format!("edges {circles:?} close a circle"))
    }
}

impl From<CauseGraph> for Vec<Edge> {
    fn from(graph: CauseGraph) -> Self {
        let mut edges: BTreeMap<(Node, Node), BTreeSet<Instrument>> = BTreeMap::new();
        for (instrument, here) in graph.on {
            for (to, from) in here.from {
                for from in from {
                    edges.entry((from, to.clone())).or_default().insert(instrument);
                }
            }
        }
        edges.into_iter().map(|((from, to), instruments)| (from, to, instruments)).collect()
    }
}

impl CauseGraph {
    /// The graph of these edges, each with the instruments that know both its ends.
    ///
    /// # Errors
    /// The places in `edges` of those that close a circle.
    pub(crate) fn new(edges: &[Edge]) -> Result<Self, Vec<usize>> {
        let mut on: BTreeMap<Instrument, OnInstrument> = BTreeMap::new();
        for instrument in Instrument::ALL {
            let here = on.entry(instrument).or_default();
            for (from, to, _) in edges.iter().filter(|(.., known)| known.contains(&instrument)) {
                here.from.entry(to.clone()).or_default().insert(from.clone());
            }
        }
        let mut all = OnInstrument::default();
        for (from, to, _) in edges {
            all.from.entry(to.clone()).or_default().insert(from.clone());
        }
        let circles = edges.iter().enumerate().filter(|(_, (from, to, _))| from == to || all.leads(to, from));
        let circles: Vec<usize> = circles.map(|(index, _)| index).collect();
        if !circles.is_empty() {
            return Err(circles);
        }
        for here in on.values_mut() {
            here.sources = here.from.values().flatten().filter_map(Node::checkpoint).cloned().collect();
            here.origins = here.from.keys().map(|node| (node.clone(), here.origins_of(node))).collect();
        }
        Ok(Self { on })
    }

    /// Whether a checkpoint that is not there yet leads to something.
    #[must_use]
    pub fn is_source(&self, instrument: Instrument, checkpoint: &CheckpointId) -> bool {
        self.on.get(&instrument).is_some_and(|here| here.sources.contains(checkpoint))
    }

    /// What leads straight to `node`.
    pub fn straight_to(&self, instrument: Instrument, node: &Node) -> impl Iterator<Item = &Node> {
        self.on.get(&instrument).and_then(|here| here.from.get(node)).into_iter().flatten()
    }

    /// Everything that leads to `node`.
    pub fn origins(&self, instrument: Instrument, node: &Node) -> impl Iterator<Item = &Node> {
        self.on.get(&instrument).and_then(|here| here.origins.get(node)).into_iter().flatten()
    }

    /// Whether `from` leads to `to`, however far away.
    #[must_use]
    pub fn leads(&self, instrument: Instrument, from: &Node, to: &Node) -> bool {
        self.on.get(&instrument).and_then(|here| here.origins.get(to)).is_some_and(|origins| origins.contains(from))
    }

    /// Whether something leads to both.
    #[must_use]
    pub fn share_origin(&self, instrument: Instrument, one: &Node, other: &Node) -> bool {
        let Some(here) = self.on.get(&instrument) else { return false };
        match (here.origins.get(one), here.origins.get(other)) {
            (Some(one), Some(other)) => !one.is_disjoint(other),
            _ => false,
        }
    }
}

impl OnInstrument {
    fn origins_of(&self, node: &Node) -> BTreeSet<Node> {
        let mut open: Vec<&Node> = vec![node];
        let mut found = BTreeSet::new();
        while let Some(next) = open.pop() {
            for from in self.from.get(next).into_iter().flatten() {
                if found.insert(from.clone()) {
                    open.push(from);
                }
            }
        }
        found
    }

    fn leads(&self, from: &Node, to: &Node) -> bool {
        self.origins_of(to).contains(from)
    }
}
