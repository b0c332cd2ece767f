//! Which backups are kept: one of each of the last days, weeks and months.

use std::collections::BTreeSet;

use chrono::{DateTime, Datelike, NaiveDate, Utc};

/// Days of which one is kept each.
const DAYS: usize = 7;
/// Weeks of which one is kept each.
const WEEKS: usize = 4;
/// Months of which one is kept each.
const MONTHS: usize = 6;

/// Those of these moments whose backups are kept: the newest of each of the last seven days, four weeks and six months that have
/// one.
#[must_use]
pub fn kept(moments: &BTreeSet<DateTime<Utc>>) -> BTreeSet<DateTime<Utc>> {
    let week = |moment: &DateTime<Utc>| moment.date_naive().week(chrono::Weekday::Mon).first_day();
    let month = |moment: &DateTime<Utc>| moment.date_naive().with_day(1).unwrap_or_default();
    let mut kept = newest_of_each(moments, DateTime::date_naive, DAYS);
    kept.extend(newest_of_each(moments, week, WEEKS));
    kept.extend(newest_of_each(moments, month, MONTHS));
    kept
}

/// The newest of each of the last so many spans that have one.
fn newest_of_each(
    moments: &BTreeSet<DateTime<Utc>>,
    span: impl Fn(&DateTime<Utc>) -> NaiveDate,
    most: usize,
) -> BTreeSet<DateTime<Utc>> {
    let mut met: BTreeSet<NaiveDate> = BTreeSet::new();
    let newest_first = moments.iter().rev().filter(|moment| met.insert(span(moment)));
    newest_first.take(most).copied().collect()
}

#[cfg(test)]
mod tests {
    use chrono::TimeDelta;
    use proptest::prelude::*;

    use super::*;

    #[test]
    fn a_year_of_daily_backups_leaves_seven_days_four_weeks_and_six_months() {
        let first: DateTime<Utc> = "2026-01-01T03:00:00Z".parse().expect("a moment");
        let all: BTreeSet<_> = (0..334).map(|day| first + TimeDelta::days(day)).collect();
        let left = kept(&all);
        let kept: Vec<String> = left.iter().map(|moment| moment.date_naive().to_string()).collect();
        assert_eq!(
            kept,
            [
                "2026-06-30",
                "2026-07-31",
                "2026-08-31",
                "2026-09-30",
                "2026-10-31",
                "2026-11-15",
                "2026-11-22",
                "2026-11-24",
                "2026-11-25",
                "2026-11-26",
                "2026-11-27",
                "2026-11-28",
                "2026-11-29",
                "2026-11-30",
            ]
        );
    }

    proptest! {
        #[test]
        fn the_newest_is_kept_and_never_more_than_seventeen(hours in prop::collection::btree_set(0_i64..20_000, 1..300)) {
            let first: DateTime<Utc> = "2024-01-01T00:00:00Z".parse().expect("a moment");
            let all: BTreeSet<_> = hours.iter().map(|hour| first + TimeDelta::hours(*hour)).collect();
            let kept = kept(&all);
            prop_assert!(kept.is_subset(&all) && kept.last() == all.last() && kept.len() <= DAYS + WEEKS + MONTHS);
            // Clearing again clears nothing more.
            let again = super::kept(&kept);
            prop_assert_eq!(again.last(), kept.last());
        }
    }
}
