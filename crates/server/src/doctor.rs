//! `bright-row doctor`: looks at everything that an operator has to keep right, and says of each what to do.

use std::fmt;

use bright_row_store::database::{Schema, maintain, schema};
use bright_row_store::health::{DatabaseRole, Health, health};
use bright_row_store::{DatabaseConnection, backup_notes};
use chrono::{DateTime, TimeDelta, Utc};

use crate::automatic_backup::{BackupArgs, in_folder};
use crate::failure::{Failure, only_current};
use crate::state::Backups;
use crate::{caches, content};

/// The oldest PostgreSQL that everything is tried with: 15.
const OLDEST_DATABASE: i32 = 150_000;
/// Clocks that differ by more put observations at the wrong time.
const CLOCK_TOLERANCE: TimeDelta = TimeDelta::seconds(30);
/// A backup that is older than this is missed by two days.
const BACKUP_AGE: TimeDelta = TimeDelta::days(2);
/// A backup takes far less; a full disk stops every write.
const LEAST_FREE_MEGABYTES: u64 = 1_000;

/// How something is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Verdict {
    /// Nothing to do.
    Good,
    /// It works, and something could be better.
    Better,
    /// Something is to be done.
    Act,
}

/// What was found of one thing.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Finding {
    /// Which thing.
    pub what: &'static str,
    /// How it is.
    pub verdict: Verdict,
    /// What was found, and what to do.
    pub words: String,
}

impl fmt::Display for Finding {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let verdict = match self.verdict {
            Verdict::Good => "good",
            Verdict::Better => "could be better",
            Verdict::Act => "TO DO",
        };
        write!(f, "{:<10} {verdict}: {}", self.what, self.words)
    }
}

fn finding(what: &'static str, verdict: Verdict, words: impl Into<String>) -> Finding {
    Finding { what, verdict, words: words.into() }
}

fn of_role(role: DatabaseRole) -> Finding {
    let (verdict, words) = match role {
        DatabaseRole::Superuser => (
            Verdict::Act,
            "may do everything on the database server: make one that owns the schema only, as docs/operations.md says.",
        ),
        DatabaseRole::MayMore => (Verdict::Better, "may make databases or roles: take that away with ALTER ROLE."),
        DatabaseRole::OwnsLess => {
            (Verdict::Act, "does not own every table, and an update would fail: run deploy/role.sql.")
        }
        DatabaseRole::Owner => (Verdict::Good, "owns its schema and nothing else."),
    };
    finding("role", verdict, words)
}

/// What the database says of itself, as findings.
#[must_use]
pub fn of_database(found: &Health, now: DateTime<Utc>, by_network: bool) -> Vec<Finding> {
    use Verdict::{Act, Better, Good};
    let (major, minor) = (found.version / 10_000, found.version % 10_000);
    let apart = (found.clock - now).abs();
    vec![
        if found.version < OLDEST_DATABASE {
            finding("database", Act, format!("PostgreSQL {major}.{minor}: move to 15 or newer."))
        } else {
            finding("database", Good, format!("PostgreSQL {major}.{minor}, {} MB.", found.bytes / 1_000_000))
        },
        of_role(found.role),
        match (found.tls, by_network) {
            (true, _) => finding("encryption", Good, "the connection to the database is encrypted."),
            (false, false) => finding("encryption", Good, "the database is on this machine."),
            (false, true) => finding(
                "encryption",
                Better,
                "the connection is in clear, by sslmode=disable: only for a network of its own.",
            ),
        },
        if apart > CLOCK_TOLERANCE {
            let words = format!(
                "this machine and the database are {} s apart: let both keep time by NTP.",
                apart.num_seconds()
            );
            finding("clock", Act, words)
        } else {
            finding("clock", Good, "this machine and the database agree.")
        },
    ]
}

async fn of_schema(db: &DatabaseConnection) -> Result<Vec<Finding>, Failure> {
    let found = schema(db).await?;
    let current = found == Schema::Current;
    let mut findings = vec![match only_current(found) {
        Ok(()) => finding("schema", Verdict::Good, "this version's."),
        Err(failure) => finding("schema", Verdict::Act, failure.to_string()),
    }];
    if current {
        let checked = caches::check(db, &content::embedded()).await?;
        findings.push(if checked.other.is_empty() {
            finding("standings", Verdict::Good, format!("all {} follow from their observations.", checked.standings))
        } else {
            finding("standings", Verdict::Act, Failure::Standings(checked.other.join(", ")).to_string())
        });
    }
    Ok(findings)
}

fn of_disk(backups: &Backups) -> Finding {
    let free = rustix::fs::statvfs(&backups.folder).map(|found| found.f_bavail * found.f_frsize / 1_000_000);
    match free {
        Ok(free) if free < LEAST_FREE_MEGABYTES => {
            finding("disk", Verdict::Act, format!("only {free} MB are free for backups: make room."))
        }
        Ok(free) => finding("disk", Verdict::Good, format!("{free} MB are free for backups.")),
        Err(error) => finding("disk", Verdict::Act, format!("the folder for backups cannot be looked at: {error}.")),
    }
}

