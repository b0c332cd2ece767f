//! Axum's extractors, with their rejections as problems.

pub mod based_on;
pub mod batch;
pub mod fields;
pub mod files;
pub mod progress;

use axum::extract::{FromRequest, FromRequestParts, RawPathParams};
use axum::http::Request;
use axum::http::request::Parts;
use bright_row_core::craft::id::{CheckpointId, StageId};
use bright_row_core::day::Day;
use bright_row_core::{AccountId, AssetId, GroupId, ImportId, ObservationId};
use chrono::NaiveDate;
use serde::de::DeserializeOwned;
use uuid::Uuid;

use crate::error::ApiError;

/// A JSON body.
pub struct Body<T>(pub T);

impl<T: DeserializeOwned, S: Send + Sync> FromRequest<S> for Body<T> {
    type Rejection = ApiError;

    async fn from_request(request: Request<axum::body::Body>, state: &S) -> Result<Self, ApiError> {
        let axum::Json(value) = axum::Json::from_request(request, state).await?;
        Ok(Self(value))
    }
}

/// The parameters behind the question mark.
pub struct Query<T>(pub T);

impl<T: DeserializeOwned, S: Send + Sync> FromRequestParts<S> for Query<T> {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, ApiError> {
        let axum::extract::Query(value) = axum::extract::Query::from_request_parts(parts, state).await?;
        Ok(Self(value))
    }
}

/// The id of that name in the path, if it is one.
pub async fn id_in_path<S: Send + Sync>(parts: &mut Parts, state: &S, name: &str) -> Option<Uuid> {
    let params = RawPathParams::from_request_parts(parts, state).await.ok()?;
    params.iter().find(|(key, _)| *key == name).and_then(|(_, id)| id.parse().ok())
}

macro_rules! in_path {
    ($($(#[$doc:meta])* $name:ident($kind:ty) = $key:literal, $what:literal, $read:expr;)+) => {$(
        $(#[$doc])*
        pub struct $name(pub $kind);

        impl<S: Send + Sync> FromRequestParts<S> for $name {
            type Rejection = ApiError;

            async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, ApiError> {
                let params = RawPathParams::from_request_parts(parts, state).await.ok();
                let text = params.iter().flatten().find(|(key, _)| *key == $key).map(|(_, text)| text.to_owned());
                let read: fn(&str) -> Option<$kind> = $read;
                text.as_deref().and_then(read).map(Self).ok_or(ApiError::NotFound($what))
            }
        }
    )+};
}

/// Whether a text of a path may be an id: no control character, which no database keeps, and not long.
fn is_kept(text: &str) -> bool {
    text.len() <= 100 && !text.chars().any(char::is_control)
}

// What the path names; whether it is there is for others to say.
in_path! {
    /// Somebody.
    AccountInPath(AccountId) = "account", "person", |text| text.parse::<Uuid>().ok().map(Into::into);
    /// A device that is signed in.
    DeviceInPath(Uuid) = "device", "device", |text| text.parse().ok();
    /// A passkey of one's own.
    PasskeyInPath(Uuid) = "passkey", "passkey", |text| text.parse().ok();
    /// An invitation.
    InvitationInPath(Uuid) = "invitation", "invitation", |text| text.parse().ok();
    /// An instrument.
    AssetInPath(AssetId) = "asset", "instrument", |text| text.parse::<Uuid>().ok().map(Into::into);
    /// An import.
    ImportInPath(ImportId) = "import", "import", |text| text.parse::<Uuid>().ok().map(Into::into);
    /// A small group.
    GroupInPath(GroupId) = "group", "group", |text| text.parse::<Uuid>().ok().map(Into::into);
    /// An observation.
    ObservationInPath(ObservationId) = "observation", "observation", |text| text.parse::<Uuid>().ok().map(Into::into);
    /// A checkpoint.
    CheckpointInPath(CheckpointId) = "checkpoint", "checkpoint", |text| is_kept(text).then(|| CheckpointId::new(text));
    /// A drill.
    DrillInPath(String) = "drill", "drill", |text| is_kept(text).then(|| text.to_owned());
    /// A day.
    DayInPath(NaiveDate) = "day", "day", |text| text.parse::<Day>().ok().map(Into::into);
    /// A stage.
    StageInPath(StageId) = "stage", "stage", |text| is_kept(text).then(|| StageId::new(text));
}
