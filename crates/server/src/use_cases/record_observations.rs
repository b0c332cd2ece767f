//! Observations taken in: each checked by itself, the good ones stored together with the standings that follow.

use bright_row_core::progress::new_observation::NewObservation;
use bright_row_store::classes::LetIn;
use bright_row_store::observations::{Outcome, Refusal};

use crate::auth::recorder::{Recorder, RecorderAtOnce};
use crate::error::ApiError;
use crate::extract::batch::{Batch, RecordAnswer, RecordOutcome};
use crate::state::App;
use crate::telemetry::metrics;
use crate::writers::Written;

/// Takes observations in for a class, and tells the pages of every class in which somebody stands otherwise now.
///
/// # Errors
/// [`ApiError::Store`], and those of [`Recorder`]; then nothing of the batch is stored.
pub async fn record_observations(
    app: &App,
    recorder: RecorderAtOnce,
    batch: Batch<NewObservation>,
) -> Result<RecordAnswer, ApiError> {
    if let Some(let_in) = &recorder.let_in
        && let Some(answer) = record(app, &recorder.recorder, Some(let_in), batch.clone()).await?
    {
        return Ok(answer);
    }
    let recorder = if recorder.let_in.is_some() { recorder.ask(app).await? } else { recorder.recorder };
    let answer = record(app, &recorder, None, batch).await?;
    answer.ok_or_else(|| ApiError::Internal("somebody who was asked was turned away".to_owned()))
}

/// `None`, and nothing is stored, where it is not confirmed that somebody is `let_in`.
async fn record(
    app: &App,
    recorder: &Recorder,
    let_in: Option<&LetIn>,
    batch: Batch<NewObservation>,
) -> Result<Option<RecordAnswer>, ApiError> {
    let member = &recorder.0;
    let checklist = &app.checklist(&member.class);
    let (observer, now) = (member.account, app.now());
    let batch = batch.check(|new| {
        let id = new.id.uuid();
        if let Some(why) = recorder.refuses(new.observed_at) {
            return Err((Some(id), why.to_owned()));
        }
        new.check(checklist, observer, now).map_err(|fault| (Some(id), fault.to_string()))
    });
    let good = batch.good();
    let outcomes = if !good.is_empty() {
        let to = Written { db: app.db.clone(), checklists: app.clone(), live: app.live.clone() };
        app.writers.add(&to, member.class.key, let_in.cloned(), good.clone()).await?
    } else if let_in.is_none() {
        Some(Vec::new())
    } else {
        // Nothing was written that could have confirmed it.
        None
    };
    let Some(outcomes) = outcomes else { return Ok(None) };
    metrics::came(good.iter().map(|observation| observation.observed_at), now);
    let outcome = |outcome: Outcome| match outcome {
        Outcome::Stored => Ok(RecordOutcome::Stored),
        Outcome::Known => Ok(RecordOutcome::Known),
        Outcome::Refused(refusal) => Err(words(refusal).to_owned()),
    };
    let ids = good.iter().map(|observation| observation.id.uuid());
    Ok(Some(batch.answer(ids.zip(outcomes.into_iter().map(outcome)))))
}

fn words(refusal: Refusal) -> &'static str {
    match refusal {
        Refusal::NotInClass => "This child is not in this class any more. Look at the room again.",
        Refusal::IdTaken => "Another observation has this id already. Record it again.",
        Refusal::RetractsOther => {
            "This undo names an observation of another child or checkpoint. Undo from the history instead."
        }
        Refusal::RetractsUndo => "An undo cannot be undone. Record it again instead.",
    }
}
