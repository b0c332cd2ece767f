//! The embedded pages, and the headers that keep them to themselves.

use axum::extract::Request;
use axum::http::{HeaderName, HeaderValue, Method, Uri, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

use crate::content::Pages;
use crate::error::ApiError;

/// Scripts only from here and none in the page, the core among them as WebAssembly; styles may be set by the components' own
/// style sheets.
const POLICY: &str = "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; \
font-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// Serves a file of the pages; any other path is the application, which finds its own place.
pub async fn serve(method: Method, uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path == "api" || path.starts_with("api/") {
        return ApiError::NoSuchPath.into_response();
    }
    if method != Method::GET && method != Method::HEAD {
        return ApiError::NoSuchMethod.into_response();
    }
    // What the build named by its contents never changes; everything else is asked for again.
    let named_by_content = path.starts_with("assets/");
    let (file, path) = match Pages::get(path) {
        Some(file) => (Some(file), path),
        None if named_by_content => (None, path),
        None => (Pages::get("index.html"), "index.html"),
    };
    let Some(file) = file else { return ApiError::NoSuchPath.into_response() };
    let kind = mime_guess::from_path(path).first_or_octet_stream();
    let cache = if named_by_content { "public, max-age=31536000, immutable" } else { "no-cache" };
    ([(header::CONTENT_TYPE, kind.as_ref()), (header::CACHE_CONTROL, cache)], file.data).into_response()
}

/// Adds the security headers to every answer, and keeps API answers out of caches.
pub async fn security_headers(request: Request, next: Next) -> Response {
    let is_api = request.uri().path().starts_with("/api/");
    let mut response = next.run(request).await;
    let headers = response.headers_mut();
    for (name, value) in [
        (header::CONTENT_SECURITY_POLICY, POLICY),
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        (header::REFERRER_POLICY, "same-origin"),
        (header::X_FRAME_OPTIONS, "DENY"),
        (HeaderName::from_static("cross-origin-opener-policy"), "same-origin"),
        (HeaderName::from_static("permissions-policy"), "camera=(), microphone=(), geolocation=()"),
    ] {
        headers.insert(name, HeaderValue::from_static(value));
    }
    if is_api {
        headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    }
    response
}
