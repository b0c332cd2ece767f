//! Standing: how one child stands at one checkpoint, computed from marks alone.
//!
//! A standing depends on the set of marks in force, never on the order in which they arrived or how often. It is
//! counted in meetings of the class's calendar: "due" means that the meeting is reached at which somebody should look
//! again.

use std::cmp::Ordering;
use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};

use crate::calendar::MeetingCalendar;
use crate::checklist::{Checklist, CheckpointId, SlipId};
use crate::mark::{Level, Mark, Says, Seen, Target, Via, in_force};

/// After how many meetings something is looked at again.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
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
pub const RHYTHM_MOST: u32 = 200;

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
        let outside = |meetings: u32| !(1..=RHYTHM_MOST).contains(&meetings);
        let mut faults = Vec::new();
        let fields = [("longest", self.longest), ("tapesFirst", self.tapes_first), ("tapesLater", self.tapes_later)];
        let fields = self.after.iter().map(|meetings| ("after", *meetings)).chain(fields);
        for (field, _) in fields.filter(|(_, meetings)| outside(*meetings)) {
            if faults.iter().all(|(told, _)| *told != field) {
                faults.push((field, format!("1 to {RHYTHM_MOST} meetings.")));
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
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
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

/// How a child stands at a checkpoint that somebody has looked at. No standing at all means unseen.
#[derive(Clone, Debug, PartialEq, Eq)]
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
    /// Meetings from the last look until the next.
    pub interval: u32,
    /// Whether the last look found a slip: a lower level than before, or a slip ticked.
    pub slipped: bool,
    /// The slips ticked at the last look.
    pub slips: BTreeSet<SlipId>,
    /// What the child said when last asked.
    pub says: Option<Says>,
}

impl Standing {
    /// The meeting at which this checkpoint is due again.
    #[must_use]
    pub fn due_at(&self, calendar: &MeetingCalendar) -> u32 {
        calendar.meeting_at(self.looked_at).saturating_add(self.interval)
    }
}

/// The standings of one child at every checkpoint its marks speak of, unseen ones left out.
///
/// `marks` are one child's, in any order, with any repeats; targets the checklist does not know are passed over. They
/// may be limited to some stages: a stage's standings follow from the marks on it and on its checkpoints alone.
#[must_use]
pub fn standings(
    checklist: &Checklist,
    marks: &[Mark],
    calendar: &MeetingCalendar,
    rhythm: &Rhythm,
) -> BTreeMap<CheckpointId, Standing> {
    // By place, not by id: a class has tens of thousands of marks.
    let mut courses: Vec<Course<'_>> = Vec::new();
    courses.resize_with(checklist.checkpoints().len(), Course::default);
    for mark in in_force(marks) {
        match (&mark.target, &mark.seen) {
            (Target::Checkpoint(id), Seen::Level { level, slips }) => {
                if let Some(place) = checklist.place(id.as_str()) {
                    courses[place].look(mark.into(), *level, Some(slips), rhythm);
                }
            }
            (Target::Stage(id), Seen::Holds { except }) => {
                let meeting = calendar.meeting_at(mark.observed_at);
                let Some(stage) = checklist.stages().iter().position(|stage| stage.id == *id) else { continue };
                for place in checklist.places_of(stage) {
                    if !except.contains(&checklist.checkpoints()[place].id) {
                        courses[place].holds(mark.into(), meeting, rhythm);
                    }
                }
            }
            _ => {}
        }
    }
    let standings = checklist.checkpoints().iter().zip(courses);
    standings.filter_map(|(checkpoint, course)| Some((checkpoint.id.clone(), course.now?.standing()))).collect()
}

/// What the rules read of a mark beside what was seen.
#[derive(Clone, Copy)]
struct Look {
    at: DateTime<Utc>,
    via: Via,
    says: Option<Says>,
}

impl From<&Mark> for Look {
    fn from(mark: &Mark) -> Self {
        Self { at: mark.observed_at, via: mark.via, says: mark.says }
    }
}

impl Look {
    fn visit(at: DateTime<Utc>) -> Self {
        Self { at, via: Via::Visit, says: None }
    }
}

/// A standing as it would go on with looks that nobody has made yet.
///
/// Whether a stage look just before was the first in a row is not known of a standing: the next one counts as the first.
#[derive(Clone, Debug)]
pub struct Going {
    /// How it stands by now.
    pub standing: Standing,
    lasting_run: u32,
    held_at: Option<u32>,
}

impl Going {
    /// From here on.
    #[must_use]
    pub fn from(standing: Standing, rhythm: &Rhythm) -> Self {
        let lasting = standing.level == Level::Lasting && !standing.slipped;
        let run = (1..=RHYTHM_MOST).find(|run| {
            let interval = rhythm.interval(Level::Lasting, *run);
            interval >= standing.interval || interval >= rhythm.longest
        });
        Self { lasting_run: run.filter(|_| lasting).unwrap_or_default(), held_at: None, standing }
    }

    /// Seen for the first time, at a visit.
    #[must_use]
    pub fn begun(at: DateTime<Utc>, level: Level, rhythm: &Rhythm) -> Self {
        let mut course = Course::default();
        course.look(Look::visit(at), level, None, rhythm);
        let standing = course.now.expect("a look makes a standing").standing();
        Self { standing, lasting_run: course.lasting_run, held_at: None }
    }

    /// Seen at a visit, no slip.
    pub fn look(&mut self, at: DateTime<Utc>, level: Level, rhythm: &Rhythm) {
        self.go_on(|course| course.look(Look::visit(at), level, None, rhythm));
    }

    /// Its stage was found as it was, at a visit in meeting `meeting`.
    pub fn holds(&mut self, at: DateTime<Utc>, meeting: u32, rhythm: &Rhythm) {
        self.go_on(|course| course.holds(Look::visit(at), meeting, rhythm));
    }

    fn go_on(&mut self, by: impl FnOnce(&mut Course<'_>)) {
        // A fine look leaves no slip behind.
        let mut course =
            Course { now: Some(Now::of(&self.standing)), lasting_run: self.lasting_run, held_at: self.held_at };
        by(&mut course);
        let (lasting_run, held_at) = (course.lasting_run, course.held_at);
        let standing = course.now.map(Now::standing);
        self.standing = standing.expect("looks never take a standing away");
        (self.lasting_run, self.held_at) = (lasting_run, held_at);
    }
}

/// A checkpoint's standing while its marks are read in order.
#[derive(Default)]
struct Course<'a> {
    now: Option<Now<'a>>,
    /// Lasting in a row.
    lasting_run: u32,
    /// The meeting of the stage look that would make the next one, at another meeting, the second in a row.
    held_at: Option<u32>,
}

/// A [`Standing`] whose slips are still the mark's.
#[derive(Clone, Copy)]
struct Now<'a> {
    level: Level,
    peak: Level,
    passed_at: Option<DateTime<Utc>>,
    looked_at: DateTime<Utc>,
    visited_at: Option<DateTime<Utc>>,
    interval: u32,
    slipped: bool,
    slips: Option<&'a BTreeSet<SlipId>>,
    says: Option<Says>,
}

