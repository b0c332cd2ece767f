//! Children of a class and where they sit.

use bright_row_core::ChildId;
use bright_row_core::instrument::Instrument;
use chrono::{NaiveDate, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::{ConnectionTrait, EntityTrait, FromQueryResult, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::{child, seat};
use crate::error::StoreError;

/// Where a child sits: rows from the podium to the back, seats from the podium's left, both from 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Seat {
    /// The row, 1 nearest the podium.
    pub row: u8,
    /// The seat in its row, 1 at the podium's left.
    pub number: u8,
}

/// The most rows a room has.
pub const MOST_ROWS: u8 = 20;
/// The most seats a row has.
pub const MOST_SEATS: u8 = 40;

/// A child of a class.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Child {
    /// Who.
    pub id: ChildId,
    /// First name and one letter.
    pub name: String,
    /// What it plays.
    pub instrument: Instrument,
    /// Since when it is in the class.
    pub joined_on: NaiveDate,
    /// Where it sits, if it has a seat.
    pub seat: Option<Seat>,
}

/// Adds children with their seats; to be called in a transaction. A seat that is taken is a [`StoreError::Conflict`].
pub async fn add(db: &impl ConnectionTrait, class: ClassKey, children: &[Child]) -> Result<(), StoreError> {
    let (program_id, class_id) = (class.program.uuid(), class.class.uuid());
    let rows = children.iter().map(|child| child::ActiveModel {
        program_id: Set(program_id),
        child_id: Set(child.id.uuid()),
        class_id: Set(class_id),
        name: Set(child.name.clone()),
        instrument: Set(child.instrument.name().to_owned()),
        joined_on: Set(child.joined_on),
        created_at: Set(Utc::now()),
    });
    child::Entity::insert_many(rows).exec_without_returning(db).await?;
    let seats: Vec<_> = children
        .iter()
        .filter_map(|child| {
            child.seat.map(|seat| seat::ActiveModel {
                program_id: Set(program_id),
                class_id: Set(class_id),
                row_number: Set(i16::from(seat.row)),
                seat_number: Set(i16::from(seat.number)),
                child_id: Set(child.id.uuid()),
            })
        })
        .collect();
    if !seats.is_empty() {
        seat::Entity::insert_many(seats).exec_without_returning(db).await?;
    }
    Ok(())
}

#[derive(FromQueryResult)]
struct Found {
    child_id: Uuid,
    name: String,
    instrument: String,
    joined_on: NaiveDate,
    in_row: Option<i16>,
    at: Option<i16>,
}

impl Found {
    fn read(self) -> Result<Child, StoreError> {
        let instrument = Instrument::parse(&self.instrument)
            .ok_or(StoreError::Unreadable { what: "instrument", value: self.instrument })?;
        let seat = self
            .in_row
            .zip(self.at)
            .and_then(|(row, number)| Some(Seat { row: u8::try_from(row).ok()?, number: u8::try_from(number).ok()? }));
        Ok(Child { id: self.child_id.into(), name: self.name, instrument, joined_on: self.joined_on, seat })
    }
}

const CHILDREN: &str = "
    select c.child_id, c.name, c.instrument, c.joined_on, s.row_number as in_row, s.seat_number as at
    from child c
    left join seat s on s.program_id = c.program_id and s.child_id = c.child_id and s.class_id = c.class_id
    where c.program_id = $1 and c.class_id = $2";

/// The children of a class by row and seat, those without a seat last, by name.
pub async fn of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<Vec<Child>, StoreError> {
    let sql = format!("{CHILDREN} order by s.row_number, s.seat_number, c.name, c.child_id");
    let values = [class.program.uuid().into(), class.class.uuid().into()];
    let found = Found::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    found.all(db).await?.into_iter().map(Found::read).collect()
}

/// A child of a class.
pub async fn one(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<Option<Child>, StoreError> {
    let sql = format!("{CHILDREN} and c.child_id = $3");
    let values = [class.program.uuid().into(), class.class.uuid().into(), child.uuid().into()];
    let found = Found::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    found.one(db).await?.map(Found::read).transpose()
}
