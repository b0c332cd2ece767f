//! When a class meets, as it is set: weekdays, days off, short days.

use std::collections::BTreeMap;

use chrono::NaiveDate;
use chrono_tz::Tz;
use sea_orm::ActiveValue::Set;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, QueryFilter};

use crate::classes::ClassKey;
use crate::entity::{class, day_off, short_day};
use crate::error::StoreError;
use crate::rows::small;

/// When a class meets, as it is set.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CalendarSettings {
    /// Where midnight is.
    pub time_zone: Tz,
    /// The first day it may meet.
    pub first_day: NaiveDate,
    /// The last.
    pub last_day: NaiveDate,
    /// On which weekdays, 1 for Monday.
    pub weekdays: Vec<i16>,
    /// Days without a meeting, with a reason.
    pub days_off: BTreeMap<NaiveDate, String>,
    /// Meetings with minutes of their own for looking, with a reason.
    pub short_days: BTreeMap<NaiveDate, (u32, String)>,
}

/// When a class meets, as it is set.
pub async fn of_class(db: &impl ConnectionTrait, key: ClassKey) -> Result<CalendarSettings, StoreError> {
    let (program, class) = (key.program.uuid(), key.class.uuid());
    let row = class::Entity::find_by_id((program, class)).one(db).await?.ok_or(StoreError::Reference)?;
    let off = day_off::Entity::find()
        .filter(day_off::Column::ProgramId.eq(program))
        .filter(day_off::Column::ClassId.eq(class))
        .all(db)
        .await?;
    let short = short_day::Entity::find()
        .filter(short_day::Column::ProgramId.eq(program))
        .filter(short_day::Column::ClassId.eq(class))
        .all(db)
        .await?;
    let unreadable = || StoreError::Unreadable { what: "time zone", value: row.time_zone.clone() };
    Ok(CalendarSettings {
        time_zone: row.time_zone.parse().map_err(|_| unreadable())?,
        first_day: row.first_day,
        last_day: row.last_day,
        weekdays: row.weekdays,
        days_off: off.into_iter().map(|row| (row.day, row.reason)).collect(),
        short_days: short
            .into_iter()
            .map(|row| (row.day, (u32::try_from(row.minutes).unwrap_or_default(), row.reason)))
            .collect(),
    })
}

/// Sets when a class meets, whole; to be called in a transaction, with the standings renewed after it. It has been checked
/// by [`bright_row_core::progress::calendar::MeetingCalendar::new`].
pub async fn set(db: &impl ConnectionTrait, key: ClassKey, settings: &CalendarSettings) -> Result<(), StoreError> {
    let (program, class) = (key.program.uuid(), key.class.uuid());
    let change = class::ActiveModel {
        first_day: Set(settings.first_day),
        last_day: Set(settings.last_day),
        weekdays: Set(settings.weekdays.clone()),
        ..Default::default()
    };
    class::Entity::update_many()
        .set(change)
        .filter(class::Column::ProgramId.eq(program))
        .filter(class::Column::ClassId.eq(class))
        .exec(db)
        .await?;
    day_off::Entity::delete_many()
        .filter(day_off::Column::ProgramId.eq(program))
        .filter(day_off::Column::ClassId.eq(class))
        .exec(db)
        .await?;
    short_day::Entity::delete_many()
        .filter(short_day::Column::ProgramId.eq(program))
        .filter(short_day::Column::ClassId.eq(class))
        .exec(db)
        .await?;
    let off: Vec<_> = settings
        .days_off
        .iter()
        .map(|(day, reason)| day_off::ActiveModel {
            program_id: Set(program),
            class_id: Set(class),
            day: Set(*day),
            reason: Set(reason.clone()),
        })
        .collect();
    if !off.is_empty() {
        day_off::Entity::insert_many(off).exec_without_returning(db).await?;
    }
    let short: Vec<_> = settings
        .short_days
        .iter()
        .map(|(day, (minutes, reason))| short_day::ActiveModel {
            program_id: Set(program),
            class_id: Set(class),
            day: Set(*day),
            minutes: Set(small(*minutes)),
            reason: Set(reason.clone()),
        })
        .collect();
    if !short.is_empty() {
        short_day::Entity::insert_many(short).exec_without_returning(db).await?;
    }
    Ok(())
}
