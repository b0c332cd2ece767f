//! In which class a child is: who belongs to one, and children who leave, come back and move.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::{ChildId, ClassId, ProgramId};
use chrono::NaiveDate;
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::SelectStatement;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter, QuerySelect, QueryTrait, Statement};
use uuid::Uuid;

use crate::children::this;
use crate::classes::ClassKey;
use crate::entity::{child, seat};
use crate::error::StoreError;

/// The children of a class, those who left among them.
pub async fn ids_of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<BTreeSet<ChildId>, StoreError> {
    let ids = child::Entity::find()
        .filter(child::Column::ProgramId.eq(class.program.uuid()))
        .filter(child::Column::ClassId.eq(class.class.uuid()))
        .select_only()
        .column(child::Column::ChildId)
        .into_tuple::<Uuid>();
    Ok(ids.all(db).await?.into_iter().map(ChildId::from).collect())
}

/// The children of a class, those who left among them, for another query to choose by.
pub(crate) fn in_class(class: ClassKey) -> SelectStatement {
    child::Entity::find()
        .filter(child::Column::ProgramId.eq(class.program.uuid()))
        .filter(child::Column::ClassId.eq(class.class.uuid()))
        .select_only()
        .column(child::Column::ChildId)
        .into_query()
}

/// In which class each of these children is, whether or not it has left; without those who are not in the program.
pub async fn classes_of(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
) -> Result<BTreeMap<ChildId, ClassId>, StoreError> {
    let ids = child::Entity::find()
        .filter(child::Column::ProgramId.eq(program.uuid()))
        .filter(child::Column::ChildId.is_in(children.iter().map(|child| child.uuid())))
        .select_only()
        .columns([child::Column::ChildId, child::Column::ClassId])
        .into_tuple::<(Uuid, Uuid)>();
    Ok(ids.all(db).await?.into_iter().map(|(child, class)| (child.into(), class.into())).collect())
}

/// The same, with what tells whether anything was set in the program since: see [`crate::classes::Class::settled`].
pub(crate) async fn classes_as_set(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
) -> Result<(BTreeMap<ChildId, ClassId>, Option<Uuid>), StoreError> {
    const SQL: &str = "
        select p.settled, c.child_id, c.class_id
        from program p left join child c on c.program_id = p.program_id and c.child_id = any($2)
        where p.program_id = $1";
    let ids: Vec<Uuid> = children.iter().map(|child| child.uuid()).collect();
    let values = [program.uuid().into(), ids.into()];
    let (mut classes, mut settled) = (BTreeMap::new(), None);
    for row in db.query_all_raw(Statement::from_sql_and_values(db.get_database_backend(), SQL, values)).await? {
        settled = Some(row.try_get_by_index::<Uuid>(0)?);
        if let Some(child) = row.try_get_by_index::<Option<Uuid>>(1)? {
            classes.insert(child.into(), row.try_get_by_index::<Uuid>(2)?.into());
        }
    }
    Ok((classes, settled))
}

/// A child leaves its class, and its seat with it; its history stays. `None`: it comes back.
pub async fn set_left(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    left_on: Option<NaiveDate>,
) -> Result<(), StoreError> {
    clear_seat(db, class, child).await?;
    let change = child::ActiveModel { left_on: Set(left_on), ..Default::default() };
    this(class, child).set(change).exec(db).await?;
    Ok(())
}

/// A child moves to another class of the program, without a seat there yet; its history goes with it.
pub async fn move_to(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: ChildId,
    other: ClassId,
) -> Result<(), StoreError> {
    clear_seat(db, class, child).await?;
    let change = child::ActiveModel { class_id: Set(other.uuid()), left_on: Set(None), ..Default::default() };
    this(class, child).set(change).exec(db).await?;
    Ok(())
}

async fn clear_seat(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<(), StoreError> {
    seat::Entity::delete_many()
        .filter(seat::Column::ProgramId.eq(class.program.uuid()))
        .filter(seat::Column::ChildId.eq(child.uuid()))
        .exec(db)
        .await?;
    Ok(())
}
