//! Live updates: one listening connection a process, one stream of notices a page.
//!
//! A notice only says that a class changed, and in what; the page then reads what it may read. Notices are gathered while one is
//! under way, so that a busy class costs one statement at a time, however many observations come in.

use std::time::Duration;

use bright_row_core::lessons::lead::LeadSignal;
use bright_row_core::{AccountId, ClassId};
use bright_row_store::DatabaseConnection;
use bright_row_store::live::{Heard, Listener, Notice, Topic, tell};
use tokio::sync::{broadcast, mpsc, watch};

/// Notices that a slow page may fall behind before it has to read everything again.
const BACKLOG: usize = 256;
/// How long to wait before listening again after the database went away.
const PAUSE: Duration = Duration::from_secs(1);

/// The desk of live updates.
#[derive(Clone, Debug)]
pub struct Live {
    heard: broadcast::Sender<Heard>,
    notices: mpsc::UnboundedSender<Notice>,
    closed: watch::Sender<bool>,
}

impl Live {
    /// Begins to tell, and to listen where a connection stays one's own, until [`Self::close`].
    #[must_use]
    pub fn begin(db: &DatabaseConnection, own: &DatabaseConnection) -> Self {
        let (heard, _) = broadcast::channel(BACKLOG);
        let (notices, gathered) = mpsc::unbounded_channel();
        let (closed, _) = watch::channel(false);
        let live = Self { heard, notices, closed };
        tokio::spawn(live.clone().until_closed(listen(own.clone(), live.heard.clone())));
        tokio::spawn(live.clone().until_closed(notify(db.clone(), gathered)));
        live
    }

    /// Says that a class changed, and in what; returns at once.
    pub fn changed(&self, class: ClassId, topic: Topic) {
        // Fails only when the desk is closed, and then nobody listens any more.
        let _ = self.notices.send(Notice::Changed(class, topic));
    }

    /// Says that a session of somebody has ended, or that they may open other classes now: their streams end, and those who may
    /// come again.
    pub fn session_ended(&self, account: AccountId) {
        let _ = self.notices.send(Notice::Ended(account));
    }

    /// Passes on what a page of somebody says to the other pages of the same account; returns at once.
    pub fn lead(&self, class: ClassId, account: AccountId, signal: LeadSignal) {
        let _ = self.notices.send(Notice::Lead(class, account, signal));
    }

    /// What is heard from now on.
    #[must_use]
    pub fn subscribe(&self) -> broadcast::Receiver<Heard> {
        self.heard.subscribe()
    }

    /// Ends every stream.
    pub fn close(&self) {
        self.closed.send_replace(true);
    }

    /// Resolves once [`Self::close`] was called.
    pub async fn until_close(&self) {
        let mut closed = self.closed.subscribe();
        // An error means that the desk is gone, which is as closed as can be.
        let _ = closed.wait_for(|closed| *closed).await;
    }

    /// Resolves once a session of this account has ended.
    pub async fn until_session_ends(&self, account: AccountId) {
        let mut heard = self.subscribe();
        loop {
            match heard.recv().await {
                Ok(Heard::Notice(Notice::Ended(other))) if other != account => {}
                Ok(Heard::Notice(Notice::Changed(..) | Notice::Lead(..)) | Heard::Gap) => {}
                // Whatever was missed may have been about this one.
                Ok(Heard::Notice(Notice::Ended(_))) | Err(_) => return,
            }
        }
    }

    async fn until_closed(self, work: impl Future<Output = ()>) {
        tokio::select! {
            () = work => {}
            () = self.until_close() => {}
        }
    }
}

async fn listen(db: DatabaseConnection, heard: broadcast::Sender<Heard>) {
    loop {
        match Listener::begin(&db).await {
            Ok(mut listener) => {
                // Whatever happened before this moment was not heard.
                let _ = heard.send(Heard::Gap);
                while let Ok(notice) = listener.hear().await {
                    // An error means that no page is open.
                    let _ = heard.send(notice);
                }
            }
            Err(error) => tracing::warn!(%error, "live updates wait for the database"),
        }
        tokio::time::sleep(PAUSE).await;
    }
}

async fn notify(db: DatabaseConnection, mut gathered: mpsc::UnboundedReceiver<Notice>) {
    let mut batch = Vec::new();
    while gathered.recv_many(&mut batch, BACKLOG).await > 0 {
        // A change is announced once; what pages say to each other keeps its order and its number.
        let mut notices: Vec<Notice> = Vec::new();
        for notice in batch.drain(..) {
            if matches!(notice, Notice::Lead(..)) || !notices.contains(&notice) {
                notices.push(notice);
            }
        }
        if let Err(error) = tell(&db, &notices).await {
            tracing::warn!(%error, "a change was stored but not announced; pages read it with their next regular reading");
        }
    }
}
