//! The command line.

mod check_content;
mod listen;
mod serve;
mod upkeep;

use std::path::PathBuf;
use std::process::ExitCode;

use bright_row_store::database::{maintain, schema};
use chrono::Utc;
use clap::{Parser, Subcommand};

use crate::automatic_backup::BackupArgs;
use crate::failure::{Failure, only_current};
use crate::rehearse::{RehearseArgs, rehearse};
use crate::telemetry::logging::{self, LogFormat};
use crate::{account, archive, backup, content, demo, doctor, router};

/// Sets up a class of beginning string players and tracks each child against one shared checklist.
#[derive(Debug, Parser)]
#[command(name = "bright-row", version)]
pub struct Cli {
    /// What a log line looks like.
    #[arg(long, env = "BRIGHT_ROW_LOG", value_enum, default_value_t, global = true)]
    log: LogFormat,
    /// Traces are sent to the collector at this address, OTLP over HTTP; http:// only.
    #[arg(long, env = "OTEL_EXPORTER_OTLP_ENDPOINT", global = true)]
    traces_to: Option<String>,
    #[command(subcommand)]
    command: Command,
}

#[derive(Debug, clap::Args)]
struct DatabaseArgs {
    /// The PostgreSQL database, postgres://user@host:port/name.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
}

#[derive(Debug, Subcommand)]
enum Command {
    /// Serves the application.
    Serve {
        #[command(flatten)]
        database: DatabaseArgs,
        #[command(flatten)]
        backups: BackupArgs,
        #[command(flatten)]
        listening: serve::ServeArgs,
    },
    /// Brings the database's schema up to date, after a backup where `BRIGHT_ROW_BACKUPS` is set, and computes anew what other
    /// rules left of standings and tape records.
    Migrate {
        #[command(flatten)]
        database: DatabaseArgs,
        #[command(flatten)]
        backups: BackupArgs,
    },
    /// Looks at database, role, encryption, clock, disk, backups, schema and kept standings, and says what to do.
    Doctor {
        #[command(flatten)]
        database: DatabaseArgs,
        #[command(flatten)]
        backups: BackupArgs,
    },
    /// Computes every standing and tape record anew from the observations and tape logs.
    Rebuild {
        #[command(flatten)]
        database: DatabaseArgs,
    },
    /// Loads the invented school into a database that holds none yet.
    Demo {
        #[command(flatten)]
        database: DatabaseArgs,
    },
    /// Writes everything into one file, encrypted with the passphrase in `BRIGHT_ROW_BACKUP_PASSPHRASE`, and reads it back.
    Backup {
        #[command(flatten)]
        database: DatabaseArgs,
        #[command(flatten)]
        secret: PassphraseArgs,
        /// The file; one that is there is replaced.
        file: PathBuf,
    },
    /// Restores a backup into a database that was migrated and is empty; with --check only reads it.
    Restore {
        /// The PostgreSQL database; not needed with --check.
        #[arg(long, env = "DATABASE_URL", hide_env_values = true, default_value = "")]
        database_url: String,
        #[command(flatten)]
        secret: PassphraseArgs,
        /// The file.
        file: PathBuf,
        /// Reads it to its end and changes nothing.
        #[arg(long)]
        check: bool,
    },
    /// Brings a program in that was taken out of another server as an archive.
    BringIn {
        #[command(flatten)]
        database: DatabaseArgs,
        /// The archive, a zip.
        file: PathBuf,
    },
    /// Helps somebody back in who has no owner to ask.
    Account {
        #[command(subcommand)]
        what: AccountCommand,
    },
    /// Checks a folder of content, or the checklist file of a class, and prints every fault with its file and line.
    CheckContent {
        /// The folder, laid out as `content/` is, or a file that a class's checklist was exported to.
        path: PathBuf,
    },
    /// Computes every standing anew from its observations and says whether those that are kept are the same. Changes nothing.
    CheckStandings {
        #[command(flatten)]
        database: DatabaseArgs,
    },
    /// Plays invented classes meeting by meeting, to judge how a round is planned: by the application, by walking the rows, and
    /// by somebody who knows what each child can really do.
    Rehearse(RehearseArgs),
    /// Listens to a WAV file and prints what is heard: plucks and strokes with pitch, string, ring and tone.
    Listen(listen::ListenArgs),
    /// Prints the description of the API.
    Openapi,
}

