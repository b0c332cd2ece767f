//! How often children landed in tune with eyes away: what the next mark waits for before it may go.

use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::mark::Mark;
use bright_row_core::tape_set::{LANDING, LANDING_STAGE, landed_looks};
use bright_row_store::classes::Class;
use bright_row_store::seen;

use super::problem::ApiError;
use super::reading::Learner;
use crate::app::App;

/// Looks in a row, at different meetings, that found each of these children landing in tune; only of those who do now.
pub(super) async fn landings(
    app: &App,
    class: &Class,
    learners: &[Learner],
) -> Result<BTreeMap<ChildId, u32>, ApiError> {
    let lands = |learner: &&Learner| {
        let landing = learner.standings.iter().find(|(checkpoint, _)| checkpoint.as_str() == LANDING);
        landing.is_some_and(|(_, standing)| standing.level >= bright_row_core::standing::REACHES)
    };
    let who: Vec<ChildId> = learners.iter().filter(lands).map(|learner| learner.child.id).collect();
    let found = seen::at_targets(&app.db, class.key, &who, &[LANDING, LANDING_STAGE]).await?;
    let mut of: BTreeMap<ChildId, Vec<Mark>> = BTreeMap::new();
    for mark in found {
        of.entry(mark.child).or_default().push(mark);
    }
    Ok(of.into_iter().map(|(child, marks)| (child, landed_looks(&marks, &class.calendar))).collect())
}
