//! How long things of a program are kept, and what is over at a day.

use chrono::{Days, NaiveDate};
use serde::{Deserialize, Serialize};

/// How long a program keeps things.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct Retention {
    /// Days after its last day until a class is archived by itself, 0 to 400.
    pub archive_after_days: u32,
    /// Days after it was archived until a class is deleted, 30 to 4000.
    pub delete_after_days: u32,
    /// Days until notes and answers to pain are cleared, 30 to 4000.
    pub notes_days: u32,
    /// Days that the audit is kept, 90 to 4000.
    pub audit_days: u32,
    /// Days after a child left until everything about it is removed, 30 to 4000.
    pub left_days: u32,
    /// The owner demands a second factor of everybody who comes back with a password.
    pub second_factor: bool,
    /// A device's camera may be a mirror, as the school's rules on pictures allow.
    pub mirror: bool,
}

impl Default for Retention {
    fn default() -> Self {
        Self {
            archive_after_days: 0,
            delete_after_days: 2 * 365,
            notes_days: 365,
            audit_days: 365,
            left_days: 2 * 365,
            second_factor: false,
            mirror: true,
        }
    }
}

/// A span of days that cannot be.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{least} to {most} days.")]
pub struct SpanFault {
    /// The field, as it is sent.
    pub field: &'static str,
    /// The least.
    pub least: u32,
    /// The most.
    pub most: u32,
}

impl Retention {
    /// What of it cannot be.
    #[must_use]
    pub fn faults(&self) -> Vec<SpanFault> {
        [
            ("archiveAfterDays", self.archive_after_days, 0, 400),
            ("deleteAfterDays", self.delete_after_days, 30, 4000),
            ("notesDays", self.notes_days, 30, 4000),
            ("auditDays", self.audit_days, 90, 4000),
            ("leftDays", self.left_days, 30, 4000),
        ]
        .into_iter()
        .filter(|(_, days, least, most)| !(*least..=*most).contains(days))
        .map(|(field, _, least, most)| SpanFault { field, least, most })
        .collect()
    }

    /// The first day on which a class is archived by itself: the day after its last one, and so many days later.
    #[must_use]
    pub fn archives_on(&self, last_day: NaiveDate) -> NaiveDate {
        last_day + Days::new(u64::from(self.archive_after_days) + 1)
    }

    /// The first day on which a class that was archived is deleted.
    #[must_use]
    pub fn deletes_on(&self, archived_on: NaiveDate) -> NaiveDate {
        archived_on + Days::new(u64::from(self.delete_after_days))
    }

    /// Notes from before this day are cleared.
    #[must_use]
    pub fn notes_since(&self, today: NaiveDate) -> NaiveDate {
        today - Days::new(u64::from(self.notes_days))
    }

    /// Entries of the audit from before this day are cleared.
    #[must_use]
    pub fn audit_since(&self, today: NaiveDate) -> NaiveDate {
        today - Days::new(u64::from(self.audit_days))
    }

    /// Children who left before this day are removed.
    #[must_use]
    pub fn left_since(&self, today: NaiveDate) -> NaiveDate {
        today - Days::new(u64::from(self.left_days))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_class_is_archived_after_its_last_day_and_deleted_two_years_later() {
        let (keeps, last) = (Retention::default(), "2026-06-30".parse::<NaiveDate>().expect("a day"));
        let archived = keeps.archives_on(last);
        assert_eq!(
            (archived.to_string(), keeps.deletes_on(archived).to_string()),
            ("2026-07-01".into(), "2028-06-30".into())
        );
        assert_eq!(keeps.notes_since(archived).to_string(), "2025-07-01");
    }

    #[test]
    fn spans_have_bounds_and_the_defaults_keep_them() {
        assert_eq!(Retention::default().faults(), []);
        let never = Retention { notes_days: 0, audit_days: 5000, ..Retention::default() };
        let faults: Vec<_> = never.faults().into_iter().map(|fault| format!("{}: {fault}", fault.field)).collect();
        assert_eq!(faults, ["notesDays: 30 to 4000 days.", "auditDays: 90 to 4000 days."]);
    }
}
