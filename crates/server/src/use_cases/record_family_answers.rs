//! What families answered, taken in: each answer checked by itself, the good ones stored together. What hurts at home is flagged as
//! what hurts in class is.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::ChildId;
use bright_row_core::lessons::family_answer::{FamilyAnswer, worked_on};
use bright_row_core::progress::new_observation::MAX_CLOCK_AHEAD;
use bright_row_core::round::event::EventFault;
use bright_row_store::children::family_answers::{self, NewAnswer};
use bright_row_store::classes::touch;
use bright_row_store::live::Topic;
use bright_row_store::locks::{Hold, hold};
use bright_row_store::observations::Outcome;

use super::snapshot::{ClassSnapshot, Learner};
use super::{begin, commit};
use crate::auth::recorder::Recorder;
use crate::error::ApiError;
use crate::extract::batch::{Batch, RecordAnswer, RecordOutcome};
use crate::state::App;

/// Takes answers in for a class, and tells its pages.
///
/// # Errors
/// [`ApiError::Store`]; then nothing of the batch is stored.
pub async fn record_family_answers(
    app: &App,
    recorder: &Recorder,
    batch: Batch<FamilyAnswer>,
) -> Result<RecordAnswer, ApiError> {
    let (member, now) = (&recorder.0, app.now());
    let key = member.class.key;
    let batch = batch.check(|answer| {
        let refused = |why: String| (Some(answer.id.uuid()), why);
        answer.check().map_err(|fault| refused(fault.to_string()))?;
        if answer.at > now + MAX_CLOCK_AHEAD {
            return Err(refused(EventFault::Future.to_string()));
        }
        if let Some(why) = recorder.refuses(answer.at) {
            return Err(refused(why.to_owned()));
        }
        Ok(answer)
    });
    let hurting: BTreeSet<ChildId> =
        batch.good().iter().filter(|answer| answer.hurts_at.is_some()).map(|answer| answer.child).collect();
    let learners = learners(app, recorder, &hurting).await?;
    let causes = &app.content.causes;
    let batch = batch.check(|answer| {
        let learner = learners.get(&answer.child);
        let target = answer.hurts_at.and_then(|strand| worked_on(&learner?.pupil(causes), strand));
        if answer.hurts_at.is_some() && target.is_none() {
            return Err((Some(answer.id.uuid()), NOT_HERE.to_owned()));
        }
        Ok(NewAnswer { answer, target })
    });
    let good = batch.good();
    let mut outcomes = Vec::new();
    if !good.is_empty() {
        let tx = begin(app).await?;
        // Nobody whom an answer is about is removed meanwhile.
        hold(&tx, key.program, Hold::Shared).await?;
        outcomes = family_answers::add(&tx, key, &good, (member.account, now)).await?;
        let children = good.iter().map(|new| new.answer.child).collect();
        touch(&tx, key.program, &children).await?;
        commit(app, tx, []).await?;
    }
    let stored = || good.iter().zip(&outcomes).filter(|(_, outcome)| **outcome == Outcome::Stored);
    // A flag that comes or goes changes what every page shows of the child.
    let flags = |new: &NewAnswer| new.target.is_some() || new.answer.retracts.is_some();
    if stored().any(|(new, _)| flags(new)) {
        app.live.changed(key.class, Topic::Observations);
    } else if stored().next().is_some() {
        app.live.changed(key.class, Topic::Home);
    }
    let ids = good.iter().map(|new| new.answer.id.uuid());
    Ok(batch.answer(ids.zip(outcomes.iter().map(|outcome| match outcome {
        Outcome::Stored => Ok(RecordOutcome::Stored),
        Outcome::Known => Ok(RecordOutcome::Known),
        Outcome::Refused(refusal) => Err(said(*refusal).to_owned()),
    }))))
}

const NOT_HERE: &str = "This child is not in the class any more. Nothing was kept of this.";

const fn said(refusal: bright_row_store::observations::Refusal) -> &'static str {
    match refusal {
        bright_row_store::observations::Refusal::IdTaken => "Another answer has this id. Load the page again.",
        _ => NOT_HERE,
    }
}

/// These children as they stand; nobody is read where nobody is asked for.
async fn learners(
    app: &App,
    recorder: &Recorder,
    wanted: &BTreeSet<ChildId>,
) -> Result<BTreeMap<ChildId, Learner>, ApiError> {
    if wanted.is_empty() {
        return Ok(BTreeMap::new());
    }
    let snapshot = ClassSnapshot::new(app, &recorder.0.class);
    let all = snapshot.learners().await?;
    Ok(all.into_iter().map(|learner| (learner.child.id, learner)).filter(|(child, _)| wanted.contains(child)).collect())
}
