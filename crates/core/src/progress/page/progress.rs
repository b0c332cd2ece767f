//! What changes on a child's page with every observation.

use std::collections::BTreeMap;

use serde::Serialize;

use crate::ObservationId;
use crate::craft::id::StageId;
use crate::craft::strand::Strand;
use crate::progress::observation::{Observation, Observed, Says};
use crate::progress::page::basis::{ChildBasis, ClassRules};
use crate::progress::page::child_now::ChildNow;
use crate::progress::page::context::{AccommodationView, MadeView, PainView};
use crate::progress::page::history::{History, ObservationView};
use crate::progress::page::ladders::{LadderView, Page, TapesView};
use crate::progress::page::next_item::NextView;
use crate::progress::page::room_child::RoomChild;

/// How many pains a child's page looks back on.
pub const MAX_PAINS_SHOWN: usize = 10;

/// What a page needs beside the basis of the child: words of people, and what the server answered of its history.
#[derive(Clone, Debug)]
pub struct PageContext {
    /// What counts instead of shared look-fors.
    pub accommodations: Vec<AccommodationView>,
    /// Who opened stages although they wait for others.
    pub opened: BTreeMap<StageId, MadeView>,
    /// When the child said that it hurts, the latest first.
    pub pain: Vec<PainView>,
    /// The newest of its history.
    pub history: History,
}

impl PageContext {
    /// Leaves only what somebody needs who is there for this lesson: that a child said it hurts and nobody did anything yet, and
    /// what counts instead; neither history nor notes nor answers nor reasons.
    pub fn keep_to_today(&mut self) {
        self.history = History::default();
        self.pain.retain(|pain| pain.done.is_none());
        for pain in &mut self.pain {
            pain.note = None;
        }
        for accommodation in &mut self.accommodations {
            accommodation.reason.clear();
        }
    }
}

/// What changes on a child's page with every observation.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct ChildProgress {
    /// As the room shows it.
    pub child: RoomChild,
    /// The four strands, in order.
    pub ladders: Vec<LadderView>,
    /// Its tapes.
    pub tapes: TapesView,
    /// What comes next, at most three.
    pub next: Vec<NextView>,
    /// The checkpoint to look at first.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub first_look: Option<String>,
    /// When the child said that it hurts, the latest first.
    pub pain: Vec<PainView>,
    /// The newest of its history.
    pub history: History,
}

impl ChildProgress {
    /// The progress of a child; `me` is the name of the one who made what is on its way.
    #[must_use]
    pub fn of(rules: &ClassRules, basis: &ChildBasis, context: PageContext, now: &ChildNow, me: &str) -> Self {
        let PageContext { accommodations, opened, pain, history } = context;
        let page = Page {
            checklist: &now.checklist,
            instrument: basis.who.playing.now,
            standings: &now.standings,
            ladder: &now.ladder,
            accommodations: &accommodations,
            opened: &opened,
        };
        let pupil = now.pupil(rules, basis);
        let next = pupil.next(rules.order);
        let first_look = now.first_look(&next, basis.who.playing.now);
        let shared = rules.shared();
        let on_their_way = now.on_their_way.iter();
        let on_their_way = on_their_way.map(|one| ObservationView::new(shared, me.to_owned(), one.clone())).collect();
        Self {
            child: now.room_child(basis),
            ladders: Strand::ALL.map(|strand| page.ladder(strand)).into(),
            tapes: TapesView::new(&now.ladder, &now.context, basis.asset),
            next: next.iter().take(rules.next_at_once).map(|check| NextView::new(check, &pupil, &page)).collect(),
            first_look,
            pain: pain_with(pain, &now.on_their_way, &basis.pain_with(&now.on_their_way), &page, me),
            history: history.with(on_their_way),
        }
    }
}

/// The pains with those on their way; what was taken back is gone, unless somebody wrote what was done.
fn pain_with<T>(
    mut pain: Vec<PainView>,
    on_their_way: &[Observation],
    open: &BTreeMap<ObservationId, T>,
    page: &Page<'_>,
    me: &str,
) -> Vec<PainView> {
    pain.retain(|known| known.done.is_some() || open.contains_key(&known.observation));
    let hurts = |one: &&Observation| {
        one.says == Some(Says::Hurts) && !matches!(one.seen, Observed::Retracts(_)) && open.contains_key(&one.id)
    };
    pain.extend(on_their_way.iter().filter(hurts).map(|one| PainView {
        observation: one.id,
        at_home: false,
        target_name: page.checklist.target_name(one.target.id()),
        note: one.note.clone(),
        seen: MadeView { by: me.to_owned(), at: one.observed_at },
        done: None,
        answered: None,
    }));
    pain.sort_by_key(|one| std::cmp::Reverse((one.seen.at, one.observation)));
    pain.truncate(MAX_PAINS_SHOWN);
    pain
}
