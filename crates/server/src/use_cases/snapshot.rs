//! What the rules say of the children of a class at this moment.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::cause_graph::CauseGraph;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::ladder::Ladder;
use bright_row_core::progress::new_observation::NewObservation;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::progress::outlook::Outlook;
use bright_row_core::progress::page::basis::{CLASS_CHECKLIST, ChildBasis, ClassRules, Who};
use bright_row_core::progress::page::child_now::ChildNow;
use bright_row_core::progress::pupil::Pupil;
use bright_row_core::progress::standing::{Standing, standings_so_far};
use bright_row_core::progress::tape_status::TapeStatus;
use bright_row_core::progress::visits::Unseen;
use bright_row_core::setup::rows::walking_key;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_core::{ChildId, ObservationId};
use bright_row_store::children::stored_context::{self, StoredContext};
use bright_row_store::children::{self, Child};
use bright_row_store::classes::Class;
use bright_row_store::observations::standings;
use chrono::{DateTime, Utc};

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

/// Where along the walk of a round somebody comes.
#[derive(PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum WalkingKey {
    /// In the order of the seats.
    Seated((u8, i16)),
    /// After them, by section and name.
    WithoutSeat(Instrument, String),
}

impl Learner {
    /// Orders children as they are walked past.
    pub(crate) fn walking_key(&self) -> WalkingKey {
        let child = &self.child;
        match child.seat {
            Some(seat) => WalkingKey::Seated(walking_key(seat)),
            None => WalkingKey::WithoutSeat(child.playing.now, child.name.clone()),
        }
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

/// Who a child is, as pages show it.
pub(crate) fn who(child: &Child) -> Who {
    let Child { id, name, playing, seat, joined_on, .. } = child;
    Who { id: *id, name: name.clone(), playing: playing.clone(), seat: *seat, joined_on: *joined_on }
}

/// A class read at this moment.
pub(crate) struct ClassSnapshot<'a> {
    pub(crate) app: &'a App,
    pub(crate) class: &'a Class,
    /// The checklist as the class reads it.
    pub(crate) checklist: Arc<Checklist>,
    /// The number of the present meeting.
    pub(crate) now: u32,
    /// Which hand comes first.
    pub(crate) order: Order,
    /// The markers it calls for.
    sets: BTreeMap<Instrument, MarkerSet>,
}

impl<'a> ClassSnapshot<'a> {
    pub(crate) fn new(app: &'a App, class: &'a Class) -> Self {
        let now = class.calendar.meeting_at(app.now());
        let order = Order::of(&app.content.approach, &class.choices);
        Self { app, class, checklist: app.checklist(class), now, order, sets: app.marker_sets(class) }
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

    /// When the class was archived, or when the day after its last meeting began; `None` while it goes on.
    pub(crate) fn ended(&self) -> Option<DateTime<Utc>> {
        let calendar = &self.class.calendar;
        let today = calendar.day_of(self.app.now());
        let over = || {
            let last = calendar.date_of(calendar.total())?;
            (last < today).then(|| last.succ_opt().map(|day| calendar.begins(day)))?
        };
        self.class.archived_at.or_else(over)
    }

    /// A child who was in the class and is in another one now, as nobody has seen it: what was seen is read beside it.
    pub(crate) fn learner_of_before(&self, child: Child) -> Learner {
        self.learner_of(child, StoredContext::default(), BTreeMap::new())
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

    /// A child as it is now, nothing on its way.
    pub(crate) fn now_of(
        &self,
        child: &Child,
        context: &StoredContext,
        standings: BTreeMap<CheckpointId, Standing>,
    ) -> ChildNow {
        ChildNow {
            checklist: self.checklist_of(context),
            context: context.context.clone(),
            ladder: self.ladder(child, context, &standings),
            unseen: self.unseen(child, &standings),
            standings,
            on_their_way: Vec::new(),
        }
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
        let mut choices = self.app.choices(self.class);
        choices.extend(context.overrides.clone());
        self.app.checklists.of(&self.app.content, &choices, &self.class.edits)
    }

    /// Where the rules hold the checklist of a child that goes its own way so far.
    pub(crate) fn checklist_key(overrides: &Choices) -> String {
        if overrides.is_empty() {
            return CLASS_CHECKLIST.to_owned();
        }
        serde_json::to_string(overrides).expect("choices are plain data")
    }

    /// The rules by which children are read, with the checklists of those who go their own way.
    pub(crate) fn rules<'b>(&self, contexts: impl IntoIterator<Item = &'b StoredContext>) -> ClassRules {
        let (approach, class) = (&self.app.content.approach, self.class);
        let own = contexts.into_iter();
        let own = own.map(|context| (Self::checklist_key(&context.overrides), self.checklist_of(context)));
        let shared = (CLASS_CHECKLIST.to_owned(), Arc::clone(&self.checklist));
        ClassRules {
            calendar: class.calendar.clone(),
            rhythm: class.rhythm,
            order: self.order,
            next_at_once: approach.next_at_once(&class.choices),
            causes: Arc::clone(&self.app.content.causes),
            checklists: own.chain([shared]).collect(),
        }
    }

    /// What everything about a child follows from. `context` was assessed; of the observations those since `since`, and what
    /// came `before`; all of them without one.
    pub(crate) fn basis(
        &self,
        child: &Child,
        context: &StoredContext,
        observations: &[Observation],
        since: Option<DateTime<Utc>>,
    ) -> ChildBasis {
        let is_before = |one: &&Observation| since.is_some_and(|since| one.observed_at < since);
        let retracted = |one: &&Observation| matches!(one.seen, Observed::Retracts(_));
        // An undo goes with what it takes back, whenever it was made.
        let before: Vec<Observation> =
            observations.iter().filter(|one| is_before(one) || retracted(one)).cloned().collect();
        let since_then: BTreeSet<ObservationId> =
            observations.iter().filter(|one| !is_before(one)).map(|one| one.id).collect();
        let is_there = |one: &&Observation| match one.seen {
            Observed::Retracts(id) => !is_before(one) || since_then.contains(&id),
            Observed::Level { .. } | Observed::Holds { .. } => !is_before(one),
        };
        let (calendar, rhythm) = (&self.class.calendar, &self.class.rhythm);
        let before = standings_so_far(&self.checklist, &BTreeMap::new(), &before, calendar, rhythm);
        ChildBasis {
            who: who(child),
            checklist: Self::checklist_key(&context.overrides),
            exempt: context.context.exempt.clone(),
            opened: context.context.opened.clone(),
            pain: context.pain.clone(),
            tapes: context.context.tapes.clone(),
            asset: context.markers.as_ref().map(|markers| markers.asset),
            has_since: context.has_since,
            swapped_at: context.context.swapped_at,
            before: if since.is_some() { before } else { BTreeMap::new() },
            since,
            observations: observations.iter().filter(|one| is_there(one)).map(NewObservation::from).collect(),
        }
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
