//! Small groups that were kept, and whether one helped: how its children stood where they worked together, before and after,
//! beside the others who stood there too.

use std::collections::BTreeSet;

use chrono::{DateTime, Utc};

use crate::craft::id::{CheckpointId, SlipId, Target};
use crate::craft::level::Level;
use crate::progress::unfolding::Unfolding;
use crate::term::past::{Past, REACHED, Span};
use crate::worded::worded;
use crate::{ChildId, GroupId};

/// What was looked at so many meetings after a group began is not laid at its door.
pub const COUNTS_FOR_MEETINGS: u32 = 8;

/// One in so many is a clear difference between two shares: fewer is chance.
const CLEARLY_MORE: usize = 5;
/// No class has more groups than this that go on.
pub const MAX_GROUPS: usize = 12;

/// A small group, as a director keeps it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SmallGroup {
    /// Made by the device.
    pub id: GroupId,
    /// Where its children work together.
    pub checkpoint: CheckpointId,
    /// The slip that they share, if it is one.
    pub slip: Option<SlipId>,
    /// Two to six.
    pub children: BTreeSet<ChildId>,
    /// When it was made.
    pub began_at: DateTime<Utc>,
    /// When it ended; `None` while it goes on.
    pub ended_at: Option<DateTime<Utc>>,
}

/// How one child stood where a group works, before and after.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Change {
    /// Whom.
    pub child: ChildId,
    /// The level when the group began; `None` where nobody had looked.
    pub before: Option<Level>,
    /// The level after.
    pub after: Option<Level>,
    /// Whether somebody looked since.
    pub looked: bool,
    /// Whether it came further: the level rose, or it did not sink and the slip that they share is gone.
    pub further: bool,
}

worded! {
    /// Whether a group helped, as far as one can say.
    Verdict {
        /// Fewer than half of its children were looked at since.
        TooEarly = "tooEarly",
        /// At least half of those who were looked at came further, and a fifth more of them than of the others.
        Helped = "helped",
        /// At least half of them came further, and the others did as often without it.
        AsOthers = "asOthers",
        /// Fewer than half of them came further.
        NotYet = "notYet",
    }
}

/// What became of a group.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Outcome {
    /// Its children.
    pub children: Vec<Change>,
    /// The others who were seen below Alone at the same checkpoint when it began.
    pub others: Vec<Change>,
    /// What that comes to.
    pub verdict: Verdict,
}

/// How a child stood at one checkpoint at a moment.
struct Stood {
    level: Option<Level>,
    slip: bool,
    looked_at: Option<DateTime<Utc>>,
}

impl SmallGroup {
    /// What became of it by now: its children and the others, from its beginning to its end, at most
    /// [`COUNTS_FOR_MEETINGS`] meetings later.
    #[must_use]
    pub fn outcome(&self, class: &[Past<'_>], span: &Span<'_>) -> Outcome {
        let last = span.calendar.meeting_at(self.began_at).saturating_add(COUNTS_FOR_MEETINGS);
        let counts =
            |at: DateTime<Utc>| span.calendar.meeting_at(at) <= last && self.ended_at.is_none_or(|ended| at <= ended);
        let (mut children, mut others) = (Vec::new(), Vec::new());
        for past in class {
            let Some(place) = past.checklist.place(self.checkpoint.as_str()) else { continue };
            let before = self.stood(past, span, place, |at| at <= self.began_at);
            let after = self.stood(past, span, place, counts);
            let looked = after.looked_at > Some(self.began_at);
            let gone = self.slip.is_some() && before.slip && !after.slip && after.level >= before.level;
            let further = looked && (after.level > before.level || gone);
            let change = Change { child: past.child, before: before.level, after: after.level, looked, further };
            if self.children.contains(&past.child) {
                children.push(change);
            } else if before.level.is_some_and(|level| level < REACHED) {
                others.push(change);
            }
        }
        let verdict = verdict(&children, &others);
        Outcome { children, others, verdict }
    }

    /// How a child stood where the group works, by the looks at moments that count.
    fn stood(&self, past: &Past<'_>, span: &Span<'_>, place: usize, counts: impl Fn(DateTime<Utc>) -> bool) -> Stood {
        let stage = &past.checklist.checkpoints()[place].stage;
        let mut unfolding = Unfolding::new(past.checklist, span.calendar, span.rhythm);
        let here = |target: &Target| match target {
            Target::Checkpoint(id) => *id == self.checkpoint,
            Target::Stage(id) => id == stage,
        };
        for look in past.seen.iter().filter(|look| here(&look.target) && counts(look.observed_at)) {
            unfolding.take(look);
        }
        let standing = unfolding.standing(place);
        let has_slip = |slip: &SlipId| standing.as_ref().is_some_and(|standing| standing.slips.contains(slip));
        Stood {
            level: standing.as_ref().map(|standing| standing.level),
            slip: self.slip.as_ref().is_some_and(has_slip),
            looked_at: standing.as_ref().map(|standing| standing.looked_at),
        }
    }
}

fn verdict(children: &[Change], others: &[Change]) -> Verdict {
    let count = |changes: &[Change], is: fn(&Change) -> bool| changes.iter().filter(|change| is(change)).count();
    let (looked, further) = (count(children, |one| one.looked), count(children, |one| one.further));
    if looked * 2 < children.len() || looked == 0 {
        return Verdict::TooEarly;
    }
    if further * 2 < looked {
        return Verdict::NotYet;
    }
    let (others_looked, others_further) = (count(others, |one| one.looked), count(others, |one| one.further));
    // Shares compared without dividing: where no other was looked at there is nothing to compare with.
    let enough = others_further * looked * CLEARLY_MORE + looked * others_looked;
    if others_looked > 0 && further * others_looked * CLEARLY_MORE < enough {
        return Verdict::AsOthers;
    }
    Verdict::Helped
}

#[cfg(test)]
mod tests {
    use super::*;

    /// So many who were looked at, and so many of them who came further.
    fn changes(looked: usize, further: usize) -> Vec<Change> {
        let change = |further| Change {
            child: uuid::Uuid::nil().into(),
            before: Some(Level::Placed),
            after: Some(Level::Placed),
            looked: true,
            further,
        };
        (0..looked).map(|place| change(place < further)).collect()
    }

    #[test]
    fn a_fifth_more_is_a_difference_and_less_is_chance() {
        let of = |others_looked, others_further| verdict(&changes(4, 4), &changes(others_looked, others_further));
        assert_eq!((of(5, 4), of(6, 5)), (Verdict::Helped, Verdict::AsOthers));
        assert_eq!((of(0, 0), of(4, 4)), (Verdict::Helped, Verdict::AsOthers));
        assert_eq!(verdict(&changes(4, 2), &changes(10, 3)), Verdict::Helped);
        assert_eq!(verdict(&changes(4, 1), &changes(10, 0)), Verdict::NotYet);
        assert_eq!(verdict(&[], &[]), Verdict::TooEarly);
    }
}
