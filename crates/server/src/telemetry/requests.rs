//! Each request has an id, a line in the log and a place in the measurements.

use std::time::Instant;

use axum::extract::{MatchedPath, Request};
use axum::http::{HeaderName, HeaderValue};
use axum::middleware::Next;
use axum::response::Response;
use tracing::Instrument;
use uuid::Uuid;

use super::metrics;

/// The header that carries the id, so that somebody who reports an error can name it.
pub const REQUEST_ID: HeaderName = HeaderName::from_static("x-request-id");

/// The layer, outermost: what is refused for want of room has an id too. The route is logged, never the path with its ids.
pub async fn layer(request: Request, next: Next) -> Response {
    let id = Uuid::now_v7();
    let route = request.extensions().get::<MatchedPath>().map_or("pages", MatchedPath::as_str).to_owned();
    let method = request.method().clone();
    let span = tracing::info_span!("request", %id, %method, route);
    let begun = Instant::now();
    let mut response = next.run(request).instrument(span.clone()).await;
    let (took, status) = (begun.elapsed(), response.status().as_u16());
    metrics::answered(&method, &route, status, took);
    let ms = u64::try_from(took.as_millis()).unwrap_or(u64::MAX);
    span.in_scope(|| match (status, route.as_str()) {
        (500.., _) => tracing::error!(status, ms, "answered"),
        (_, "pages" | "/healthz" | "/readyz") => tracing::debug!(status, ms, "answered"),
        _ => tracing::info!(status, ms, "answered"),
    });
    if let Ok(id) = HeaderValue::from_str(&id.to_string()) {
        response.headers_mut().insert(REQUEST_ID, id);
    }
    response
}
