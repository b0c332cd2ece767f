//! Nothing is written from the page of another site, whatever a browser sends along.

use axum::extract::Request;
use axum::http::{HeaderMap, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

use crate::error::ApiError;

/// Whether a browser says that a request comes from another site's page. Programs that are no browsers say nothing of it.
fn is_from_elsewhere(headers: &HeaderMap) -> bool {
    let text = |name| headers.get(name).map(|value: &header::HeaderValue| value.to_str().unwrap_or("?"));
    if let Some(site) = text("sec-fetch-site") {
        return !matches!(site, "same-origin" | "none");
    }
    let Some(origin) = text("origin") else { return false };
    let authority = origin.split_once("://").map(|(_, authority)| authority);
    authority.is_none() || authority != text("host")
}

/// The layer.
pub async fn layer(request: Request, next: Next) -> Response {
    if !request.method().is_safe() && is_from_elsewhere(request.headers()) {
        return ApiError::OtherSite.into_response();
    }
    next.run(request).await
}

#[cfg(test)]
mod tests {
    use super::*;

    fn headers(pairs: &[(&'static str, &'static str)]) -> HeaderMap {
        pairs.iter().map(|(name, value)| (name.parse().expect("a name"), value.parse().expect("a value"))).collect()
    }

    #[test]
    fn a_browsers_word_counts_first_and_then_the_origin() {
        let host = ("host", "strings.school.example");
        for (elsewhere, pairs) in [
            (false, vec![host]),
            (false, vec![host, ("origin", "https://strings.school.example")]),
            (true, vec![host, ("origin", "https://other.example")]),
            (true, vec![host, ("origin", "null")]),
            (true, vec![("origin", "https://strings.school.example")]),
            (false, vec![host, ("sec-fetch-site", "same-origin"), ("origin", "https://strings.school.example")]),
            (true, vec![host, ("sec-fetch-site", "same-site")]),
            (true, vec![host, ("sec-fetch-site", "cross-site"), ("origin", "https://strings.school.example")]),
        ] {
            assert_eq!(is_from_elsewhere(&headers(&pairs)), elsewhere, "{pairs:?}");
        }
    }
}
