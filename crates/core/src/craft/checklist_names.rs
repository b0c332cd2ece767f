//! What stages, checkpoints and slips are called, by the checklist.

use crate::craft::checklist::{Checklist, Need};
use crate::craft::id::SlipId;

impl Checklist {
    /// What a target is called: a checkpoint by its name, a stage by its strand, number and name. What the checklist no longer
    /// holds keeps its id.
    #[must_use]
    pub fn target_name(&self, id: &str) -> String {
        let checkpoint = self.checkpoint(id).map(|checkpoint| checkpoint.name.clone());
        let stage = || {
            let stage = self.stage(id)?;
            Some(format!("{} {}, {}", self.strand_name(stage.strand), stage.number, stage.name))
        };
        checkpoint.or_else(stage).unwrap_or_else(|| id.to_owned())
    }

    /// What a stage waits for, by its name.
    #[must_use]
    pub fn need_name(&self, need: &Need) -> String {
        match need {
            Need::Stage(id) => self.target_name(id.as_str()),
            Need::Checkpoint(id, _) => self.target_name(id.as_str()),
        }
    }

    /// What a slip is called; one that the checklist no longer holds keeps its id.
    #[must_use]
    pub fn slip_name(&self, id: &SlipId) -> String {
        self.slip(id.as_str()).map_or_else(|| id.to_string(), |slip| slip.name.clone())
    }
}
