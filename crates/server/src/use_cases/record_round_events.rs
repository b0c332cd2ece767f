//! What happens in rounds, taken in: each event checked by itself, the good ones stored together.

use bright_row_core::progress::new_observation::MAX_CLOCK_AHEAD;
use bright_row_core::round::event::EventFault;
use bright_row_store::live::Topic;
use bright_row_store::observations::Outcome;
use bright_row_store::rounds::{self, RoundEvent};

use crate::auth::recorder::Recorder;
use crate::error::ApiError;
use crate::extract::batch::{Batch, RecordAnswer, RecordOutcome, Refused};
use crate::state::App;

/// Takes events in for a class, and tells its pages. `read` makes an event of the one who is signed in from an item.
///
/// # Errors
/// [`ApiError::Store`]; then nothing of the batch is stored.
pub async fn record_round_events<T>(
    app: &App,
    recorder: &Recorder,
    batch: Batch<T>,
    read: impl Fn(T) -> Result<RoundEvent, Refused>,
) -> Result<RecordAnswer, ApiError> {
    let (member, now) = (&recorder.0, app.now());
    let batch = batch.check(|item| {
        let event = read(item)?;
        if event.happened_at > now + MAX_CLOCK_AHEAD {
            return Err((Some(event.id), EventFault::Future.to_string()));
        }
        if let Some(why) = recorder.refuses(event.happened_at) {
            return Err((Some(event.id), why.to_owned()));
        }
        Ok(event)
    });
    let good = batch.good();
    let outcomes =
        if good.is_empty() { Vec::new() } else { rounds::add(&app.db, member.class.key, &good, now).await? };
    if outcomes.contains(&Outcome::Stored) {
        app.live.changed(member.class.key.class, Topic::Rounds);
    }
    let outcome = |outcome: Outcome| match outcome {
        Outcome::Stored => Ok(RecordOutcome::Stored),
        Outcome::Known => Ok(RecordOutcome::Known),
        Outcome::Refused(_) => Err("Another round has this already. Open the round again.".to_owned()),
    };
    let ids = good.iter().map(|event| event.id);
    Ok(batch.answer(ids.zip(outcomes.into_iter().map(outcome))))
}
