//! From the shared checklist to the one a class reads: its options fill the placeholders in the texts, its changes are laid over
//! them. A child with overrides has a checklist of its own.

use std::collections::BTreeMap;

use crate::craft::approach::{Approach, Choices, MARKERS, NO_MARKERS, filled};
use crate::craft::checklist::{AskedAgain, Checklist, Checkpoint, Need, Stage, Wording};
use crate::craft::edits::{Edits, OwnCheckpoint};
use crate::craft::id::{CheckpointId, StageId};
use crate::craft::instrument::Instrument;

/// The checklist as it ships: texts with placeholders in them, and what each stage waits for under each option.
#[derive(Clone, Debug, PartialEq)]
pub struct ChecklistTemplate {
    /// Stages, checkpoints and slips, their texts not filled yet.
    pub(crate) base: Checklist,
    /// What a stage waits for alternative, under a way.
    pub(crate) alternatives: Vec<AlternativeNeeds>,
}

/// What a stage waits for under an option, on the instruments of its choice.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct AlternativeNeeds {
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

impl ChecklistTemplate {
    /// The stages and checkpoints as they ship, with placeholders in their texts: for looking up ids and stages.
    #[must_use]
    pub fn shared(&self) -> &Checklist {
        &self.base
    }

    /// The checklist of somebody with these choices and changes.
    #[must_use]
    pub fn checklist(&self, approach: &Approach, choices: &Choices, edits: &Edits) -> Checklist {
        let chosen: BTreeMap<&str, _> =
            approach.choices.iter().map(|choice| (choice.key.as_str(), (choice, choice.chosen(choices)))).collect();
        let word = |key: &str, part: &str| chosen.get(key)?.1.words.get(part).cloned();
        let mut list = Checklist::empty();
        list.strand_names.clone_from(&self.base.strand_names);
        list.stages = self.base.stages.iter().map(|stage| self.stage(stage, &chosen)).collect();
        list.slips.clone_from(&self.base.slips);
        for slip in &mut list.slips {
            slip.help = filled(&slip.help, word);
        }
        list.bare = chosen.get(MARKERS).is_some_and(|(_, option)| option.id == NO_MARKERS);
        for (choice, option) in chosen.values() {
            for (id, words) in &option.slips {
                for slip in list.slips.iter_mut().filter(|slip| slip.id == *id) {
                    slip.name.clone_from(&words.name);
                    slip.look.clone_from(&words.look);
                    slip.help.clone_from(&words.help);
                }
            }
            list.asked_again.extend(option.asks_again_after.clone().map(|after| AskedAgain {
                checkpoints: option.asks_again.clone(),
                after,
                instruments: choice.instruments.clone(),
            }));
        }
        let left_out = |id: &CheckpointId, instrument: Instrument| {
            chosen
                .values()
                .any(|(choice, option)| option.leaves_out.contains(id) && choice.instruments.contains(&instrument))
        };
        for stage in &self.base.stages {
            for checkpoint in self.base.checkpoints_of(&stage.id) {
                let id = &checkpoint.id;
                let asked = !edits.off.contains(id);
                let texts = checkpoint.wording.iter().filter(|(on, _)| asked && !left_out(id, **on));
                let wording = texts.map(|(on, wording)| {
                    let mut wording = wording.filled(word);
                    for (_, option) in chosen.values().filter(|(choice, _)| choice.instruments.contains(on)) {
                        let words = option.rewords.get(id).and_then(|texts| texts.get(on));
                        wording = words.map_or(wording.clone(), |words| words.over(&wording).filled(word));
                    }
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
        chosen: &BTreeMap<&str, (&crate::craft::approach::Choice, &crate::craft::approach::ChoiceOption)>,
    ) -> Stage {
        let mut stage = stage.clone();
        for alternative in self.alternatives.iter().filter(|alternative| alternative.stage == stage.id) {
            let chosen = chosen.get(alternative.choice.as_str()).filter(|(_, option)| option.id == alternative.option);
            if let Some((choice, _)) = chosen {
                let on = choice.instruments.iter().map(|instrument| (*instrument, alternative.needs.clone()));
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
