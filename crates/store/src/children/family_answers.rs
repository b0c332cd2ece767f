//! What families answered about weeks at home.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::id::StageId;
use bright_row_core::lessons::family_answer::FamilyAnswer;
use bright_row_core::{AccountId, ChildId};
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect};
use uuid::Uuid;

use crate::children::membership;
use crate::classes::ClassKey;
use crate::entity::family_answer;
use crate::error::StoreError;
use crate::observations::{Outcome, Refusal};
use crate::rows::read_says;

/// An answer to be kept.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NewAnswer {
    /// What was answered.
    pub answer: FamilyAnswer,
    /// Where it hurts, the stage at which the child works there; with `hurts`, and only then.
    pub target: Option<StageId>,
}

/// Adds answers and says what became of each; to be called in a transaction that holds the program, so that nobody whom they
/// are about is removed meanwhile.
///
/// # Errors
/// [`StoreError`].
pub async fn add(
    db: &impl ConnectionTrait,
    class: ClassKey,
    answers: &[NewAnswer],
    (noted_by, now): (AccountId, DateTime<Utc>),
) -> Result<Vec<Outcome>, StoreError> {
    let here = membership::ids_of_class(db, class).await?;
    let once: BTreeMap<Uuid, &NewAnswer> = answers.iter().rev().map(|new| (new.answer.id.uuid(), new)).collect();
    let rows: Vec<_> = once
        .into_values()
        .filter(|new| here.contains(&new.answer.child))
        .map(|new| row(class, new, (noted_by, now)))
        .collect();
    let mut added: BTreeSet<Uuid> = BTreeSet::new();
    if !rows.is_empty() {
        let columns = [family_answer::Column::ProgramId, family_answer::Column::AnswerId];
        let insert =
            family_answer::Entity::insert_many(rows).on_conflict(OnConflict::columns(columns).do_nothing().to_owned());
        added.extend(insert.exec_with_returning_keys(db).await?.into_iter().map(|(_, id)| id));
    }
    let ids = answers.iter().map(|new| new.answer.id.uuid());
    let of: BTreeMap<Uuid, Uuid> = family_answer::Entity::find()
        .filter(family_answer::Column::ProgramId.eq(class.program.uuid()))
        .filter(family_answer::Column::AnswerId.is_in(ids))
        .select_only()
        .columns([family_answer::Column::AnswerId, family_answer::Column::ChildId])
        .into_tuple::<(Uuid, Uuid)>()
        .all(db)
        .await?
        .into_iter()
        .collect();
    let outcome = |new: &NewAnswer| {
        let (id, child) = (new.answer.id.uuid(), new.answer.child);
        match of.get(&id) {
            // The same id twice in one batch is stored once.
            Some(kept) if *kept == child.uuid() => {
                if added.remove(&id) {
                    Outcome::Stored
                } else {
                    Outcome::Known
                }
            }
            Some(_) => Outcome::Refused(Refusal::IdTaken),
            None => Outcome::Refused(Refusal::NotInClass),
        }
    };
    Ok(answers.iter().map(outcome).collect())
}

fn row(
    class: ClassKey,
    NewAnswer { answer, target }: &NewAnswer,
    (noted_by, now): (AccountId, DateTime<Utc>),
) -> family_answer::ActiveModel {
    family_answer::ActiveModel {
        program_id: Set(class.program.uuid()),
        answer_id: Set(answer.id.uuid()),
        class_id: Set(class.class.uuid()),
        child_id: Set(answer.child.uuid()),
        days: Set(answer.days.and_then(|days| i16::try_from(days).ok())),
        says: Set(answer.says.map(|says| says.word().to_owned())),
        target: Set(target.as_ref().map(ToString::to_string)),
        retracts: Set(answer.retracts.map(bright_row_core::AnswerId::uuid)),
        answered_at: Set(answer.at),
        recorded_at: Set(now),
        noted_by: Set(noted_by.uuid()),
        done: Set(None),
        done_at: Set(None),
        done_by: Set(None),
    }
}

/// What came back of the children who are in a class now, since a moment, by child and in the order in which it was said.
///
/// # Errors
/// [`StoreError`].
pub async fn of_class(
    db: &impl ConnectionTrait,
    class: ClassKey,
    since: DateTime<Utc>,
) -> Result<BTreeMap<ChildId, Vec<FamilyAnswer>>, StoreError> {
    let rows = family_answer::Entity::find()
        .filter(family_answer::Column::ProgramId.eq(class.program.uuid()))
        .filter(family_answer::Column::ChildId.in_subquery(membership::in_class(class)))
        .filter(family_answer::Column::AnsweredAt.gte(since));
    let mut of: BTreeMap<ChildId, Vec<FamilyAnswer>> = BTreeMap::new();
    for row in rows.order_by_asc(family_answer::Column::AnsweredAt).all(db).await? {
        let answer = read(row)?;
        of.entry(answer.child).or_default().push(answer);
    }
    Ok(of)
}

/// The latest of what came back of one child, at most so many.
///
/// # Errors
/// [`StoreError`].
pub async fn of_child(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    most: u64,
) -> Result<Vec<FamilyAnswer>, StoreError> {
    let rows = family_answer::Entity::find()
        .filter(family_answer::Column::ProgramId.eq(class.program.uuid()))
        .filter(family_answer::Column::ChildId.eq(child.uuid()))
        .order_by_desc(family_answer::Column::AnsweredAt)
        .limit(most);
    rows.all(db).await?.into_iter().map(read).collect()
}

/// Where it hurts is kept as a stage, and not read back as a strand: its flag is.
fn read(row: family_answer::Model) -> Result<FamilyAnswer, StoreError> {
    Ok(FamilyAnswer {
        id: row.answer_id.into(),
        child: row.child_id.into(),
        days: row.days.and_then(|days| u32::try_from(days).ok()),
        says: read_says(row.says)?,
        hurts_at: None,
        retracts: row.retracts.map(Into::into),
        at: row.answered_at,
    })
}
