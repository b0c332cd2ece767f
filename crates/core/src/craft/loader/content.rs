//! All content, checked.

use std::collections::BTreeMap;
use std::sync::Arc;

use crate::craft::approach::{Approach, Choices};
use crate::craft::cause_graph::CauseGraph;
use crate::craft::checklist::Checklist;
use crate::craft::drawings::{ClassDrawings, Drawings};
use crate::craft::drills::Lessons;
use crate::craft::edits::Edits;
use crate::craft::home::HomeContent;
use crate::craft::instrument::{Instrument, InstrumentFacts};
use crate::craft::symptoms::Symptoms;
use crate::craft::template::ChecklistTemplate;
use crate::craft::tune::Tune;

/// All content, checked.
#[derive(Clone, Debug, PartialEq)]
pub struct Content {
    /// The four instruments.
    pub instruments: BTreeMap<Instrument, InstrumentFacts>,
    /// The shared checklist, its placeholders not filled yet.
    pub template: ChecklistTemplate,
    /// Where teachers disagree.
    pub approach: Approach,
    /// What is heard or seen, and what may have led to it.
    pub symptoms: Symptoms,
    /// What leads to what.
    pub causes: Arc<CauseGraph>,
    /// Drills for the whole class.
    pub lessons: Lessons,
    /// How checkpoints, options, slips and the steps of drills are drawn.
    pub drawings: Drawings,
    /// What goes home.
    pub home: HomeContent,
    /// Tunes that belong to everybody.
    pub tunes: Vec<Tune>,
}

impl Content {
    /// The checklist of somebody with these choices and changes.
    #[must_use]
    pub fn checklist(&self, choices: &Choices, edits: &Edits) -> Checklist {
        self.template.checklist(&self.approach, choices, edits)
    }

    /// The drills and glances of a class with these choices and changes.
    #[must_use]
    pub fn lessons(&self, choices: &Choices, edits: &Edits) -> Lessons {
        edits.lessons(self.lessons.under(&self.approach, choices))
    }

    /// The drawings of somebody with these choices and changes.
    #[must_use]
    pub fn drawings(&self, choices: &Choices, edits: &Edits) -> ClassDrawings {
        self.drawings.under(&self.approach, choices, edits)
    }

    /// The checklist with every default and nothing changed.
    #[must_use]
    pub fn standard(&self) -> Checklist {
        self.checklist(&Choices::new(), &Edits::default())
    }
}
