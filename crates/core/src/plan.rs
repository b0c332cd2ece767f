//! From the shared checklist to the one a class reads: its ways fill the places in the texts, its changes are laid over
//! them. A child's own way makes a checklist of the child's own.

use std::collections::BTreeMap;

use crate::approach::{Approach, Choices, MARKS, NO_MARKS, filled};
use crate::checklist::{AskedAgain, Checklist, Checkpoint, CheckpointId, Need, Stage, StageId, Wording};
use crate::edits::{Edits, OwnCheckpoint};
use crate::instrument::Instrument;

/// The checklist as it ships: texts with places in them, and what each stage waits for under each way.
#[derive(Clone, Debug, PartialEq)]
pub struct Plan {
    /// Stages, checkpoints and slips, their texts not filled yet.
    pub(crate) base: Checklist,
    /// What a stage waits for instead, under a way.
    pub(crate) insteads: Vec<Instead>,
}

/// What a stage waits for under a way, on the instruments of its choice.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct Instead {
    pub(crate) stage: StageId,
    pub(crate) choice: String,
    pub(crate) option: String,
    pub(crate) needs: Vec<Need>,
}

/// One text or stage that a change of the approach changes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Change {
    /// A checkpoint is asked for from now on, or no longer.
    Asked {
        /// Which.
        checkpoint: CheckpointId,
        /// On which instrument.
        instrument: Instrument,
        /// Whether it is asked for.
        asked: bool,
    },
    /// A checkpoint reads otherwise.
    Worded {
        /// Which.
        checkpoint: CheckpointId,
        /// On which instrument.
        instrument: Instrument,
        /// How it read.
        before: Wording,
        /// How it reads.
        after: Wording,
    },
    /// A stage waits for something else.
    Waits {
        /// Which.
        stage: StageId,
        /// On which instrument.
        instrument: Instrument,
        /// What it waits for from now on.
        after: Vec<Need>,
    },
}

impl Plan {
    /// The stages and checkpoints as they ship, with places in their texts: for looking up ids and stages.
    #[must_use]
    pub fn shared(&self) -> &Checklist {
        &self.base
    }

    /// The checklist of somebody with these choices and changes.
    #[must_use]
    pub fn checklist(&self, approach: &Approach, choices: &Choices, edits: &Edits) -> Checklist {
        let taken: BTreeMap<&str, _> =
            approach.choices.iter().map(|choice| (choice.key.as_str(), (choice, choice.taken(choices)))).collect();
        let word = |key: &str, part: &str| taken.get(key)?.1.words.get(part).cloned();
        let mut list = Checklist::empty();
        list.strand_names.clone_from(&self.base.strand_names);
        list.stages = self.base.stages.iter().map(|stage| self.stage(stage, &taken)).collect();
        list.slips.clone_from(&self.base.slips);
        list.bare = taken.get(MARKS).is_some_and(|(_, option)| option.id == NO_MARKS);
        for (choice, option) in taken.values() {
            for (id, (name, look)) in &option.slips {
                for slip in list.slips.iter_mut().filter(|slip| slip.id == *id) {
                    slip.name.clone_from(name);
                    slip.look.clone_from(look);
                }
            }
            list.asked_again.extend(option.asks_again_after.clone().map(|after| AskedAgain {
                checkpoints: option.asks_again.clone(),
                after,
                instruments: choice.instruments.clone(),
            }));
        }
        let left_out = |id: &CheckpointId, instrument: Instrument| {
            taken
                .values()
                .any(|(choice, option)| option.leaves_out.contains(id) && choice.instruments.contains(&instrument))
        };
        for stage in &self.base.stages {
            for checkpoint in self.base.checkpoints_of(&stage.id) {
                let id = &checkpoint.id;
                let asked = !edits.off.contains(id);
                let texts = checkpoint.wording.iter().filter(|(on, _)| asked && !left_out(id, **on));
                let wording = texts.map(|(on, wording)| {
                    let wording = wording.filled(word);
                    let own = edits.reworded.get(id).and_then(|texts| texts.get(on));
                    (*on, own.map_or(wording.clone(), |own| own.over(&wording)))
                });
                let wording = wording.collect();
                list.push(Checkpoint { wording, ..checkpoint.unworded() });
            }
            for (id, own) in edits.own.iter().filter(|(_, own)| own.stage == stage.id) {
                list.push(own.checkpoint(id, !edits.off.contains(id)));
            }
        }
        list
    }

    fn stage(
        &self,
        stage: &Stage,
        taken: &BTreeMap<&str, (&crate::approach::Choice, &crate::approach::ChoiceOption)>,
    ) -> Stage {
        let mut stage = stage.clone();
        for instead in self.insteads.iter().filter(|instead| instead.stage == stage.id) {
            let chosen = taken.get(instead.choice.as_str()).filter(|(_, option)| option.id == instead.option);
            if let Some((choice, _)) = chosen {
                let on = choice.instruments.iter().map(|instrument| (*instrument, instead.needs.clone()));
                stage.needs_on.extend(on);
            }
        }
        stage
    }
}

impl Wording {
    fn filled(&self, word: impl Fn(&str, &str) -> Option<String>) -> Self {
        Self {
            look_for: filled(&self.look_for, &word),
            proof: filled(&self.proof, &word),
            cue: filled(&self.cue, &word),
        }
    }
}

impl Checkpoint {
    /// The checkpoint without its texts.
    fn unworded(&self) -> Self {
        Self {
            id: self.id.clone(),
            stage: self.stage.clone(),
            name: self.name.clone(),
            seconds: self.seconds,
            required: self.required,
            far: self.far,
            play: self.play,
            wording: BTreeMap::new(),
        }
    }
}

impl OwnCheckpoint {
    fn checkpoint(&self, id: &CheckpointId, asked: bool) -> Checkpoint {
        Checkpoint {
            id: id.clone(),
            stage: self.stage.clone(),
            name: self.name.clone(),
            seconds: self.seconds,
            required: self.required,
            far: self.far,
            play: self.play,
            wording: if asked { self.wording.clone() } else { BTreeMap::new() },
        }
    }
}

/// What reads or waits otherwise in `after`, in the order of the ladder.
#[must_use]
pub fn changes(before: &Checklist, after: &Checklist) -> Vec<Change> {
    let mut changes = Vec::new();
    for (was, is) in before.stages().iter().zip(after.stages()) {
        for instrument in Instrument::ALL.into_iter().filter(|on| was.needs(*on) != is.needs(*on)) {
            let after = is.needs(instrument).to_vec();
            changes.push(Change::Waits { stage: is.id.clone(), instrument, after });
        }
        for checkpoint in after.checkpoints_of(&is.id) {
            let Some(earlier) = before.checkpoint(checkpoint.id.as_str()) else { continue };
            for instrument in Instrument::ALL {
                let id = checkpoint.id.clone();
                match (earlier.wording.get(&instrument), checkpoint.wording.get(&instrument)) {
                    (Some(before), Some(after)) if before != after => changes.push(Change::Worded {
                        checkpoint: id,
                        instrument,
                        before: before.clone(),
                        after: after.clone(),
                    }),
                    (was, is) if was.is_some() != is.is_some() => {
                        changes.push(Change::Asked { checkpoint: id, instrument, asked: is.is_some() });
                    }
                    _ => {}
                }
            }
        }
    }
    changes
}
