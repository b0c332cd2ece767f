//! Children of a class: who they are, what they play, where they sit.

pub mod agreements;
pub mod context;
pub mod family_answers;
pub mod imports;
pub mod measures;
pub mod membership;
pub mod pain;
pub mod record;
pub mod removal;
pub mod stored_context;

use crate::rows::read_instrument;

use std::collections::BTreeSet;

use bright_row_core::ChildId;
use bright_row_core::craft::instrument::{Instrument, Playing};
use bright_row_core::setup::roster::RosterEntry;
use bright_row_core::setup::rows::Seat;
use chrono::{DateTime, NaiveDate, Utc};
use sea_orm::ActiveValue::{NotSet, Set};
use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, Statement};
use uuid::Uuid;

use crate::classes::ClassKey;
use crate::entity::{child, played, seat};
use crate::error::StoreError;

pub use bright_row_core::setup::rows::{MAX_ROWS, MAX_SEATS_IN_ROW};

/// A child of a class.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Child {
    /// Who.
    pub id: ChildId,
    /// First name and one letter.
    pub name: String,
    /// What it plays, and what it played before.
    pub playing: Playing,
    /// The school's grade; empty for none.
    pub grade: String,
    /// The office's own number; empty for none.
    pub number: String,
    /// Wants a seat in row 1.
    pub near_front: bool,
    /// Wants a seat at a row's end.
    pub near_aisle: bool,
    /// Since when it is in the class.
    pub joined_on: NaiveDate,
    /// Since when it is not any more.
    pub left_on: Option<NaiveDate>,
    /// Where it sits, if it has a seat.
    pub seat: Option<Seat>,
    /// It stays in that seat.
    pub seat_locked: bool,
}

impl Child {
    /// A child with nothing but a name and an instrument.
    #[must_use]
    pub fn new(id: ChildId, name: String, instrument: Instrument, joined_on: NaiveDate) -> Self {
        Self {
            id,
            name,
            playing: instrument.into(),
            grade: String::new(),
            number: String::new(),
            near_front: false,
            near_aisle: false,
            joined_on,
            left_on: None,
            seat: None,
            seat_locked: false,
        }
    }

    /// A child as a roster names it.
    #[must_use]
    pub fn from_entry(id: ChildId, entry: RosterEntry, joined_on: NaiveDate) -> Self {
        let RosterEntry { name, instrument, grade, number, near_front, near_aisle } = entry;
        Self { grade, number, near_front, near_aisle, ..Self::new(id, name, instrument, joined_on) }
    }

    /// What a roster says of it.
    #[must_use]
    pub fn entry(&self) -> RosterEntry {
        RosterEntry {
            name: self.name.clone(),
            instrument: self.playing.now,
            grade: self.grade.clone(),
            number: self.number.clone(),
            near_front: self.near_front,
            near_aisle: self.near_aisle,
        }
    }
}

/// Rows of one statement: PostgreSQL takes some 65,000 parameters at once.
const ROWS_AT_ONCE: usize = 2000;

/// Adds children with their seats; to be called in a transaction. A seat that is taken is a [`StoreError::Conflict`].
pub async fn add(db: &impl ConnectionTrait, class: ClassKey, children: &[Child]) -> Result<(), StoreError> {
    for children in children.chunks(ROWS_AT_ONCE) {
        let rows = children.iter().map(|child| row(class, child));
        child::Entity::insert_many(rows).exec_without_returning(db).await?;
        let seats = children.iter().filter_map(|child| Some((child.id, child.seat?, child.seat_locked)));
        add_seats(db, class, seats).await?;
    }
    Ok(())
}

pub(crate) async fn add_seats(
    db: &impl ConnectionTrait,
    class: ClassKey,
    seats: impl Iterator<Item = (ChildId, Seat, bool)>,
) -> Result<(), StoreError> {
    let rows = seats.map(|(child, place, locked)| seat::ActiveModel {
        program_id: Set(class.program.uuid()),
        class_id: Set(class.class.uuid()),
        row_number: Set(i16::from(place.row)),
        seat_number: Set(i16::from(place.number)),
        child_id: Set(child.uuid()),
        locked: Set(locked),
    });
    let rows: Vec<_> = rows.collect();
    if !rows.is_empty() {
        seat::Entity::insert_many(rows).exec_without_returning(db).await?;
    }
    Ok(())
}

fn row(class: ClassKey, child: &Child) -> child::ActiveModel {
    child::ActiveModel {
        program_id: Set(class.program.uuid()),
        child_id: Set(child.id.uuid()),
        class_id: Set(class.class.uuid()),
        name: Set(child.name.clone()),
        instrument: Set(child.playing.now.name().to_owned()),
        joined_on: Set(child.joined_on),
        grade: Set(child.grade.clone()),
        school_number: Set(child.number.clone()),
        near_front: Set(child.near_front),
        near_aisle: Set(child.near_aisle),
        left_on: Set(child.left_on),
        created_at: Set(Utc::now()),
        touched: NotSet,
    }
}

#[derive(FromQueryResult)]
struct Found {
    child_id: Uuid,
    name: String,
    instrument: String,
    grade: String,
    school_number: String,
    near_front: bool,
    near_aisle: bool,
    joined_on: NaiveDate,
    left_on: Option<NaiveDate>,
    seat_row: Option<i16>,
    seat_number: Option<i16>,
    locked: Option<bool>,
    played_until: Vec<DateTime<Utc>>,
    played: Vec<String>,
}

