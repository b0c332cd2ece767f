//! What the rules say of the children of a class at this moment.

use std::collections::BTreeMap;
use std::sync::Arc;

use bright_row_core::craft::cause_graph::CauseGraph;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::ladder::Ladder;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::outlook::Outlook;
use bright_row_core::progress::pupil::Pupil;
use bright_row_core::progress::standing::Standing;
use bright_row_core::progress::tape_status::TapeStatus;
use bright_row_core::setup::rows::walking_key;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::Class;
use bright_row_store::children::stored_context::{self, StoredContext};
use bright_row_store::observations::standings;

use crate::error::ApiError;
use crate::state::App;

/// A child with everything that the rules read of it.
pub(super) struct Learner {
    pub(super) child: Child,
    pub(super) known: StoredContext,
    pub(super) standings: BTreeMap<CheckpointId, Standing>,
    pub(super) ladder: Ladder,
    /// The checklist it is read by.
    pub(super) checklist: Arc<Checklist>,
}

impl Learner {
    /// Orders children as they are walked past; who has no seat comes last.
    pub(super) fn walking_key(&self) -> (bool, Option<(u8, i16)>) {
        (self.child.seat.is_none(), self.child.seat.map(walking_key))
    }

    pub(super) fn pupil<'a>(&'a self, causes: &'a CauseGraph) -> Pupil<'a> {
        Pupil {
            checklist: &self.checklist,
            causes,
            instrument: self.child.playing.now,
            context: &self.known.context,
            standings: &self.standings,
            ladder: &self.ladder,
        }
    }
}

/// A class read at this moment.
pub(super) struct ClassSnapshot<'a> {
    pub(super) app: &'a App,
    pub(super) class: &'a Class,
    /// The checklist as the class reads it.
    pub(super) checklist: Arc<Checklist>,
    /// The number of the present meeting.
    pub(super) now: u32,
    /// The markers it calls for.
    sets: BTreeMap<Instrument, MarkerSet>,
}

impl<'a> ClassSnapshot<'a> {
    pub(super) fn new(app: &'a App, class: &'a Class) -> Self {
        let now = class.calendar.meeting_at(app.now());
        Self { app, class, checklist: app.checklist(class), now, sets: app.tape_sets(class) }
    }

    /// The same class so many meetings from now, if nobody marked anything until then.
    pub(super) fn ahead(self, meetings: u32) -> Self {
        Self { now: self.now.saturating_add(meetings), ..self }
    }

    /// Everybody in the class.
    pub(super) async fn learners(&self) -> Result<Vec<Learner>, ApiError> {
        let (db, key) = (&self.app.db, self.class.key);
        let (children, mut standings, mut known) =
            tokio::try_join!(children::of_class(db, key), standings::of_class(db, key), known::of_class(db, key))?;
        let learner = |child: Child| {
            let standings = standings.remove(&child.id).unwrap_or_default();
            let known = self.told(&child, known.remove(&child.id).unwrap_or_default());
            let ladder = self.ladder(&child, &known, &standings);
            let checklist = self.checklist_of(&known);
            Learner { child, known, standings, ladder, checklist }
        };
        Ok(children.into_iter().map(learner).collect())
    }

    /// What is known of a child, with what its instrument's log comes to.
    pub(super) fn told(&self, child: &Child, known: StoredContext) -> StoredContext {
        known.assess(self.set_of(child.playing.now))
    }

    /// The markers that the class calls for on an instrument.
    pub(super) fn set_of(&self, instrument: Instrument) -> &MarkerSet {
        &self.sets[&instrument]
    }

    /// How the markers of an instrument stand that nobody of the class has, with the looks in class at them.
    pub(super) fn free_tapes(&self, told: &MarkerAssessment, looks: &[Observation]) -> TapeStatus {
        let circumstances = ChildContext { tapes: Some(told.clone()), ..Circumstances::default() };
        let (calendar, rhythm) = (&self.class.calendar, &self.class.rhythm);
        let outlook = Outlook { checklist: &self.checklist, calendar, rhythm, now: self.now };
        let standings = bright_row_core::progress::standing::standings(&self.checklist, looks, calendar, rhythm);
        TapeStatus::of(&outlook, &standings, &circumstances)
    }

    /// Meetings since somebody was last at the child's chair, or since it joined, and whether anybody ever was.
    pub(super) fn unseen(&self, child: &Child, standings: &BTreeMap<CheckpointId, Standing>) -> (u32, bool) {
        let calendar = &self.class.calendar;
        let visited = standings.values().filter_map(|standing| standing.visited_at).max();
        // A child that joined on a meeting day was there for that meeting.
        let before_joining = child.joined_on.pred_opt().map_or(0, |day| calendar.meeting_on(day));
        let last = visited.map_or(before_joining, |moment| calendar.meeting_at(moment));
        (self.now.saturating_sub(last), visited.is_some())
    }

    /// The checklist as a child is read by it: the class's, but for the child's own ways.
    pub(super) fn checklist_of(&self, known: &StoredContext) -> Arc<Checklist> {
        if known.overrides.is_empty() {
            return Arc::clone(&self.checklist);
        }
        let mut choices = self.class.choices.clone();
        choices.extend(known.overrides.clone());
        self.app.checklists.of(&self.app.content, &choices, &self.class.edits)
    }

    pub(super) fn ladder(&self, child: &Child, known: &StoredContext, standings: &BTreeMap<CheckpointId, Standing>) -> Ladder {
        let checklist = self.checklist_of(known);
        let outlook = Outlook {
            checklist: &checklist,
            calendar: &self.class.calendar,
            rhythm: &self.class.rhythm,
            now: self.now,
        };
        outlook.ladder(&child.playing, &known.context, standings)
    }
}
