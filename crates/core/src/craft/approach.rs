//! Where teachers disagree: choices of a class, each with what it means. The first option of each is the default.
//!
//! An option changes the checklist: its words fill the placeholders in the texts (`{scroll.look}`), it may leave checkpoints out,
//! and a stage may wait for something else under it. What it never changes is an observation.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{Days, NaiveDate};

use crate::craft::edits::Rewording;
use crate::craft::id::{CheckpointId, SlipId, StageId};
use crate::craft::instrument::Instrument;

/// The choice of what supports a violin or viola.
pub const SUPPORT: &str = "support";
/// The choice of how a cello's pin is set.
pub const PIN: &str = "pin";
/// The choice of which hand comes first.
pub const ORDER: &str = "order";
/// The choice of how many next items are named for a child at once.
pub const THINGS: &str = "things-at-once";
/// The choice of markers on the fingerboard.
pub const MARKERS: &str = "markers";
/// The option of [`MARKERS`] without any.
pub const NO_MARKERS: &str = "none";

/// What somebody chose, by key; what is not named has its default.
pub type Choices = BTreeMap<String, String>;

/// A choice.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Choice {
    /// `support`.
    pub key: String,
    /// What it is called.
    pub name: String,
    /// Choices of one group stand together.
    pub group: String,
    /// The instruments it is about.
    pub instruments: BTreeSet<Instrument>,
    /// Why the default is the default.
    pub why: String,
    /// What changes with it.
    pub changes: String,
    /// Whether a child may have an option of its own.
    pub per_child: bool,
    /// At least two, the default first.
    pub options: Vec<ChoiceOption>,
}

/// One of its options.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct ChoiceOption {
    /// `sponge`.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What it means, in a line.
    pub means: String,
    /// Who tends to prefer it.
    pub suits: String,
    /// What fills the placeholders in the checklist's texts, by part.
    pub words: BTreeMap<String, String>,
    /// Checkpoints that are not asked for with it.
    pub leaves_out: BTreeSet<CheckpointId>,
    /// Checkpoints asked for once more after a stage.
    pub asks_again: BTreeSet<CheckpointId>,
    /// The stage after which.
    pub asks_again_after: Option<StageId>,
    /// Slips that are called otherwise with it.
    pub slips: BTreeMap<SlipId, SlipWords>,
    /// Checkpoints that read otherwise with it, where filling a placeholder does not reach.
    pub rewords: BTreeMap<CheckpointId, BTreeMap<Instrument, Rewording>>,
    /// Words that contradict it: no text that a class with this option reads holds one of them.
    pub refuses: Vec<String>,
    /// What it turns into after some time.
    pub turns: Option<Turn>,
}

/// An option that is meant for a while, and then becomes another of its choice.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Turn {
    /// The other option.
    pub into: String,
    /// Days from the choosing, where no day was named.
    pub after_days: u32,
}

impl Turn {
    /// The day it turns on, chosen on this day.
    #[must_use]
    pub fn after(&self, chosen_on: NaiveDate) -> NaiveDate {
        chosen_on.checked_add_days(Days::new(self.after_days.into())).unwrap_or(chosen_on)
    }
}

/// How a slip reads with an option.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SlipWords {
    /// What it is called.
    pub name: String,
    /// How it shows.
    pub look: String,
    /// The first help.
    pub help: String,
}

/// Every choice there is.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Approach {
    /// In content order.
    pub choices: Vec<Choice>,
}

impl Choice {
    /// The option chosen, or the default.
    ///
    /// # Panics
    /// Never for content that was checked: every choice has options.
    #[must_use]
    pub fn chosen(&self, choices: &Choices) -> &ChoiceOption {
        let id = choices.get(&self.key).and_then(|id| self.options.iter().find(|option| option.id == *id));
        id.unwrap_or_else(|| self.options.first().expect("a checked choice has options"))
    }
}

impl Approach {
    /// The choice of a key.
    #[must_use]
    pub fn choice(&self, key: &str) -> Option<&Choice> {
        self.choices.iter().find(|choice| choice.key == key)
    }

    /// The option a class chose, or the default; `None` only for a key that is not known.
    #[must_use]
    pub fn chosen<'a>(&'a self, key: &str, choices: &Choices) -> Option<&'a ChoiceOption> {
        self.choice(key).map(|choice| choice.chosen(choices))
    }

    /// What these choices come to on a day: from its day in `turns_on`, an option that turns into another is that other. One
    /// without a day does not turn.
    #[must_use]
    pub fn on(&self, day: NaiveDate, choices: &Choices, turns_on: &BTreeMap<String, NaiveDate>) -> Choices {
        let mut on_that_day = choices.clone();
        for (key, _) in turns_on.iter().filter(|(_, from)| **from <= day) {
            if let Some(turn) = self.chosen(key, choices).and_then(|option| option.turns.as_ref()) {
                on_that_day.insert(key.clone(), turn.into.clone());
            }
        }
        on_that_day
    }

    /// The days on which the options of `chosen` turn into others: as `asked`; else as `known`, where the option was chosen
    /// `before` already; else so many days from today as the option says.
    #[must_use]
    pub fn turning_days(
        &self,
        (chosen, asked): (&Choices, &BTreeMap<String, NaiveDate>),
        (before, known): (&Choices, &BTreeMap<String, NaiveDate>),
        today: NaiveDate,
    ) -> BTreeMap<String, NaiveDate> {
        let day = |choice: &Choice| {
            let option = choice.chosen(chosen);
            let turn = option.turns.as_ref()?;
            let same = choice.chosen(before).id == option.id;
            let kept = known.get(&choice.key).filter(|_| same);
            let day = asked.get(&choice.key).or(kept).copied().unwrap_or_else(|| turn.after(today));
            Some((choice.key.clone(), day))
        };
        self.choices.iter().filter_map(day).collect()
    }

    /// Whether a choice has such an option.
    #[must_use]
    pub fn has(&self, key: &str, option: &str) -> bool {
        self.choice(key).is_some_and(|choice| choice.options.iter().any(|known| known.id == option))
    }

    /// How many next items are named for a child at once, 1 to 3.
    #[must_use]
    pub fn next_at_once(&self, choices: &Choices) -> usize {
        match self.chosen(THINGS, choices).map(|option| option.id.as_str()) {
            Some("one") => 1,
            Some("two") => 2,
            _ => 3,
        }
    }
}

/// The placeholders in a text, each with its choice and part: `("scroll", "look")` for `{scroll.look}`.
pub fn placeholders(text: &str) -> impl Iterator<Item = (&str, &str)> {
    text.split('{').skip(1).filter_map(|rest| rest.split('}').next()?.split_once('.'))
}

/// A text with every placeholder filled by the option chosen, the first letter large.
#[must_use]
pub fn filled(text: &str, words: impl Fn(&str, &str) -> Option<String>) -> String {
    let mut whole = String::with_capacity(text.len());
    for (index, part) in text.split('{').enumerate() {
        let placeholder = (index > 0).then(|| part.split_once('}')).flatten();
        match placeholder.and_then(|(placeholder, rest)| {
            Some((words(placeholder.split_once('.')?.0, placeholder.split_once('.')?.1)?, rest))
        }) {
            Some((word, rest)) => {
                whole.push_str(&word);
                whole.push_str(rest);
            }
            None => whole.push_str(part),
        }
    }
    let mut letters = whole.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}
