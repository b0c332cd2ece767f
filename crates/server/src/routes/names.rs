//! What stages and checkpoints are called, by the checklist.

use bright_row_core::craft::checklist::{Checklist, Need, Stage};

/// A checkpoint by its name; a stage by its strand and name. What the checklist no longer holds keeps its id.
pub(crate) fn target_name(checklist: &Checklist, id: &str) -> String {
    let checkpoint = checklist.checkpoint(id).map(|checkpoint| checkpoint.name.clone());
    checkpoint
        .or_else(|| checklist.stage(id).map(|stage| stage_name(checklist, stage)))
        .unwrap_or_else(|| id.to_owned())
}

fn stage_name(checklist: &Checklist, stage: &Stage) -> String {
    format!("{} {}, {}", checklist.strand_name(stage.strand), stage.number, stage.name)
}

pub(crate) fn need_name(checklist: &Checklist, need: &Need) -> String {
    match need {
        Need::Stage(id) => target_name(checklist, id.as_str()),
        Need::Checkpoint(id, _) => target_name(checklist, id.as_str()),
    }
}
