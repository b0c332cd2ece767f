//! Sessions behind the cookie, kept in the database so that any server process can answer.

use std::pin::Pin;
use std::sync::Arc;

use async_trait::async_trait;
use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use bright_row_core::AccountId;
use bright_row_store::accounts::sessions;
use bright_row_store::{DatabaseConnection, StoreError};
use chrono::{DateTime, TimeDelta, Utc};
use sha2::{Digest, Sha256};
use time::OffsetDateTime;
use tower_sessions::cookie::SameSite;
use tower_sessions::session::{Id, Record};
use tower_sessions::session_store::{self, SessionStore};
use tower_sessions::{Expiry, Session, SessionManagerLayer};
use uuid::Uuid;

use crate::error::ApiError;
use crate::state::{App, Options};
use crate::turns::{Fits, Turns};

/// The name of the cookie.
pub const COOKIE: &str = "bright_row";
const ACCOUNT: &str = "account";
const SESSION: &str = "session";
const DEVICE: &str = "device";
const ENDS: &str = "ends";
/// So long a device has to answer what it was asked.
const ANSWERED_WITHIN: TimeDelta = TimeDelta::minutes(5);

/// The layer that reads and writes the cookie.
#[must_use]
pub fn layer(app: &App) -> SessionManagerLayer<Sessions> {
    SessionManagerLayer::new(Sessions {
        db: app.sessions.clone(),
        options: app.options.clone(),
        asked: SessionsAsked::default(),
    })
    .with_name(COOKIE)
    .with_http_only(true)
    .with_same_site(SameSite::Strict)
    .with_secure(app.options.behind_tls)
    .with_expiry(Expiry::OnInactivity(time::Duration::seconds(app.options.longest_session.num_seconds())))
}

/// The session of a request.
#[derive(Clone, Debug)]
pub struct WebSession(Session);

impl WebSession {
    /// Who signed in, if anybody.
    pub async fn account(&self) -> Result<Option<AccountId>, ApiError> {
        Ok(self.0.get::<Uuid>(ACCOUNT).await?.map(AccountId::from))
    }

    /// What it is kept by, without asking whether it is.
    #[must_use]
    pub fn hash(&self) -> Option<Vec<u8>> {
        self.0.id().map(|id| hash(&id))
    }

    /// What its owner knows this session by.
    pub async fn id(&self) -> Result<Option<Uuid>, ApiError> {
        Ok(self.0.get::<Uuid>(SESSION).await?)
    }

    /// When it ends, however much it is used.
    pub async fn ends(&self) -> Result<Option<DateTime<Utc>>, ApiError> {
        Ok(self.0.get::<DateTime<Utc>>(ENDS).await?)
    }

    /// Signs somebody in until a moment, under a new id so that one known before is worth nothing.
    pub async fn begin(&self, account: AccountId, device: &str, ends: DateTime<Utc>) -> Result<(), ApiError> {
        // Whoever comes without a session has none to end.
        if self.0.id().is_some() {
            self.0.flush().await?;
            self.0.cycle_id().await?;
        }
        self.0.insert(SESSION, Uuid::now_v7()).await?;
        self.0.insert(DEVICE, device).await?;
        self.0.insert(ENDS, ends).await?;
        self.0.insert(ACCOUNT, account.uuid()).await?;
        Ok(())
    }

    /// Keeps what was asked of somebody's device until it answers. Before anybody is signed in the session lasts as long.
    pub async fn ask(
        &self,
        what: &str,
        account: AccountId,
        state: &serde_json::Value,
        now: DateTime<Utc>,
    ) -> Result<(), ApiError> {
        let until = now + ANSWERED_WITHIN;
        self.0.insert(what, (account.uuid(), until, state)).await?;
        if self.account().await?.is_none() {
            self.0.insert(ENDS, until).await?;
        }
        Ok(())
    }

    /// What was asked of this one's device, once; `None` where nothing was, or too long ago.
    pub async fn asked(
        &self,
        what: &str,
        account: AccountId,
        now: DateTime<Utc>,
    ) -> Result<Option<serde_json::Value>, ApiError> {
        let asked = self.0.remove::<(Uuid, DateTime<Utc>, serde_json::Value)>(what).await?;
        // Also where the answer is no good: the next one is to another question.
        self.0.save().await?;
        Ok(asked.filter(|(of, until, _)| *of == account.uuid() && now < *until).map(|(.., state)| state))
    }

    /// Signs out, here and in the database.
    pub async fn end(&self) -> Result<(), ApiError> {
        Ok(self.0.flush().await?)
    }
}

