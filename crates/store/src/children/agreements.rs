//! What is agreed with families instead of the class's practice at home.

use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::lessons::home::HomeAgreement;
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};

use crate::children::membership;
use crate::classes::ClassKey;
use crate::entity::child_home;
use crate::error::StoreError;
use crate::versioned;

/// What is agreed, by child of a class; whoever does as the class does is left out.
///
/// # Errors
/// [`StoreError`].
pub async fn of_class(
    db: &impl ConnectionTrait,
    class: ClassKey,
) -> Result<BTreeMap<ChildId, HomeAgreement>, StoreError> {
    let rows = child_home::Entity::find()
        .filter(child_home::Column::ProgramId.eq(class.program.uuid()))
        .filter(child_home::Column::ChildId.in_subquery(membership::in_class(class)));
    let read = |row: child_home::Model| Ok((row.child_id.into(), versioned::read(row.agreement)?));
    rows.all(db).await?.into_iter().map(read).collect()
}

/// Keeps what is agreed for a child; nothing agreed, and it does as the class does.
///
/// # Errors
/// [`StoreError`].
pub async fn set(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    agreement: &HomeAgreement,
) -> Result<(), StoreError> {
    let key = (class.program.uuid(), child.uuid());
    if *agreement == HomeAgreement::default() {
        child_home::Entity::delete_by_id(key).exec(db).await?;
        return Ok(());
    }
    let row = child_home::ActiveModel {
        program_id: Set(key.0),
        child_id: Set(key.1),
        agreement: Set(versioned::write(agreement)),
    };
    let instead = OnConflict::columns([child_home::Column::ProgramId, child_home::Column::ChildId])
        .update_column(child_home::Column::Agreement)
        .to_owned();
    child_home::Entity::insert(row).on_conflict(instead).exec_without_returning(db).await?;
    Ok(())
}
