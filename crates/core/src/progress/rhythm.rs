//! The rhythm of a class: after how many meetings something is looked at again, and whether that is due.

use serde::{Deserialize, Serialize};
use std::cmp::Ordering;

use crate::craft::level::Level;

/// After how many meetings something is looked at again.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Rhythm {
    /// Meetings until the next look, by the level number 0 to 4.
    pub after: [u32; 5],
    /// No interval grows beyond this many meetings.
    pub longest: u32,
    /// A set of tapes placed or heard, not yet found holding.
    pub tapes_first: u32,
    /// A set of tapes that held once.
    pub tapes_later: u32,
}

impl Default for Rhythm {
    fn default() -> Self {
        Self { after: [1, 1, 2, 5, 10], longest: 40, tapes_first: 3, tapes_later: 20 }
    }
}

/// No interval of a class is longer than this, in meetings: a school year has fewer.
pub const MAX_INTERVAL: u32 = 200;

/// From this level on a checkpoint lets the next stage open.
pub const PASSES: Level = Level::Prompted;
/// From this level on a checkpoint counts as reached.
pub const REACHES: Level = Level::Alone;
/// The interval after a slip, in meetings.
pub const AFTER_SLIP: u32 = 1;

impl Rhythm {
    /// What cannot be, by field: `after`, `longest`, `tapesFirst`, `tapesLater`.
    #[must_use]
    pub fn faults(&self) -> Vec<(&'static str, String)> {
        let outside = |meetings: u32| !(1..=MAX_INTERVAL).contains(&meetings);
        let mut faults = Vec::new();
        let fields = [("longest", self.longest), ("tapesFirst", self.tapes_first), ("tapesLater", self.tapes_later)];
        let fields = self.after.iter().map(|meetings| ("after", *meetings)).chain(fields);
        for (field, _) in fields.filter(|(_, meetings)| outside(*meetings)) {
            if faults.iter().all(|(known, _)| *known != field) {
                faults.push((field, format!("1 to {MAX_INTERVAL} meetings.")));
            }
        }
        if !self.after.is_sorted() {
            faults.push(("after", "A higher level is looked at again no sooner than a lower one.".to_owned()));
        }
        if self.longest < self.after[4] {
            faults.push(("longest", "At least as long as after Lasting.".to_owned()));
        }
        faults
    }

    /// Meetings until the next look at `level`, the `lasting_run`th Lasting in a row (1 for the first).
    #[must_use]
    pub fn interval(&self, level: Level, lasting_run: u32) -> u32 {
        let base = self.after[usize::from(level.number())];
        let doublings = if level == Level::Lasting { lasting_run.saturating_sub(1) } else { 0 };
        base.checked_shl(doublings).filter(|grown| grown >> doublings == base).unwrap_or(self.longest).min(self.longest)
    }
}

/// Whether something wants another look, in meetings. Ordered by how pressing it is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "state", content = "meetings", rename_all = "lowercase")]
pub enum Recheck {
    /// Looked at, nothing to do yet; due in so many meetings.
    Fresh(u32),
    /// Its meeting is reached.
    Due,
    /// Its meeting has gone by so many meetings ago.
    Overdue(u32),
}

impl Recheck {
    /// The state at meeting `now` of something due at meeting `due`.
    #[must_use]
    pub fn at(now: u32, due: u32) -> Self {
        match now.checked_sub(due) {
            None => Self::Fresh(due - now),
            Some(0) => Self::Due,
            Some(meetings) => Self::Overdue(meetings),
        }
    }

    /// Meetings late, negative while there is time.
    fn late_by(self) -> i64 {
        match self {
            Self::Fresh(meetings) => -i64::from(meetings),
            Self::Due => 0,
            Self::Overdue(meetings) => i64::from(meetings),
        }
    }

    /// Due or overdue.
    #[must_use]
    pub fn is_due(self) -> bool {
        !matches!(self, Self::Fresh(_))
    }
}

impl Ord for Recheck {
    fn cmp(&self, other: &Self) -> Ordering {
        self.late_by().cmp(&other.late_by())
    }
}

impl PartialOrd for Recheck {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}
