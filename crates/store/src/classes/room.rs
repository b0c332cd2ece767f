//! The room a class sits in, and who sits where.

use bright_row_core::ChildId;
use bright_row_core::setup::rows::Seat;
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};

use crate::children::add_seats;
use crate::classes::ClassKey;
use crate::entity::{class, seat};
use crate::error::StoreError;

/// A room.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Room {
    /// From wall to wall, in millimetres.
    pub width_mm: u32,
    /// From the podium to the back wall, in millimetres.
    pub depth_mm: u32,
    /// Chairs in each row from the podium to the back; empty until it was set.
    pub rows: Vec<u8>,
}

/// The room of a class.
pub async fn of_class(db: &impl ConnectionTrait, key: ClassKey) -> Result<Room, StoreError> {
    let row = class::Entity::find_by_id((key.program.uuid(), key.class.uuid())).one(db).await?;
    let row = row.ok_or(StoreError::Reference)?;
    let length = |mm: i32| u32::try_from(mm).unwrap_or_default();
    let rows = row.row_chairs.iter().map(|chairs| u8::try_from(*chairs).unwrap_or_default());
    Ok(Room { width_mm: length(row.room_width_mm), depth_mm: length(row.room_depth_mm), rows: rows.collect() })
}

/// Sets the room and every seat of a class; to be called in a transaction.
///
/// Who is not named has no seat. A seat named twice, or a child of elsewhere, is a [`StoreError::Conflict`] or
/// [`StoreError::Reference`].
pub async fn set(
    db: &impl ConnectionTrait,
    key: ClassKey,
    room: &Room,
    seats: &[(ChildId, Seat, bool)],
) -> Result<(), StoreError> {
    let length = |mm: u32| i32::try_from(mm).unwrap_or(i32::MAX);
    let change = class::ActiveModel {
        room_width_mm: Set(length(room.width_mm)),
        room_depth_mm: Set(length(room.depth_mm)),
        row_chairs: Set(room.rows.iter().map(|chairs| i16::from(*chairs)).collect()),
        ..Default::default()
    };
    class::Entity::update_many()
        .set(change)
        .filter(class::Column::ProgramId.eq(key.program.uuid()))
        .filter(class::Column::ClassId.eq(key.class.uuid()))
        .exec(db)
        .await?;
    seat::Entity::delete_many()
        .filter(seat::Column::ProgramId.eq(key.program.uuid()))
        .filter(seat::Column::ClassId.eq(key.class.uuid()))
        .exec(db)
        .await?;
    add_seats(db, key, seats.iter().copied()).await
}
