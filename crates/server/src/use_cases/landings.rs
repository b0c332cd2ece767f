//! How often children landed in tune with eyes away: what the next marker waits for before it may go.

use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::progress::landing::{LANDING, LANDING_STAGE, landed_looks};
use bright_row_core::progress::observation::Observation;
use bright_row_store::classes::Class;
use bright_row_store::observations::history;

use crate::error::ApiError;
use crate::state::App;
use crate::use_cases::snapshot::Learner;

/// Looks in a row, at different meetings, that found each of these children landing in tune; only of those who do now.
pub(crate) async fn landings(
    app: &App,
    class: &Class,
    learners: &[Learner],
) -> Result<BTreeMap<ChildId, u32>, ApiError> {
    let lands = |learner: &&Learner| {
        let landing = learner.standings.iter().find(|(checkpoint, _)| checkpoint.as_str() == LANDING);
        landing.is_some_and(|(_, standing)| standing.level >= bright_row_core::progress::rhythm::REACHES)
    };
    let who: Vec<ChildId> = learners.iter().filter(lands).map(|learner| learner.child.id).collect();
    let found = history::at_targets(&app.db, class.key, &who, &[LANDING, LANDING_STAGE]).await?;
    let mut of: BTreeMap<ChildId, Vec<Observation>> = BTreeMap::new();
    for observation in found {
        of.entry(observation.child).or_default().push(observation);
    }
    Ok(of.into_iter().map(|(child, observations)| (child, landed_looks(&observations, &class.calendar))).collect())
}
