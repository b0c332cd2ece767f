//! What a class changed on the shared checklist: switched off, worded otherwise, added. Ids never change and nothing is
//! forgotten, so that every observation keeps its name.

use std::collections::{BTreeMap, BTreeSet};

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use crate::craft::checklist::{Checklist, Wording};
use crate::craft::drills::Drill;
use crate::craft::family_wording::FamilyWording;
use crate::craft::id::{CheckpointId, StageId};
use crate::craft::instrument::Instrument;
use crate::craft::limits::{MAX_CUE_LENGTH, MAX_LOOK_FOR_LENGTH, MAX_NAME_LENGTH, MAX_PROOF_LENGTH};
use crate::craft::strand::Strand;
use crate::figure::FigureSpec;

/// The word part of an own checkpoint's id begins with this, so that it never meets one of a later release.
pub const OWN_PREFIX: &str = "own-";
/// The longest look at an own checkpoint, in seconds.
pub const MAX_CHECK_SECONDS: u32 = 120;
/// Own checkpoints of a class, at most.
pub const MAX_OWN_CHECKPOINTS: usize = 40;

/// The changes of a class.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase", default, deny_unknown_fields)]
pub struct Edits {
    /// Switched off.
    pub off: BTreeSet<CheckpointId>,
    /// Worded otherwise.
    pub reworded: BTreeMap<CheckpointId, BTreeMap<Instrument, Rewording>>,
    /// Added.
    pub own: BTreeMap<CheckpointId, OwnCheckpoint>,
    /// Drills that are switched off.
    #[serde(skip_serializing_if = "BTreeSet::is_empty")]
    pub drills_off: BTreeSet<String>,
    /// Drills of the class's own, and those that stand in the place of a shared one of the same id.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub drills: BTreeMap<String, Drill>,
    /// What every card says, in the languages of families too.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub phrases: FamilyWording,
    /// The days on which options of choices turn into others, by choice; days of this class's calendar, no part of its file.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub turns_on: BTreeMap<String, NaiveDate>,
}

/// Texts that stand in the place of the shared ones; what is absent stays.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase", default, deny_unknown_fields)]
pub struct Rewording {
    /// At most 90 characters.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub look_for: Option<String>,
    /// At most 90 characters.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub proof: Option<String>,
    /// At most 40 characters.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cue: Option<String>,
}

/// A checkpoint of the class's own.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct OwnCheckpoint {
    /// The stage it belongs to.
    pub stage: StageId,
    /// A short name.
    pub name: String,
    /// Seconds one look takes.
    pub seconds: u32,
    /// Whether the stage waits for it.
    #[serde(default)]
    pub required: bool,
    /// Whether it can be seen from two rows away.
    #[serde(default)]
    pub far: bool,
    /// Whether the child has to play.
    #[serde(default)]
    pub play: bool,
    /// For each instrument it is for.
    pub wording: BTreeMap<Instrument, Wording>,
    /// How it is drawn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub figure: Option<FigureSpec>,
}

/// Something in the changes that cannot be.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct EditFault {
    /// Which checkpoint.
    pub checkpoint: CheckpointId,
    /// Which of its texts or fields: `name`, `lookFor` ...
    pub field: &'static str,
    /// What is wrong and what to do.
    pub message: String,
}

impl Rewording {
    /// Whether it changes nothing.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self == &Self::default()
    }

    /// A wording with these texts in the place of its own.
    #[must_use]
    pub fn over(&self, wording: &Wording) -> Wording {
        let pick = |own: &Option<String>, shared: &String| own.clone().unwrap_or_else(|| shared.clone());
        Wording {
            look_for: pick(&self.look_for, &wording.look_for),
            proof: pick(&self.proof, &wording.proof),
            cue: pick(&self.cue, &wording.cue),
        }
    }
}

impl Edits {
    /// A new id for an own checkpoint of this name in a stage: letters of the name, and letters more where it is taken.
    #[must_use]
    pub fn new_id(&self, checklist: &Checklist, stage: &StageId, name: &str) -> CheckpointId {
        let strand = checklist.stage(stage.as_str()).map_or(Strand::Hold, |stage| stage.strand);
        let letters = name.chars().map(|c| if c.is_ascii_alphabetic() { c.to_ascii_lowercase() } else { '-' });
        let parts: Vec<String> =
            letters.collect::<String>().split('-').filter(|part| !part.is_empty()).map(str::to_owned).collect();
        let word = if parts.is_empty() { "look".to_owned() } else { parts.join("-") };
        let base = format!("{}.{OWN_PREFIX}{word}", strand.key());
        let more = (b'b'..=b'z').map(|letter| format!("{base}-{}", char::from(letter)));
        let free = |id: &String| !self.own.contains_key(id.as_str()) && checklist.checkpoint(id).is_none();
        let id = std::iter::once(base.clone()).chain(more).find(free);
        CheckpointId::new(id.unwrap_or_else(|| format!("{base}-{}", "z".repeat(self.own.len() + 1))))
    }

