//! When an entry that repeats begins.

use std::collections::BTreeSet;

use chrono::{Days, NaiveDate, NaiveDateTime, NaiveTime, TimeZone};
use chrono_tz::Tz;
use rrule::{Frequency, RRule, RRuleSet, Unvalidated};

use super::days_off::{MAX_DAYS_OF_ENTRY, Span};
use super::entry::WholeDays;

/// So many years before the class's first day a rule of days may have begun: every day since is gone through.
const OLDEST_YEARS_OF_DAYS: i64 = 20;
/// The most days from one time to the next by a rule of days.
const MAX_DAYS_BETWEEN: u16 = 400;

/// A rule that is not worked out.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NoRule {
    /// It cannot be read, repeats within a day, or began too long ago.
    NotRead,
    /// It hits on no day at all; to find that out takes long.
    NoDay,
}

/// The first day of each time an entry takes place and may reach into a span, and its very first.
///
/// # Errors
/// [`NoRule`] for a rule that is not worked out.
pub fn beginnings(entry: &WholeDays, span: &Span) -> Result<BTreeSet<NaiveDate>, NoRule> {
    let mut days: BTreeSet<NaiveDate> = entry.also.iter().copied().collect();
    match &entry.rule {
        // What does not repeat takes place on its first day.
        None => drop(days.insert(entry.first)),
        Some(rule) => days.extend(by_rule(rule, entry.first, span)?),
    }
    for not in &entry.not {
        days.remove(not);
    }
    Ok(days)
}

/// The days of a rule. They are worked out on a clock without a zone: whole days have none.
fn by_rule(rule: &str, first: NaiveDate, span: &Span) -> Result<Vec<NaiveDate>, NoRule> {
    if first > span.last {
        return Ok(Vec::new());
    }
    let moment = |day: NaiveDate, time| rrule::Tz::UTC.from_utc_datetime(&day.and_time(time));
    let start = moment(first, NaiveTime::MIN);
    let (rule, until) = without_end(rule, span.zone)?;
    let rule: RRule<Unvalidated> = rule.parse().map_err(|_| NoRule::NotRead)?;
    check(&rule, (span.first - first).num_days())?;
    // The first day takes place whether or not the rule would hit on it (3.8.5.3).
    let last = until.map_or(span.last, |until| until.min(span.last));
    let rule = rule.until(moment(last.max(first), NaiveTime::MIN)).validate(start).map_err(|_| NoRule::NotRead)?;
    let set = RRuleSet::new(start).rrule(rule).limit();
    let mut days = set.into_iter().map(|moment| moment.naive_utc().date()).take_while(|day| *day <= last).peekable();
    if days.peek().is_none() {
        return Err(NoRule::NoDay);
    }
    let earliest = span.first - Days::new(MAX_DAYS_OF_ENTRY);
    Ok([first].into_iter().chain(days.filter(|day| *day >= earliest)).collect())
}

/// Looks at a rule that began so many days before the class: what takes long to work out is no day off either.
fn check(rule: &RRule<Unvalidated>, days_ago: i64) -> Result<(), NoRule> {
    let times = [rule.get_by_hour(), rule.get_by_minute(), rule.get_by_second()];
    let is_fine = match rule.get_freq() {
        Frequency::Hourly | Frequency::Minutely | Frequency::Secondly => false,
        Frequency::Daily => rule.get_interval() <= MAX_DAYS_BETWEEN && days_ago <= OLDEST_YEARS_OF_DAYS * 366,
        Frequency::Weekly | Frequency::Monthly | Frequency::Yearly => true,
    };
    if is_fine && times.iter().all(|times| times.is_empty()) { Ok(()) } else { Err(NoRule::NotRead) }
}

/// A rule without when it ends, and the last day on which it may begin. A rule that counts keeps its count.
fn without_end(rule: &str, zone: Tz) -> Result<(String, Option<NaiveDate>), NoRule> {
    let (ends, parts): (Vec<&str>, Vec<&str>) =
        rule.split(';').map(str::trim).filter(|part| !part.is_empty()).partition(|part| part.starts_with("UNTIL="));
    let until =
        ends.first().map(|end| last_day(end.trim_start_matches("UNTIL="), zone).ok_or(NoRule::NotRead)).transpose()?;
    Ok((parts.join(";"), until))
}

/// The day of a rule's end: a date, a time on the school's clock, or one of Greenwich.
fn last_day(until: &str, zone: Tz) -> Option<NaiveDate> {
    if let Some(utc) = until.strip_suffix('Z') {
        let moment = NaiveDateTime::parse_from_str(utc, "%Y%m%dT%H%M%S").ok()?.and_utc();
        return Some(moment.with_timezone(&zone).date_naive());
    }
    let day = until.split('T').next().unwrap_or_default();
    NaiveDate::parse_from_str(day, "%Y%m%d").ok()
}
