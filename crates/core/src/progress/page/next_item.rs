//! The next items of a child as its page shows them: what to do, and why.

use serde::Serialize;
use serde_with::skip_serializing_none;

use crate::craft::cause_graph::Node;
use crate::progress::next::{NextItem, Reason, WorkItem};
use crate::progress::page::ladders::Page;
use crate::tapes::status::TapeTrouble;

/// What kind of item it is.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum NextKind {
    /// The child said that it hurts.
    Pain,
    /// The markers on the fingerboard come first.
    Tapes,
    /// Work on a checkpoint.
    Checkpoint,
    /// Look at a whole stage again.
    Stage,
}

/// Why an item comes now.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "why", rename_all = "camelCase")]
pub enum NextWhy {
    /// The child said that it hurts.
    Hurts,
    /// Until the markers are right, fingers cannot be judged.
    TapeTrouble,
    /// It leads to slips that were ticked as well.
    LeadsTo {
        /// What they are called.
        slips: Vec<String>,
    },
    /// It is next in an open stage.
    NextIn {
        /// What the stage is called.
        stage: String,
    },
    /// It should have been looked at.
    Overdue {
        /// So many meetings ago.
        meetings: u32,
    },
    /// It was ticked at the last look.
    Slipped,
}

/// One of the next items.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct NextView {
    /// What kind.
    pub kind: NextKind,
    /// The checkpoint or stage; absent for the tapes.
    pub target: Option<String>,
    /// What it is called; absent for the tapes.
    pub name: Option<String>,
    /// What is the matter with the tapes.
    pub trouble: Option<TapeTrouble>,
    /// The first help of a slip, or what is there when it is right; absent for what the kind says.
    pub help: Option<String>,
    /// What to say to the child, where there is something.
    pub cue: Option<String>,
    /// Why now.
    #[serde(flatten)]
    pub why: NextWhy,
    /// What to look at first: where it often comes from.
    pub often_from: Vec<String>,
}

impl NextView {
    /// An item as the page words it.
    #[must_use]
    pub fn new(item: &NextItem, page: &Page<'_>) -> Self {
        let of = |kind, target: Option<&str>| Self {
            kind,
            target: target.map(str::to_owned),
            name: target.map(|id| page.checklist.target_name(id)),
            trouble: None,
            help: None,
            cue: None,
            why: why(item, page),
            often_from: item.often_from.iter().map(|node| node_name(node, page)).collect(),
        };
        match &item.work {
            WorkItem::Pain(target) => of(NextKind::Pain, Some(target.id())),
            WorkItem::Tapes(trouble) => Self { trouble: Some(*trouble), ..of(NextKind::Tapes, None) },
            WorkItem::Stage(id) => of(NextKind::Stage, Some(id.as_str())),
            WorkItem::Checkpoint(id, slip) => {
                let checkpoint = page.checklist.checkpoint(id.as_str());
                let slip = slip.as_ref().and_then(|slip| page.checklist.slip(slip.as_str()));
                let look_for = || checkpoint.and_then(|checkpoint| page.look_for(checkpoint));
                let wording = checkpoint.and_then(|checkpoint| checkpoint.wording.get(&page.instrument));
                Self {
                    help: slip.map(|slip| slip.help.clone()).or_else(look_for),
                    cue: wording.map(|wording| wording.cue.clone()),
                    ..of(NextKind::Checkpoint, Some(id.as_str()))
                }
            }
        }
    }
}

fn why(item: &NextItem, page: &Page<'_>) -> NextWhy {
    match &item.reason {
        Reason::Hurts => NextWhy::Hurts,
        Reason::TapeTrouble => NextWhy::TapeTrouble,
        Reason::LeadsTo(slips) => {
            NextWhy::LeadsTo { slips: slips.iter().map(|slip| page.checklist.slip_name(slip)).collect() }
        }
        Reason::Next(stage) => NextWhy::NextIn { stage: page.checklist.target_name(stage.as_str()) },
        Reason::Overdue(meetings) => NextWhy::Overdue { meetings: *meetings },
        Reason::Slipped => NextWhy::Slipped,
    }
}

fn node_name(node: &Node, page: &Page<'_>) -> String {
    match node {
        Node::Slip(slip) => page.checklist.slip_name(slip),
        Node::Checkpoint(id) => page.checklist.target_name(id.as_str()),
        Node::Symptom(symptom) => symptom.0.clone(),
    }
}
