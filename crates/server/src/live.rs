//! Live updates: one listening connection a process, one stream of notices a page.
//!
//! A notice only says that a class changed, and in what; the page then reads what it may read. Notices are gathered while one is
//! under way, so that a busy class costs one statement at a time, however many observations come in.

use std::collections::BTreeSet;
use std::time::Duration;

use bright_row_core::ClassId;
use bright_row_store::DatabaseConnection;
use bright_row_store::live::{Change, Heard, Listener, Topic, tell};
use tokio::sync::{broadcast, mpsc, watch};

/// Notices that a slow page may fall behind before it has to read everything again.
const BACKLOG: usize = 256;
/// How long to wait before listening again after the database went away.
const PAUSE: Duration = Duration::from_secs(1);

/// The desk of live updates.
#[derive(Clone, Debug)]
pub struct Live {
    heard: broadcast::Sender<Heard>,
    changed: mpsc::UnboundedSender<Change>,
    closed: watch::Sender<bool>,
}

impl Live {
    /// Begins to listen and to tell, until [`Self::close`].
    #[must_use]
    pub fn begin(db: &DatabaseConnection) -> Self {
        let (heard, _) = broadcast::channel(BACKLOG);
        let (changed, gathered) = mpsc::unbounded_channel();
        let (closed, _) = watch::channel(false);
        let live = Self { heard, changed, closed };
        tokio::spawn(live.clone().until_closed(listen(db.clone(), live.heard.clone())));
        tokio::spawn(live.clone().until_closed(notify(db.clone(), gathered)));
        live
    }

    /// Says that a class changed, and in what; returns at once.
    pub fn changed(&self, class: ClassId, topic: Topic) {
        // Fails only when the desk is closed, and then nobody listens any more.
        let _ = self.changed.send((class, topic));
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

async fn notify(db: DatabaseConnection, mut gathered: mpsc::UnboundedReceiver<Change>) {
    let mut batch = Vec::new();
    while gathered.recv_many(&mut batch, BACKLOG).await > 0 {
        let changes: BTreeSet<Change> = batch.drain(..).collect();
        if let Err(error) = tell(&db, &changes).await {
            tracing::warn!(%error, "a change was stored but not announced; pages read it with their next regular reading");
        }
    }
}
