//! Slips that came and went.

use std::collections::BTreeMap;
use std::collections::btree_map::Entry;

use crate::ChildId;
use crate::craft::id::{CheckpointId, SlipId, Target};
use crate::progress::observation::Observed;
use crate::term::past::{Past, Span};

/// A slip of one child, from the meeting at which it was first ticked to the one at which it was gone.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SlipThen {
    /// Whose.
    pub child: ChildId,
    /// Which.
    pub slip: SlipId,
    /// The meeting at which it was first ticked.
    pub from: u32,
    /// The meeting of the first look at its checkpoint at which it was not ticked any more; `None` while it is still there.
    pub until: Option<u32>,
}

impl SlipThen {
    /// After how many meetings it was gone.
    #[must_use]
    pub fn gone_after(&self) -> Option<u32> {
        Some(self.until?.saturating_sub(self.from))
    }
}

/// The slips of one child while its looks are read.
#[derive(Default)]
struct Open<'a> {
    found: Vec<SlipThen>,
    /// Those that are still there, by their places.
    open: BTreeMap<(&'a CheckpointId, &'a SlipId), usize>,
}

impl<'a> Open<'a> {
    /// Those of which this is so are gone at a meeting.
    fn close(&mut self, meeting: u32, is_gone: impl Fn(&CheckpointId, &SlipId) -> bool) {
        let found = &mut self.found;
        self.open.retain(|(checkpoint, slip), place| {
            let gone = is_gone(checkpoint, slip);
            if gone {
                found[*place].until = Some(meeting);
            }
            !gone
        });
    }

    fn tick(&mut self, child: ChildId, checkpoint: &'a CheckpointId, slip: &'a SlipId, meeting: u32) {
        if let Entry::Vacant(vacant) = self.open.entry((checkpoint, slip)) {
            vacant.insert(self.found.len());
            self.found.push(SlipThen { child, slip: slip.clone(), from: meeting, until: None });
        }
    }
}

/// The slips of a child, in the order in which they came; those that were gone before it joined are left out.
#[must_use]
pub fn slips(past: &Past<'_>, span: &Span<'_>) -> Vec<SlipThen> {
    let mut open = Open::default();
    for look in &past.seen {
        let meeting = span.calendar.meeting_at(look.observed_at);
        match (&look.target, &look.seen) {
            (Target::Checkpoint(at), Observed::Level { slips, .. }) => {
                open.close(meeting, |checkpoint, slip| checkpoint == at && !slips.contains(slip));
                for slip in slips {
                    open.tick(past.child, at, slip, meeting);
                }
            }
            (Target::Stage(stage), Observed::Holds { except }) => open.close(meeting, |checkpoint, _| {
                let found = past.checklist.checkpoint(checkpoint.as_str());
                found.is_some_and(|found| found.stage == *stage) && !except.contains(checkpoint)
            }),
            _ => {}
        }
    }
    open.found.retain(|slip| slip.until.is_none_or(|until| until >= past.joined));
    open.found
}
