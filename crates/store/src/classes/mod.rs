//! Classes and their calendars, always seen through somebody's membership.

mod admission;
pub mod calendar;
pub mod calendar_address;
pub mod groups;
pub mod keeping;
pub mod room;
pub mod settings;
pub mod touched;

use crate::rows::small;
use crate::versioned;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::edits::Edits;
use bright_row_core::lessons::home::HomeSettings;
use bright_row_core::progress::calendar::MeetingCalendar;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_core::{ClassId, ProgramId};
use chrono::{DateTime, NaiveDate, Utc, Weekday};
use chrono_tz::Tz;
use sea_orm::ActiveValue::Set;
use sea_orm::prelude::Json;
use sea_orm::{ColumnTrait, ConnectionTrait, EntityTrait, FromQueryResult, QueryFilter, QueryOrder, Statement};
use uuid::Uuid;

use crate::entity::{class, day_off};
use crate::error::StoreError;
pub use admission::{Admission, Asks, LetIn, Opened, admission_with_touched, admissions, all_for_account, for_account};
pub(crate) use admission::{confirmed, confirming, confirming_values};
pub use touched::touch;
pub(crate) use touched::{TOUCH, touch_values};

/// A class of a program: the two keys that every query about it names.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct ClassKey {
    /// Whose.
    pub program: ProgramId,
    /// Which.
    pub class: ClassId,
}

/// What a round keeps to.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct RoundSettings {
    /// Seconds to walk to the next child and greet it.
    pub visit_seconds: u32,
    /// The most checks at one visit.
    pub max_checks: u32,
    /// A child not looked at for so many meetings must be seen.
    pub must_see_after: u32,
}

impl Default for RoundSettings {
    fn default() -> Self {
        Self { visit_seconds: 8, max_checks: 3, must_see_after: 4 }
    }
}

/// A class with everything that its rules need.
#[derive(Clone, Debug, PartialEq)]
pub struct Class {
    /// Its keys.
    pub key: ClassKey,
    /// Its name.
    pub name: String,
    /// The school's program.
    pub program_name: String,
    /// When it meets.
    pub calendar: MeetingCalendar,
    /// How soon things are looked at again.
    pub rhythm: Rhythm,
    /// What a round keeps to.
    pub round: RoundSettings,
    /// Meetings with minutes of their own for looking.
    pub short_days: BTreeMap<NaiveDate, u32>,
    /// What it chose where teachers disagree.
    pub choices: Choices,
    /// What it changed on the checklist.
    pub edits: Edits,
    /// How it lays its markers.
    pub marker_settings: MarkerSettings,
    /// How it practises at home.
    pub home_settings: HomeSettings,
    /// Since when it is over: it can be read and changes no more.
    pub archived_at: Option<DateTime<Utc>>,
    /// Whether its program lets a device's camera be a mirror.
    pub mirror: bool,
    /// Another one with every change of what is set in its program: with the same one everything here is as it was.
    pub settled: Uuid,
}

/// A new class.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NewClass {
    /// Its keys.
    pub key: ClassKey,
    /// Its name.
    pub name: String,
    /// Where midnight is.
    pub time_zone: Tz,
    /// The first day it may meet.
    pub first_day: NaiveDate,
    /// The last.
    pub last_day: NaiveDate,
    /// On which weekdays.
    pub weekdays: Vec<Weekday>,
    /// Days without a meeting, with a reason.
    pub days_off: Vec<(NaiveDate, String)>,
    /// How soon things are looked at again.
    pub rhythm: Rhythm,
    /// What a round keeps to.
    pub round: RoundSettings,
}

