//! Drills for the whole class: steps with beats and rests, and what differs between the instruments.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use crate::craft::approach::{Approach, Choices, filled};
use crate::craft::checklist::Checklist;
use crate::craft::edits::OWN_PREFIX;
use crate::craft::id::StageId;
use crate::craft::instrument::Instrument;
use crate::craft::limits::{MAX_CUE_LENGTH, MAX_LOOK_FOR_LENGTH, MAX_NAME_LENGTH};
use crate::craft::strand::Strand;
use crate::worded::worded;

/// The slowest click, in beats a minute.
pub const MIN_TEMPO: u32 = 40;
/// The fastest click, in beats a minute.
pub const MAX_TEMPO: u32 = 120;
/// The most beats of a step.
pub const MAX_STEP_BEATS: u32 = 32;
/// The most repeats of a step.
pub const MAX_REPEATS: u32 = 20;
/// The most rounds of a drill.
pub const MAX_ROUNDS: u32 = 8;
/// The most steps of a drill.
pub const MAX_STEPS: usize = 16;
/// The longest rhythm word, in characters.
pub const MAX_RHYTHM_WORD_LENGTH: usize = 20;

worded! {
    /// How hard a drill is played. A drill that has none of these is always the same.
    DrillLevel {
        /// With rests in the music: the next finger goes down or up in the rest.
        Rests = "rests",
        /// Without the rests.
        Joined = "joined",
        /// With the bow.
        Bowed = "bowed",
    }
}

/// One thing that everybody does at once.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct DrillStep {
    /// Beats it takes, 1 to 32.
    pub beats: u32,
    /// How often it is done before the next one, 1 to 20.
    #[serde(default = "once")]
    pub repeats: u32,
    /// Somebody holds up or presses meanwhile.
    #[serde(default)]
    pub load: bool,
    /// A rest in the music: `text` says what the finger does in it. Played at the level with rests only, unless `only` says
    /// otherwise.
    #[serde(default)]
    pub quiet: bool,
    /// The levels at which it is played; all of the drill's where this is empty.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub only: BTreeSet<DrillLevel>,
    /// Words that are spoken, one a beat, again from the first; a hyphen parts syllables that share the beat.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub say: Vec<String>,
    /// What to do, on each instrument of the drill; at most 90 characters each.
    pub text: BTreeMap<Instrument, String>,
}

const fn once() -> u32 {
    1
}

/// An option that a class has to have chosen.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct OptionNeeded {
    /// `contrast`.
    pub choice: String,
    /// `both`.
    pub option: String,
}

/// Something that the whole class does together.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct Drill {
    /// `pluck-across`; of a class's own `own-…`.
    pub id: String,
    /// What it is called, at most 28 characters.
    pub name: String,
    /// What it is for.
    pub strand: Strand,
    /// Whom it is for.
    #[serde(rename = "on")]
    pub instruments: BTreeSet<Instrument>,
    /// The stage that has to be passed before; none: from the first day.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub after: Option<StageId>,
    /// Only in classes with this option; none: in all.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub with: Option<OptionNeeded>,
    /// Comes before others of its stage in classes with this option.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub prefer: Option<OptionNeeded>,
    /// As the child would say it, at most 40 characters.
    pub aim: String,
    /// Beats a minute to begin with, 40 to 120.
    pub tempo: u32,
    /// How often the whole is done, 1 to 8; arms rest in between where it loads.
    pub rounds: u32,
    /// The easiest first; empty where it is always the same.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub levels: Vec<DrillLevel>,
    /// In order, 1 to 16.
    pub steps: Vec<DrillStep>,
}

/// What differs on an instrument, at a glance.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Glance {
    /// Where the thumb is.
    pub thumb: String,
    /// How the fingers are spaced.
    pub spacing: String,
}

/// Everything that lessons are made from.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Lessons {
    /// In the order in which they come.
    pub drills: Vec<Drill>,
    /// What differs, by instrument.
    pub glances: BTreeMap<Instrument, Glance>,
}

/// Something in a drill that cannot be.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DrillFault {
    /// The step, from 0; `None` where it is the drill itself.
    pub step: Option<usize>,
    /// Which of its texts or fields: `name`, `beats` ...
    pub field: &'static str,
    /// What is wrong and what to do.
    pub message: String,
}

impl Drill {
    /// Whether somebody holds up or presses in it.
    #[must_use]
    pub fn loads(&self) -> bool {
        self.steps.iter().any(|step| step.load)
    }

    /// Whether a class added it.
    #[must_use]
    pub fn is_own(&self) -> bool {
        self.id.starts_with(OWN_PREFIX)
    }

