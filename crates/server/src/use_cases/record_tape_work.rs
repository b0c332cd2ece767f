//! Work on instruments' markers, taken in: each entry checked against its instrument, the good ones stored together with the
//! records that follow.

use bright_row_store::live::Topic;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::AssetId;
use bright_row_core::progress::new_observation::MAX_CLOCK_AHEAD;
use bright_row_core::round::event::EventFault;
use bright_row_core::tapes::new_entry::{NewTapeEntry, Subject};
use bright_row_store::classes::{self, touch};
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans;
use bright_row_store::instruments::tapes::{self, Entry, Outcome};

use super::{begin, commit};
use crate::auth::recorder::Recorder;
use crate::error::ApiError;
use crate::extract::batch::{Batch, RecordAnswer, RecordOutcome};
use crate::state::App;

const NO_INSTRUMENT: &str = "There is no such instrument in the store room (any more).";

/// Takes entries in for the instruments of a class's program, and tells the pages of the class and of those who have the
/// instruments.
///
/// # Errors
/// [`ApiError::Store`]; then nothing of the batch is stored.
pub async fn record_tape_work(
    app: &App,
    recorder: &Recorder,
    batch: Batch<NewTapeEntry>,
) -> Result<RecordAnswer, ApiError> {
    let member = &recorder.0;
    let (now, key) = (app.now(), member.class.key);
    let tx = begin(app).await?;
    tapes::hold(&tx, key.program, batch.good().iter().map(|new| new.asset)).await?;
    // What an entry is checked against does not change any more.
    let class = classes::one(&tx, key).await?;
    let known: BTreeMap<AssetId, Asset> =
        assets::all(&tx, key.program).await?.into_iter().map(|asset| (asset.id, asset)).collect();
    let sets = app.marker_sets(&class);
    let check = |new: &NewTapeEntry| -> Result<Entry, String> {
        if new.at > now + MAX_CLOCK_AHEAD {
            return Err(EventFault::Future.to_string());
        }
        if let Some(why) = recorder.refuses(new.at) {
            return Err(why.to_owned());
        }
        let asset = known.get(&new.asset).ok_or(NO_INSTRUMENT)?;
        let subject = Subject {
            all: &app.content.instruments,
            set: &sets[&asset.instrument],
            size: &asset.size,
            length_mm: asset.string_length_mm,
        };
        Ok(Entry { asset: asset.id, event: new.check(&subject)?, account: member.account })
    };
    let batch = batch.check(|new| check(&new).map_err(|reason| (Some(new.id.uuid()), reason)));
    let good = batch.good();
    let outcomes = if good.is_empty() { Vec::new() } else { tapes::add(&tx, key.program, &good, now).await? };
    let lent = loans::lent(&tx, key.program).await?;
    let mut changed = BTreeSet::new();
    if outcomes.contains(&Outcome::Stored) {
        let loans: Vec<_> = good.iter().filter_map(|entry| lent.get(&entry.asset)).collect();
        changed.extend(loans.iter().map(|loan| loan.class).chain([key.class]));
        let children = loans.iter().map(|loan| loan.child).collect();
        touch(&tx, key.program, &children).await?;
    }
    commit(app, tx, []).await?;
    for class in changed {
        app.live.changed(class, Topic::Tapes);
    }
    let ids = good.iter().map(|entry| entry.event.id.uuid());
    Ok(batch.answer(ids.zip(outcomes.into_iter().map(outcome))))
}

fn outcome(outcome: Outcome) -> Result<RecordOutcome, String> {
    match outcome {
        Outcome::Stored => Ok(RecordOutcome::Stored),
        Outcome::Known => Ok(RecordOutcome::Known),
        Outcome::IdTaken => Err("Another entry has this id. Load the page again.".to_owned()),
        Outcome::NoInstrument => Err(NO_INSTRUMENT.to_owned()),
    }
}
