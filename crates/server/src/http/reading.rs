//! What the rules say of the children of a class at this moment.

use std::collections::BTreeMap;
use std::sync::Arc;

use bright_row_core::checklist::{Checklist, CheckpointId};
use bright_row_core::ladder::{Ladder, Outlook};
use bright_row_core::standing::Standing;
use bright_row_store::children::Child;
use bright_row_store::circumstances::Known;
use bright_row_store::classes::Class;

use crate::app::App;

/// A class read at this moment.
pub(super) struct Reading<'a> {
    pub(super) app: &'a App,
    pub(super) class: &'a Class,
    /// The checklist as the class reads it.
    pub(super) checklist: Arc<Checklist>,
    /// The number of the present meeting.
    pub(super) now: u32,
}

impl<'a> Reading<'a> {
    pub(super) fn new(app: &'a App, class: &'a Class) -> Self {
        let now = class.calendar.meeting_at(app.now());
        Self { app, class, checklist: app.checklist(class), now }
    }

    /// The checklist as a child is read by it: the class's, but for the child's own ways.
    pub(super) fn checklist_of(&self, known: &Known) -> Arc<Checklist> {
        if known.ways.is_empty() {
            return Arc::clone(&self.checklist);
        }
        let mut choices = self.class.choices.clone();
        choices.extend(known.ways.clone());
        self.app.checklists.of(&self.app.content, &choices, &self.class.edits)
    }

    pub(super) fn ladder(&self, child: &Child, known: &Known, standings: &BTreeMap<CheckpointId, Standing>) -> Ladder {
        let checklist = self.checklist_of(known);
        let outlook = Outlook {
            checklist: &checklist,
            calendar: &self.class.calendar,
            rhythm: &self.class.rhythm,
            now: self.now,
        };
        outlook.ladder(&child.playing, &known.circumstances, standings)
    }
}