    /// Everything of it that cannot be, against the shared checklist. Texts are measured as they stand here: in those that
    /// ship, placeholders are filled later.
    #[must_use]
    pub fn faults(&self, shared: &Checklist) -> Vec<DrillFault> {
        let mut faults = Vec::new();
        let mut fault = |wrong: bool, field: &'static str, message: String| {
            if wrong {
                faults.push(DrillFault { step: None, field, message });
            }
        };
        let letters = self.id.chars().all(|c| c.is_ascii_lowercase() || c == '-') && self.id.len() <= 60;
        fault(!letters || self.id.is_empty(), "id", "an id is made of small letters and hyphens".to_owned());
        fault(self.strand == Strand::Tape, "strand", "a drill is for hold, bow or frame".to_owned());
        fault(self.instruments.is_empty(), "on", "choose at least one instrument".to_owned());
        let stage = self.after.as_ref().filter(|stage| shared.stage(stage.as_str()).is_none());
        fault(stage.is_some(), "after", format!("there is no stage `{}`", stage.map_or("", StageId::as_str)));
        let tempo = (MIN_TEMPO..=MAX_TEMPO).contains(&self.tempo);
        fault(!tempo, "tempo", format!("a tempo is {MIN_TEMPO} to {MAX_TEMPO} beats a minute"));
        fault(!(1..=MAX_ROUNDS).contains(&self.rounds), "rounds", format!("a drill has 1 to {MAX_ROUNDS} rounds"));
        let steps = (1..=MAX_STEPS).contains(&self.steps.len());
        fault(!steps, "steps", format!("a drill has 1 to {MAX_STEPS} steps"));
        let twice = self.levels.iter().collect::<BTreeSet<_>>().len() != self.levels.len();
        fault(twice, "levels", "each level stands once".to_owned());
        let idle = self.levels.iter().find(|level| self.played(Some(**level)).next().is_none());
        fault(steps && idle.is_some(), "levels", "nothing is played at one of the levels".to_owned());
        for (text, field, most) in [(&self.name, "name", MAX_NAME_LENGTH), (&self.aim, "aim", MAX_CUE_LENGTH)] {
            let message = unreadable(text, most);
            fault(message.is_some(), field, message.unwrap_or_default());
        }
        for (index, step) in self.steps.iter().take(MAX_STEPS + 1).enumerate() {
            faults.extend(self.step_faults(step).into_iter().map(|fault| DrillFault { step: Some(index), ..fault }));
        }
        faults
    }

    fn step_faults(&self, step: &DrillStep) -> Vec<DrillFault> {
        let mut faults = Vec::new();
        let mut fault = |wrong: bool, field: &'static str, message: String| {
            if wrong {
                faults.push(DrillFault { step: None, field, message });
            }
        };
        let beats = (1..=MAX_STEP_BEATS).contains(&step.beats);
        fault(!beats, "beats", format!("a step takes 1 to {MAX_STEP_BEATS} beats"));
        let repeats = (1..=MAX_REPEATS).contains(&step.repeats);
        fault(!repeats, "repeats", format!("a step is done 1 to {MAX_REPEATS} times"));
        let known = step.only.iter().all(|level| self.levels.contains(level));
        fault(!known, "only", "a step is for levels that the drill has".to_owned());
        let rests = !step.quiet || self.levels.contains(&DrillLevel::Rests);
        fault(!rests, "quiet", "a rest in the music belongs to a drill with the level `rests`".to_owned());
        let said = u32::try_from(step.say.len()).unwrap_or(u32::MAX);
        let even = said == 0 || (beats && said <= step.beats && step.beats.is_multiple_of(said));
        fault(!even, "say", format!("{said} words do not go evenly into {} beats", step.beats));
        for word in step.say.iter().take(usize::try_from(MAX_STEP_BEATS).unwrap_or(usize::MAX)) {
            let message = unreadable(word, MAX_RHYTHM_WORD_LENGTH);
            fault(message.is_some(), "say", message.unwrap_or_default());
        }
        for instrument in Instrument::ALL {
            match (self.instruments.contains(&instrument), step.text.get(&instrument)) {
                (true, Some(text)) => {
                    // With placeholders in it a text is longer than it reads.
                    let most = if text.contains('{') { usize::MAX } else { MAX_LOOK_FOR_LENGTH };
                    let message = unreadable(text, most);
                    fault(message.is_some(), "text", message.unwrap_or_default());
                }
                (true, None) => fault(true, "text", format!("this step says nothing to the {}", instrument.name())),
                (false, Some(_)) => fault(true, "text", format!("the drill is not for the {}", instrument.name())),
                (false, None) => {}
            }
        }
        faults
    }
}

fn unreadable(text: &str, most: usize) -> Option<String> {
    let long = text.chars().count();
    if text.trim().is_empty() {
        Some("write something here".to_owned())
    } else if long > most {
        Some(format!("{long} characters; {most} is the most that reads from the back of the room"))
    } else if text.chars().any(char::is_control) {
        Some("plain text in one line".to_owned())
    } else {
        None
    }
}

impl Lessons {
    /// The drill of an id.
    #[must_use]
    pub fn drill(&self, id: &str) -> Option<&Drill> {
        self.drills.iter().find(|drill| drill.id == id)
    }

    /// As a class with these choices reads them: placeholders filled, drills of other options left out, and what is preferred
    /// under other options preferred no longer.
    #[must_use]
    pub fn under(&self, approach: &Approach, choices: &Choices) -> Self {
        let word = |key: &str, part: &str| approach.chosen(key, choices)?.words.get(part).cloned();
        let chosen = |needed: &OptionNeeded| {
            approach.chosen(&needed.choice, choices).is_some_and(|option| option.id == needed.option)
        };
        let mut drills = self.drills.clone();
        drills.retain(|drill| drill.with.as_ref().is_none_or(chosen));
        for drill in &mut drills {
            drill.prefer = drill.prefer.take().filter(chosen);
        }
        for text in drills.iter_mut().flat_map(|drill| &mut drill.steps).flat_map(|step| step.text.values_mut()) {
            *text = filled(text, word);
        }
        let glances = self.glances.iter().map(|(instrument, glance)| {
            let glance = Glance { thumb: filled(&glance.thumb, word), spacing: filled(&glance.spacing, word) };
            (*instrument, glance)
        });
        Self { drills, glances: glances.collect() }
    }
}
