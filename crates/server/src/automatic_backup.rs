//! Backups that the server makes by itself: one a day into a folder, read back at once, the older ones thinned out.

use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};

use bright_row_core::rotation::kept;
use chrono::{DateTime, NaiveDateTime, TimeDelta, Utc};

use crate::backup;
use crate::failure::Failure;
use crate::state::{App, Backups};

/// How a moment stands in the name of a file.
const NAME: &str = "bright-row-%Y-%m-%dT%H%M%SZ.backup";

/// Where backups go, as the command line has it.
#[derive(Debug, clap::Args)]
pub struct BackupArgs {
    /// The folder for automatic backups: daily, and before an update of the schema. Without one none are made.
    #[arg(long = "backups", env = "BRIGHT_ROW_BACKUPS")]
    folder: Option<PathBuf>,
    /// What backups are encrypted with; at least 12 characters.
    #[arg(long, env = "BRIGHT_ROW_BACKUP_PASSPHRASE", hide_env_values = true)]
    passphrase: Option<String>,
}

impl BackupArgs {
    /// Where backups go; `None`: nowhere. The folder is made where it is missing.
    ///
    /// # Errors
    /// [`Failure::Passphrase`], [`Failure::Unreadable`].
    pub fn read(&self, database_url: &str) -> Result<Option<Backups>, Failure> {
        let Some(folder) = &self.folder else { return Ok(None) };
        let passphrase = backup::passphrase(self.passphrase.as_deref())?;
        fs::create_dir_all(folder).map_err(backup::cannot(folder))?;
        Ok(Some(Backups { database_url: database_url.to_owned(), folder: folder.clone(), passphrase }))
    }
}

/// The backups in a folder by the moment that their names tell; other files are nobody's business here.
///
/// # Errors
/// [`Failure::Unreadable`].
pub fn in_folder(folder: &Path) -> Result<BTreeMap<DateTime<Utc>, PathBuf>, Failure> {
    let mut found = BTreeMap::new();
    for entry in fs::read_dir(folder).map_err(backup::cannot(folder))? {
        let path = entry.map_err(backup::cannot(folder))?.path();
        let name = path.file_name().and_then(|name| name.to_str()).unwrap_or_default();
        if let Ok(moment) = NaiveDateTime::parse_from_str(name, NAME) {
            found.insert(moment.and_utc(), path);
        }
    }
    Ok(found)
}

/// Makes a backup of this moment, reads it back, notes it, and removes those that the rotation does not keep. Answers its file.
///
/// # Errors
/// What the file and the database say; older backups stay then.
pub async fn make(backups: &Backups, now: DateTime<Utc>) -> Result<PathBuf, Failure> {
    let path = backups.folder.join(now.format(NAME).to_string());
    let (url, passphrase, to) = (backups.database_url.clone(), backups.passphrase.clone(), path.clone());
    // Encrypting and packing keep a thread busy: not one of those that answer requests.
    let runtime = tokio::runtime::Handle::current();
    let made = tokio::task::spawn_blocking(move || runtime.block_on(backup::make(&url, &to, passphrase, now))).await;
    made.map_err(|error| Failure::Other(error.to_string()))??;
    thin_out(&backups.folder)?;
    Ok(path)
}

fn thin_out(folder: &Path) -> Result<(), Failure> {
    let found = in_folder(folder)?;
    let keeps = kept(&found.keys().copied().collect());
    for (_, path) in found.iter().filter(|(moment, _)| !keeps.contains(moment)) {
        fs::remove_file(path).map_err(backup::cannot(path))?;
    }
    Ok(())
}

/// Makes today's backup where there is none yet, as the server does every hour. Answers its file if one was made.
///
/// # Errors
/// As [`make`].
pub async fn daily(app: &App) -> Result<Option<PathBuf>, Failure> {
    let Some(backups) = &app.options.backups else { return Ok(None) };
    let now = app.now();
    let newest = in_folder(&backups.folder)?.into_keys().next_back();
    // A file of the future is of a clock that was wrong: it does not hold up the next one.
    if newest.is_some_and(|at| at.date_naive() == now.date_naive() || (at <= now && now - at < TimeDelta::hours(1))) {
        return Ok(None);
    }
    make(backups, now).await.map(Some)
}
