//! The next items of a child in words: what to do, and why.

use crate::routes::names::target_name;
use crate::routes::names::{listed, lower};
use bright_row_core::craft::cause_graph::Node;
use bright_row_core::craft::id::SlipId;
use bright_row_core::progress::next::{NextItem, Reason, WorkItem};
use bright_row_core::tapes::status::TapeTrouble;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::routes::child::page::Page;

/// What kind of item it is.
#[derive(Serialize, ToSchema)]
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

/// One of the next items, worded as what to do.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct NextView {
    kind: NextKind,
    /// The checkpoint or stage; absent for the tapes.
    target: Option<String>,
    /// What it is called.
    name: String,
    /// What to do.
    what: String,
    /// What to say to the child, where there is something.
    cue: Option<String>,
    /// Why it comes now.
    why: String,
    /// What to look at first: where it often comes from.
    often_from: Vec<String>,
}

impl NextView {
    pub(crate) fn new(item: &NextItem, page: &Page<'_>) -> Self {
        let why = why(&item.reason, page);
        let often_from: Vec<String> = item.often_from.iter().map(|node| node_name(node, page)).collect();
        let of = |kind, target: &str, what: String, cue| Self {
            kind,
            target: Some(target.to_owned()),
            name: target_name(page.checklist, target),
            what,
            cue,
            why: why.clone(),
            often_from: often_from.clone(),
        };
        match &item.work {
            WorkItem::Pain(target) => {
                let what = "Stop here, ask where it hurts, and write down what was done.";
                of(NextKind::Pain, target.id(), what.to_owned(), None)
            }
            WorkItem::Tapes(trouble) => Self {
                kind: NextKind::Tapes,
                target: None,
                name: "Tapes".to_owned(),
                what: put_right(*trouble).to_owned(),
                cue: None,
                why: why.clone(),
                often_from: Vec::new(),
            },
            WorkItem::Stage(id) => of(NextKind::Stage, id.as_str(), "Look at the whole stage again.".to_owned(), None),
            WorkItem::Checkpoint(id, slip) => {
                let checkpoint = page.checklist.checkpoint(id.as_str());
                let help =
                    slip.as_ref().and_then(|slip| page.checklist.slip(slip.as_str())).map(|slip| slip.help.clone());
                let look_for = checkpoint.and_then(|checkpoint| page.look_for(checkpoint));
                let cue = checkpoint.and_then(|checkpoint| checkpoint.wording.get(&page.instrument));
                let what = help.or(look_for).unwrap_or_default();
                of(NextKind::Checkpoint, id.as_str(), what, cue.map(|wording| wording.cue.clone()))
            }
        }
    }
}

fn put_right(trouble: TapeTrouble) -> &'static str {
    match trouble {
        TapeTrouble::Drifted => "Prove each marker by ear, then lay it again where it belongs.",
        TapeTrouble::LooseOrMissing => "Lay the markers again that came off.",
        TapeTrouble::WrongInstrument => "Measure this instrument, then lay its own markers.",
    }
}

fn why(reason: &Reason, page: &Page<'_>) -> String {
    match reason {
        Reason::Hurts => "The child said that it hurts.".to_owned(),
        Reason::TapeTrouble => "Until the markers are right, fingers cannot be judged.".to_owned(),
        Reason::LeadsTo(slips) => {
            let names: Vec<String> = slips.iter().map(|slip| lower(&slip_name(slip, page))).collect();
            format!("Comes first: it leads to {}.", listed(&names))
        }
        Reason::Next(stage) => format!("Next in {}.", target_name(page.checklist, stage.as_str())),
        Reason::Overdue(1) => "Was due one meeting ago.".to_owned(),
        Reason::Overdue(meetings) => format!("Was due {meetings} meetings ago."),
        Reason::Slipped => "Ticked at the last look.".to_owned(),
    }
}

fn slip_name(slip: &SlipId, page: &Page<'_>) -> String {
    page.checklist.slip(slip.as_str()).map_or_else(|| slip.to_string(), |slip| slip.name.clone())
}

fn node_name(node: &Node, page: &Page<'_>) -> String {
    match node {
        Node::Slip(slip) => slip_name(slip, page),
        Node::Checkpoint(id) => target_name(page.checklist, id.as_str()),
        Node::Symptom(symptom) => symptom.0.clone(),
    }
}
