//! Where teachers disagree: choices of a class, each with what it means. The first option of each is the default.

use std::collections::{BTreeMap, BTreeSet};

use crate::instrument::Instrument;

/// The choice of what supports a violin or viola.
pub const SUPPORT: &str = "support";
/// The choice of how a cello's pin is set.
pub const PIN: &str = "pin";

/// A choice.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Choice {
    /// `support`.
    pub key: String,
    /// What it is called.
    pub name: String,
    /// The instruments it is about.
    pub instruments: BTreeSet<Instrument>,
    /// At least two, the default first.
    pub options: Vec<ChoiceOption>,
}

/// One of the ways.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ChoiceOption {
    /// `sponge`.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What it means, in a line.
    pub means: String,
}

/// Every choice there is.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Approach {
    /// In content order.
    pub choices: Vec<Choice>,
}

impl Approach {
    /// The option a class has taken, or the default; `None` only for a key that is not known.
    #[must_use]
    pub fn taken<'a>(&'a self, key: &str, class: &BTreeMap<String, String>) -> Option<&'a ChoiceOption> {
        let choice = self.choices.iter().find(|choice| choice.key == key)?;
        let chosen = class.get(key).and_then(|id| choice.options.iter().find(|option| option.id == *id));
        chosen.or_else(|| choice.options.first())
    }

    /// Whether a choice has such an option.
    #[must_use]
    pub fn has(&self, key: &str, option: &str) -> bool {
        self.choices.iter().any(|choice| choice.key == key && choice.options.iter().any(|known| known.id == option))
    }
}
