//! What counts for some children of the demo besides their marks.

use bright_row_core::approach::Choices;
use bright_row_core::mark::{Mark, Says};
use bright_row_core::{AccountId, ChildId};
use bright_row_store::circumstances::{self, Accommodation, Made};
use bright_row_store::classes::ClassKey;
use bright_row_store::{ConnectionTrait, StoreError};
use chrono::Duration;
use uuid::Uuid;

use super::history::Member;
use super::school::{School, Turn};

/// Accommodations, own ways, stages opened anyway, and what was done about one of two pains.
pub(super) async fn take(
    db: &impl ConnectionTrait,
    key: ClassKey,
    school: &School,
    members: &[Member<'_>],
    marks: &[Mark],
    by: AccountId,
) -> Result<(), StoreError> {
    let child = |name: &str| members.iter().find(|(_, pupil, _)| pupil.name == name).map(|(child, ..)| child.id);
    let Some(last) = marks.last() else { return Ok(()) };
    let made = Made { by, at: last.observed_at };
    for own in &school.accommodations {
        let Some(id) = child(&own.child) else { continue };
        let (checkpoint, look_for, reason) = (own.checkpoint.clone(), own.look_for.clone(), own.reason.clone());
        let own = Accommodation { checkpoint, look_for, reason, made };
        circumstances::accommodate(db, key, id, fresh(id, 1), &own).await?;
    }
    for way in &school.own_ways {
        let Some(id) = child(&way.child) else { continue };
        let ways: Choices = [(way.choice.clone(), way.option.clone())].into();
        circumstances::go_own_ways(db, key, id, &ways).await?;
    }
    for opened in &school.opened {
        let Some(id) = child(&opened.child) else { continue };
        circumstances::open_stage(db, key, id, fresh(id, 2), &opened.stage, made).await?;
    }
    let rested = members.iter().filter(|(_, pupil, _)| pupil.turn == Some(Turn::Rested)).map(|(child, ..)| child.id);
    for id in rested {
        for mark in marks.iter().filter(|mark| mark.child == id && mark.says == Some(Says::Hurts)) {
            let at = mark.observed_at + Duration::hours(3);
            let done = "Rested a week, told the family; the pin is longer now and it is easy again.";
            circumstances::answer_pain(db, key, id, mark.id, done, Made { by, at }).await?;
        }
    }
    Ok(())
}

/// An id of its own for each thing known of a child, the same on every loading.
fn fresh(child: ChildId, thing: u128) -> Uuid {
    Uuid::from_u128(child.uuid().as_u128() ^ thing)
}
