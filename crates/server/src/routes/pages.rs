//! The embedded pages, and the headers that keep them to themselves.

use axum::extract::{Request, State};
use axum::http::{HeaderMap, HeaderName, HeaderValue, Method, Uri, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use bright_row_documents::fonts;
use uuid::Uuid;

use crate::auth::session::COOKIE;
use crate::content::Pages;
use crate::error::ApiError;
use crate::state::App;

/// Scripts only from here and none in the page, the core among them as WebAssembly; styles may be set by the components' own
/// style sheets.
const POLICY: &str = "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; \
font-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// Serves a file of the pages; any other path is the application, which finds its own place.
pub async fn serve(method: Method, uri: Uri, headers: HeaderMap) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path == "api" || path.starts_with("api/") {
        return ApiError::NoSuchPath.into_response();
    }
    if method != Method::GET && method != Method::HEAD {
        return ApiError::NoSuchMethod.into_response();
    }
    if let Some(name) = path.strip_prefix("fonts/") {
        let Some(font) = fonts::file(name) else { return ApiError::NoSuchPath.into_response() };
        let headers = [(header::CONTENT_TYPE, "font/ttf"), (header::CACHE_CONTROL, "public, max-age=2592000")];
        return (headers, font).into_response();
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
    // Whoever has no session would be refused, and the browser might take that for the answer after signing in.
    let has_session = headers.get_all(header::COOKIE).iter().any(|cookie| {
        let cookies = cookie.to_str().unwrap_or_default().split(';');
        cookies.into_iter().any(|one| one.trim_start().split('=').next() == Some(COOKIE))
    });
    let ahead = if path == "index.html" && has_session { asked_ahead(uri.path()) } else { None };
    let cache = if named_by_content { "public, max-age=31536000, immutable" } else { "no-cache" };
    let mut response =
        ([(header::CONTENT_TYPE, kind.as_ref()), (header::CACHE_CONTROL, cache)], file.data).into_response();
    if let Some(ahead) = ahead {
        response.headers_mut().insert(header::LINK, ahead);
    }
    response
}

/// What the Room asks for first, so that a browser asks for it beside the scripts and not after them.
fn asked_ahead(path: &str) -> Option<HeaderValue> {
    let (class, page) = path.strip_prefix("/class/")?.split_once('/')?;
    // Nothing but an id gets into the header.
    let class: Uuid = class.parse().ok().filter(|_| page == "room" || page.starts_with("room/"))?;
    let asked = ["/api/session".to_owned(), "/api/classes".to_owned(), format!("/api/classes/{class}/room")];
    let links = asked.map(|path| format!("<{path}>; rel=preload; as=fetch; crossorigin"));
    HeaderValue::from_str(&links.join(", ")).ok()
}

/// Adds the security headers to every answer, and keeps API answers out of caches.
pub async fn security_headers(State(app): State<App>, request: Request, next: Next) -> Response {
    let is_api = request.uri().path().starts_with("/api/");
    let mut response = next.run(request).await;
    let headers = response.headers_mut();
    for (name, value) in [
        (header::CONTENT_SECURITY_POLICY, POLICY),
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        (header::REFERRER_POLICY, "same-origin"),
        (header::X_FRAME_OPTIONS, "DENY"),
        (HeaderName::from_static("cross-origin-opener-policy"), "same-origin"),
        (HeaderName::from_static("permissions-policy"), "camera=(self), microphone=(self), geolocation=()"),
    ] {
        headers.insert(name, HeaderValue::from_static(value));
    }
    if app.options.behind_tls {
        // A year; only a server that is reached by TLS may say so.
        headers.insert(header::STRICT_TRANSPORT_SECURITY, HeaderValue::from_static("max-age=31536000"));
    }
    if is_api {
        headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    }
    response
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_the_room_of_a_class_is_asked_for_ahead_and_nothing_of_an_address_gets_into_a_header() {
        let class = Uuid::from_u128(7);
        let ahead = asked_ahead(&format!("/class/{class}/room/{class}")).expect("a header");
        let room = format!("</api/classes/{class}/room>; rel=preload; as=fetch; crossorigin");
        assert!(ahead.to_str().expect("a text").ends_with(&room));
        for other in ["/", "/class", "/class/x/room", "/class/>; rel=x/room"] {
            assert_eq!(asked_ahead(other), None, "{other}");
        }
        for page in ["round", "rooms", "set-up/roster"] {
            assert_eq!(asked_ahead(&format!("/class/{class}/{page}")), None, "{page}");
        }
    }
}