impl<'a> Now<'a> {
    fn of(standing: &'a Standing) -> Self {
        Self {
            level: standing.level,
            peak: standing.peak,
            passed_at: standing.passed_at,
            looked_at: standing.looked_at,
            visited_at: standing.visited_at,
            interval: standing.interval,
            slipped: standing.slipped,
            slips: Some(&standing.slips),
            says: standing.says,
        }
    }

    fn standing(self) -> Standing {
        Standing {
            level: self.level,
            peak: self.peak,
            passed_at: self.passed_at,
            looked_at: self.looked_at,
            visited_at: self.visited_at,
            interval: self.interval,
            slipped: self.slipped,
            slips: self.slips.cloned().unwrap_or_default(),
            says: self.says,
        }
    }
}

impl<'a> Course<'a> {
    fn look(&mut self, look: Look, level: Level, slips: Option<&'a BTreeSet<SlipId>>, rhythm: &Rhythm) {
        if look.via == Via::Scan && level >= REACHES {
            self.confirm(look);
            return;
        }
        self.held_at = None;
        self.settle(look, level, slips, rhythm);
    }

    /// A scan confirms what stands; it gives no level and raises none.
    fn confirm(&mut self, look: Look) {
        if let Some(now) = self.now.as_mut().filter(|now| now.level >= REACHES) {
            now.looked_at = look.at;
            now.says = look.says.or(now.says);
        }
    }

    fn holds(&mut self, look: Look, meeting: u32, rhythm: &Rhythm) {
        let Some(before) = self.now.filter(|now| now.level >= REACHES) else { return };
        if look.via == Via::Scan {
            self.confirm(look);
            return;
        }
        let second = self.held_at.is_some_and(|first| first != meeting);
        let level = if second { Level::Lasting } else { before.level };
        self.held_at = self.held_at.or(Some(meeting));
        self.settle(look, level, None, rhythm);
    }

    fn settle(&mut self, look: Look, level: Level, slips: Option<&'a BTreeSet<SlipId>>, rhythm: &Rhythm) {
        let before = self.now;
        let ticked = slips.is_some_and(|slips| !slips.is_empty());
        let slipped = ticked || before.is_some_and(|now| level < now.level);
        self.lasting_run = if level == Level::Lasting && !slipped { self.lasting_run + 1 } else { 0 };
        let passed_at = before.and_then(|now| now.passed_at).or(Some(look.at));
        self.now = Some(Now {
            level,
            peak: before.map_or(level, |now| now.peak.max(level)),
            passed_at: passed_at.filter(|_| level >= PASSES),
            looked_at: look.at,
            visited_at: if look.via == Via::Visit { Some(look.at) } else { before.and_then(|now| now.visited_at) },
            interval: if slipped { AFTER_SLIP } else { rhythm.interval(level, self.lasting_run) },
            slipped,
            slips,
            says: look.says.or(before.and_then(|now| now.says)),
        });
    }
}
