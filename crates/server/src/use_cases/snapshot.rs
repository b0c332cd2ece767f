//! What the rules say of the children of a class at this moment.

use std::collections::BTreeMap;
use std::sync::Arc;

use bright_row_core::ChildId;
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
use bright_row_core::progress::visits::Unseen;
use bright_row_core::setup::rows::walking_key;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_store::children::stored_context::{self, StoredContext};
use bright_row_store::children::{self, Child};
use bright_row_store::classes::Class;
use bright_row_store::observations::standings;

use crate::error::ApiError;
use crate::state::App;

/// A child with everything that the rules read of it.
pub(crate) struct Learner {
    pub(crate) child: Child,
    pub(crate) context: StoredContext,
    pub(crate) standings: BTreeMap<CheckpointId, Standing>,
    pub(crate) ladder: Ladder,
    /// The checklist it is read by.
    pub(crate) checklist: Arc<Checklist>,
}

impl Learner {
    /// Orders children as they are walked past; who has no seat comes last.
    pub(crate) fn walking_key(&self) -> (bool, Option<(u8, i16)>) {
        (self.child.seat.is_none(), self.child.seat.map(walking_key))
    }

    pub(crate) fn pupil<'a>(&'a self, causes: &'a CauseGraph) -> Pupil<'a> {
        Pupil {
            checklist: &self.checklist,
            causes,
            instrument: self.child.playing.now,
            context: &self.context.context,
            standings: &self.standings,
            ladder: &self.ladder,
        }
    }
}

/// A class read at this moment.
pub(crate) struct ClassSnapshot<'a> {
    pub(crate) app: &'a App,
    pub(crate) class: &'a Class,
    /// The checklist as the class reads it.
    pub(crate) checklist: Arc<Checklist>,
    /// The number of the present meeting.
    pub(crate) now: u32,
    /// The markers it calls for.
    sets: BTreeMap<Instrument, MarkerSet>,
}

impl<'a> ClassSnapshot<'a> {
    pub(crate) fn new(app: &'a App, class: &'a Class) -> Self {
        let now = class.calendar.meeting_at(app.now());
        Self { app, class, checklist: app.checklist(class), now, sets: app.marker_sets(class) }
    }

    /// The same class so many meetings from now, if nobody observed anything until then.
    pub(crate) fn ahead(self, meetings: u32) -> Self {
        Self { now: self.now.saturating_add(meetings), ..self }
    }

    /// Everybody in the class.
    pub(crate) async fn learners(&self) -> Result<Vec<Learner>, ApiError> {
        let (db, key) = (&self.app.db, self.class.key);
        let (children, mut standings, mut contexts) = tokio::try_join!(
            children::of_class(db, key),
            standings::of_class(db, key),
            stored_context::of_class(db, key)
        )?;
        let learner = |child: Child| {
            let standings = standings.remove(&child.id).unwrap_or_default();
            let context = contexts.remove(&child.id).unwrap_or_default();
            self.learner_of(child, context, standings)
        };
        Ok(children.into_iter().map(learner).collect())
    }

    /// One child of the class; `None` for one who is not in it, or has left.
    pub(crate) async fn learner(&self, child: ChildId) -> Result<Option<Learner>, ApiError> {
        let (db, key) = (&self.app.db, self.class.key);
        let (found, standings, context) = tokio::try_join!(
            children::one(db, key, child),
            standings::of_child(db, key, child),
            stored_context::of_child(db, key, child)
        )?;
        let here = found.filter(|child| child.left_on.is_none());
        Ok(here.map(|child| self.learner_of(child, context, standings)))
    }

    fn learner_of(&self, child: Child, context: StoredContext, standings: BTreeMap<CheckpointId, Standing>) -> Learner {
        let context = self.assess(&child, context);
        let ladder = self.ladder(&child, &context, &standings);
        let checklist = self.checklist_of(&context);
        Learner { child, context, standings, ladder, checklist }
    }

    /// Computes ladders anew for this meeting, for children who were read for another one.
    pub(crate) fn at_this_meeting(&self, learners: &mut [Learner]) {
        for learner in learners {
            learner.ladder = self.ladder(&learner.child, &learner.context, &learner.standings);
        }
    }

    /// What counts for a child, with what its instrument's log comes to.
    pub(crate) fn assess(&self, child: &Child, context: StoredContext) -> StoredContext {
        context.assess(self.set_of(child.playing.now))
    }

    /// The markers that the class calls for on an instrument.
    pub(crate) fn set_of(&self, instrument: Instrument) -> &MarkerSet {
        &self.sets[&instrument]
    }

    /// How the markers of an instrument stand that nobody of the class has, with the looks in class at them.
    pub(crate) fn free_tapes(&self, markers: &MarkerAssessment, looks: &[Observation]) -> TapeStatus {
        let context = ChildContext { tapes: Some(markers.clone()), ..ChildContext::default() };
        let (calendar, rhythm) = (&self.class.calendar, &self.class.rhythm);
        let outlook = Outlook { checklist: &self.checklist, calendar, rhythm, now: self.now };
        let standings = bright_row_core::progress::standing::standings(&self.checklist, looks, calendar, rhythm);
        TapeStatus::of(&outlook, &standings, &context)
    }

    /// How long nobody has been at the child's chair.
    pub(crate) fn unseen(&self, child: &Child, standings: &BTreeMap<CheckpointId, Standing>) -> Unseen {
        Unseen::at(self.now, &self.class.calendar, child.joined_on, standings)
    }

    /// The checklist as a child is read by it: the class's, but for the child's overrides.
    pub(crate) fn checklist_of(&self, context: &StoredContext) -> Arc<Checklist> {
        if context.overrides.is_empty() {
            return Arc::clone(&self.checklist);
        }
        let mut choices = self.class.choices.clone();
        choices.extend(context.overrides.clone());
        self.app.checklists.of(&self.app.content, &choices, &self.class.edits)
    }

    pub(crate) fn ladder(
        &self,
        child: &Child,
        context: &StoredContext,
        standings: &BTreeMap<CheckpointId, Standing>,
    ) -> Ladder {
        let checklist = self.checklist_of(context);
        let outlook = Outlook {
            checklist: &checklist,
            calendar: &self.class.calendar,
            rhythm: &self.class.rhythm,
            now: self.now,
        };
        outlook.ladder(&child.playing, &context.context, standings)
    }
}
