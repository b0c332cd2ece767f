//! `bright-row migrate`, `rebuild` and `check-standings`: the schema, and what is kept beside the observations.

use bright_row_store::database::{Schema, maintain, migrate, schema};

use crate::automatic_backup::{self, BackupArgs};
use crate::failure::{Failure, only_current};
use crate::{caches, content};

/// Says whether every kept standing follows from its observations; changes nothing.
///
/// # Errors
/// [`Failure::Standings`].
pub async fn check_standings(database_url: &str) -> Result<(), Failure> {
    let db = maintain(database_url).await?;
    only_current(schema(&db).await?)?;
    let checked = caches::check(&db, &content::embedded()).await?;
    if checked.other.is_empty() {
        println!("All {} standings follow from their observations.", checked.standings);
        return Ok(());
    }
    Err(Failure::Standings(checked.other.join(", ")))
}

/// Brings schema and caches up to date, after a backup of what an older version left.
///
/// # Errors
/// [`Failure`]; if the backup fails, nothing was changed.
pub async fn migrate_database(database_url: &str, backups: &BackupArgs) -> Result<(), Failure> {
    let db = maintain(database_url).await?;
    match schema(&db).await? {
        Schema::Empty => migrate(&db).await?,
        Schema::Behind => {
            match backups.read(database_url)? {
                Some(backups) => {
                    let file = automatic_backup::make(&backups, chrono::Utc::now()).await?;
                    println!("What was there is in {}, read back and whole.", file.display());
                }
                None => println!("No backup was made first: BRIGHT_ROW_BACKUPS is not set."),
            }
            migrate(&db).await?;
        }
        other => only_current(other)?,
    }
    only_current(schema(&db).await?)?;
    let rebuilt = caches::rebuild_old(&db, &content::embedded()).await?;
    if rebuilt > 0 {
        say_rebuilt(rebuilt);
    }
    Ok(())
}

/// Computes everything that is kept beside the observations anew, also what this build's rules left.
///
/// # Errors
/// [`Failure`].
pub async fn rebuild(database_url: &str) -> Result<(), Failure> {
    let db = maintain(database_url).await?;
    only_current(schema(&db).await?)?;
    say_rebuilt(caches::rebuild(&db, &content::embedded()).await?);
    Ok(())
}

fn say_rebuilt(classes: usize) {
    println!("Computed anew by this version's rules: {classes} {}.", if classes == 1 { "class" } else { "classes" });
}
