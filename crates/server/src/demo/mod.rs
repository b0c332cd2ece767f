//! The invented school of `demo/school.toml`, with eight weeks of history that ends the day before it is loaded.

mod answers;
mod care;
mod groups;
mod history;
mod school;
mod store_room;
mod tape_log;

use bright_row_store::classes::settings;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::loader::Content;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::role::Role;
use bright_row_core::setup::rows::Seat;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_core::{AccountId, ProgramId};
use bright_row_store::accounts::Made;
use bright_row_store::accounts::{self, Account, Credentials, people as people_of};
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, ClassKey, NewClass, RoundSettings};
use bright_row_store::instruments::tapes;
use bright_row_store::{DatabaseConnection, StoreError, TransactionTrait, observations};
use chrono::{DateTime, Datelike, Days, NaiveDate, NaiveTime, Utc, Weekday};
use rand::Rng;
use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::SeedableRng;
use uuid::Uuid;

use crate::caches::rules;
use crate::passwords::PasswordDesk;
use school::School;

/// The password of the demo's accounts.
pub const PASSWORD: &str = "bright-row-demo";
/// Fixed, so that the same day always gives the same school.
const SEED: u64 = 36;
/// Days of history before the day it is loaded.
const PAST_DAYS: u64 = 8 * 7;
/// Days from the first meeting to the last.
const YEAR_DAYS: u64 = 31 * 7 - 1;
/// Observations taken in at once.
const BATCH: usize = 500;

/// Loads the school, all of it or nothing; answers whether it did: a database that holds an account is left alone.
pub async fn load(db: &DatabaseConnection, content: &Content, now: DateTime<Utc>) -> Result<bool, StoreError> {
    if !accounts::nobody_yet(db).await? {
        return Ok(false);
    }
    let school = School::read();
    let mut chance = ChaCha8Rng::seed_from_u64(SEED);
    let today = now.with_timezone(&school.time_zone).date_naive();
    let first_day = today - Days::new(PAST_DAYS);
    // Both classes begin their bows at the balance point; by now the one that is some weeks old has come to the frog.
    let none = BTreeMap::new();
    let turning =
        |chosen_on| content.approach.turning_days((&school.choices, &none), (&school.choices, &none), chosen_on);
    let edits = Edits { turns_on: turning(first_day), ..school.edits() };
    let now_chosen = content.approach.on(today, &school.choices, &edits.turns_on);
    let checklist = &content.checklist(&now_chosen, &edits);
    let key = ClassKey { program: ProgramId::from(id(&mut chance, now)), class: id(&mut chance, now).into() };
    let tx = db.begin().await?;
    accounts::add_program(&tx, key.program, &school.program).await?;
    let mut people = Vec::new();
    for (person, role) in [(&school.director, Role::Owner), (&school.assistant, Role::Assistant)] {
        let account = Account {
            id: AccountId::from(id(&mut chance, now)),
            display_name: person.name.clone(),
            comes_back: Some(Credentials {
                email: person.email.clone(),
                password_hash: PasswordDesk::default().hash(PASSWORD.to_owned()).await,
            }),
            demo: true,
        };
        accounts::add(&tx, &account).await?;
        accounts::join(&tx, key.program, account.id, role).await?;
        people.push(account.id);
    }
    classes::add(&tx, &new_class(&school, key, first_day, today)).await?;
    settings::choose(&tx, key, &school.choices).await?;
    settings::write_edits(&tx, key, &edits).await?;
    let class = classes::one(&tx, key).await?;
    let mut members = Vec::new();
    for (row, seats) in (1..).zip(&school.rows) {
        for (number, pupil) in (1..).zip(&seats.children) {
            let seat = Some(Seat { row, number });
            let child_id = id(&mut chance, now).into();
            let child = Child { seat, ..Child::new(child_id, pupil.name.clone(), pupil.instrument, first_day) };
            members.push((child, pupil, seats.late_by_meetings));
        }
    }
    let all: Vec<Child> = members.iter().map(|(child, ..)| child.clone()).collect();
    children::add(&tx, key, &all).await?;
    // A chance of its own: what is added to the store room later does not change the history.
    let mut other_chance = ChaCha8Rng::seed_from_u64(SEED + 1);
    let begins = class.calendar.date_of(1).unwrap_or(first_day);
    let begins = begins.and_time(NaiveTime::MIN).and_utc();
    let made = Made { by: people[0], at: begins };
    let lent = store_room::set_up(&tx, key, &content.instruments, &all, (first_day, made), &mut other_chance).await?;
    let to_set_up = ClassKey { class: id(&mut other_chance, now).into(), ..key };
    let second =
        NewClass { key: to_set_up, name: school.second_class.clone(), ..new_class(&school, key, first_day, today) };
    classes::add(&tx, &second).await?;
    let bow_way = school.choices.iter().filter(|(key, _)| edits.turns_on.contains_key(*key));
    settings::choose(&tx, to_set_up, &bow_way.map(|(key, option)| (key.clone(), option.clone())).collect()).await?;
    settings::write_edits(&tx, to_set_up, &Edits { turns_on: turning(today), ..Edits::default() }).await?;
    let story = history::Story {
        class: &class,
        checklist,
        causes: &content.causes,
        order: Order::of(&content.approach, &school.choices),
        time_zone: school.time_zone,
        director: people[0],
        assistant: people[1],
        until: today,
    };
    let observations = story.tell(&members, &mut chance);
    for batch in observations.chunks(BATCH) {
        observations::add(&tx, key, content, batch).await?;
    }
    let sets = content.instruments.iter();
    let sets = sets.map(|(on, facts)| (*on, MarkerSet::new(facts, &school.choices, class.marker_settings))).collect();
    let entries = tape_log::tell(&lent, &sets, &observations, people[0], &mut other_chance);
    for batch in entries.chunks(BATCH) {
        tapes::add(&tx, key.program, batch, now).await?;
    }
    care::take(&tx, key, &school, &members, &observations, people[0]).await?;
    for group in groups::of(&class, checklist, &members, &observations, &mut other_chance) {
        classes::groups::add(&tx, key, &group, people[0]).await?;
    }
    answers::take(&tx, key, &class, &members, (people[1], now), &mut other_chance).await?;
    for class in [key, to_set_up] {
        classes::set_rules(&tx, class, &rules()).await?;
    }
    for class in [key.class, to_set_up.class] {
        people_of::give_class(&tx, key.program, people[1], class).await?;
    }
    tx.commit().await?;
    Ok(true)
}

