//! What counts for some children of the demo besides their observations.

use bright_row_core::craft::approach::Choices;
use bright_row_core::progress::observation::{Observation, Says};
use bright_row_core::{AccountId, ChildId};
use bright_row_store::accounts::Made;
use bright_row_store::children::context::{self, Accommodation};
use bright_row_store::children::pain;
use bright_row_store::classes::ClassKey;
use bright_row_store::{ConnectionTrait, StoreError};
use chrono::Duration;
use uuid::Uuid;

use super::history::Member;
use super::school::{School, Turn};

/// Accommodations, own overrides, stages opened anyway, and what was done about one of two pains.
pub(super) async fn take(
    db: &impl ConnectionTrait,
    key: ClassKey,
    school: &School,
    members: &[Member<'_>],
    observations: &[Observation],
    by: AccountId,
) -> Result<(), StoreError> {
    let child = |name: &str| members.iter().find(|(_, pupil, _)| pupil.name == name).map(|(child, ..)| child.id);
    let Some(last) = observations.last() else { return Ok(()) };
    let made = Made { by, at: last.observed_at };
    for own in &school.accommodations {
        let Some(id) = child(&own.child) else { continue };
        let (checkpoint, look_for, reason) = (own.checkpoint.clone(), own.look_for.clone(), own.reason.clone());
        let own = Accommodation { checkpoint, look_for, reason, made };
        context::accommodate(db, key, id, fresh(id, 1), &own).await?;
    }
    for way in &school.overrides {
        let Some(id) = child(&way.child) else { continue };
        let overrides: Choices = [(way.choice.clone(), way.option.clone())].into();
        context::set_overrides(db, key, id, &overrides).await?;
    }
    for opened in &school.opened {
        let Some(id) = child(&opened.child) else { continue };
        context::open_stage(db, key, id, fresh(id, 2), &opened.stage, made).await?;
    }
    let rested = members.iter().filter(|(_, pupil, _)| pupil.turn == Some(Turn::Rested)).map(|(child, ..)| child.id);
    for id in rested {
        for observation in
            observations.iter().filter(|observation| observation.child == id && observation.says == Some(Says::Hurts))
        {
            let at = observation.observed_at + Duration::hours(3);
            let done = "Rested a week, called the family; the pin is longer now and it is easy again.";
            pain::answer_pain(db, key, id, observation.id, done, Made { by, at }).await?;
        }
    }
    Ok(())
}

/// An id of its own for each thing known of a child, the same on every loading.
fn fresh(child: ChildId, thing: u128) -> Uuid {
    Uuid::from_u128(child.uuid().as_u128() ^ thing)
}
