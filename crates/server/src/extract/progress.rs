//! An answer that takes a while: lines of JSON that say how far the reading of a file is, and the answer as the last of them.

use std::convert::Infallible;
use std::sync::Arc;
use std::time::Duration;

use axum::body::{Body, to_bytes};
use axum::extract::FromRequestParts;
use axum::http::HeaderName;
use axum::http::header::{ACCEPT, CONTENT_TYPE};
use axum::http::request::Parts;
use axum::response::{IntoResponse, Response};
use bright_row_documents::reading::Reading;
use futures::{StreamExt, stream};

/// The media type of lines of JSON.
pub const LINES: &str = "application/x-ndjson";
const UNGATHERED: HeaderName = HeaderName::from_static("x-accel-buffering");
/// How often it is said how far it is.
const OFTEN: Duration = Duration::from_millis(250);

/// Whether whoever asks reads lines of JSON.
#[derive(Clone, Copy, Debug)]
pub struct WantsLines(pub bool);

impl<S: Send + Sync> FromRequestParts<S> for WantsLines {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Infallible> {
        let accept = parts.headers.get(ACCEPT).and_then(|accept| accept.to_str().ok()).unwrap_or_default();
        Ok(Self(accept.split(',').any(|kind| kind.split(';').next().unwrap_or_default().trim() == LINES)))
    }
}

/// Stops the reading when nobody waits for it any more.
struct StopAtTheEnd(Arc<Reading>);

impl Drop for StopAtTheEnd {
    fn drop(&mut self) {
        self.0.stop();
    }
}

/// Answers what comes of `work`, which reads a file: as it is, or as lines, `{"read":0.43}` while it is under way and
/// `{"status":200,"answer":...}` at the end. Whoever goes away stops the reading.
pub async fn answer_with_progress<T: IntoResponse>(
    WantsLines(lines): WantsLines,
    reading: Arc<Reading>,
    work: impl Future<Output = T> + Send + 'static,
) -> Response {
    let stop = StopAtTheEnd(reading.clone());
    if !lines {
        return work.await.into_response();
    }
    let (done, until_done) = tokio::sync::oneshot::channel::<()>();
    let shares = stream::unfold((tokio::time::interval(OFTEN), reading), async |(mut often, reading)| {
        often.tick().await;
        Some((format!("{{\"read\":{:.2}}}\n", reading.share()), (often, reading)))
    });
    let last = stream::once(async move {
        let _stop = stop;
        let line = last_line(work.await.into_response()).await;
        drop(done);
        line
    });
    let lines = stream::select(Box::pin(shares.take_until(until_done)), Box::pin(last)).map(Ok::<_, Infallible>);
    // Proxies that gather answers are asked not to (nginx).
    ([(CONTENT_TYPE, LINES), (UNGATHERED, "no")], Body::from_stream(lines)).into_response()
}

async fn last_line(response: Response) -> String {
    let status = response.status().as_u16();
    let body = to_bytes(response.into_body(), usize::MAX).await.unwrap_or_default();
    let answer = String::from_utf8_lossy(&body);
    format!("{{\"status\":{status},\"answer\":{}}}\n", if answer.is_empty() { "null" } else { &answer })
}

#[cfg(test)]
mod tests {
    use axum::body::Bytes;
    use axum::http::HeaderValue;
    use futures::Stream;

    use super::*;
    use crate::error::ApiError;

    async fn next(lines: &mut (impl Stream<Item = Result<Bytes, axum::Error>> + Unpin)) -> Option<String> {
        let line = lines.next().await?.expect("bytes");
        Some(String::from_utf8(line.to_vec()).expect("text"))
    }

    #[tokio::test]
    async fn who_reads_lines_hears_how_far_it_is_and_everybody_else_only_the_answer() {
        let (release, until) = tokio::sync::oneshot::channel::<()>();
        let work = async {
            until.await.expect("a word");
            ApiError::NoSuchPath
        };
        let answer = answer_with_progress(WantsLines(true), Arc::default(), work).await;
        assert_eq!(
            (answer.status().as_u16(), &answer.headers()[CONTENT_TYPE]),
            (200, &HeaderValue::from_static(LINES))
        );
        let mut lines = answer.into_body().into_data_stream();
        assert_eq!(next(&mut lines).await.as_deref(), Some("{\"read\":0.00}\n"));
        release.send(()).expect("somebody waits");
        let mut last = next(&mut lines).await.expect("an answer");
        while last.starts_with("{\"read\"") {
            last = next(&mut lines).await.expect("an answer");
        }
        assert!(last.starts_with("{\"status\":404,\"answer\":{") && last.ends_with("}}\n"), "{last}");
        assert_eq!(next(&mut lines).await, None);
        let plain = answer_with_progress(WantsLines(false), Arc::default(), async { ApiError::NoSuchPath }).await;
        assert_eq!(plain.status().as_u16(), 404);
    }

    #[tokio::test]
    async fn who_goes_away_stops_the_reading() {
        let reading = Arc::new(Reading::default());
        let never = std::future::pending::<ApiError>();
        let mut lines =
            answer_with_progress(WantsLines(true), reading.clone(), never).await.into_body().into_data_stream();
        next(&mut lines).await.expect("a line");
        assert!(!reading.is_stopped());
        drop(lines);
        assert!(reading.is_stopped());
    }
}
