//! The rhythm of a class: after how many meetings something is looked at again, and whether that is due.

use serde::{Deserialize, Serialize};
use std::cmp::Ordering;

use crate::craft::level::Level;

/// After how many meetings what stands is looked at again. Below Alone nothing has a clock: it is in work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Rhythm {
    /// What stands at Alone.
    pub alone: u32,
    /// What is Lasting for the first time; each further Lasting in a row doubles it.
    pub lasting: u32,
    /// No interval grows beyond this many meetings.
    pub longest: u32,
    /// A set of tapes placed or heard, not yet found holding.
    pub tapes_first: u32,
    /// A set of tapes that held once.
    pub tapes_later: u32,
}

impl Default for Rhythm {
    fn default() -> Self {
        Self { alone: 4, lasting: 8, longest: 12, tapes_first: 3, tapes_later: 20 }
    }
}

/// No interval of a class is longer than this, in meetings: a school year has fewer.
pub const MAX_INTERVAL: u32 = 200;

/// From this level on a checkpoint lets the next stage open.
pub const PASSES: Level = Level::Prompted;
/// From this level on a checkpoint counts as reached.
pub const REACHES: Level = Level::Alone;
/// The interval after a slip at something that stands, in meetings.
pub const AFTER_SLIP: u32 = 1;
/// Looked at in so many visits in a row without rising: set aside for one visit, and tried another way.
pub const STUCK_AFTER: u32 = 3;

impl Rhythm {
    /// What cannot be, by field: `alone`, `lasting`, `longest`, `tapesFirst`, `tapesLater`.
    #[must_use]
    pub fn faults(&self) -> Vec<(&'static str, String)> {
        let fields = [
            ("alone", self.alone),
            ("lasting", self.lasting),
            ("longest", self.longest),
            ("tapesFirst", self.tapes_first),
            ("tapesLater", self.tapes_later),
        ];
        let outside = fields.into_iter().filter(|(_, meetings)| !(1..=MAX_INTERVAL).contains(meetings));
        let mut faults: Vec<_> = outside.map(|(field, _)| (field, format!("1 to {MAX_INTERVAL} meetings."))).collect();
        if self.lasting < self.alone {
            faults.push(("lasting", "At least as long as after Alone.".to_owned()));
        }
        if self.longest < self.lasting {
            faults.push(("longest", "At least as long as after Lasting.".to_owned()));
        }
        faults
    }

    /// Meetings until the next look at what stands at `level`, the `lasting_run`th Lasting in a row (1 for the first); `None`
    /// below Alone, which has no clock.
    #[must_use]
    pub fn interval(&self, level: Level, lasting_run: u32) -> Option<u32> {
        match level {
            Level::Lasting => {
                let doublings = lasting_run.saturating_sub(1);
                let grown = self.lasting.checked_shl(doublings).filter(|grown| grown >> doublings == self.lasting);
                Some(grown.unwrap_or(self.longest).min(self.longest))
            }
            Level::Alone => Some(self.alone.min(self.longest)),
            _ => None,
        }
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

    /// By how many meetings it is late, where it is.
    #[must_use]
    pub fn late(self) -> Option<u32> {
        match self {
            Self::Overdue(meetings) => Some(meetings),
            Self::Fresh(_) | Self::Due => None,
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
