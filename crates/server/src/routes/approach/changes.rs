//! What reads otherwise in one checklist than in another, as pages show it.

use std::collections::BTreeSet;

use bright_row_core::craft::checklist::{Checklist, Need};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::template::{Change, changes};
use serde::Serialize;
use utoipa::ToSchema;

/// One thing that reads otherwise.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChangeView {
    /// The checkpoint or stage.
    target: String,
    /// What it is called.
    name: String,
    /// On which instruments.
    instruments: Vec<Instrument>,
    /// Now.
    before: Asked,
    /// Then.
    after: Asked,
}

/// How a checkpoint is asked for, or what a stage waits for.
#[derive(Clone, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "kind", rename_all = "camelCase")]
pub enum Asked {
    /// Not asked for.
    Not,
    /// Asked for in these words.
    Words {
        /// Look-for, proof or cue.
        text: String,
    },
    /// The stage opens after these.
    #[serde(rename_all = "camelCase")]
    OpensAfter {
        /// What they are called; empty for a stage that is open from the first day.
        names: Vec<String>,
    },
}

impl Asked {
    fn words(text: String) -> Self {
        if text.is_empty() { Self::Not } else { Self::Words { text } }
    }
}

/// The changes from one checklist to another, instruments that share one in one line.
pub(crate) fn change_views(before: &Checklist, after: &Checklist) -> Vec<ChangeView> {
    let mut lines: Vec<(String, Asked, Asked, BTreeSet<Instrument>)> = Vec::new();
    for change in changes(before, after) {
        for (target, instrument, was, is) in lines_of(&change, before, after) {
            match lines.iter_mut().find(|(other, from, to, _)| (other, from, to) == (&target, &was, &is)) {
                Some((.., on)) => drop(on.insert(instrument)),
                None => lines.push((target, was, is, [instrument].into())),
            }
        }
    }
    let view = |(target, before, after_, on): (String, Asked, Asked, BTreeSet<Instrument>)| ChangeView {
        name: after.target_name(&target),
        target,
        instruments: on.into_iter().collect(),
        before,
        after: after_,
    };
    lines.into_iter().map(view).collect()
}

type Line = (String, Instrument, Asked, Asked);

fn lines_of(change: &Change, before: &Checklist, after: &Checklist) -> Vec<Line> {
    match change {
        Change::Asked { checkpoint, instrument, .. } => {
            let look_for = |checklist: &Checklist| {
                let found = checklist.checkpoint(checkpoint.as_str()).and_then(|c| c.wording.get(instrument));
                Asked::words(found.map(|wording| wording.look_for.clone()).unwrap_or_default())
            };
            vec![(checkpoint.to_string(), *instrument, look_for(before), look_for(after))]
        }
        Change::Worded { checkpoint, instrument, before, after } => {
            let texts = [(&before.look_for, &after.look_for), (&before.proof, &after.proof), (&before.cue, &after.cue)];
            let other = texts.into_iter().filter(|(was, is)| was != is);
            other
                .map(|(was, is)| {
                    let (was, is) = (Asked::words(was.clone()), Asked::words(is.clone()));
                    (checkpoint.to_string(), *instrument, was, is)
                })
                .collect()
        }
        Change::Waits { stage, instrument, after: needs } => {
            let waits = |checklist: &Checklist, needs: &[Need]| Asked::OpensAfter {
                names: needs.iter().map(|need| checklist.need_name(need)).collect(),
            };
            let was = before.stage(stage.as_str()).map_or(&[][..], |stage| stage.needs(*instrument));
            vec![(stage.to_string(), *instrument, waits(before, was), waits(after, needs))]
        }
    }
}
