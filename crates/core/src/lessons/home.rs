//! What a child does at home this week: which blocks, on which days, and the one to three things that the card shows.
//!
//! It **is** a choice from what goes home ([`HomeContent`]) by what a child has passed, what comes next for it and what is sore. It
//! **is not** the arithmetic of minutes, which is [`crate::lessons::practice`].

use std::collections::{BTreeMap, BTreeSet};

use chrono::{Datelike, Days, NaiveDate};
use serde::{Deserialize, Serialize};

use crate::craft::drills::Lessons;
use crate::craft::family_wording::Language;
use crate::craft::home::{BlockKind, Exercise, HomeContent};
use crate::craft::id::{CheckpointId, Target};
use crate::craft::strand::Strand;
use crate::lessons::lesson::passed;
use crate::lessons::practice::{self, Block, MINUTES, NoWeek};
use crate::progress::calendar::MeetingCalendar;
use crate::progress::next::{NextCheck, Order, Reason};
use crate::progress::pupil::Pupil;
use crate::progress::standing::Standing;
use crate::worded::worded;

/// How often each finger taps, at least and at most.
pub const TAPS: (u32, u32) = (5, 50);
/// So many days fingers press shorter, from the day on which a child came into the class.
pub const FIRST_MONTH_DAYS: u64 = 28;

worded! {
    /// How the minutes of a day are spent.
    Sitting {
        /// In one go.
        One = "one",
        /// In several short moments.
        Moments = "moments",
    }
}

/// How a class practises at home.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct HomeSettings {
    /// On which days, 1 for Monday to 7 for Sunday.
    #[cfg_attr(feature = "schema", schema(max_items = 7))]
    pub days: BTreeSet<u32>,
    /// Minutes a day, 3 to 60.
    pub minutes: u32,
    /// How often each finger taps, 5 to 50.
    pub taps: u32,
    /// How the minutes are spent.
    pub sitting: Sitting,
}

impl Default for HomeSettings {
    fn default() -> Self {
        Self { days: (1..=5).collect(), minutes: 10, taps: 20, sitting: Sitting::One }
    }
}

impl HomeSettings {
    /// Every field that cannot be, with what can.
    #[must_use]
    pub fn faults(&self) -> Vec<(&'static str, String)> {
        let mut faults = Vec::new();
        if self.days.is_empty() || !self.days.iter().all(|day| (1..=7).contains(day)) {
            faults.push(("days", "Choose at least one day; days are 1 for Monday to 7 for Sunday.".to_owned()));
        }
        if !(MINUTES.0..=MINUTES.1).contains(&self.minutes) {
            faults.push(("minutes", format!("{} to {} minutes a day.", MINUTES.0, MINUTES.1)));
        }
        if !(TAPS.0..=TAPS.1).contains(&self.taps) {
            faults.push(("taps", format!("{} to {} taps for each finger.", TAPS.0, TAPS.1)));
        }
        faults
    }
}

/// What is agreed with one family instead of what the class does.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct HomeAgreement {
    /// On which days, 1 for Monday to 7 for Sunday; absent: as the class.
    #[cfg_attr(feature = "schema", schema(max_items = 7))]
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub days: Option<BTreeSet<u32>>,
    /// Minutes a day, 3 to 60; absent: as the class.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub minutes: Option<u32>,
    /// The card comes in large print.
    #[serde(default)]
    pub large: bool,
    /// The family's language, in which the card says its lines too where the class has words for them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub language: Option<Language>,
}

impl HomeSettings {
    /// The same with what is agreed with one family.
    #[must_use]
    pub fn with(&self, agreement: &HomeAgreement) -> Self {
        Self {
            days: agreement.days.clone().unwrap_or_else(|| self.days.clone()),
            minutes: agreement.minutes.unwrap_or(self.minutes),
            ..self.clone()
        }
    }
}

/// A block of a day as a card and the API have it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct HomeBlock {
    /// What one does.
    pub kind: BlockKind,
    /// For so long.
    pub minutes: u32,
    /// How often, for each finger.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub count: Option<u32>,
    /// Whether fingers press the strings down.
    pub presses: bool,
}

/// A day of practice.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct HomeDay {
    /// Which.
    pub date: NaiveDate,
    /// What is done, in order.
    pub blocks: Vec<HomeBlock>,
}

/// A child's week at home.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HomeWeek<'a> {
    /// The days of practice within seven days.
    pub days: Vec<HomeDay>,
    /// What is done in each block.
    pub exercises: BTreeMap<BlockKind, &'a Exercise>,
    /// What the child shows: one to three checkpoints, with what the child's checks are about.
    pub shown: Vec<CheckpointId>,
}

/// When something that was found right is looked at again, from how it stands: at the meeting at which that is due, or at the next
/// one where it was due before. `None` while it is not right, and where the class does not meet any more.
#[must_use]
pub fn again_on(standing: &Standing, calendar: &MeetingCalendar, today: NaiveDate) -> Option<NaiveDate> {
    let due = standing.due_at(calendar)?;
    calendar.next_from(calendar.date_of(due)?.max(today))
}

