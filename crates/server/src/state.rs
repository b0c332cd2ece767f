//! The application put together: what every handler shares, the layers around the routes, and serving.

use std::collections::BTreeMap;
use std::sync::Arc;

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::loader::Content;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_store::DatabaseConnection;
use bright_row_store::classes::Class;
use bright_row_store::observations::renewing::Checklists;
use chrono::{DateTime, Utc};

use crate::checklist_cache::ChecklistCache;
use crate::live::Live;
use crate::passwords::PasswordDesk;

/// What is set when the server starts.
#[derive(Clone, Copy, Debug)]
pub struct Options {
    /// Cookies go over TLS only.
    pub behind_tls: bool,
    /// What time it is; tests set it.
    pub clock: fn() -> DateTime<Utc>,
}

impl Default for Options {
    fn default() -> Self {
        Self { behind_tls: false, clock: Utc::now }
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
    /// Open pages that hear of changes.
    pub live: Live,
    /// Where passwords are hashed, a few at a time.
    pub passwords: PasswordDesk,
    /// As started.
    pub options: Options,
}

impl Checklists for App {
    fn of_class(&self, class: &Class) -> Arc<Checklist> {
        self.checklist(class)
    }
}

impl App {
    /// An application over a database whose schema has been checked.
    #[must_use]
    pub fn new(db: DatabaseConnection, sessions: DatabaseConnection, content: Content, options: Options) -> Self {
        let live = Live::begin(&db);
        let (content, checklists) = (Arc::new(content), ChecklistCache::default());
        Self { db, sessions, content, checklists, live, passwords: PasswordDesk::default(), options }
    }

    /// The checklist as a class reads it.
    #[must_use]
    pub fn checklist(&self, class: &Class) -> Arc<Checklist> {
        self.checklists.of(&self.content, &class.choices, &class.edits)
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
        (self.options.clock)()
    }
}