impl Found {
    fn read(self) -> Result<Child, StoreError> {
        let before = self.played_until.into_iter().zip(self.played);
        let before = before.map(|(until, played)| Ok((until, read_instrument(played)?)));
        let playing =
            Playing { now: read_instrument(self.instrument)?, before: before.collect::<Result<_, StoreError>>()? };
        let small = |number: i16| u8::try_from(number).ok();
        let seat = self.seat_row.zip(self.seat_number);
        let seat = seat.and_then(|(row, number)| Some(Seat { row: small(row)?, number: small(number)? }));
        Ok(Child {
            id: self.child_id.into(),
            name: self.name,
            playing,
            grade: self.grade,
            number: self.school_number,
            near_front: self.near_front,
            near_aisle: self.near_aisle,
            joined_on: self.joined_on,
            left_on: self.left_on,
            seat,
            seat_locked: self.locked.unwrap_or(false),
        })
    }
}

const CHILDREN: &str = "
    select c.child_id, c.name, c.instrument, c.grade, c.school_number, c.near_front, c.near_aisle, c.joined_on,
           c.left_on, s.row_number as seat_row, s.seat_number, s.locked,
           coalesce(p.until, '{}') as played_until, coalesce(p.played, '{}') as played
    from child c
    left join (select child_id, array_agg(until order by until) as until, array_agg(instrument order by until) as played
               from played where program_id = $1 group by child_id) p on p.child_id = c.child_id
    left join seat s on s.program_id = c.program_id and s.child_id = c.child_id and s.class_id = c.class_id
    where c.program_id = $1";

/// The children who were looked at in a class and are in another one of the program now, by name, without seats.
pub async fn moved_on(db: &impl ConnectionTrait, class: ClassKey) -> Result<Vec<Child>, StoreError> {
    let sql = format!(
        "{CHILDREN} and c.class_id <> $2 and exists (select from observation o where o.program_id = $1
           and o.child_id = c.child_id and o.class_id = $2) order by c.name, c.child_id"
    );
    let values = [class.program.uuid().into(), class.class.uuid().into()];
    let found = Found::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let read = |found: Found| Ok(Child { seat: None, ..found.read()? });
    found.all(db).await?.into_iter().map(read).collect()
}

async fn find(
    db: &impl ConnectionTrait,
    class: ClassKey,
    also: &str,
    child: Option<ChildId>,
) -> Result<Vec<Child>, StoreError> {
    let mut values = vec![class.program.uuid().into(), class.class.uuid().into()];
    values.extend(child.map(|child| child.uuid().into()));
    let sql = format!("{CHILDREN} and c.class_id = $2 {also} order by s.row_number, s.seat_number, c.name, c.child_id");
    let found = Found::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    found.all(db).await?.into_iter().map(Found::read).collect()
}

/// Everybody whose class this is, those who left too.
pub async fn ids_of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<BTreeSet<ChildId>, StoreError> {
    let rows = child::Entity::find()
        .filter(child::Column::ProgramId.eq(class.program.uuid()))
        .filter(child::Column::ClassId.eq(class.class.uuid()))
        .all(db)
        .await?;
    Ok(rows.into_iter().map(|row| row.child_id.into()).collect())
}

/// The children of a class by row and seat, those without a seat last, by name; those who left are left out.
pub async fn of_class(db: &impl ConnectionTrait, class: ClassKey) -> Result<Vec<Child>, StoreError> {
    find(db, class, "and c.left_on is null", None).await
}

/// The children who left a class, by name.
pub async fn who_left(db: &impl ConnectionTrait, class: ClassKey) -> Result<Vec<Child>, StoreError> {
    find(db, class, "and c.left_on is not null", None).await
}

/// A child of a class, whether or not it has left.
pub async fn one(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<Option<Child>, StoreError> {
    Ok(find(db, class, "and c.child_id = $3", Some(child)).await?.pop())
}

pub(crate) fn this(class: ClassKey, child: ChildId) -> sea_orm::UpdateMany<child::Entity> {
    child::Entity::update_many()
        .filter(child::Column::ProgramId.eq(class.program.uuid()))
        .filter(child::Column::ChildId.eq(child.uuid()))
}

/// Writes what a roster says of a child; to be called in a transaction. A change of instrument is kept with its moment.
pub async fn write_entry(
    db: &impl ConnectionTrait,
    class: ClassKey,
    child: &Child,
    entry: &RosterEntry,
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    if entry.instrument != child.playing.now {
        let before = played::ActiveModel {
            program_id: Set(class.program.uuid()),
            child_id: Set(child.id.uuid()),
            until: Set(now),
            instrument: Set(child.playing.now.name().to_owned()),
        };
        // Two changes in one moment are one: what was played until then stays.
        let once = OnConflict::columns([played::Column::ProgramId, played::Column::ChildId, played::Column::Until])
            .do_nothing()
            .to_owned();
        played::Entity::insert(before).on_conflict(once).exec_without_returning(db).await?;
    }
    let change = child::ActiveModel {
        name: Set(entry.name.clone()),
        instrument: Set(entry.instrument.name().to_owned()),
        grade: Set(entry.grade.clone()),
        school_number: Set(entry.number.clone()),
        near_front: Set(entry.near_front),
        near_aisle: Set(entry.near_aisle),
        ..Default::default()
    };
    this(class, child.id).set(change).exec(db).await?;
    Ok(())
}