fn new_class(school: &School, key: ClassKey, first_day: NaiveDate, today: NaiveDate) -> NewClass {
    // One day off behind, and two ahead.
    let days_off: BTreeSet<NaiveDate> = [4 * 7, 10 * 7, 11 * 7].map(|days| first_day + Days::new(days)).into();
    NewClass {
        key,
        name: school.class.clone(),
        time_zone: school.time_zone,
        first_day,
        last_day: first_day + Days::new(YEAR_DAYS),
        weekdays: meeting_days(today.weekday()).to_vec(),
        days_off: days_off.into_iter().map(|day| (day, "School closed".to_owned())).collect(),
        rhythm: Rhythm::default(),
        round: RoundSettings::default(),
    }
}

/// Two school days some days apart, today among them if it is one.
fn meeting_days(today: Weekday) -> [Weekday; 2] {
    match today {
        Weekday::Tue | Weekday::Fri => [Weekday::Tue, Weekday::Fri],
        Weekday::Wed => [Weekday::Mon, Weekday::Wed],
        Weekday::Mon | Weekday::Thu | Weekday::Sat | Weekday::Sun => [Weekday::Mon, Weekday::Thu],
    }
}

/// A `UUIDv7` of a moment whose random part comes from the demo's own chance.
fn id(chance: &mut impl Rng, moment: DateTime<Utc>) -> Uuid {
    let mut bytes = [0; 10];
    chance.fill_bytes(&mut bytes);
    let millis = u64::try_from(moment.timestamp_millis()).unwrap_or_default();
    uuid::Builder::from_unix_timestamp_millis(millis, &bytes).into_uuid()
}