#[derive(Debug, clap::Args)]
struct PassphraseArgs {
    /// What backups are encrypted with; at least 12 characters.
    #[arg(long, env = "BRIGHT_ROW_BACKUP_PASSPHRASE", hide_env_values = true)]
    passphrase: Option<String>,
}

#[derive(Debug, Subcommand)]
enum AccountCommand {
    /// Prints a link to a new password, good once and for a day.
    Reset {
        #[command(flatten)]
        database: DatabaseArgs,
        /// The e-mail address of the account.
        address: String,
        /// Turns the second factor off as well: its device and the recovery codes are lost.
        #[arg(long)]
        without_second_factor: bool,
    },
}

/// What a worker has for the calls under way on it: without optimisation a transaction of several aggregates needs more than
/// the usual 2 MiB.
const STACK_BYTES: usize = 8 * 1024 * 1024;

/// Runs a command; what fails is one plain sentence on standard error.
#[must_use]
pub fn run(cli: Cli) -> ExitCode {
    let _telemetry = match logging::begin(cli.log, cli.traces_to.as_deref()) {
        Ok(telemetry) => telemetry,
        Err(failure) => {
            eprintln!("{failure}");
            return ExitCode::FAILURE;
        }
    };
    let runtime = tokio::runtime::Builder::new_multi_thread().enable_all().thread_stack_size(STACK_BYTES).build();
    let runtime = runtime.expect("a thread can be started");
    match runtime.block_on(command(cli.command)) {
        Ok(()) => ExitCode::SUCCESS,
        Err(failure) => {
            eprintln!("{failure}");
            ExitCode::FAILURE
        }
    }
}

async fn command(command: Command) -> Result<(), Failure> {
    match command {
        Command::Serve { database, backups, listening } => {
            serve::run(&database.database_url, &backups, &listening).await
        }
        Command::Migrate { database, backups } => upkeep::migrate_database(&database.database_url, &backups).await,
        Command::Rebuild { database } => upkeep::rebuild(&database.database_url).await,
        Command::Doctor { database, backups } => doctor::run(&database.database_url, &backups).await,
        Command::Demo { database } => {
            let db = maintain(&database.database_url).await?;
            only_current(schema(&db).await?)?;
            let loaded = demo::load(&db, &content::embedded(), Utc::now()).await?;
            println!(
                "{}",
                if loaded { "The demo school is there." } else { "A school is there already: kept as it is." }
            );
            Ok(())
        }
        Command::Backup { database, secret, file } => {
            let passphrase = backup::passphrase(secret.passphrase.as_deref())?;
            let rows = backup::make(&database.database_url, &file, passphrase, Utc::now()).await?;
            println!("{rows} rows are in {}, read back and whole.", file.display());
            Ok(())
        }
        Command::Restore { database_url, secret, file, check } => {
            let passphrase = backup::passphrase(secret.passphrase.as_deref())?;
            if check {
                println!("Whole: {} rows.", backup::check(&file, passphrase)?);
            } else {
                println!("{} rows are back.", backup::restore(&database_url, &file, passphrase).await?);
            }
            Ok(())
        }
        Command::BringIn { database, file } => {
            let brought = archive::bring_in(&database.database_url, &file).await?;
            println!("{} is here: {} rows.", brought.name, brought.rows);
            for address in brought.without_password {
                println!("Without a password yet: `bright-row account reset {address}` makes a link to one.");
            }
            Ok(())
        }
        Command::Account { what: AccountCommand::Reset { database, address, without_second_factor } } => {
            account::reset(&database.database_url, &address, without_second_factor).await
        }
        Command::CheckContent { path } => check_content::run(&path),
        Command::CheckStandings { database } => upkeep::check_standings(&database.database_url).await,
        Command::Rehearse(args) => {
            rehearse(&content::embedded(), args);
            Ok(())
        }
        Command::Listen(args) => listen::run(&args),
        Command::Openapi => {
            println!("{}", router::openapi_json());
            Ok(())
        }
    }
}
