//! What is measured, lent and found right while a class is set up is an observation as well: nobody looks at it twice.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::id::{CheckpointId, Target};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::observation::{Observation, Observed, Via};
use bright_row_core::progress::rhythm::REACHES;
use bright_row_core::setup::body::SetUpPart;
use bright_row_core::setup::observed::{checkpoint_of, fits, size_checkpoint};
use bright_row_core::setup::sizing;
use bright_row_core::{ChildId, ObservationId};
use bright_row_store::children::{self, measures};
use bright_row_store::instruments::{assets, loans};
use bright_row_store::live::Topic;
use bright_row_store::observations::{self, standings};
use uuid::Uuid;

use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// Records of each of these children of the class who has an instrument of the size that its measures propose that the size
/// fits. Once: what stands at Alone already stays as it is.
///
/// # Errors
/// [`ApiError::Store`]; what was measured or lent is kept all the same.
pub async fn sizes(app: &App, member: &Member, of: &BTreeSet<ChildId>) -> Result<(), ApiError> {
    let key = member.class.key;
    let (children, measured, lent, assets) = tokio::try_join!(
        children::of_class(&app.db, key),
        measures::of_class(&app.db, key),
        loans::lent(&app.db, key.program),
        assets::all(&app.db, key.program)
    )?;
    let has: BTreeMap<ChildId, _> =
        assets.iter().filter_map(|asset| Some((lent.get(&asset.id)?.child, asset))).collect();
    let fitting = children.iter().filter(|child| of.contains(&child.id)).filter(|child| {
        let proposal = measured.get(&child.id).and_then(|measured| {
            sizing::propose(&app.content.instruments[&child.playing.now], &measured.measures).ok()
        });
        let asset = has.get(&child.id).filter(|asset| asset.instrument == child.playing.now);
        proposal.zip(asset).is_some_and(|(proposal, asset)| fits(&proposal, &asset.size))
    });
    let fitting = fitting.map(|child| (ObservationId::from(Uuid::now_v7()), child.id, size_checkpoint()));
    record(app, member, fitting.collect()).await
}

/// Records that something was found right for a child; the same id twice is one observation.
///
/// # Errors
/// [`ApiError::Store`]; the finding is kept all the same.
pub async fn finding(
    app: &App,
    member: &Member,
    (id, child, part): (Uuid, ChildId, SetUpPart),
) -> Result<(), ApiError> {
    record(app, member, vec![(id.into(), child, checkpoint_of(part))]).await
}

async fn record(app: &App, member: &Member, seen: Vec<(ObservationId, ChildId, CheckpointId)>) -> Result<(), ApiError> {
    let key = member.class.key;
    let checklist = app.checklist(&member.class);
    let standings = standings::of_class(&app.db, key).await?;
    let now = app.now();
    let stands = |child: &ChildId, checkpoint: &CheckpointId| {
        let standing = standings.get(child).and_then(|standings| standings.get(checkpoint));
        standing.is_some_and(|standing| standing.level >= REACHES)
    };
    let wanted = seen.into_iter().filter(|(_, child, checkpoint)| {
        !stands(child, checkpoint) && checklist.checkpoint(checkpoint.as_str()).is_some()
    });
    let observations: Vec<Observation> = wanted
        .map(|(id, child, checkpoint)| Observation {
            id,
            child,
            target: Target::Checkpoint(checkpoint),
            seen: Observed::Level { level: Level::Alone, slips: BTreeSet::new() },
            says: None,
            note: None,
            via: Via::SetUp,
            observed_at: now,
            recorded_at: now,
            observer: member.account,
            round: None,
        })
        .collect();
    if observations.is_empty() {
        return Ok(());
    }
    for class in observations::add(&app.db, key, app, &observations).await?.changed {
        app.live.changed(class, Topic::Observations);
    }
    Ok(())
}
