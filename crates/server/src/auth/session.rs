//! Sessions behind the cookie, kept in the database so that any server process can answer.

use async_trait::async_trait;
use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use bright_row_core::AccountId;
use bright_row_store::accounts::sessions;
use bright_row_store::{DatabaseConnection, StoreError};
use chrono::{DateTime, Utc};
use sha2::{Digest, Sha256};
use time::OffsetDateTime;
use tower_sessions::cookie::SameSite;
use tower_sessions::session::{Id, Record};
use tower_sessions::session_store::{self, SessionStore};
use tower_sessions::{Expiry, Session, SessionManagerLayer};
use uuid::Uuid;

use crate::error::ApiError;
use crate::state::App;

/// The name of the cookie.
pub const COOKIE: &str = "bright_row";
const ACCOUNT: &str = "account";
/// A session lasts a week from sign-in: short enough for a shared tablet, long enough not to ask before each lesson.
const DAYS: i64 = 7;

/// The layer that reads and writes the cookie.
#[must_use]
pub fn layer(app: &App) -> SessionManagerLayer<Kept> {
    SessionManagerLayer::new(Kept { db: app.sessions.clone() })
        .with_name(COOKIE)
        .with_http_only(true)
        .with_same_site(SameSite::Strict)
        .with_secure(app.options.behind_tls)
        .with_expiry(Expiry::OnInactivity(time::Duration::days(DAYS)))
}

/// The session of a request.
pub struct WebSession(Session);

impl WebSession {
    /// Who signed in, if anybody.
    pub async fn account(&self) -> Result<Option<AccountId>, ApiError> {
        Ok(self.0.get::<Uuid>(ACCOUNT).await?.map(AccountId::from))
    }

    /// Signs somebody in, under a new id so that one known before is worth nothing.
    pub async fn begin(&self, account: AccountId) -> Result<(), ApiError> {
        self.0.cycle_id().await?;
        self.0.insert(ACCOUNT, account.uuid()).await?;
        Ok(())
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

/// Sessions in the database.
#[derive(Clone, Debug)]
pub struct Kept {
    db: DatabaseConnection,
}

fn hash(id: &Id) -> Vec<u8> {
    Sha256::digest(id.0.to_be_bytes()).to_vec()
}

fn failed(error: &StoreError) -> session_store::Error {
    session_store::Error::Backend(error.to_string())
}

fn expiry(record: &Record) -> DateTime<Utc> {
    DateTime::from_timestamp(record.expiry_date.unix_timestamp(), 0).unwrap_or_default()
}

fn data(record: &Record) -> Result<serde_json::Value, session_store::Error> {
    serde_json::to_value(&record.data).map_err(|error| session_store::Error::Encode(error.to_string()))
}

#[async_trait]
impl SessionStore for Kept {
    async fn create(&self, record: &mut Record) -> session_store::Result<()> {
        loop {
            match sessions::add(&self.db, &hash(&record.id), data(record)?, expiry(record)).await {
                Ok(()) => return Ok(()),
                Err(StoreError::Conflict) => record.id = Id::default(),
                Err(error) => return Err(failed(&error)),
            }
        }
    }

    async fn save(&self, record: &Record) -> session_store::Result<()> {
        let kept = sessions::keep(&self.db, &hash(&record.id), data(record)?, expiry(record)).await;
        kept.map_err(|error| failed(&error))
    }

    async fn load(&self, id: &Id) -> session_store::Result<Option<Record>> {
        let found = sessions::load(&self.db, &hash(id), Utc::now()).await.map_err(|error| failed(&error))?;
        let Some((data, expires_at)) = found else { return Ok(None) };
        let data = serde_json::from_value(data).map_err(|error| session_store::Error::Decode(error.to_string()))?;
        let expiry_date = OffsetDateTime::from_unix_timestamp(expires_at.timestamp())
            .map_err(|error| session_store::Error::Decode(error.to_string()))?;
        Ok(Some(Record { id: *id, data, expiry_date }))
    }

    async fn delete(&self, id: &Id) -> session_store::Result<()> {
        sessions::end(&self.db, &hash(id)).await.map_err(|error| failed(&error))
    }
}
