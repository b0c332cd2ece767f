//! What was done under an id that a page made when its form opened: the same sent again, however late, is the same and not one
//! more. Says nothing of anybody; the answer is at most an id.

use bright_row_core::ProgramId;
use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ConnectionTrait, EntityTrait};
use uuid::Uuid;

use crate::entity::done_once;
use crate::error::StoreError;

/// What was answered when this was done; `None`: it has not been done. To be asked in a transaction that has the program alone.
pub async fn answer(
    db: &impl ConnectionTrait,
    program: ProgramId,
    request: Uuid,
) -> Result<Option<String>, StoreError> {
    let row = done_once::Entity::find_by_id((program.uuid(), request)).one(db).await?;
    Ok(row.map(|row| row.answer))
}

/// Notes that it is done, with what is answered; in the same transaction.
pub async fn note(
    db: &impl ConnectionTrait,
    program: ProgramId,
    request: Uuid,
    answer: &str,
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    let row = done_once::ActiveModel {
        program_id: Set(program.uuid()),
        request_id: Set(request),
        answer: Set(answer.to_owned()),
        done_at: Set(now),
    };
    done_once::Entity::insert(row).exec_without_returning(db).await?;
    Ok(())
}
