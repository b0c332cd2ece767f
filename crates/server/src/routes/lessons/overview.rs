//! The class read as a whole: what holds it back, by section and strand, and small groups that share a cause.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::ChildId;
use bright_row_core::craft::cause_graph::Node;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::progress::overview::{Bottleneck, Cell, Group, bottlenecks, cells, groups};
use bright_row_store::classes::groups as small_groups;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::auth::guard::InClass;
use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::state::App;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};
use bright_row_core::number::share;

/// How many checkpoints are named as holding the class back.
const MAX_BOTTLENECKS: usize = 6;

/// A child by name.
#[derive(Clone, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChildName {
    id: ChildId,
    name: String,
    instrument: Instrument,
}

impl ChildName {
    pub(crate) fn new(id: ChildId, name: String, instrument: Instrument) -> Self {
        Self { id, name, instrument }
    }
}

/// A checkpoint that children wait at.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BottleneckView {
    checkpoint: String,
    name: String,
    strand: Strand,
    stage_name: String,
    /// Seen there below Prompted.
    below: Vec<ChildName>,
    /// Nobody has looked yet.
    unseen: Vec<ChildName>,
}

/// A stage and how many work on it.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AtStage {
    /// Absent: past the last stage.
    number: Option<u32>,
    name: Option<String>,
    children: usize,
}

/// A section in one strand.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct CellView {
    strand: Strand,
    /// The mean glow, 0 to 1.
    glow: f64,
    /// Lowest stage first.
    at_stages: Vec<AtStage>,
    /// Where most of the section wait.
    bottleneck: Option<BottleneckView>,
}

/// A section.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SectionView {
    instrument: Instrument,
    children: usize,
    /// The four strands, in order.
    strands: Vec<CellView>,
}

/// Children who share a cause.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SmallGroup {
    /// What they share.
    name: String,
    /// The checkpoint it belongs to.
    checkpoint: String,
    checkpoint_name: String,
    /// The slip, if it is one.
    slip: Option<String>,
    /// What to do together: the first help, or what is looked for.
    help: String,
    children: Vec<ChildName>,
}

/// The class read as a whole.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ClassOverview {
    children: usize,
    /// Most children first.
    bottlenecks: Vec<BottleneckView>,
    sections: Vec<SectionView>,
    /// Whoever is in a small group already is not proposed for another.
    groups: Vec<SmallGroup>,
}

/// Reads the class as a whole: which checkpoint holds it back, by section and strand, and small groups.
#[utoipa::path(get, path = "/api/classes/{class}/overview", tag = "lessons",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = ClassOverview),
        ForMembers,
    ))]
pub async fn class_overview(State(app): State<App>, InClass(member): InClass) -> Result<Json<ClassOverview>, ApiError> {
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let read = snapshot.learners().await?;
    let causes = &app.content.causes;
    let members: Vec<_> = read.iter().map(|learner| (learner.child.id, learner.pupil(causes))).collect();
    let names = read.iter().map(|Learner { child, .. }| {
        let name = ChildName { id: child.id, name: child.name.clone(), instrument: child.playing.now };
        (child.id, name)
    });
    let words = Words { checklist: &snapshot.checklist, names: names.collect() };
    let waiting = bottlenecks(&members, &snapshot.checklist);
    let kept = small_groups::of_class(&app.db, member.class.key).await?;
    let taken: BTreeSet<ChildId> =
        kept.into_iter().filter(|group| group.ended_at.is_none()).flat_map(|group| group.children).collect();
    let free: Vec<_> = members.iter().filter(|(child, _)| !taken.contains(child)).copied().collect();
    Ok(Json(ClassOverview {
        children: members.len(),
        bottlenecks: waiting.iter().take(MAX_BOTTLENECKS).map(|bottleneck| words.bottleneck(bottleneck)).collect(),
        sections: words.sections(cells(&members, &snapshot.checklist)),
        groups: groups(&free, snapshot.order).iter().map(|group| words.group(group)).collect(),
    }))
}

struct Words<'a> {
    checklist: &'a Checklist,
    names: BTreeMap<ChildId, ChildName>,
}

impl Words<'_> {
    fn named(&self, children: &[ChildId]) -> Vec<ChildName> {
        children.iter().filter_map(|id| self.names.get(id).cloned()).collect()
    }

    fn bottleneck(&self, bottleneck: &Bottleneck) -> BottleneckView {
        let checkpoint =
            self.checklist.checkpoint(bottleneck.checkpoint.as_str()).expect("bottlenecks are of this checklist");
        BottleneckView {
            checkpoint: checkpoint.id.to_string(),
            name: checkpoint.name.clone(),
            strand: self.checklist.strand_of(checkpoint),
            stage_name: self.checklist.target_name(checkpoint.stage.as_str()),
            below: self.named(&bottleneck.below),
            unseen: self.named(&bottleneck.unseen),
        }
    }

    fn sections(&self, cells: Vec<Cell>) -> Vec<SectionView> {
        let mut sections: Vec<SectionView> = Vec::new();
        for cell in cells {
            let stage_name = |number: u32| {
                let stage = self.checklist.stages_of(cell.strand).find(|stage| stage.number == number);
                stage.map(|stage| stage.name.clone())
            };
            let stages = cell.at_stage.iter().filter(|(number, _)| **number > 0);
            let past = cell.at_stage.iter().filter(|(number, _)| **number == 0);
            let at_stages = stages.chain(past).map(|(number, children)| AtStage {
                number: Some(*number).filter(|number| *number > 0),
                name: stage_name(*number),
                children: *children,
            });
            let view = CellView {
                strand: cell.strand,
                glow: share(cell.glow),
                at_stages: at_stages.collect(),
                bottleneck: cell.bottleneck.as_ref().map(|bottleneck| self.bottleneck(bottleneck)),
            };
            match sections.last_mut().filter(|last| matches_instrument(last, &cell)) {
                Some(section) => section.strands.push(view),
                None => sections.push(SectionView {
                    instrument: cell.instrument,
                    children: cell.children,
                    strands: vec![view],
                }),
            }
        }
        sections
    }

    fn group(&self, group: &Group) -> SmallGroup {
        let children = self.named(&group.children);
        let (name, checkpoint, help) = match &group.cause {
            Node::Slip(id) => {
                let slip = self.checklist.slip(id.as_str()).expect("slips are of this checklist");
                (slip.name.clone(), slip.checkpoint.to_string(), slip.help.clone())
            }
            Node::Checkpoint(id) => {
                let checkpoint = self.checklist.checkpoint(id.as_str());
                let help = checkpoint.and_then(|c| c.wording.values().next()).map(|wording| wording.look_for.clone());
                (self.checklist.target_name(id.as_str()), id.to_string(), help.unwrap_or_default())
            }
            Node::Symptom(symptom) => (symptom.0.clone(), String::new(), String::new()),
        };
        let checkpoint_name = self.checklist.target_name(&checkpoint);
        let slip = match &group.cause {
            Node::Slip(id) => Some(id.to_string()),
            Node::Checkpoint(_) | Node::Symptom(_) => None,
        };
        SmallGroup { name, checkpoint, checkpoint_name, slip, help, children }
    }
}

fn matches_instrument(section: &SectionView, cell: &Cell) -> bool {
    section.instrument == cell.instrument
}
