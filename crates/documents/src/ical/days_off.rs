//! The days off that a school's calendar names.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::day::Day;
use chrono::{Days, NaiveDate};
use chrono_tz::Tz;

use super::entry::{Kind, Moment, Read, WholeDays, read};
use super::lines::{NotACalendar, blocks};
use super::repeating::{NoRule, beginnings};

/// The longest holiday that is taken as one, in days.
pub(super) const MAX_DAYS_OF_ENTRY: u64 = 120;
/// So many entries that repeat are worked out.
const MAX_REPEATING: usize = 300;
/// So many of them may turn out to hit on no day.
const MAX_WITHOUT_A_DAY: usize = 5;

/// From when to when a class meets, and in which zone.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Span {
    /// Its first day.
    pub first: NaiveDate,
    /// Its last day.
    pub last: NaiveDate,
    /// The school's time zone.
    pub zone: Tz,
}

/// What a calendar says of days off.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct DaysOff {
    /// Each day within the span with the first name it was given.
    pub days: BTreeMap<NaiveDate, String>,
    /// What was not taken, or not all of it, in the order of the file, each name once for each reason.
    pub left_out: Vec<LeftOut>,
}

/// An entry that was not taken, or not all of it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LeftOut {
    /// What it is called, at most 80 characters.
    pub name: String,
    /// Why.
    pub why: Why,
}

/// Why an entry was not taken, or not all of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Why {
    /// It has a time of day: the class may meet all the same.
    Timed,
    /// The calendar says that it does not take place.
    Cancelled,
    /// When it begins cannot be read.
    Unreadable,
    /// It lasts longer than 120 days: that is no day off.
    Long,
    /// How it repeats cannot be worked out: only its first time is taken.
    Rule,
}

/// The whole days within a span that a calendar names.
///
/// # Errors
/// [`NotACalendar`] with what could not be read.
pub fn days_off(bytes: &[u8], span: &Span) -> Result<DaysOff, NotACalendar> {
    let mut entries: Vec<Read> = Vec::new();
    for block in blocks(bytes)? {
        // Midnights are those of the calendar's own zone, where it says one.
        let entry = read(&block.text, block.zone.parse().unwrap_or(span.zone));
        entries.push(Read { cancelled: entry.cancelled || block.taken_back, ..entry });
    }
    let instead = instead(&entries);
    let mut found = Found { span: *span, repeating: 0, without_a_day: 0, said: DaysOff::default() };
    for entry in entries {
        let replaced = instead.get(entry.uid.as_str()).filter(|_| entry.instead_of.is_none());
        found.add(entry, replaced.map_or(&[], Vec::as_slice));
    }
    Ok(found.said)
}

/// The moments, by id, for which another entry stands.
fn instead(entries: &[Read]) -> BTreeMap<String, Vec<Moment>> {
    let mut instead: BTreeMap<String, Vec<Moment>> = BTreeMap::new();
    for entry in entries.iter().filter(|entry| !entry.uid.is_empty()) {
        instead.entry(entry.uid.clone()).or_default().extend(entry.instead_of);
    }
    instead
}

/// What was found so far.
struct Found {
    span: Span,
    /// How many entries that repeat were worked out.
    repeating: usize,
    /// How many of them hit on no day.
    without_a_day: usize,
    said: DaysOff,
}

impl Found {
    fn add(&mut self, entry: Read, replaced: &[Moment]) {
        if entry.cancelled {
            return self.leave_out(entry.name, Why::Cancelled);
        }
        let mut whole = match entry.kind {
            Kind::Timed => return self.leave_out(entry.name, Why::Timed),
            Kind::Unreadable => return self.leave_out(entry.name, Why::Unreadable),
            Kind::Whole(whole) => whole,
        };
        if Day::try_from(whole.first).is_err() {
            return self.leave_out(entry.name, Why::Unreadable);
        }
        if whole.days > MAX_DAYS_OF_ENTRY {
            return self.leave_out(entry.name, Why::Long);
        }
        whole.not.extend(replaced.iter().map(|moment| moment.day(whole.by_own)));
        let first_days = self.beginnings(&whole).unwrap_or_else(|| {
            self.leave_out(entry.name.clone(), Why::Rule);
            BTreeSet::from([whole.first])
        });
        self.take(&entry.name, &whole, &first_days);
    }

    /// The first day of each time; `None` where a rule is not worked out.
    fn beginnings(&mut self, whole: &WholeDays) -> Option<BTreeSet<NaiveDate>> {
        if whole.rule.is_some() {
            if self.repeating == MAX_REPEATING || self.without_a_day == MAX_WITHOUT_A_DAY {
                return None;
            }
            self.repeating += 1;
        }
        let days = beginnings(whole, &self.span);
        self.without_a_day += usize::from(days == Err(NoRule::NoDay));
        days.ok()
    }

    fn take(&mut self, name: &str, whole: &WholeDays, first_days: &BTreeSet<NaiveDate>) {
        let earliest = self.span.first - Days::new(whole.days);
        for first in first_days.range(earliest.min(self.span.last)..=self.span.last) {
            let days = first.iter_days().take_while(|day| *day < *first + Days::new(whole.days));
            for day in days.filter(|day| (self.span.first..=self.span.last).contains(day)) {
                self.said.days.entry(day).or_insert_with(|| name.to_owned());
            }
        }
    }

    fn leave_out(&mut self, name: String, why: Why) {
        let left = LeftOut { name, why };
        if !self.said.left_out.contains(&left) {
            self.said.left_out.push(left);
        }
    }
}
