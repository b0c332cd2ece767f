//! Standing: how one child stands at one checkpoint, computed from observations alone.
//!
//! A standing depends on the set of observations in force, never on the order in which they arrived or how often. What stands
//! at Alone or better has a clock, in meetings of the class's calendar; what stands below is in work and has none.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::level::Level;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::observation::{Observation, Says, in_force};
use crate::progress::rhythm::{Rhythm, STUCK_AFTER};
use crate::progress::unfolding::{StandingFold, Unfolding};

/// The version of the rules by which standings follow from observations, and tape records from logs. Raised with every change
/// after which something else follows: what an older version left is computed anew.
pub const RULES_VERSION: u32 = 3;

/// How a child stands at a checkpoint that somebody has looked at. No standing at all means unseen.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Standing {
    /// The present level.
    pub level: Level,
    /// The highest level ever.
    pub peak: Level,
    /// Since when it has stood at Prompted or better; `None` below.
    pub passed_at: Option<DateTime<Utc>>,
    /// The last look of any kind.
    pub looked_at: DateTime<Utc>,
    /// The last look at the child's own chair; scans do not count.
    pub visited_at: Option<DateTime<Utc>>,
    /// Meetings from the last look until the next; `None` below Alone.
    pub interval: Option<u32>,
    /// In how many visits in a row it was looked at since it rose last, below Alone; 0 from there on.
    pub tries: u32,
    /// Whether the last look found a slip: a lower level than before, or a slip ticked.
    pub slipped: bool,
    /// The slips ticked at the last look.
    pub slips: BTreeSet<SlipId>,
    /// What the child said when last asked.
    pub says: Option<Says>,
}

impl Standing {
    /// The meeting at which this checkpoint is due again; `None` below Alone.
    #[must_use]
    pub fn due_at(&self, calendar: &MeetingCalendar) -> Option<u32> {
        Some(calendar.meeting_at(self.looked_at).saturating_add(self.interval?))
    }

    /// Whether it was looked at time and again without rising: time to try another way.
    #[must_use]
    pub fn is_stuck(&self) -> bool {
        self.tries >= STUCK_AFTER
    }

    /// Whether the next visit leaves it for something else: after every so many tries.
    #[must_use]
    pub fn rests(&self) -> bool {
        self.is_stuck() && self.tries.is_multiple_of(STUCK_AFTER)
    }
}

/// How a checkpoint stands, with what its next observations need to know of those before.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct StandingSoFar {
    /// How it stands.
    pub standing: Standing,
    /// Lasting in a row.
    pub lasting_run: u32,
    /// The meeting of the stage look that would make the next one, at another meeting, the second in a row.
    pub held_at: Option<u32>,
    /// The meeting of the last visit at which it was looked at below Alone.
    pub tried_at: Option<u32>,
}

/// The standings of one child at every checkpoint its observations speak of, unseen ones left out.
///
/// `observations` are one child's, in any order, with any repeats; targets the checklist does not know are passed over. They
/// may be limited to some stages: a stage's standings follow from the observations on it and on its checkpoints alone.
#[must_use]
pub fn standings(
    checklist: &Checklist,
    observations: &[Observation],
    calendar: &MeetingCalendar,
    rhythm: &Rhythm,
) -> BTreeMap<CheckpointId, Standing> {
    let nothing = BTreeMap::new();
    let folds = fold(checklist, &nothing, observations, calendar, rhythm);
    let standings = checklist.checkpoints().iter().zip(folds);
    standings.filter_map(|(checkpoint, fold)| Some((checkpoint.id.clone(), fold.current?.standing()))).collect()
}

/// [`standings`] that go on: `before` is what came of all observations that were made before the first of these.
#[must_use]
pub fn standings_so_far(
    checklist: &Checklist,
    before: &BTreeMap<CheckpointId, StandingSoFar>,
    observations: &[Observation],
    calendar: &MeetingCalendar,
    rhythm: &Rhythm,
) -> BTreeMap<CheckpointId, StandingSoFar> {
    let folds = fold(checklist, before, observations, calendar, rhythm);
    let standings = checklist.checkpoints().iter().zip(folds);
    let so_far = |fold: StandingFold<'_>| {
        let StandingFold { current, lasting_run, held_at, tried_at } = fold;
        Some(StandingSoFar { standing: current?.standing(), lasting_run, held_at, tried_at })
    };
    standings.filter_map(|(checkpoint, fold)| Some((checkpoint.id.clone(), so_far(fold)?))).collect()
}

/// The fold of each checkpoint of the checklist, in its order.
fn fold<'a>(
    checklist: &'a Checklist,
    before: &'a BTreeMap<CheckpointId, StandingSoFar>,
    observations: &'a [Observation],
    calendar: &'a MeetingCalendar,
    rhythm: &'a Rhythm,
) -> Vec<StandingFold<'a>> {
    let mut unfolding = Unfolding::new(checklist, calendar, rhythm);
    for (id, so_far) in before {
        unfolding.goes_on(id, so_far);
    }
    for observation in in_force(observations) {
        unfolding.take(observation);
    }
    unfolding.folds
}
