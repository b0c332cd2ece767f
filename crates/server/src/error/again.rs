//! Requests whose transaction the database undid because of another one, sent through again.
//!
//! Such a transaction left nothing behind, so that a request may simply be answered anew; whoever asked notices only that it took
//! longer.

use std::time::Duration;

use axum::body::{Body, Bytes, to_bytes};
use axum::extract::Request;
use axum::http::StatusCode;
use axum::http::header::{CONTENT_LENGTH, TRANSFER_ENCODING};
use axum::http::request::Parts;
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use bright_row_documents::table;
use tracing::Instrument;

use super::ApiError;

/// Marks the answer to a request whose transaction was undone.
#[derive(Clone, Copy, Debug)]
pub struct Undone;

/// How often a request is answered at most.
const MOST_TRIES: u32 = 4;

/// A body that is not whole after so long is given up, however steadily it comes.
const LONGEST_BODY: Duration = Duration::from_mins(1);

/// The layer: answers a request anew while its transaction is undone, a few times.
pub async fn layer(request: Request, next: Next) -> Response {
    // Reading is not worth keeping a body for, and a stream of notices never ends.
    if request.method().is_safe() || !is_kept(&request) {
        return next.run(request).await;
    }
    let (parts, body) = request.into_parts();
    let bytes = match tokio::time::timeout(LONGEST_BODY, to_bytes(body, table::LARGEST)).await {
        Ok(Ok(bytes)) => bytes,
        Ok(Err(_)) => return broken_off(),
        Err(_) => return ApiError::TooLong.into_response(),
    };
    // A task of its own: what was sent whole is done, also for a device that goes away before the answer.
    match tokio::spawn(answer(parts, bytes, next).in_current_span()).await {
        Ok(response) => response,
        Err(broken) if broken.is_panic() => std::panic::resume_unwind(broken.into_panic()),
        Err(broken) => ApiError::Internal(broken.to_string()).into_response(),
    }
}

async fn answer(parts: Parts, bytes: Bytes, next: Next) -> Response {
    let mut tries = 1;
    loop {
        let request = Request::from_parts(Parts::clone(&parts), Body::from(bytes.clone()));
        let response = next.clone().run(request).await;
        if tries >= MOST_TRIES || response.extensions().get::<Undone>().is_none() {
            return response;
        }
        tracing::info!(tries, "a transaction was undone; once more");
        tries += 1;
    }
}

/// Whether the body is of a known size that some route takes; what it is too large for is said by the route.
fn is_kept(request: &Request) -> bool {
    let length = request.headers().get(CONTENT_LENGTH).and_then(|length| length.to_str().ok()?.parse::<usize>().ok());
    match length {
        Some(length) => length <= table::LARGEST,
        None => !request.headers().contains_key(TRANSFER_ENCODING),
    }
}

fn broken_off() -> Response {
    let detail = "The request broke off before it was whole".to_owned();
    ApiError::Malformed { status: StatusCode::BAD_REQUEST, detail }.into_response()
}