/// Adds a class; to be called in a transaction. The calendar has been checked by [`MeetingCalendar::new`].
pub async fn add(db: &impl ConnectionTrait, new: &NewClass) -> Result<(), StoreError> {
    let (program_id, class_id) = (new.key.program.uuid(), new.key.class.uuid());
    let weekdays = new.weekdays.iter().map(|day| i16::try_from(day.number_from_monday()).expect("1 to 7")).collect();
    let row = class::ActiveModel {
        program_id: Set(program_id),
        class_id: Set(class_id),
        name: Set(new.name.clone()),
        time_zone: Set(new.time_zone.name().to_owned()),
        first_day: Set(new.first_day),
        last_day: Set(new.last_day),
        weekdays: Set(weekdays),
        recheck_alone: Set(small(new.rhythm.alone)),
        recheck_lasting: Set(small(new.rhythm.lasting)),
        recheck_longest: Set(small(new.rhythm.longest)),
        tapes_first: Set(small(new.rhythm.tapes_first)),
        tapes_later: Set(small(new.rhythm.tapes_later)),
        must_see_after: Set(small(new.round.must_see_after)),
        round_visit_seconds: Set(small(new.round.visit_seconds)),
        round_max_checks: Set(small(new.round.max_checks)),
        created_at: Set(Utc::now()),
        // The room is set later; until then the database's own defaults stand.
        ..Default::default()
    };
    class::Entity::insert(row).exec_without_returning(db).await?;
    let days_off = new.days_off.iter().map(|(day, reason)| day_off::ActiveModel {
        program_id: Set(program_id),
        class_id: Set(class_id),
        day: Set(*day),
        reason: Set(reason.clone()),
    });
    let days_off: Vec<_> = days_off.collect();
    if !days_off.is_empty() {
        day_off::Entity::insert_many(days_off).exec_without_returning(db).await?;
    }
    Ok(())
}

#[derive(FromQueryResult)]
struct Row {
    program_id: Uuid,
    class_id: Uuid,
    name: String,
    program_name: String,
    time_zone: String,
    first_day: NaiveDate,
    last_day: NaiveDate,
    weekdays: Vec<i16>,
    recheck_alone: i32,
    recheck_lasting: i32,
    recheck_longest: i32,
    tapes_first: i32,
    tapes_later: i32,
    must_see_after: i32,
    round_visit_seconds: i32,
    round_max_checks: i32,
    days_off: Vec<NaiveDate>,
    short_days: Json,
    choices: Json,
    checklist_edits: Json,
    marker_settings: Json,
    home_settings: Json,
    archived_at: Option<DateTime<Utc>>,
    mirror: bool,
    settled: Uuid,
}

impl Row {
    fn read(self) -> Result<Class, StoreError> {
        let unreadable = |what| StoreError::Unreadable { what, value: self.class_id.to_string() };
        let count = |number: i32| u32::try_from(number).map_err(|_| unreadable("class setting"));
        let time_zone: Tz = self.time_zone.parse().map_err(|_| unreadable("time zone"))?;
        let weekdays: Option<Vec<Weekday>> = self
            .weekdays
            .iter()
            .map(|day| u8::try_from(*day).ok()?.checked_sub(1).and_then(|day| Weekday::try_from(day).ok()))
            .collect();
        let weekdays = weekdays.ok_or_else(|| unreadable("weekday"))?;
        let days_off: BTreeSet<NaiveDate> = self.days_off.iter().copied().collect();
        let calendar = MeetingCalendar::new(time_zone, self.first_day, self.last_day, &weekdays, &days_off)
            .map_err(|_| unreadable("calendar"))?;
        let rhythm = Rhythm {
            alone: count(self.recheck_alone)?,
            lasting: count(self.recheck_lasting)?,
            longest: count(self.recheck_longest)?,
            tapes_first: count(self.tapes_first)?,
            tapes_later: count(self.tapes_later)?,
        };
        let round = RoundSettings {
            visit_seconds: count(self.round_visit_seconds)?,
            max_checks: count(self.round_max_checks)?,
            must_see_after: count(self.must_see_after)?,
        };
        let short_days = serde_json::from_value(self.short_days).map_err(|_| unreadable("short day"))?;
        let choices = serde_json::from_value(self.choices).map_err(|_| unreadable("choice"))?;
        let edits = versioned::read(self.checklist_edits)?;
        let marker_settings = versioned::read(self.marker_settings)?;
        let home_settings = versioned::read(self.home_settings)?;
        let key = ClassKey { program: self.program_id.into(), class: self.class_id.into() };
        Ok(Class {
            key,
            name: self.name,
            program_name: self.program_name,
            calendar,
            rhythm,
            round,
            short_days,
            choices,
            edits,
            marker_settings,
            home_settings,
            mirror: self.mirror,
            archived_at: self.archived_at,
            settled: self.settled,
        })
    }
}

