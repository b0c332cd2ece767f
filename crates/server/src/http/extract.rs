//! Axum's extractors, with their rejections as problems.

use axum::extract::{FromRequest, FromRequestParts};
use axum::http::Request;
use axum::http::request::Parts;
use serde::de::DeserializeOwned;

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
