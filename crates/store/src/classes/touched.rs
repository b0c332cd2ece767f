//! Who stands otherwise: whoever kept how a class stood asks which children to read again.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::{ChildId, ProgramId};
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QuerySelect, Statement, Value};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::child;
use crate::error::StoreError;

/// The statement of [`touch`]. Rows are taken in the order of their ids, so that two transactions never wait for each other in a circle.
pub(crate) const TOUCH: &str = "
    update child k set touched = gen_random_uuid()
    from (select child_id from child where program_id = $1 and child_id = any($2) order by child_id for no key update) these
    where k.program_id = $1 and k.child_id = these.child_id";

/// The first two values of [`TOUCH`].
pub(crate) fn touch_values(program: ProgramId, children: &BTreeSet<ChildId>) -> [Value; 2] {
    let children: Vec<Uuid> = children.iter().map(|child| child.uuid()).collect();
    [program.uuid().into(), children.into()]
}

/// Says that children may stand otherwise; to be called in the transaction that changes it, at its end: others who change something
/// of the same child wait from here on.
pub async fn touch(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
) -> Result<(), StoreError> {
    let values = touch_values(program, children);
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), TOUCH, values)).await?;
    Ok(())
}

/// The children of a class, without those who left, each with a value that is another one after everything but what is set that
/// changes how it stands.
pub async fn by_child(db: &impl ConnectionTrait, class: ClassKey) -> Result<BTreeMap<ChildId, Uuid>, StoreError> {
    let found = child::Entity::find()
        .filter(child::Column::ProgramId.eq(class.program.uuid()))
        .filter(child::Column::ClassId.eq(class.class.uuid()))
        .filter(child::Column::LeftOn.is_null())
        .select_only()
        .columns([child::Column::ChildId, child::Column::Touched])
        .into_tuple::<(Uuid, Uuid)>();
    Ok(found.all(db).await?.into_iter().map(|(child, touched)| (child.into(), touched)).collect())
}