/// A class with its days off in one reading: every request about a class begins with it.
const COLUMNS: &str = "
    c.program_id, c.class_id, c.name, p.name as program_name, c.time_zone, c.first_day, c.last_day,
    c.weekdays, c.recheck_alone, c.recheck_lasting, c.recheck_longest, c.tapes_first, c.tapes_later, c.must_see_after,
    c.round_visit_seconds, c.round_max_checks, c.checklist_edits, c.marker_settings, c.home_settings,
    c.archived_at, p.settled,
    coalesce((select r.mirror from retention r where r.program_id = c.program_id), true) as mirror,
    (select coalesce(jsonb_object_agg(h.key, h.choice), '{}') from class_choice h
     where h.program_id = c.program_id and h.class_id = c.class_id) as choices,
    (select coalesce(jsonb_object_agg(s.day, s.minutes), '{}') from short_day s
     where s.program_id = c.program_id and s.class_id = c.class_id) as short_days,
    array(select day from day_off d
          where d.program_id = c.program_id and d.class_id = c.class_id) as days_off
    from class c
    join program p on p.program_id = c.program_id";

fn readable<T>(read: Vec<Result<T, StoreError>>) -> Vec<T> {
    let said = |error: StoreError| tracing::error!(?error, "a class cannot be read and is left out");
    read.into_iter().filter_map(|one| one.map_err(said).ok()).collect()
}

/// Classes of a program by name, all that can be read or those of these ids; whose they are has been asked before.
pub async fn of_program(
    db: &impl ConnectionTrait,
    program: ProgramId,
    only: Option<BTreeSet<ClassId>>,
) -> Result<Vec<Class>, StoreError> {
    let some = only.is_some();
    let only = only.map(|ids| ids.into_iter().map(ClassId::uuid).collect::<Vec<_>>());
    let sql = format!(
        "select {COLUMNS} where c.program_id = $1 and ($2::uuid[] is null or c.class_id = any($2)) order by c.name, c.class_id"
    );
    let values = [program.uuid().into(), only.into()];
    let found = Row::find_by_statement(Statement::from_sql_and_values(db.get_database_backend(), sql, values));
    let read = found.all(db).await?.into_iter().map(Row::read).collect::<Vec<_>>();
    if some { read.into_iter().collect() } else { Ok(readable(read)) }
}

/// A class by its key; whose it is has been asked before.
pub async fn one(db: &impl ConnectionTrait, key: ClassKey) -> Result<Class, StoreError> {
    of_program(db, key.program, Some([key.class].into())).await?.pop().ok_or(StoreError::Reference)
}

/// Whether a class of any program has this id, held against others who ask until the transaction ends: notices and addresses
/// name a class by it alone.
pub async fn is_taken(db: &impl ConnectionTrait, class: ClassId) -> Result<bool, StoreError> {
    let hold = "select pg_advisory_xact_lock(hashtextextended($1, 2))";
    let values = [class.uuid().to_string().into()];
    db.query_one_raw(Statement::from_sql_and_values(db.get_database_backend(), hold, values)).await?;
    let found = class::Entity::find().filter(class::Column::ClassId.eq(class.uuid())).one(db).await?;
    Ok(found.is_some())
}

/// The classes whose standings were last computed whole by other rules than these.
pub async fn by_other_rules(db: &impl ConnectionTrait, rules: &str) -> Result<Vec<ClassKey>, StoreError> {
    let other = class::Entity::find().filter(class::Column::Rules.ne(rules));
    let rows = other.order_by_asc(class::Column::Name).all(db).await?;
    Ok(rows.into_iter().map(|row| ClassKey { program: row.program_id.into(), class: row.class_id.into() }).collect())
}

/// Every class there is, for the command line: nobody who signs in is answered with it.
pub async fn every(db: &impl ConnectionTrait) -> Result<Vec<ClassKey>, StoreError> {
    let rows = class::Entity::find().order_by_asc(class::Column::Name).all(db).await?;
    Ok(rows.into_iter().map(|row| ClassKey { program: row.program_id.into(), class: row.class_id.into() }).collect())
}

/// Notes by which rules the standings of a class were computed; to be called in the transaction that computed them.
pub async fn set_rules(db: &impl ConnectionTrait, class: ClassKey, rules: &str) -> Result<(), StoreError> {
    class::Entity::update_many()
        .set(class::ActiveModel { rules: Set(rules.to_owned()), ..Default::default() })
        .filter(class::Column::ProgramId.eq(class.program.uuid()))
        .filter(class::Column::ClassId.eq(class.class.uuid()))
        .exec(db)
        .await?;
    Ok(())
}
