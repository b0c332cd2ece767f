//! The command line.

use std::net::{IpAddr, SocketAddr};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use bright_row_store::database::{Schema, connect, connect_for_sessions, maintain, migrate, schema};
use chrono::Utc;
use clap::{Parser, Subcommand};

use crate::failure::{Failure, only_current};
use crate::rehearse::{RehearseArgs, rehearse};
use crate::state::{App, Options};
use crate::{account, backup, caches, content, demo, router, serve};

/// Sets up a class of beginning string players and tracks each child against one shared checklist.
#[derive(Debug, Parser)]
#[command(name = "bright-row", version)]
pub struct Cli {
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
        /// The port; 0 takes any that is free and prints it.
        #[arg(long, env = "PORT", default_value_t = 8787)]
        port: u16,
        /// The address to listen on; loopback by default.
        #[arg(long, env = "BRIGHT_ROW_ADDRESS", default_value = "127.0.0.1")]
        address: IpAddr,
        /// The application is reached through TLS: cookies are sent over it only.
        #[arg(long, env = "BRIGHT_ROW_BEHIND_TLS")]
        behind_tls: bool,
    },
    /// Brings the database's schema up to date, and computes anew what other rules left of standings and tape records.
    Migrate {
        #[command(flatten)]
        database: DatabaseArgs,
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
    let filter = tracing_subscriber::EnvFilter::try_from_default_env()
        .unwrap_or_else(|_| tracing_subscriber::EnvFilter::new("warn,bright_row=info,sqlx=error"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).with_target(false).init();
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
        Command::Serve { database, port, address, behind_tls } => {
            serve(&database.database_url, SocketAddr::new(address, port), behind_tls).await
        }
        Command::Migrate { database } => migrate_database(&database.database_url, false).await,
        Command::Rebuild { database } => migrate_database(&database.database_url, true).await,
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
            let rows = backup::make(&database.database_url, &file, passphrase).await?;
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
        Command::Account { what: AccountCommand::Reset { database, address, without_second_factor } } => {
            account::reset(&database.database_url, &address, without_second_factor).await
        }
        Command::CheckContent { path } => check_content(&path),
        Command::CheckStandings { database } => check_standings(&database.database_url).await,
        Command::Rehearse(args) => {
            rehearse(&content::embedded(), args);
            Ok(())
        }
        Command::Openapi => {
            println!("{}", router::openapi_json());
            Ok(())
        }
    }
}

fn check_content(path: &Path) -> Result<(), Failure> {
    let checked = if path.is_dir() {
        content::from_folder(path)?.map(|content| {
            let (checklist, symptoms) = (content.standard(), &content.symptoms);
            format!(
                "{} checkpoints, {} slips, {} choices, {} symptoms, {} causes",
                checklist.checkpoints().len(),
                checklist.slips().len(),
                content.approach.choices.len(),
                symptoms.symptoms.len(),
                symptoms.causes.len()
            )
        })
    } else {
        content::class_file(path)?.map(|class| {
            let edits = &class.edits;
            format!(
                "{} choices, {} checkpoints reworded, {} switched off, {} added",
                class.choices.len(),
                edits.reworded.len(),
                edits.off.len(),
                edits.own.len()
            )
        })
    };
    match checked {
        Ok(counted) => {
            println!("No fault: {counted}.");
            Ok(())
        }
        Err(faults) => {
            for fault in &faults {
                println!("{fault}");
            }
            Err(Failure::Content(faults.len()))
        }
    }
}

async fn check_standings(database_url: &str) -> Result<(), Failure> {
    let db = maintain(database_url).await?;
    only_current(schema(&db).await?)?;
    let checked = caches::check(&db, &content::embedded()).await?;
    if checked.other.is_empty() {
        println!("All {} standings follow from their observations.", checked.standings);
        return Ok(());
    }
    Err(Failure::Standings(checked.other.join(", ")))
}

/// Brings schema and caches up to date; `rebuild` computes everything that is kept anew, also what this build's rules left.
async fn migrate_database(database_url: &str, rebuild: bool) -> Result<(), Failure> {
    let db = maintain(database_url).await?;
    match schema(&db).await? {
        Schema::Empty | Schema::Behind if !rebuild => migrate(&db).await?,
        other => only_current(other)?,
    }
    only_current(schema(&db).await?)?;
    let content = content::embedded();
    let rebuilt =
        if rebuild { caches::rebuild(&db, &content).await? } else { caches::rebuild_old(&db, &content).await? };
    if rebuild || rebuilt > 0 {
        println!(
            "Computed anew by this version's rules: {rebuilt} {}.",
            if rebuilt == 1 { "class" } else { "classes" }
        );
    }
    Ok(())
}

async fn serve(database_url: &str, address: SocketAddr, behind_tls: bool) -> Result<(), Failure> {
    let db = connect(database_url).await?;
    let sessions = connect_for_sessions(database_url).await?;
    only_current(schema(&db).await?)?;
    let listener = tokio::net::TcpListener::bind(address).await.map_err(|cause| match cause.kind() {
        std::io::ErrorKind::AddrInUse => Failure::PortTaken { port: address.port() },
        _ => Failure::Listen { address: address.to_string(), cause },
    })?;
    let here = listener.local_addr().map_err(|cause| Failure::Listen { address: address.to_string(), cause })?;
    let app = App::new(db, sessions, content::embedded(), Options { behind_tls, ..Options::default() });
    println!("Bright Row is at http://{here}");
    serve::serve(app, listener, stop_signal())
        .await
        .map_err(|cause| Failure::Listen { address: here.to_string(), cause })
}

/// Ctrl-C, or the signal that a service manager sends.
async fn stop_signal() {
    use tokio::signal::unix::{SignalKind, signal};
    let Ok(mut terminate) = signal(SignalKind::terminate()) else { return std::future::pending().await };
    tokio::select! {
        _ = tokio::signal::ctrl_c() => {}
        _ = terminate.recv() => {}
    }
}
