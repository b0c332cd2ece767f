//! Who records what was seen in a class.

use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use bright_row_core::ClassId;
use bright_row_store::classes::LetIn;
use chrono::{DateTime, TimeDelta, Utc};

use super::admission::let_in;
use super::guard::{Member, open};
use super::session::WebSession;
use crate::error::ApiError;
use crate::extract::id_in_path;
use crate::kept::KeptRecorder;
use crate::state::App;

/// So long after a substitute's time what was seen until then may still arrive: a tablet may have been without network.
pub const SENDING_AFTER: TimeDelta = TimeDelta::days(3);

/// Somebody who records what was seen in the class that the path names. A substitute whose time is over is answered for a while,
/// for what was seen before.
#[derive(Clone, Debug)]
pub struct Recorder(pub Member);

impl Recorder {
    /// Why something that was seen at a moment is not taken in, if it is not.
    #[must_use]
    pub fn refuses(&self, seen_at: DateTime<Utc>) -> Option<&'static str> {
        const ARCHIVED: &str =
            "This class is archived: an owner can open it again under Classes. Nothing was kept of this.";
        const OVER: &str =
            "This was seen after the substitute's time. Ask an owner for a new code; nothing was kept of this.";
        // What was seen before is taken in however late it comes.
        if self.0.class.archived_at.is_some_and(|at| seen_at >= at) {
            return Some(ARCHIVED);
        }
        self.0.until.is_some_and(|until| seen_at >= until).then_some(OVER)
    }
}

impl FromRequestParts<App> for Recorder {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        open(parts, app, app.now() - SENDING_AFTER).await.map(Self)
    }
}

/// Somebody who was let in is asked again after so long: the use of a session is noted then.
const ASKED_AGAIN_AFTER: TimeDelta = TimeDelta::minutes(1);

/// A [`Recorder`] who was let in a moment ago by the same session, and is not asked anew: whether that still holds is a question of the
/// transaction that records. Anybody else is asked at once.
pub struct RecorderAtOnce {
    /// As it was.
    pub recorder: Recorder,
    /// What the transaction has to confirm; `None` where it was asked just now.
    pub let_in: Option<LetIn>,
    session: WebSession,
}

impl RecorderAtOnce {
    /// Asks whoever was not confirmed.
    ///
    /// # Errors
    /// Those of [`Recorder`].
    pub async fn ask(self, app: &App) -> Result<Recorder, ApiError> {
        let account = self.session.account().await?.ok_or(ApiError::SignInFirst)?;
        let class = self.recorder.0.class.key.class;
        Ok(Recorder(let_in(app, account, class, app.now() - SENDING_AFTER).await?))
    }
}

impl FromRequestParts<App> for RecorderAtOnce {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let session = WebSession::from_request_parts(parts, app).await?;
        let class: Option<ClassId> = id_in_path(parts, app, "class").await.map(Into::into);
        let key = session.hash().zip(class);
        if let Some((recorder, let_in)) = key.as_ref().and_then(|key| before(app, key)) {
            return Ok(Self { recorder, let_in: Some(let_in), session });
        }
        let recorder = Recorder::from_request_parts(parts, app).await?;
        if let Some(key) = key {
            let Member { account, role, until, .. } = recorder.0;
            app.kept_recorders.keep(key, KeptRecorder { account, role, until, asked_at: app.now() });
        }
        Ok(Self { recorder, let_in: None, session })
    }
}

/// Who was let into a class by a session, not long ago, and what has to be asked before it is believed.
fn before(app: &App, key: &(Vec<u8>, ClassId)) -> Option<(Recorder, LetIn)> {
    let now = app.now();
    let KeptRecorder { account, role, until, asked_at } = app.kept_recorders.get(key)?;
    let class = app.kept_classes.get(&key.1).filter(|_| now < asked_at + ASKED_AGAIN_AFTER)?;
    let let_in = LetIn {
        session: key.0.clone(),
        account,
        until,
        settled: class.settled,
        at: now - SENDING_AFTER,
        now,
        used_since: now - app.options.quiet_session,
    };
    Some((Recorder(Member { account, role, until, class }), let_in))
}
