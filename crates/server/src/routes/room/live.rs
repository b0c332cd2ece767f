//! The stream of what changed in a class.

use std::convert::Infallible;
use std::time::Duration;

use axum::extract::State;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use bright_row_store::live::{Heard, Notice, Topic};
use futures::{Stream, StreamExt, stream};
use tokio_stream::wrappers::BroadcastStream;

use crate::auth::guard::InClass;
use crate::error::answers::ForMembers;
use crate::state::App;

/// A stream ends after this long, and at once when a session of its account ends; the page opens it again, and whether it may is
/// looked at again.
const MAX_STREAM: Duration = Duration::from_mins(10);
/// How often a page hears that the line is still there.
const PULSE: Duration = Duration::from_secs(15);

/// Server-sent events: `changed` when the class changed or may have, with what in it as data (`observations`, `rounds`,
/// `tapes`, or `class` for anything else), and `pulse` every 15 s while the line is there. Neither says anything about
/// anybody; a page reads again what it shows of that. `lead` with a `LeadSignal` as data is what another page of the same
/// account said.
#[utoipa::path(get, path = "/api/classes/{class}/live", tag = "live",
    params(("class" = uuid::Uuid, Path, description = "The class")),
    responses(
        (status = 200, description = "Events `changed`, `lead` and `pulse`", body = String, content_type = "text/event-stream"),
        ForMembers,
    ))]
pub async fn live(
    State(app): State<App>,
    InClass(member): InClass,
) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let class = member.class.key.class;
    // `changed` first: whatever happened before the stream was open has to be read.
    let word = |topic: Topic| topic.word().to_owned();
    let first = stream::once(async move { ("changed", word(Topic::Class)) });
    let account = member.account;
    let changes = BroadcastStream::new(app.live.subscribe()).filter_map(move |heard| async move {
        match heard {
            Ok(Heard::Notice(Notice::Changed(other, topic))) => (other == class).then(|| ("changed", word(topic))),
            Ok(Heard::Notice(Notice::Lead(other, whose, signal))) => {
                let own = other == class && whose == account;
                own.then(|| serde_json::to_string(&signal).ok()).flatten().map(|signal| ("lead", signal))
            }
            Ok(Heard::Notice(Notice::Ended(_))) => None,
            Ok(Heard::Gap) | Err(_) => Some(("changed", word(Topic::Class))),
        }
    });
    let mut pulse = tokio::time::interval(PULSE);
    pulse.reset();
    let pulses = stream::unfold(pulse, move |mut pulse| async move {
        pulse.tick().await;
        Some((("pulse", word(Topic::Class)), pulse))
    });
    let desk = app.live.clone();
    let left = member.until.and_then(|until| (until - app.now()).to_std().ok());
    let longest = left.map_or(MAX_STREAM, |left| left.min(MAX_STREAM));
    let end = async move {
        tokio::select! {
            () = tokio::time::sleep(longest) => {}
            () = desk.until_close() => {}
            () = desk.until_session_ends(member.account) => {}
        }
    };
    let events = first.chain(stream::select(changes, pulses)).take_until(Box::pin(end));
    // Browsers pass over an event without data.
    let event = |(name, data): (&str, String)| Ok(Event::default().event(name).data(data));
    Sse::new(events.map(event)).keep_alive(KeepAlive::default())
}
