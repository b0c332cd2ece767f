//! The application put together: what every handler shares, the layers around the routes, and serving.

use std::collections::BTreeMap;
use std::net::IpAddr;
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

use age::secrecy::SecretString;
use axum::extract::FromRef;
use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::loader::Content;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_store::DatabaseConnection;
use bright_row_store::classes::Class;
use chrono::{DateTime, NaiveDate, TimeDelta, Utc};

use crate::checklist_cache::ChecklistCache;
use crate::kept::{Admissions, KeptClasses, KeptRecorders, KeptRooms};
use crate::live::Live;
use crate::passwords::PasswordDesk;
use crate::readers::ReadersDesk;
use crate::writers::WritersDesk;

/// What tells the time.
#[derive(Clone)]
pub struct Clock(Arc<dyn Fn() -> DateTime<Utc> + Send + Sync>);

impl Clock {
    /// A clock that says what `tells` says.
    pub fn new(tells: impl Fn() -> DateTime<Utc> + Send + Sync + 'static) -> Self {
        Self(Arc::new(tells))
    }

    /// What time it is.
    #[must_use]
    pub fn now(&self) -> DateTime<Utc> {
        (self.0)()
    }
}

impl Default for Clock {
    fn default() -> Self {
        Self::new(Utc::now)
    }
}

impl std::fmt::Debug for Clock {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Clock({})", self.now())
    }
}

/// Where automatic backups go.
#[derive(Clone, Debug)]
pub struct Backups {
    /// The database's address.
    pub database_url: String,
    /// The folder; it is there.
    pub folder: PathBuf,
    /// What they are encrypted with.
    pub passphrase: SecretString,
}

/// What is set when the server starts.
#[derive(Clone, Debug)]
pub struct Options {
    /// A proxy that speaks TLS is in front: cookies go over TLS only, and its word of who asks counts.
    pub behind_tls: bool,
    /// The address of that proxy, where it is not on this machine.
    pub proxy: Option<IpAddr>,
    /// What time it is; tests set it.
    pub clock: Clock,
    /// After so long without use a session ends.
    pub quiet_session: TimeDelta,
    /// After so long a session ends however much it is used.
    pub longest_session: TimeDelta,
    /// A client that has not sent the head of a request after so long is let go, also between two requests.
    pub head_patience: Duration,
    /// Requests under way when the server is to stop are answered within so long, or not at all.
    pub drain_patience: Duration,
    /// Where automatic backups go; absent: none are made.
    pub backups: Option<Backups>,
    /// Where notices are heard; absent: where everything is asked.
    pub notices: Option<DatabaseConnection>,
}

impl Default for Options {
    fn default() -> Self {
        Self {
            behind_tls: false,
            proxy: None,
            clock: Clock::default(),
            quiet_session: TimeDelta::hours(12),
            longest_session: TimeDelta::days(7),
            head_patience: Duration::from_secs(30),
            drain_patience: Duration::from_secs(8),
            backups: None,
            notices: None,
        }
    }
}

/// What every handler shares. Nothing in it is lost when the process ends.
#[derive(Clone, Debug)]
pub struct App {
    /// The pool of connections.
    pub db: DatabaseConnection,
    /// The small pool for sessions.
    pub sessions: DatabaseConnection,
    /// Instruments and checklist.
    pub content: Arc<Content>,
    /// The checklists that are in use.
    pub checklists: ChecklistCache,
    /// Classes as they were read last.
    pub kept_classes: KeptClasses,
    /// Who asks to be let into them.
    pub admissions: Admissions,
    /// Their rooms as they were answered last.
    pub kept_rooms: KeptRooms,
    /// Those who were let in to record.
    pub kept_recorders: KeptRecorders,
    /// Open pages that hear of changes.
    pub live: Live,
    /// Where passwords are hashed, a few at a time.
    pub passwords: PasswordDesk,
    /// Where files are read, a few at a time.
    pub readers: ReadersDesk,
    /// Where observations are written, what comes meanwhile together.
    pub writers: WritersDesk,
    /// As started.
    pub options: Options,
}

impl FromRef<App> for ReadersDesk {
    fn from_ref(app: &App) -> Self {
        app.readers.clone()
    }
}

impl App {
    /// An application over a database whose schema has been checked.
    #[must_use]
    pub fn new(db: DatabaseConnection, sessions: DatabaseConnection, content: Content, options: Options) -> Self {
        let live = Live::begin(&db, options.notices.as_ref().unwrap_or(&db));
        let (content, checklists) = (Arc::new(content), ChecklistCache::default());
        Self {
            db,
            sessions,
            content,
            checklists,
            kept_classes: KeptClasses::default(),
            admissions: Admissions::default(),
            kept_rooms: KeptRooms::default(),
            kept_recorders: KeptRecorders::default(),
            live,
            passwords: PasswordDesk::default(),
            readers: ReadersDesk::default(),
            writers: WritersDesk::default(),
            options,
        }
    }

    /// What a class chose, as it is today: an option whose day has come has turned into the one that follows it.
    #[must_use]
    pub fn choices(&self, class: &Class) -> Choices {
        self.choices_with(class, &class.choices, &class.edits.turns_on)
    }

    /// What these choices would come to today in a class.
    #[must_use]
    pub fn choices_with(&self, class: &Class, choices: &Choices, turns_on: &BTreeMap<String, NaiveDate>) -> Choices {
        self.content.approach.on(class.calendar.day_of(self.now()), choices, turns_on)
    }

    /// The days on which these options would turn into others if a class took them today, with the days asked for.
    #[must_use]
    pub fn turning_days(
        &self,
        class: &Class,
        (chosen, asked): (&Choices, &BTreeMap<String, NaiveDate>),
    ) -> BTreeMap<String, NaiveDate> {
        let before = (&class.choices, &class.edits.turns_on);
        self.content.approach.turning_days((chosen, asked), before, class.calendar.day_of(self.now()))
    }

    /// The checklist as a class reads it.
    #[must_use]
    pub fn checklist(&self, class: &Class) -> Arc<Checklist> {
        self.checklists.of(&self.content, &self.choices(class), &class.edits)
    }

    /// The markers that a class calls for, by instrument.
    #[must_use]
    pub fn marker_sets(&self, class: &Class) -> BTreeMap<Instrument, MarkerSet> {
        let facts = &self.content.instruments;
        facts.iter().map(|(on, facts)| (*on, MarkerSet::new(facts, &class.choices, class.marker_settings))).collect()
    }

    /// What time it is.
    #[must_use]
    pub fn now(&self) -> DateTime<Utc> {
        self.options.clock.now()
    }
}
