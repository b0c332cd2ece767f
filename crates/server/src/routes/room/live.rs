//! The stream of "this class changed".

use std::convert::Infallible;
use std::time::Duration;

use axum::extract::State;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use bright_row_store::live::Heard;
use futures::{Stream, StreamExt, stream};
use tokio_stream::wrappers::BroadcastStream;

use crate::auth::guard::Member;
use crate::error::answers::ForMembers;
use crate::state::App;

/// A stream ends after this long; the page opens it again and its membership is looked at again.
const MAX_STREAM: Duration = Duration::from_mins(10);
/// How often a page hears that the line is still there.
const PULSE: Duration = Duration::from_secs(15);

/// Server-sent events: `changed` when the class changed or may have, `pulse` every 15 s while the line is there. Neither
/// says anything about anybody; the page reads the room again.
#[utoipa::path(get, path = "/api/classes/{class}/live", tag = "live",
    params(("class" = uuid::Uuid, Path, description = "The class")),
    responses(
        (status = 200, description = "Events `changed` and `pulse`", body = String, content_type = "text/event-stream"),
        ForMembers,
    ))]
pub async fn live(State(app): State<App>, member: Member) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let class = member.class.key.class;
    // `changed` first: whatever happened before the stream was open has to be read.
    let first = stream::once(async { "changed" });
    let changes = BroadcastStream::new(app.live.subscribe()).filter_map(move |heard| async move {
        match heard {
            Ok(Heard::Changed(other)) if other != class => None,
            Ok(Heard::Changed(_) | Heard::Gap) | Err(_) => Some("changed"),
        }
    });
    let mut pulse = tokio::time::interval(PULSE);
    pulse.reset();
    let pulses = stream::unfold(pulse, |mut pulse| async {
        pulse.tick().await;
        Some(("pulse", pulse))
    });
    let desk = app.live.clone();
    let end = async move {
        tokio::select! {
            () = tokio::time::sleep(MAX_STREAM) => {}
            () = desk.until_close() => {}
        }
    };
    let events = first.chain(stream::select(changes, pulses)).take_until(Box::pin(end));
    // Browsers pass over an event without data.
    Sse::new(events.map(|name| Ok(Event::default().event(name).data("{}")))).keep_alive(KeepAlive::default())
}
