//! What fails at the command line is said in one plain sentence with what to do.

use bright_row_store::StoreError;
use bright_row_store::database::Schema;

/// Why a command could not do its work.
#[derive(Debug, thiserror::Error)]
pub enum Failure {
    /// The port belongs to somebody else.
    #[error("Port {port} is taken by another program: stop that one, or choose another port with PORT=8788 ./start.")]
    PortTaken {
        /// The port that was asked for.
        port: u16,
    },
    /// The address cannot be listened on.
    #[error("Cannot listen on {address}: {cause}. Choose an address of this machine with --address.")]
    Listen {
        /// The address that was asked for.
        address: String,
        /// What the system said.
        cause: std::io::Error,
    },
    /// The database does not answer.
    #[error("The database does not answer at the given address: start it, or correct DATABASE_URL.")]
    DatabaseDown,
    /// The database's address cannot be used.
    #[error("DATABASE_URL cannot be used: {0}. Nothing was done; docs/operations.md says what each sslmode means.")]
    Address(&'static str),
    /// The collector of traces cannot be used.
    #[error("Traces cannot be sent to OTEL_EXPORTER_OTLP_ENDPOINT: {0}.")]
    Collector(String),
    /// The disk is full.
    #[error("The database's disk is full: free some space and start again; what was stored is kept.")]
    DiskFull,
    /// The schema is newer than this build.
    #[error("The database was made by a newer Bright Row ({0}): install that version; nothing was changed.")]
    NewerSchema(String),
    /// The schema is something else's.
    #[error("The database is not Bright Row's, {0}: point DATABASE_URL at another database; nothing was changed.")]
    ForeignSchema(String),
    /// The schema is older, and this command does not change it.
    #[error("The database wants an update: run `bright-row migrate` first (./start does), then start again.")]
    OldSchema,
    /// Kept standings that are not what the observations say.
    #[error(
        "Some standings are not what the observations say, in: {0}. No observation is lost: run `bright-row rebuild`."
    )]
    Standings(String),
    /// The store refused.
    #[error("The database refused: {0}. The log above says more.")]
    Store(StoreError),
    /// A backup that cannot be read whole.
    #[error("This backup cannot be used: {0}. Nothing was changed; take another one.")]
    BrokenBackup(String),
    /// An archive of a program that cannot be read whole.
    #[error("This archive cannot be used: {0}. Nothing was changed; take it out again where it came from.")]
    BrokenArchive(String),
    /// The program of an archive is here.
    #[error(
        "{0} is on this server already. Nothing was changed; an owner can delete it there first, with everything of it."
    )]
    ProgramThere(String),
    /// The database that a backup is to be restored into holds something.
    #[error("The database is not empty: restore into a new one. Nothing was changed.")]
    NotEmpty,
    /// A backup of a database that had other migrations.
    #[error(
        "This backup was made by another version: restore it with that version, then run `bright-row migrate`. Nothing was changed."
    )]
    OtherSchema,
    /// No passphrase, or a short one.
    #[error(
        "A backup wants a passphrase of at least {0} characters in BRIGHT_ROW_BACKUP_PASSPHRASE. Nothing was done."
    )]
    Passphrase(usize),
    /// No account has this address.
    #[error("No account has the address {0}: check it, or ask an owner for an invitation.")]
    NoAccount(String),
    /// Something is to be done; it was printed.
    #[error("To do: {0}. The lines above say what.")]
    Doctor(usize),
    /// Content has faults; they were printed.
    #[error("{0} faults in the content: mend the lines above and check again.")]
    Content(usize),
    /// A file or folder cannot be read.
    #[error("Cannot read {path}: {cause}. Check the path and its permissions.")]
    Unreadable {
        /// The path.
        path: String,
        /// What the system said.
        cause: std::io::Error,
    },
    /// A sound that cannot be listened to, or not to its end.
    #[error("Cannot listen to {path}: {why}. What was heard before that is printed above.")]
    Sound {
        /// The path.
        path: String,
        /// What is wrong with it.
        why: String,
    },
    /// Anything else.
    #[error("{0}")]
    Other(String),
}

impl From<StoreError> for Failure {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::Unavailable(_) | StoreError::Busy(_) => Self::DatabaseDown,
            StoreError::DiskFull => Self::DiskFull,
            StoreError::Address(why) => Self::Address(why),
            StoreError::Conflict
            | StoreError::Reference
            | StoreError::TryAgain(_)
            | StoreError::Unreadable { .. }
            | StoreError::Database(_) => {
                tracing::error!(?error, "the database refused");
                Self::Store(error)
            }
        }
    }
}

/// Refuses every schema but this build's.
///
/// # Errors
/// The [`Failure`] that says which it is.
pub fn only_current(schema: Schema) -> Result<(), Failure> {
    match schema {
        Schema::Current => Ok(()),
        Schema::Empty | Schema::Behind => Err(Failure::OldSchema),
        Schema::Newer(names) => Err(Failure::NewerSchema(names.join(", "))),
        Schema::Foreign(why) => Err(Failure::ForeignSchema(why)),
    }
}

/// A fault as a sentence: a large letter first, a stop at the end.
#[must_use]
pub fn sentence(message: &str) -> String {
    let mut letters = message.chars();
    let large: String = letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect());
    format!("{large}.")
}
