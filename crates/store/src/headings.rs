//! What headings of a program's files mean, remembered from the last import of their kind.

use std::collections::BTreeMap;

use bright_row_core::ProgramId;
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};

use crate::entity::heading::{ActiveModel, Column, Entity};
use crate::error::StoreError;

/// The longest heading that is remembered, in characters.
const MAX_HEADING: usize = 200;

/// A kind of files.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FileKind {
    /// Children.
    Roster,
    /// Instruments.
    Inventory,
}

impl FileKind {
    const fn word(self) -> &'static str {
        match self {
            Self::Roster => "roster",
            Self::Inventory => "inventory",
        }
    }
}

/// What headings of earlier files of a kind meant, by heading in small letters.
///
/// # Errors
/// [`StoreError`].
pub async fn of_program(
    db: &impl ConnectionTrait,
    program: ProgramId,
    file: FileKind,
) -> Result<BTreeMap<String, String>, StoreError> {
    let found = Entity::find().filter(Column::ProgramId.eq(program.uuid())).filter(Column::File.eq(file.word()));
    Ok(found.all(db).await?.into_iter().map(|row| (row.heading, row.means)).collect())
}

/// Remembers what headings mean; those that are empty or longer than [`MAX_HEADING`] are left out.
///
/// # Errors
/// [`StoreError`].
pub async fn remember(
    db: &impl ConnectionTrait,
    program: ProgramId,
    file: FileKind,
    meant: &BTreeMap<String, String>,
) -> Result<(), StoreError> {
    let kept = meant.iter().filter(|(heading, _)| (1..=MAX_HEADING).contains(&heading.chars().count()));
    let rows = kept.map(|(heading, means)| ActiveModel {
        program_id: Set(program.uuid()),
        file: Set(file.word().to_owned()),
        heading: Set(heading.clone()),
        means: Set(means.clone()),
    });
    let rows: Vec<ActiveModel> = rows.collect();
    if rows.is_empty() {
        return Ok(());
    }
    let replace =
        OnConflict::columns([Column::ProgramId, Column::File, Column::Heading]).update_column(Column::Means).to_owned();
    Entity::insert_many(rows).on_conflict(replace).exec_without_returning(db).await?;
    Ok(())
}
