//! What a class has set: rhythm, marker settings, options, changes of the checklist.

use crate::classes::ClassKey;
use crate::classes::RoundSettings;
use crate::entity::class;
use crate::entity::class_choice;
use crate::error::StoreError;
use crate::rows::small;
use crate::versioned;
use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::edits::Edits;
use bright_row_core::lessons::home::HomeSettings;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::tapes::settings::MarkerSettings;
use sea_orm::ActiveValue::Set;
use sea_orm::ConnectionTrait;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, EntityTrait, QueryFilter};

/// Writes how soon a class looks at things again; to be called in a transaction, with the standings renewed after it.
pub async fn set_rhythm(
    db: &impl ConnectionTrait,
    class: ClassKey,
    rhythm: &Rhythm,
    round: &RoundSettings,
) -> Result<(), StoreError> {
    let change = class::ActiveModel {
        recheck_alone: Set(small(rhythm.alone)),
        recheck_lasting: Set(small(rhythm.lasting)),
        recheck_longest: Set(small(rhythm.longest)),
        tapes_first: Set(small(rhythm.tapes_first)),
        tapes_later: Set(small(rhythm.tapes_later)),
        must_see_after: Set(small(round.must_see_after)),
        round_visit_seconds: Set(small(round.visit_seconds)),
        round_max_checks: Set(small(round.max_checks)),
        ..Default::default()
    };
    class::Entity::update_many()
        .set(change)
        .filter(class::Column::ProgramId.eq(class.program.uuid()))
        .filter(class::Column::ClassId.eq(class.class.uuid()))
        .exec(db)
        .await?;
    Ok(())
}

/// Writes how a class lays its markers.
pub async fn set_marker_settings(
    db: &impl ConnectionTrait,
    class: ClassKey,
    marker_settings: &MarkerSettings,
) -> Result<(), StoreError> {
    let stored = versioned::write(marker_settings);
    let change = class::ActiveModel { marker_settings: Set(stored), ..Default::default() };
    class::Entity::update_many()
        .set(change)
        .filter(class::Column::ProgramId.eq(class.program.uuid()))
        .filter(class::Column::ClassId.eq(class.class.uuid()))
        .exec(db)
        .await?;
    Ok(())
}

/// Writes how a class practises at home.
pub async fn set_home_settings(
    db: &impl ConnectionTrait,
    class: ClassKey,
    home_settings: &HomeSettings,
) -> Result<(), StoreError> {
    let change = class::ActiveModel { home_settings: Set(versioned::write(home_settings)), ..Default::default() };
    class::Entity::update_many()
        .set(change)
        .filter(class::Column::ProgramId.eq(class.program.uuid()))
        .filter(class::Column::ClassId.eq(class.class.uuid()))
        .exec(db)
        .await?;
    Ok(())
}

/// Writes what a class chose; what is not named stays as it is. To be called in a transaction.
pub async fn choose(db: &impl ConnectionTrait, class: ClassKey, choices: &Choices) -> Result<(), StoreError> {
    let rows: Vec<_> = choices
        .iter()
        .map(|(key, choice)| class_choice::ActiveModel {
            program_id: Set(class.program.uuid()),
            class_id: Set(class.class.uuid()),
            key: Set(key.clone()),
            choice: Set(choice.clone()),
        })
        .collect();
    if rows.is_empty() {
        return Ok(());
    }
    let replace = OnConflict::columns([
        class_choice::Column::ProgramId,
        class_choice::Column::ClassId,
        class_choice::Column::Key,
    ])
    .update_column(class_choice::Column::Choice)
    .to_owned();
    class_choice::Entity::insert_many(rows).on_conflict(replace).exec_without_returning(db).await?;
    Ok(())
}

/// Forgets what a class chose: every default again. To be called in a transaction.
pub async fn choose_nothing(db: &impl ConnectionTrait, class: ClassKey) -> Result<(), StoreError> {
    class_choice::Entity::delete_many()
        .filter(class_choice::Column::ProgramId.eq(class.program.uuid()))
        .filter(class_choice::Column::ClassId.eq(class.class.uuid()))
        .exec(db)
        .await?;
    Ok(())
}

/// Writes what a class changed on the checklist; to be called in a transaction.
pub async fn write_edits(db: &impl ConnectionTrait, class: ClassKey, edits: &Edits) -> Result<(), StoreError> {
    let stored = versioned::write(edits);
    let change = class::ActiveModel { checklist_edits: Set(stored), ..Default::default() };
    class::Entity::update_many()
        .set(change)
        .filter(class::Column::ProgramId.eq(class.program.uuid()))
        .filter(class::Column::ClassId.eq(class.class.uuid()))
        .exec(db)
        .await?;
    Ok(())
}
