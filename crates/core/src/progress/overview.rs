//! The class read as a whole: what holds it back, by section and strand, and small groups that share a cause.

use std::collections::{BTreeMap, BTreeSet};

use crate::ChildId;
use crate::craft::cause_graph::Node;
use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, Target};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::progress::ladder::StageState;
use crate::progress::next::{NextCheck, Order, Reason};
use crate::progress::next_list::node;
use crate::progress::pupil::Pupil;
use crate::progress::rhythm::PASSES;

/// A small group has so many children at least.
pub const MIN_GROUP: usize = 2;
/// A small group has so many children at most.
pub const MAX_GROUP: usize = 6;

/// A checkpoint that the class waits at.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Bottleneck {
    /// Which.
    pub checkpoint: CheckpointId,
    /// Children who were seen there below Prompted.
    pub below: Vec<ChildId>,
    /// Children nobody has looked at there yet.
    pub unseen: Vec<ChildId>,
}

impl Bottleneck {
    /// How many wait.
    #[must_use]
    pub fn waiting(&self) -> usize {
        self.below.len() + self.unseen.len()
    }
}

/// One section in one strand.
#[derive(Clone, Debug, PartialEq)]
pub struct Cell {
    /// The section.
    pub instrument: Instrument,
    /// The strand.
    pub strand: Strand,
    /// Children in the section.
    pub children: usize,
    /// The mean glow, 0 to 1.
    pub glow: f64,
    /// How many children work on each stage, by its number; 0 for those past the last.
    pub at_stage: BTreeMap<u32, usize>,
    /// The checkpoint of the strand at which most of the section wait.
    pub bottleneck: Option<Bottleneck>,
}

/// Children who share an open cause.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Group {
    /// What they share: a slip or a checkpoint.
    pub cause: Node,
    /// Two to six.
    pub children: Vec<ChildId>,
}

/// A child of the class.
pub type Member<'a> = (ChildId, Pupil<'a>);

/// The required checkpoints of open stages that children do not pass yet, most children first, then in the order of the
/// ladder.
#[must_use]
pub fn bottlenecks(members: &[Member<'_>], checklist: &Checklist) -> Vec<Bottleneck> {
    let mut found: BTreeMap<&CheckpointId, Bottleneck> = BTreeMap::new();
    for (child, pupil) in members {
        let open = pupil.ladder.stages.iter().filter(|view| view.state == StageState::Open);
        for checkpoint in open.flat_map(|view| pupil.asked(&view.stage)).filter(|checkpoint| checkpoint.required) {
            let standing = pupil.standings.get(&checkpoint.id);
            if standing.is_some_and(|standing| standing.level >= PASSES) {
                continue;
            }
            let bottleneck = found.entry(&checkpoint.id).or_insert_with(|| Bottleneck {
                checkpoint: checkpoint.id.clone(),
                below: Vec::new(),
                unseen: Vec::new(),
            });
            if standing.is_some() { bottleneck.below.push(*child) } else { bottleneck.unseen.push(*child) }
        }
    }
    let mut in_order: Vec<Bottleneck> =
        checklist.checkpoints().iter().filter_map(|checkpoint| found.remove(&checkpoint.id)).collect();
    in_order.sort_by_key(|bottleneck| std::cmp::Reverse(bottleneck.waiting()));
    in_order
}

/// Every section in every strand, sections without a child left out.
#[must_use]
pub fn cells(members: &[Member<'_>], checklist: &Checklist) -> Vec<Cell> {
    let mut cells = Vec::new();
    for instrument in Instrument::ALL {
        let section: Vec<Member<'_>> =
            members.iter().filter(|(_, pupil)| pupil.instrument == instrument).copied().collect();
        if section.is_empty() {
            continue;
        }
        let waiting = bottlenecks(&section, checklist);
        let count = u32::try_from(section.len()).unwrap_or(u32::MAX);
        for (index, strand) in Strand::ALL.into_iter().enumerate() {
            let glow: f64 = section.iter().map(|(_, pupil)| pupil.ladder.strands[index].glow).sum();
            let mut at_stage: BTreeMap<u32, usize> = BTreeMap::new();
            for (_, pupil) in &section {
                let stages = checklist.stages().iter().zip(&pupil.ladder.stages);
                let first = stages
                    .filter(|(stage, view)| {
                        stage.strand == strand && matches!(view.state, StageState::Open | StageState::Shut(_))
                    })
                    .map(|(stage, _)| stage.number)
                    .next();
                *at_stage.entry(first.unwrap_or(0)).or_default() += 1;
            }
            let of_strand = |bottleneck: &&Bottleneck| {
                checklist
                    .checkpoint(bottleneck.checkpoint.as_str())
                    .is_some_and(|checkpoint| checklist.strand_of(checkpoint) == strand)
            };
            let bottleneck = waiting.iter().find(of_strand).cloned();
            cells.push(Cell {
                instrument,
                strand,
                children: section.len(),
                glow: glow / f64::from(count),
                at_stage,
                bottleneck,
            });
        }
    }
    cells
}

/// Small groups: children who share the same open cause, each child in at most one. The cause that most children share
/// comes first; more than six are shared out evenly, sections kept together. `order` is that of the children's lists.
#[must_use]
pub fn groups(members: &[Member<'_>], order: Order) -> Vec<Group> {
    let mut sharing: BTreeMap<Node, BTreeSet<usize>> = BTreeMap::new();
    for (index, (_, pupil)) in members.iter().enumerate() {
        for cause in open_causes(pupil, order) {
            sharing.entry(cause).or_default().insert(index);
        }
    }
    let mut groups = Vec::new();
    let mut placed: BTreeSet<usize> = BTreeSet::new();
    loop {
        for children in sharing.values_mut() {
            children.retain(|index| !placed.contains(index));
        }
        // The first of the largest, so that the result is one.
        let largest = sharing.iter().rev().max_by_key(|(_, children)| children.len());
        let Some((cause, children)) = largest.filter(|(_, children)| children.len() >= MIN_GROUP) else {
            return groups;
        };
        let mut in_order: Vec<usize> = children.iter().copied().collect();
        in_order.sort_by_key(|index| (members[*index].1.instrument, *index));
        placed.extend(&in_order);
        let parts = in_order.len().div_ceil(MAX_GROUP);
        let (least, more) = (in_order.len() / parts, in_order.len() % parts);
        let mut rest = in_order.as_slice();
        for part in 0..parts {
            let (now, later) = rest.split_at(least + usize::from(part < more));
            let children = now.iter().map(|index| members[*index].0).collect();
            groups.push(Group { cause: cause.clone(), children });
            rest = later;
        }
    }
}

/// What a child could work on in a group, of its list: slips and what leads to them, and what was seen and does not pass yet or
/// does not rise.
fn open_causes(pupil: &Pupil<'_>, order: Order) -> BTreeSet<Node> {
    let struggles = |check: &NextCheck| match &check.target {
        Target::Checkpoint(id) => {
            let standing = pupil.standings.get(id);
            standing.is_some_and(|standing| standing.level < PASSES || standing.is_stuck())
        }
        Target::Stage(_) => false,
    };
    let counts = |check: &NextCheck| match &check.reason {
        Reason::Root(effects) => check.slip.is_some() || !effects.is_empty() || struggles(check),
        Reason::InWork { .. } => struggles(check),
        Reason::Hurts | Reason::Tapes(_) | Reason::Due(_) | Reason::Soon | Reason::MustSee => false,
    };
    let list = pupil.next(order).into_iter().filter(counts);
    list.filter_map(|check| node(&check.target, check.slip.as_ref())).collect()
}
