//! The next checks of a child as its page and the round show them: what to do, and why.

use serde::Serialize;
use serde_with::skip_serializing_none;

use crate::craft::cause_graph::Node;
use crate::craft::checklist::Checklist;
use crate::craft::id::Target;
use crate::craft::strand::Strand;
use crate::progress::next::{InWork, NextCheck, Reason};
use crate::progress::page::ladders::Page;
use crate::progress::pupil::Pupil;
use crate::tapes::status::TapeTrouble;

/// What kind of check it is.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum NextKind {
    /// The child said that it hurts.
    Pain,
    /// The markers on the fingerboard.
    Tapes,
    /// Work on a checkpoint.
    Checkpoint,
    /// Look at a whole stage again.
    Stage,
}

/// Why a check comes now.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "why", rename_all = "camelCase")]
pub enum NextWhy {
    /// The child said that it hurts.
    Hurts,
    /// Until the markers are right, fingers cannot be judged.
    Tapes {
        /// What is the matter with them.
        trouble: TapeTrouble,
    },
    /// It is amiss and comes from nothing else that is.
    Root {
        /// The slip that was ticked there, by name; absent where the checkpoint is not there yet.
        slip: Option<String>,
        /// What it leads to, by name.
        slips: Vec<String>,
    },
    /// What stands there is due for a look.
    Due {
        /// So many meetings late.
        meetings: u32,
    },
    /// What stands there is due at the next meeting.
    Soon,
    /// It is in work.
    InWork {
        /// What its stage is called.
        stage: String,
        /// What waits for it.
        how: InWork,
        /// Whether anybody has looked at it.
        seen: bool,
    },
    /// Nothing is there to be done, but the child must be seen.
    MustSee,
    /// Neither in work nor due: somebody asked for it.
    ByHand,
}

impl NextWhy {
    /// Why a check comes, in the words of a checklist.
    #[must_use]
    pub fn new(check: &NextCheck, checklist: &Checklist) -> Self {
        match &check.reason {
            Reason::Hurts => Self::Hurts,
            Reason::Tapes(trouble) => Self::Tapes { trouble: *trouble },
            Reason::Root(slips) => Self::Root {
                slip: check.slip.as_ref().map(|slip| checklist.slip_name(slip)),
                slips: slips.iter().map(|slip| checklist.slip_name(slip)).collect(),
            },
            Reason::Due(meetings) => Self::Due { meetings: *meetings },
            Reason::Soon => Self::Soon,
            Reason::InWork { stage, how, seen } => {
                Self::InWork { stage: checklist.target_name(stage.as_str()), how: *how, seen: *seen }
            }
            Reason::MustSee => Self::MustSee,
        }
    }
}

/// One of the next checks.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct NextView {
    /// What kind.
    pub kind: NextKind,
    /// The checkpoint or stage.
    pub target: String,
    /// What it is called.
    pub name: String,
    /// The first help of a slip, or what is there when it is right; absent for what the kind says.
    pub help: Option<String>,
    /// What to say to the child, where there is something.
    pub cue: Option<String>,
    /// Why now.
    #[serde(flatten)]
    pub why: NextWhy,
    /// What to look at first: where it often comes from.
    pub often_from: Vec<String>,
    /// Looked at time and again without rising: try it another way.
    pub stuck: bool,
}

impl NextView {
    /// A check as the page words it.
    #[must_use]
    pub fn new(check: &NextCheck, pupil: &Pupil<'_>, page: &Page<'_>) -> Self {
        let kind = kind(check, page.checklist);
        let id = check.target.id();
        let (mut help, mut cue) = (None, None);
        if kind == NextKind::Checkpoint {
            let checkpoint = page.checklist.checkpoint(id);
            let slip = check.slip.as_ref().and_then(|slip| page.checklist.slip(slip.as_str()));
            let look_for = || checkpoint.and_then(|checkpoint| page.look_for(checkpoint));
            let wording = checkpoint.and_then(|checkpoint| checkpoint.wording.get(&page.instrument));
            help = slip.map(|slip| slip.help.clone()).or_else(look_for);
            cue = wording.map(|wording| wording.cue.clone());
        }
        Self {
            kind,
            target: id.to_owned(),
            name: page.checklist.target_name(id),
            help,
            cue,
            why: NextWhy::new(check, page.checklist),
            often_from: pupil.often_from(check).map(|node| node_name(node, page)).collect(),
            stuck: check.stuck,
        }
    }
}

fn kind(check: &NextCheck, checklist: &Checklist) -> NextKind {
    match &check.target {
        _ if check.reason == Reason::Hurts => NextKind::Pain,
        target if checklist.strand_of_target(target) == Some(Strand::Tape) => NextKind::Tapes,
        Target::Checkpoint(_) => NextKind::Checkpoint,
        Target::Stage(_) => NextKind::Stage,
    }
}

fn node_name(node: &Node, page: &Page<'_>) -> String {
    match node {
        Node::Slip(slip) => page.checklist.slip_name(slip),
        Node::Checkpoint(id) => page.checklist.target_name(id.as_str()),
        Node::Symptom(symptom) => symptom.0.clone(),
    }
}
