//! Backups that the server makes by itself: one a day into a folder, read back at once, the older ones thinned out.

use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};

use bright_row_core::rotation::kept;
use chrono::{DateTime, NaiveDateTime, TimeDelta, Utc};
use tokio::sync::Mutex;

use crate::backup;
use crate::failure::Failure;
use crate::state::{App, Backups};

/// How a moment stands in the name of a file.
const NAME: &str = "bright-row-%Y-%m-%dT%H%M%SZ.backup";
/// The beginning of it, which a file in the making has too.
const BEGUN: &str = "bright-row-%Y-%m-%dT%H%M%SZ.";
/// Held by whoever looks whether there is one of today and makes it: two who ask at once make one.
static AT_IT: Mutex<()> = Mutex::const_new(());

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
    Ok(named(folder, |name| NaiveDateTime::parse_from_str(name, NAME).ok())?.collect())
}

/// Files that a process left behind when it ended while it made a backup.
fn left_behind(folder: &Path, now: DateTime<Utc>) -> Result<Vec<PathBuf>, Failure> {
    let begun = |name: &str| {
        let (moment, rest) = NaiveDateTime::parse_and_remainder(name, BEGUN).ok()?;
        rest.ends_with(backup::UNFINISHED).then_some(moment)
    };
    // One that is younger may be in the making.
    let old = named(folder, begun)?.filter(|(at, _)| now - *at > TimeDelta::days(1));
    Ok(old.map(|(_, path)| path).collect())
}

fn named(
    folder: &Path,
    moment: impl Fn(&str) -> Option<NaiveDateTime>,
) -> Result<impl Iterator<Item = (DateTime<Utc>, PathBuf)>, Failure> {
    let entries = fs::read_dir(folder).and_then(Iterator::collect::<std::io::Result<Vec<_>>>);
    let paths = entries.map_err(backup::cannot(folder))?.into_iter().map(|entry| entry.path());
    Ok(paths.filter_map(move |path| {
        let at = path.file_name().and_then(|name| name.to_str()).and_then(&moment)?;
        Some((at.and_utc(), path))
    }))
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
    thin_out(&backups.folder, now)?;
    Ok(path)
}

fn thin_out(folder: &Path, now: DateTime<Utc>) -> Result<(), Failure> {
    let found = in_folder(folder)?;
    let keeps = kept(&found.keys().copied().collect());
    let gone = found.into_iter().filter(|(moment, _)| !keeps.contains(moment)).map(|(_, path)| path);
    for path in gone.chain(left_behind(folder, now)?) {
        fs::remove_file(&path).map_err(backup::cannot(&path))?;
    }
    Ok(())
}

/// Makes today's backup where there is none yet, as the server does every hour, and thins out the older ones in any case.
/// Answers its file if one was made.
///
/// # Errors
/// As [`make`].
pub async fn daily(app: &App) -> Result<Option<PathBuf>, Failure> {
    let Some(backups) = &app.options.backups else { return Ok(None) };
    let _alone = AT_IT.lock().await;
    let now = app.now();
    let newest = in_folder(&backups.folder)?.into_keys().next_back();
    // A file of the future is of a clock that was wrong: it does not hold up the next one.
    if newest.is_some_and(|at| at.date_naive() == now.date_naive() || (at <= now && now - at < TimeDelta::hours(1))) {
        thin_out(&backups.folder, now)?;
        return Ok(None);
    }
    make(backups, now).await.map(Some)
}
