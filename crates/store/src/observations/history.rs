//! Observations read back: a child's history, what was ticked lately, and who was looked at at all.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::id::{SlipId, Target};
use bright_row_core::progress::observation::{Observation, Observed, Says, in_force};
use bright_row_core::{ChildId, ObservationId};
use chrono::{DateTime, Utc};
use sea_orm::sea_query::ExprTrait;
use sea_orm::{ColumnTrait, Condition, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect};

use crate::classes::ClassKey;
use crate::entity::observation;
use crate::error::StoreError;
use crate::observations::rows::read_all;

/// A place in a child's history: everything older follows.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Before {
    /// When the last observation that is known was seen.
    pub observed_at: DateTime<Utc>,
    /// Its id.
    pub id: ObservationId,
}

/// A child's observations, newest first, at most `most`, retracted ones and retractions included.
pub async fn history(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    before: Option<Before>,
    most: u64,
) -> Result<Vec<Observation>, StoreError> {
    let mut find = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(class.program.uuid()))
        .filter(observation::Column::ChildId.eq(child.uuid()));
    if let Some(before) = before {
        find = find.filter(
            Condition::any().add(observation::Column::ObservedAt.lt(before.observed_at)).add(
                observation::Column::ObservedAt
                    .eq(before.observed_at)
                    .and(observation::Column::ObservationId.lt(before.id.uuid())),
            ),
        );
    }
    let rows = find
        .order_by_desc(observation::Column::ObservedAt)
        .order_by_desc(observation::Column::ObservationId)
        .limit(most)
        .all(db)
        .await?;
    read_all(rows)
}

/// What was ticked and said of a child lately.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Lately {
    /// Slips ticked.
    pub slips: BTreeSet<SlipId>,
    /// What the child said when it was last asked there, by what was looked at.
    pub says: BTreeMap<Target, Says>,
}

/// What was ticked and said of a child since a moment, what was taken back left out.
pub async fn lately(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    since: DateTime<Utc>,
) -> Result<Lately, StoreError> {
    let rows = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(class.program.uuid()))
        .filter(observation::Column::ChildId.eq(child.uuid()))
        .filter(observation::Column::ObservedAt.gte(since))
        .all(db)
        .await?;
    let observations = read_all(rows)?;
    let mut lately = Lately::default();
    for observation in in_force(&observations) {
        if let Observed::Level { slips, .. } = &observation.seen {
            lately.slips.extend(slips.iter().cloned());
        }
        if let Some(says) = observation.says {
            lately.says.insert(observation.target.clone(), says);
        }
    }
    Ok(lately)
}

/// The observations of some children of a program at these targets, in no order, retracted ones and retractions included.
pub async fn at_targets(
    db: &impl ConnectionTrait,
    class: ClassKey,
    children: &[ChildId],
    targets: &[&str],
) -> Result<Vec<Observation>, StoreError> {
    if children.is_empty() {
        return Ok(Vec::new());
    }
    let rows = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(class.program.uuid()))
        .filter(observation::Column::ChildId.is_in(children.iter().map(|child| child.uuid())))
        .filter(observation::Column::Target.is_in(targets.iter().copied()))
        .all(db)
        .await?;
    read_all(rows)
}

/// Whether anybody of a program was ever looked at there.
pub async fn any_at(db: &impl ConnectionTrait, class: ClassKey, checkpoint: &str) -> Result<bool, StoreError> {
    let one = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(class.program.uuid()))
        .filter(observation::Column::Target.eq(checkpoint))
        .limit(1)
        .one(db)
        .await?;
    Ok(one.is_some())
}
