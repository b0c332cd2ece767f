//! What a class's term is read from: everybody who is in it, everything that was ever seen of them, the instruments they had.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::progress::observation::{Observation, in_force};
use bright_row_core::tapes::log::TapeEvent;
use bright_row_core::tapes::record;
use bright_row_core::term::group::SmallGroup;
use bright_row_core::term::markers_then::Held;
use bright_row_core::term::past::{Past, Span};
use bright_row_core::{AssetId, ChildId, ProgramId};
use bright_row_store::DatabaseConnection;
use bright_row_store::children;
use bright_row_store::classes::groups;
use bright_row_store::instruments::held::{self, Holding};
use bright_row_store::observations::attribution::own;
use tokio::task::JoinSet;

use crate::error::ApiError;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};

/// So many read what was seen of a class at the same time.
const READERS: usize = 2;

/// A class with its past, as it is read from the database.
pub(crate) struct ClassPast {
    /// Everybody, in walking order; of a class whose year is over those too who have moved on, by name.
    pub(crate) learners: Vec<Learner>,
    /// Who of them is in another class now.
    pub(crate) moved: BTreeSet<ChildId>,
    /// What the children have and had, the oldest first.
    pub(crate) held: Vec<Holding>,
    /// The newest first.
    pub(crate) groups: Vec<SmallGroup>,
    observations: BTreeMap<ChildId, Vec<Observation>>,
    /// What was done to the markers of each instrument, what was taken back left out.
    logs: BTreeMap<AssetId, Vec<TapeEvent>>,
}

impl ClassPast {
    pub(crate) async fn read(snapshot: &ClassSnapshot<'_>) -> Result<Self, ApiError> {
        let (db, key) = (&snapshot.app.db, snapshot.class.key);
        let ended = snapshot.ended();
        let gone = if ended.is_some() { children::moved_on(db, key).await? } else { Vec::new() };
        let moved: BTreeSet<ChildId> = gone.iter().map(|child| child.id).collect();
        let (learners, held, groups) =
            tokio::try_join!(snapshot.learners(), async { Ok(held::of_class(db, key, &moved).await?) }, async {
                Ok(groups::of_class(db, key).await?)
            },)?;
        let mut learners = learners;
        learners.sort_by_cached_key(Learner::walking_key);
        learners.extend(gone.into_iter().map(|child| snapshot.learner_of_before(child)));
        let children: BTreeSet<ChildId> = learners.iter().map(|learner| learner.child.id).collect();
        let assets: BTreeSet<AssetId> = held.iter().map(|holding| holding.asset).collect();
        let (mut observations, logs) = tokio::try_join!(seen(db, key.program, &children), async {
            Ok(held::logs(db, key.program, &assets).await?)
        })?;
        // What was seen of them in the next class is not this one's.
        for (_, seen) in observations.iter_mut().filter(|(child, _)| moved.contains(child)) {
            seen.retain(|look| ended.is_none_or(|ended| look.observed_at < ended));
        }
        let in_force = |log: Vec<TapeEvent>| record::in_force(&log).into_iter().cloned().collect();
        let logs = logs.into_iter().map(|(asset, log)| (asset, in_force(log))).collect();
        Ok(Self { learners, moved, held, groups, observations, logs })
    }

    /// By what the past is read.
    pub(crate) fn span<'a>(snapshot: &ClassSnapshot<'a>) -> Span<'a> {
        Span { calendar: &snapshot.class.calendar, rhythm: &snapshot.class.rhythm, now: snapshot.now }
    }

    /// The past of everybody, in walking order.
    pub(crate) fn pasts<'a>(&'a self, snapshot: &'a ClassSnapshot<'_>) -> Vec<Past<'a>> {
        let past = |learner: &'a Learner| {
            let child = &learner.child;
            let before_joining = child.joined_on.pred_opt();
            Past {
                child: child.id,
                checklist: &learner.checklist,
                playing: &child.playing,
                context: &learner.context.context,
                joined: before_joining.map_or(0, |day| snapshot.class.calendar.meeting_on(day)) + 1,
                seen: self.observations.get(&child.id).map(|seen| in_force(seen)).unwrap_or_default(),
                held: self.held_by(child.id, snapshot),
            }
        };
        self.learners.iter().map(past).collect()
    }

    fn held_by<'a>(&'a self, child: ChildId, snapshot: &'a ClassSnapshot<'_>) -> Vec<Held<'a>> {
        let held = |holding: &'a Holding| Held {
            asset: holding.asset,
            size: &holding.size,
            length_mm: holding.length_mm,
            since: holding.since,
            until: holding.until,
            log: self.logs.get(&holding.asset).map_or(&[], Vec::as_slice),
            set: snapshot.set_of(holding.instrument),
        };
        self.held.iter().filter(|holding| holding.child == child).map(held).collect()
    }

    /// What was done to the markers of an instrument.
    pub(crate) fn log(&self, asset: AssetId) -> &[TapeEvent] {
        self.logs.get(&asset).map_or(&[], Vec::as_slice)
    }
}

/// Everything that was ever seen of these children. In tasks of their own, which are in no request's span: for each row, and there are
/// tens of thousands, the driver would enter it anew.
async fn seen(
    db: &DatabaseConnection,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
) -> Result<BTreeMap<ChildId, Vec<Observation>>, ApiError> {
    let all: Vec<ChildId> = children.iter().copied().collect();
    let mut readers = JoinSet::new();
    for some in all.chunks(all.len().div_ceil(READERS).max(1)) {
        let (db, some) = (db.clone(), some.iter().copied().collect());
        readers.spawn(async move { own(&db, program, &some).await });
    }
    let mut found = BTreeMap::new();
    while let Some(read) = readers.join_next().await {
        found.extend(read.map_err(|fell| ApiError::Internal(fell.to_string()))??);
    }
    Ok(found)
}