/// Who practises: what is read of a child.
#[derive(Clone, Copy, Debug)]
pub struct AtHome<'a> {
    /// What is asked of it and how it stands.
    pub pupil: Pupil<'a>,
    /// Since when it is in the class.
    pub joined_on: NaiveDate,
    /// Which hand comes first in the class.
    pub order: Order,
    /// How many things a child works on at once.
    pub at_once: usize,
}

impl AtHome<'_> {
    /// The week that begins on a day. What the class's `lessons` do not have is not done at home either.
    ///
    /// # Errors
    /// [`NoWeek`] for settings with [`HomeSettings::faults`].
    pub fn week<'h>(
        &self,
        first: NaiveDate,
        settings: &HomeSettings,
        (home, lessons): (&'h HomeContent, &Lessons),
    ) -> Result<HomeWeek<'h>, NoWeek> {
        let exercises = self.exercises(home, lessons);
        let wanted: BTreeSet<_> = exercises.keys().copied().filter(|kind| *kind != BlockKind::Sing).collect();
        let dates: Vec<_> = first
            .iter_days()
            .take(7)
            .filter(|day| settings.days.contains(&day.weekday().number_from_monday()))
            .collect();
        let month_ends = self.joined_on.checked_add_days(Days::new(FIRST_MONTH_DAYS));
        let first_month = month_ends.is_none_or(|ends| first < ends);
        let count = u32::try_from(dates.len()).unwrap_or(u32::MAX);
        let days = practice::week(count, settings.minutes, &wanted, first_month)?;
        let block = |block: Block| HomeBlock {
            kind: block.kind,
            minutes: block.minutes,
            count: (block.kind == BlockKind::FingerStrength).then_some(settings.taps),
            presses: block.kind.presses(),
        };
        let days = dates.into_iter().zip(days);
        let days = days.map(|(date, blocks)| HomeDay { date, blocks: blocks.into_iter().map(block).collect() });
        Ok(HomeWeek { days: days.collect(), exercises, shown: self.shown(home) })
    }

    /// What is done in each block: the furthest exercise that is open and of whose drill the class has one; nothing that is sore.
    fn exercises<'h>(&self, home: &'h HomeContent, lessons: &Lessons) -> BTreeMap<BlockKind, &'h Exercise> {
        let (pupil, sore) = (&self.pupil, self.sore());
        let has = |id: &String| {
            lessons.drills.iter().any(|drill| drill.id == *id && drill.instruments.contains(&pupil.instrument))
        };
        let open = home
            .exercises
            .iter()
            .filter(|exercise| exercise.after.as_ref().is_none_or(|after| passed(pupil, after)))
            .filter(|exercise| exercise.drill.as_ref().is_none_or(has))
            .filter(|exercise| !sore.iter().any(|strand| spares(*strand, exercise.block)));
        // Of a block the last one stays.
        open.map(|exercise| (exercise.block, exercise)).collect()
    }

    /// Where the child said that it hurts.
    fn sore(&self) -> BTreeSet<Strand> {
        let pain = self.pupil.context.pain.iter();
        pain.filter_map(|target| self.pupil.checklist.strand_of_target(target)).collect()
    }

    /// The checkpoints that the first of the next checks are about, without what is sore and what is the school's work, as tapes
    /// are. Where the hold is sore nothing is shown, as nothing is played.
    fn shown(&self, home: &HomeContent) -> Vec<CheckpointId> {
        let (pupil, sore) = (&self.pupil, self.sore());
        if sore.contains(&Strand::Hold) {
            return Vec::new();
        }
        let fits = |check: &NextCheck| {
            let strand = pupil.checklist.strand_of_target(&check.target);
            check.reason != Reason::Hurts
                && strand.is_some_and(|strand| strand != Strand::Tape && !sore.contains(&strand))
        };
        let mut shown: Vec<CheckpointId> = Vec::new();
        for check in pupil.next(self.order).iter().filter(|check| fits(check)) {
            // A stage is shown by the first of its checkpoints that is asked.
            let checkpoint = match &check.target {
                Target::Checkpoint(id) => Some(id.clone()),
                Target::Stage(id) => pupil.asked(id).next().map(|checkpoint| checkpoint.id.clone()),
            };
            shown.extend(checkpoint.filter(|id| !shown.contains(id) && !home.not_at_home.contains(id)));
            if shown.len() >= self.at_once {
                break;
            }
        }
        shown
    }
}

/// Whether somebody who is sore in a strand leaves out a block: without a hold that is well nothing is played.
const fn spares(sore: Strand, block: BlockKind) -> bool {
    match sore {
        Strand::Hold => !matches!(block, BlockKind::Sing),
        Strand::Bow => matches!(block, BlockKind::BowShape | BlockKind::OpenStrings),
        Strand::Frame => block.presses(),
        Strand::Tape => false,
    }
}
