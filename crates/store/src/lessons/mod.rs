//! Lessons as they are kept: one for each day of a class.

use crate::versioned;
use bright_row_core::AccountId;
use bright_row_core::lessons::plan::LessonPlan;
use chrono::{NaiveDate, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ConnectionTrait, EntityTrait};

use crate::classes::ClassKey;
use crate::entity::lesson;
use crate::error::StoreError;

/// The lesson kept for a day.
pub async fn of_day(
    db: &impl ConnectionTrait,
    class: ClassKey,
    day: NaiveDate,
) -> Result<Option<LessonPlan>, StoreError> {
    let row = lesson::Entity::find_by_id((class.program.uuid(), class.class.uuid(), day)).one(db).await?;
    row.map(|row| versioned::read(row.plan)).transpose()
}

/// Keeps the lesson of a day in the place of the one before.
pub async fn keep(
    db: &impl ConnectionTrait,
    class: ClassKey,
    day: NaiveDate,
    plan: &LessonPlan,
    by: AccountId,
) -> Result<(), StoreError> {
    let row = lesson::ActiveModel {
        program_id: Set(class.program.uuid()),
        class_id: Set(class.class.uuid()),
        day: Set(day),
        plan: Set(versioned::write(plan)),
        kept_at: Set(Utc::now()),
        kept_by: Set(by.uuid()),
    };
    let replace = OnConflict::columns([lesson::Column::ProgramId, lesson::Column::ClassId, lesson::Column::Day])
        .update_columns([lesson::Column::Plan, lesson::Column::KeptAt, lesson::Column::KeptBy])
        .to_owned();
    lesson::Entity::insert(row).on_conflict(replace).exec_without_returning(db).await?;
    Ok(())
}