    /// Everything that cannot be, against the shared checklist.
    #[must_use]
    pub fn faults(&self, shared: &Checklist) -> Vec<EditFault> {
        let mut faults = Vec::new();
        let known = |id: &CheckpointId| shared.checkpoint(id.as_str()).is_some() || self.own.contains_key(id);
        for id in self.off.iter().filter(|id| !known(id)) {
            faults.push(fault(id, "off", format!("`{id}` is not on the checklist, so it cannot be switched off")));
        }
        for (id, texts) in &self.reworded {
            let Some(checkpoint) = shared.checkpoint(id.as_str()) else {
                faults.push(fault(id, "reworded", format!("`{id}` is not on the checklist, so it cannot be reworded")));
                continue;
            };
            for (instrument, rewording) in texts {
                if !checkpoint.wording.contains_key(instrument) {
                    let message = format!("`{id}` is not for the {}", instrument.name());
                    faults.push(fault(id, "reworded", message));
                }
                let texts = [
                    (&rewording.look_for, "lookFor", MAX_LOOK_FOR_LENGTH),
                    (&rewording.proof, "proof", MAX_PROOF_LENGTH),
                    (&rewording.cue, "cue", MAX_CUE_LENGTH),
                ];
                for (text, field, most) in texts {
                    faults.extend(text.as_ref().and_then(|text| too_long(id, field, text, most)));
                }
            }
        }
        if self.own.len() > MAX_OWN_CHECKPOINTS {
            let id = self.own.keys().next_back().expect("not empty");
            faults.push(fault(id, "name", format!("a class adds {MAX_OWN_CHECKPOINTS} checkpoints at most")));
        }
        for (id, own) in &self.own {
            own.faults(id, shared, &mut faults);
        }
        faults
    }
}

impl OwnCheckpoint {
    fn faults(&self, id: &CheckpointId, shared: &Checklist, faults: &mut Vec<EditFault>) {
        let word = id.as_str().split_once('.').map_or("", |(_, word)| word);
        let spelled = word.strip_prefix(OWN_PREFIX).is_some_and(|rest| !rest.is_empty());
        match shared.stage(self.stage.as_str()) {
            None => faults.push(fault(id, "stage", format!("there is no stage `{}`", self.stage))),
            Some(stage) if stage.strand == Strand::Tape => {
                faults.push(fault(
                    id,
                    "stage",
                    "tapes follow from the instrument; put it into another strand".to_owned(),
                ));
            }
            Some(stage) if !spelled || !id.as_str().starts_with(&format!("{}.", stage.strand.key())) => {
                faults.push(fault(id, "id", format!("the id begins with `{}.{OWN_PREFIX}`", stage.strand.key())));
            }
            Some(_) => {}
        }
        if !word.chars().all(|c| c.is_ascii_lowercase() || c == '-') {
            faults.push(fault(id, "id", "an id is made of small letters and hyphens".to_owned()));
        }
        faults.extend(too_long(id, "name", &self.name, MAX_NAME_LENGTH));
        if !(1..=MAX_CHECK_SECONDS).contains(&self.seconds) {
            faults.push(fault(id, "seconds", format!("a look takes 1 to {MAX_CHECK_SECONDS} seconds")));
        }
        if self.wording.is_empty() {
            faults.push(fault(id, "wording", "choose at least one instrument".to_owned()));
        }
        if let Some(figure) = &self.figure {
            let each = self.wording.keys().flat_map(|instrument| figure.faults(*instrument));
            faults.extend(each.map(|one| fault(id, "figure", one.message)));
        }
        for wording in self.wording.values() {
            faults.extend(too_long(id, "lookFor", &wording.look_for, MAX_LOOK_FOR_LENGTH));
            faults.extend(too_long(id, "cue", &wording.cue, MAX_CUE_LENGTH));
            let proof = wording.proof.chars().count();
            if proof > MAX_PROOF_LENGTH {
                faults.push(fault(
                    id,
                    "proof",
                    format!("the proof has {proof} characters; {MAX_PROOF_LENGTH} is the most"),
                ));
            }
        }
    }
}

fn fault(id: &CheckpointId, field: &'static str, message: String) -> EditFault {
    EditFault { checkpoint: id.clone(), field, message }
}

fn too_long(id: &CheckpointId, field: &'static str, text: &str, most: usize) -> Option<EditFault> {
    let long = text.chars().count();
    if text.trim().is_empty() {
        Some(fault(id, field, "write something, or leave the shared text as it is".to_owned()))
    } else if long > most {
        Some(fault(id, field, format!("{long} characters; {most} is the most that reads at arm's length")))
    } else if text.contains(['{', '}']) || text.chars().any(char::is_control) {
        Some(fault(id, field, "plain text in one line, without braces".to_owned()))
    } else {
        None
    }
}
