//! How long things of a program are kept, and clearing what is over.

use bright_row_core::retention::Retention;
use bright_row_core::{ChildId, ClassId, ProgramId};
use chrono::{DateTime, NaiveDate, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, PaginatorTrait, QueryFilter, Statement};

use crate::announced::announce;
use crate::entity::{child, class, family_answer, observation, pain_answer, program, retention};
use crate::error::StoreError;

fn days(days: u32) -> i32 {
    i32::try_from(days).unwrap_or(i32::MAX)
}

/// What a program has set, or how it begins.
pub async fn of_program(db: &impl ConnectionTrait, program: ProgramId) -> Result<Retention, StoreError> {
    let Some(row) = retention::Entity::find_by_id(program.uuid()).one(db).await? else {
        return Ok(Retention::default());
    };
    let days = |days: i32| u32::try_from(days).unwrap_or_default();
    Ok(Retention {
        archive_after_days: days(row.archive_after_days),
        delete_after_days: days(row.delete_after_days),
        notes_days: days(row.notes_days),
        audit_days: days(row.audit_days),
        left_days: days(row.left_days),
        second_factor: row.second_factor,
        mirror: row.mirror,
    })
}

/// Sets how long a program keeps things.
pub async fn set(db: &impl ConnectionTrait, program: ProgramId, wanted: &Retention) -> Result<(), StoreError> {
    let row = retention::ActiveModel {
        program_id: Set(program.uuid()),
        archive_after_days: Set(days(wanted.archive_after_days)),
        delete_after_days: Set(days(wanted.delete_after_days)),
        notes_days: Set(days(wanted.notes_days)),
        audit_days: Set(days(wanted.audit_days)),
        left_days: Set(days(wanted.left_days)),
        second_factor: Set(wanted.second_factor),
        mirror: Set(wanted.mirror),
    };
    let instead = OnConflict::column(retention::Column::ProgramId)
        .update_columns([
            retention::Column::ArchiveAfterDays,
            retention::Column::DeleteAfterDays,
            retention::Column::NotesDays,
            retention::Column::AuditDays,
            retention::Column::LeftDays,
            retention::Column::SecondFactor,
            retention::Column::Mirror,
        ])
        .to_owned();
    retention::Entity::insert(row).on_conflict(instead).exec_without_returning(db).await?;
    Ok(())
}

/// Every program there is, for the server's own housekeeping.
pub async fn programs(db: &impl ConnectionTrait) -> Result<Vec<ProgramId>, StoreError> {
    Ok(program::Entity::find().all(db).await?.into_iter().map(|row| row.program_id.into()).collect())
}

/// Since when this database knows how long things are kept: an owner sees what will end before anything does.
pub async fn known_since(db: &impl ConnectionTrait) -> Result<DateTime<Utc>, StoreError> {
    const SQL: &str = "select to_timestamp(applied_at) from seaql_migrations where version = 'm20261129_doors'";
    let row = db.query_one_raw(Statement::from_string(db.get_database_backend(), SQL)).await?;
    Ok(row.ok_or(StoreError::Reference)?.try_get_by_index(0)?)
}

/// What retention looks at in a class.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ClassAge {
    /// Which.
    pub class: ClassId,
    /// Its name.
    pub name: String,
    /// Its last day.
    pub last_day: NaiveDate,
    /// Since when it is over.
    pub archived_at: Option<DateTime<Utc>>,
}

/// The classes of a program with what retention looks at.
pub async fn classes(db: &impl ConnectionTrait, program: ProgramId) -> Result<Vec<ClassAge>, StoreError> {
    let rows = class::Entity::find().filter(class::Column::ProgramId.eq(program.uuid())).all(db).await?;
    let age = |row: class::Model| ClassAge {
        class: row.class_id.into(),
        name: row.name,
        last_day: row.last_day,
        archived_at: row.archived_at,
    };
    Ok(rows.into_iter().map(age).collect())
}

/// Children of a program who left before a day.
pub async fn left_before(
    db: &impl ConnectionTrait,
    program: ProgramId,
    day: NaiveDate,
) -> Result<Vec<(ClassId, ChildId)>, StoreError> {
    let rows = child::Entity::find()
        .filter(child::Column::ProgramId.eq(program.uuid()))
        .filter(child::Column::LeftOn.lt(day))
        .all(db)
        .await?;
    Ok(rows.into_iter().map(|row| (row.class_id.into(), row.child_id.into())).collect())
}

/// How many notes and answers to pain of a program are older than a moment.
pub async fn notes_before(
    db: &impl ConnectionTrait,
    program: ProgramId,
    before: DateTime<Utc>,
) -> Result<u64, StoreError> {
    let notes = observation::Entity::find()
        .filter(observation::Column::ProgramId.eq(program.uuid()))
        .filter(observation::Column::Note.is_not_null())
        .filter(observation::Column::ObservedAt.lt(before))
        .count(db)
        .await?;
    let answers = pain_answer::Entity::find()
        .filter(pain_answer::Column::ProgramId.eq(program.uuid()))
        .filter(pain_answer::Column::AnsweredAt.lt(before))
        .filter(pain_answer::Column::Done.ne(CLEARED))
        .count(db)
        .await?;
    let at_home = family_answer::Entity::find()
        .filter(family_answer::Column::ProgramId.eq(program.uuid()))
        .filter(family_answer::Column::DoneAt.lt(before))
        .filter(family_answer::Column::Done.ne(CLEARED))
        .count(db)
        .await?;
    Ok(notes + answers + at_home)
}

/// What stands where the words of an answer to pain were: that there was one still matters.
const CLEARED: &str = "…";

/// Clears notes and the words of answers to pain from before a moment; what was seen stays. To be called in a transaction.
pub async fn clear_notes_before(
    db: &impl ConnectionTrait,
    program: ProgramId,
    before: DateTime<Utc>,
) -> Result<u64, StoreError> {
    announce(db, "bright_row.rewording", program.uuid()).await?;
    let backend = db.get_database_backend();
    let values = || [program.uuid().into(), before.into()];
    let notes = "update observation set note = null where program_id = $1 and note is not null and observed_at < $2";
    let notes = db.execute_raw(Statement::from_sql_and_values(backend, notes, values())).await?;
    let answers = pain_answer::Entity::update_many()
        .set(pain_answer::ActiveModel { done: Set(CLEARED.to_owned()), ..Default::default() })
        .filter(pain_answer::Column::ProgramId.eq(program.uuid()))
        .filter(pain_answer::Column::AnsweredAt.lt(before))
        .filter(pain_answer::Column::Done.ne(CLEARED))
        .exec(db)
        .await?;
    let at_home = family_answer::Entity::update_many()
        .set(family_answer::ActiveModel { done: Set(Some(CLEARED.to_owned())), ..Default::default() })
        .filter(family_answer::Column::ProgramId.eq(program.uuid()))
        .filter(family_answer::Column::DoneAt.lt(before))
        .filter(family_answer::Column::Done.ne(CLEARED))
        .exec(db)
        .await?;
    Ok(notes.rows_affected() + answers.rows_affected + at_home.rows_affected)
}