impl<S: Send + Sync> FromRequestParts<S> for WebSession {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, ApiError> {
        let session = Session::from_request_parts(parts, state).await;
        session.map(Self).map_err(|(_, reason)| ApiError::Internal(format!("no session layer: {reason}")))
    }
}

/// Sessions in the database. They end by the server's own clock, after a time of quiet or at their end, whatever a cookie says.
#[derive(Clone, Debug)]
pub struct Sessions {
    db: DatabaseConnection,
    options: Options,
    asked: SessionsAsked,
}

/// What is found of them.
type Found = Pin<Box<dyn Future<Output = Vec<Result<Option<sessions::Kept>, StoreError>>> + Send>>;

/// Sessions that are asked for together.
pub type SessionsAsked = Turns<(), Vec<u8>, Result<Option<sessions::Kept>, StoreError>>;

/// The most sessions that one statement asks for.
const TOGETHER: Fits<Vec<u8>> = |before, _| before.len() < 100;

fn hash(id: &Id) -> Vec<u8> {
    Sha256::digest(id.0.to_be_bytes()).to_vec()
}

fn failed(error: &StoreError) -> session_store::Error {
    session_store::Error::Backend(error.to_string())
}

impl Sessions {
    /// Finds sessions by their hashes, each for itself.
    fn together(&self) -> impl Fn(Arc<[Vec<u8>]>) -> Found + Send + 'static {
        let (db, clock, quiet) = (self.db.clone(), self.options.clock.clone(), self.options.quiet_session);
        move |hashes| {
            let (db, now) = (db.clone(), clock.now());
            Box::pin(async move {
                match sessions::load(&db, &hashes, now, quiet).await {
                    // One session may be asked for twice.
                    Ok(found) => hashes.iter().map(|hash| Ok(found.get(hash).cloned())).collect(),
                    Err(error) => vec![Err(error); hashes.len()],
                }
            })
        }
    }

    fn row(&self, record: &Record) -> Result<sessions::Kept, session_store::Error> {
        let encoded = |error: serde_json::Error| session_store::Error::Encode(error.to_string());
        let now = self.options.clock.now();
        let longest = now + self.options.longest_session;
        let said = |key: &str| record.data.get(key).cloned().unwrap_or_default();
        let ends: Option<DateTime<Utc>> = serde_json::from_value(said(ENDS)).map_err(encoded)?;
        let id: Option<Uuid> = serde_json::from_value(said(SESSION)).map_err(encoded)?;
        let account: Option<Uuid> = serde_json::from_value(said(ACCOUNT)).map_err(encoded)?;
        let device: Option<String> = serde_json::from_value(said(DEVICE)).map_err(encoded)?;
        Ok(sessions::Kept {
            id: id.unwrap_or_else(Uuid::now_v7),
            account: account.map(Into::into),
            device: device.unwrap_or_default(),
            data: serde_json::to_value(&record.data).map_err(encoded)?,
            begun_at: now,
            last_used_at: now,
            expires_at: ends.unwrap_or(longest),
        })
    }
}

#[async_trait]
impl SessionStore for Sessions {
    async fn create(&self, record: &mut Record) -> session_store::Result<()> {
        loop {
            match sessions::add(&self.db, &hash(&record.id), &self.row(record)?).await {
                Ok(()) => return Ok(()),
                Err(StoreError::Conflict) => record.id = Id::default(),
                Err(error) => return Err(failed(&error)),
            }
        }
    }

    async fn save(&self, record: &Record) -> session_store::Result<()> {
        let kept = sessions::keep(&self.db, &hash(&record.id), &self.row(record)?).await;
        kept.map_err(|error| failed(&error))
    }

    async fn load(&self, id: &Id) -> session_store::Result<Option<Record>> {
        let now = self.options.clock.now();
        let found = self.asked.ask((), hash(id), TOGETHER, self.together()).await;
        let found = found.map_err(|error| session_store::Error::Backend(error.to_string()))?;
        let Some(kept) = found.map_err(|error| failed(&error))? else { return Ok(None) };
        let data =
            serde_json::from_value(kept.data).map_err(|error| session_store::Error::Decode(error.to_string()))?;
        // The session layer measures by the clock of the machine.
        let left = time::Duration::seconds((kept.expires_at - now).max(TimeDelta::seconds(1)).num_seconds());
        Ok(Some(Record { id: *id, data, expiry_date: OffsetDateTime::now_utc() + left }))
    }

    async fn delete(&self, id: &Id) -> session_store::Result<()> {
        sessions::end(&self.db, &hash(id)).await.map_err(|error| failed(&error))
    }
}
