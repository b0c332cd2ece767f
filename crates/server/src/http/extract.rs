//! Axum's extractors, with their rejections as problems.

use axum::extract::{FromRequest, FromRequestParts, RawPathParams};
use axum::http::Request;
use axum::http::request::Parts;
use bright_row_core::{AssetId, ImportId};
use serde::de::DeserializeOwned;
use uuid::Uuid;

use super::problem::ApiError;

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

/// The instrument that the path names; whether it is there is the store's to say.
pub struct AssetInPath(pub AssetId);

impl<S: Send + Sync> FromRequestParts<S> for AssetInPath {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, ApiError> {
        let id = id_in_path(parts, state, "asset").await.ok_or(ApiError::NotFound("instrument"))?;
        Ok(Self(id.into()))
    }
}

/// The import that the path names; whether it is there is the store's to say.
pub struct ImportInPath(pub ImportId);

impl<S: Send + Sync> FromRequestParts<S> for ImportInPath {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, ApiError> {
        let id = id_in_path(parts, state, "import").await.ok_or(ApiError::NotFound("import"))?;
        Ok(Self(id.into()))
    }
}