/// How automatic backups are: where they go, how old the newest is, and whether it was read back.
#[must_use]
pub fn of_backups(newest_file: Option<DateTime<Utc>>, proved_at: Option<DateTime<Utc>>, now: DateTime<Utc>) -> Finding {
    let Some(newest) = newest_file else {
        return finding(
            "backups",
            Verdict::Act,
            "none is in the folder yet: the server makes one a day while it runs.",
        );
    };
    let day = newest.date_naive();
    if now - newest > BACKUP_AGE {
        return finding("backups", Verdict::Act, format!("the newest is of {day}: see why in the server's log."));
    }
    match proved_at {
        Some(at) => {
            finding("backups", Verdict::Good, format!("the newest is of {day}, read back on {}.", at.date_naive()))
        }
        None => finding(
            "backups",
            Verdict::Better,
            format!("the newest is of {day} and was not read back: `bright-row restore --check` it."),
        ),
    }
}

/// Looks at everything and prints what was found.
///
/// # Errors
/// [`Failure::Doctor`] where something is to be done, [`Failure::DatabaseDown`].
pub async fn run(database_url: &str, backups: &BackupArgs) -> Result<(), Failure> {
    let now = Utc::now();
    let db = maintain(database_url).await?;
    let by_network = !bright_row_store::database::is_here(database_url);
    let mut findings = of_database(&health(&db).await?, now, by_network);
    findings.extend(of_schema(&db).await?);
    match backups.read(database_url) {
        Ok(Some(backups)) => {
            let newest = in_folder(&backups.folder)?.into_keys().next_back();
            // A schema that is not this version's has no such notes, perhaps.
            let proved = backup_notes::last(&db).await.ok().flatten().and_then(|last| last.proved_at);
            findings.extend([of_backups(newest, proved, now), of_disk(&backups)]);
        }
        Ok(None) => {
            let words = "no automatic ones: name a folder in BRIGHT_ROW_BACKUPS and a passphrase in BRIGHT_ROW_BACKUP_PASSPHRASE.";
            findings.push(finding("backups", Verdict::Act, words));
        }
        Err(failure) => findings.push(finding("backups", Verdict::Act, failure.to_string())),
    }
    for finding in &findings {
        println!("{finding}");
    }
    match findings.iter().filter(|finding| finding.verdict == Verdict::Act).count() {
        0 => Ok(()),
        to_do => Err(Failure::Doctor(to_do)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn health(change: impl FnOnce(&mut Health)) -> Health {
        let clock = "2026-11-03T14:00:00Z".parse().expect("a moment");
        let mut health = Health { version: 150_018, tls: false, role: DatabaseRole::Owner, clock, bytes: 9_000_000 };
        change(&mut health);
        health
    }

    #[test]
    fn each_thing_that_is_not_right_is_said_with_what_to_do() {
        let now: DateTime<Utc> = "2026-11-03T14:00:00Z".parse().expect("a moment");
        let verdicts = |change: fn(&mut Health), by_network| -> Vec<(&'static str, Verdict)> {
            let findings = of_database(&health(change), now, by_network);
            findings.iter().filter(|one| one.verdict != Verdict::Good).map(|one| (one.what, one.verdict)).collect()
        };
        assert_eq!(verdicts(|_| (), false), []);
        assert_eq!(verdicts(|found| found.version = 130_004, false), [("database", Verdict::Act)]);
        assert_eq!(verdicts(|found| found.role = DatabaseRole::Superuser, false), [("role", Verdict::Act)]);
        assert_eq!(verdicts(|found| found.role = DatabaseRole::MayMore, false), [("role", Verdict::Better)]);
        assert_eq!(verdicts(|found| found.role = DatabaseRole::OwnsLess, false), [("role", Verdict::Act)]);
        assert_eq!(verdicts(|_| (), true), [("encryption", Verdict::Better)]);
        assert_eq!(verdicts(|found| found.tls = true, true), []);
        assert_eq!(verdicts(|found| found.clock += TimeDelta::seconds(31), false), [("clock", Verdict::Act)]);
    }

    #[test]
    fn backups_that_are_missing_or_old_or_unproved_are_said() {
        let now: DateTime<Utc> = "2026-11-03T14:00:00Z".parse().expect("a moment");
        let ago = |hours| Some(now - TimeDelta::hours(hours));
        for (verdict, newest, proved) in [
            (Verdict::Act, None, None),
            (Verdict::Act, ago(49), ago(49)),
            (Verdict::Better, ago(20), None),
            (Verdict::Good, ago(20), ago(20)),
        ] {
            assert_eq!(of_backups(newest, proved, now).verdict, verdict, "{newest:?} {proved:?}");
        }
    }
}
