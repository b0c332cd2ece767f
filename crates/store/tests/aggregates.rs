//! What the store keeps beside observations: calendars, lessons, measures, rounds, tape logs, sign-ins.
#![allow(missing_docs)]

mod support;

use std::collections::BTreeSet;

use bright_row_core::TapeEventId;
use bright_row_core::lessons::plan::{LessonPartKind, LessonPlan, PlannedBlock};
use bright_row_core::round::detail::RoundDetail;
use bright_row_core::round::event::RoundEventKind;
use bright_row_core::setup::body::SetUpPart;
use bright_row_core::setup::measures::Measures;
use bright_row_core::tapes::finger::{Finger, Spot};
use bright_row_core::tapes::log::{TapeEvent, TapeWork};
use bright_row_store::accounts::sessions::{self, Kept};
use bright_row_store::accounts::tries::{self, Counter};
use bright_row_store::children::measures::{self, Finding};
use bright_row_store::classes::calendar;
use bright_row_store::instruments::tapes::{self, Entry, Outcome as TapeOutcome};
use bright_row_store::lessons;
use bright_row_store::observations::Outcome;
use bright_row_store::rounds::{self, RoundEvent};
use bright_row_store::{ConnectionTrait, StoreError, TransactionTrait};
use chrono::{Duration, NaiveDate};
use support::school::{School, now, school};
use uuid::Uuid;

fn day(text: &str) -> NaiveDate {
    text.parse().expect("a date")
}

#[tokio::test]
async fn a_calendar_is_set_whole_and_read_back_as_it_was_set() {
    let school = school().await;
    let key = school.class.key;
    let mut settings = calendar::of_class(&school.db, key).await.expect("the calendar");
    settings.days_off = [(day("2026-12-24"), "Winter break".to_owned())].into();
    settings.short_days = [(day("2026-11-24"), (5, "Assembly".to_owned()))].into();
    settings.weekdays = vec![1, 4];
    for _ in 0..2 {
        let tx = school.db.begin().await.expect("a transaction");
        calendar::set(&tx, key, &settings).await.expect("set");
        tx.commit().await.expect("kept");
        assert_eq!(calendar::of_class(&school.db, key).await.expect("the calendar"), settings);
    }
    settings.days_off.clear();
    calendar::set(&school.db, key, &settings).await.expect("set");
    assert_eq!(calendar::of_class(&school.db, key).await.expect("the calendar"), settings, "what is gone is gone");
}

#[tokio::test]
async fn a_day_has_one_lesson_and_a_document_of_a_newer_build_is_refused_and_stays() {
    let school = school().await;
    let (key, tuesday) = (school.class.key, day("2026-11-03"));
    let plan = |minutes| LessonPlan {
        blocks: vec![PlannedBlock { kind: LessonPartKind::SetUp, minutes, drill: None, line: String::new() }],
        aims: Vec::new(),
    };
    assert_eq!(lessons::of_day(&school.db, key, tuesday).await.expect("an answer"), None);
    for minutes in [8, 10] {
        lessons::keep(&school.db, key, tuesday, &plan(minutes), school.director).await.expect("kept");
    }
    assert_eq!(lessons::of_day(&school.db, key, tuesday).await.expect("an answer"), Some(plan(10)));
    assert_eq!(lessons::of_day(&school.db, key, day("2026-11-05")).await.expect("an answer"), None);
    let newer = "update lesson set plan = jsonb_set(plan, '{version}', '99')";
    school.db.execute_unprepared(newer).await.expect("a newer build wrote it");
    let refused = lessons::of_day(&school.db, key, tuesday).await;
    assert!(matches!(refused, Err(StoreError::Unreadable { what: "lesson", .. })), "{refused:?}");
}

#[tokio::test]
async fn of_each_measure_the_latest_counts_and_a_measuring_sent_twice_is_one() {
    let school = school().await;
    let (key, [ada, _]) = (school.class.key, school.children);
    let arm = |mm| Measures { arm_mm: Some(mm), ..Measures::default() };
    let height = Measures { height_mm: Some(1310.0), ..Measures::default() };
    let first = Uuid::now_v7();
    let taken = [
        (first, "2026-09-08", arm(520.0)),
        (Uuid::now_v7(), "2026-10-06", height),
        (Uuid::now_v7(), "2026-10-20", arm(523.0)),
        (first, "2026-09-08", arm(520.0)),
    ];
    for (id, on, measured) in taken {
        measures::add(&school.db, key, ada, id, day(on), &measured).await.expect("added");
    }
    let known = measures::of_class(&school.db, key).await.expect("the measures");
    let known = known[&ada];
    assert_eq!((known.measures.arm_mm, known.measures.height_mm), (Some(523.0), Some(1310.0)));
    assert_eq!(known.last, Some(day("2026-10-20")));
    for (mm, minute) in [(380.0, 1), (395.0, 2)] {
        let finding = Finding { mm: Some(mm), words: String::new(), at: now() + Duration::minutes(minute) };
        let id = Uuid::now_v7();
        measures::add_finding(&school.db, key, ada, id, SetUpPart::Seat, &finding).await.expect("added");
    }
    let found = measures::findings(&school.db, key, school.children.into_iter()).await.expect("the findings");
    assert_eq!(found[&ada][&SetUpPart::Seat].mm, Some(395.0), "the latest of a part");
}

fn event(school: &School, kind: RoundEventKind, minutes_ago: i64) -> RoundEvent {
    RoundEvent {
        id: Uuid::now_v7(),
        round: Uuid::from_u128(7).into(),
        kind,
        device: "tablet".to_owned(),
        detail: RoundDetail::default(),
        happened_at: now() - Duration::minutes(minutes_ago),
        account: school.director,
        children: vec![(school.children[0], vec!["hold.tall".to_owned()])],
    }
}

#[tokio::test]
async fn an_event_of_a_round_sent_twice_is_one_and_events_come_back_in_their_order() {
    let school = school().await;
    let (start, visit) = (event(&school, RoundEventKind::Start, 9), event(&school, RoundEventKind::Visited, 3));
    let add =
        async |events: &[RoundEvent]| rounds::add(&school.db, school.class.key, events, now()).await.expect("added");
    assert_eq!(add(&[visit.clone(), start.clone()]).await, [Outcome::Stored, Outcome::Stored]);
    assert_eq!(add(std::slice::from_ref(&start)).await, [Outcome::Known]);
    let since = now() - Duration::hours(1);
    let read = rounds::since(&school.db, school.class.key, since).await.expect("the events");
    assert_eq!(
        read.iter().map(|event| event.kind).collect::<Vec<_>>(),
        [RoundEventKind::Start, RoundEventKind::Visited]
    );
    assert_eq!(read[1].children, visit.children);
    let none = rounds::since(&school.db, school.class.key, now()).await.expect("the events");
    assert!(none.is_empty(), "only what happened since");
    let refused = school.db.execute_unprepared("update round_event set device = 'other'").await;
    assert!(refused.expect_err("append-only").to_string().contains("append-only"));
}

#[tokio::test]
async fn an_entry_of_a_tape_log_is_kept_once_and_the_record_follows() {
    let school = school().await;
    let (program, violin) = (school.class.key.program, school.instrument("V-01").await);
    let entry = |minute, work| Entry {
        asset: violin,
        event: TapeEvent {
            id: TapeEventId::from(Uuid::now_v7()),
            at: now() - Duration::hours(1) + Duration::minutes(minute),
            work,
        },
        account: school.director,
    };
    let spots: BTreeSet<Spot> = [Spot::Finger(Finger::parse("1").expect("a finger"))].into();
    let measured = entry(1, TapeWork::Measured { length_mm: 327.0 });
    let placed = entry(2, TapeWork::Placed { spots, strips: None });
    let add = async |entries: &[Entry]| tapes::add(&school.db, program, entries, now()).await.expect("added");
    // The later one first: the log is folded in the order of time, not of arrival.
    assert_eq!(add(std::slice::from_ref(&placed)).await, [TapeOutcome::Stored]);
    assert_eq!(add(&[measured.clone(), placed.clone()]).await, [TapeOutcome::Stored, TapeOutcome::Known]);
    let nowhere = Entry { asset: Uuid::now_v7().into(), ..entry(3, TapeWork::Held) };
    assert_eq!(add(&[nowhere]).await, [TapeOutcome::NoInstrument]);
    let taken = Entry { event: TapeEvent { work: TapeWork::Held, ..placed.event.clone() }, ..placed.clone() };
    assert_eq!(add(&[taken]).await, [TapeOutcome::IdTaken]);
    let kept = tapes::records(&school.db, program).await.expect("the records");
    assert_eq!((kept[&violin].length_mm, kept[&violin].spots.len()), (Some(327.0), 1));
    assert_eq!(kept, tapes::rebuild(&school.db, program).await.expect("a rebuild"));
    let log = tapes::log(&school.db, program, violin).await.expect("the log");
    assert_eq!(
        log.iter().map(|logged| &logged.event).collect::<Vec<_>>(),
        [&placed.event, &measured.event],
        "newest first"
    );
    assert!(log.iter().all(|logged| logged.by == "The director"));
}

#[tokio::test]
async fn sign_ins_that_go_wrong_wait_longer_and_longer_up_to_a_minute_and_one_that_goes_well_forgets_them() {
    let school = school().await;
    let counter = |byte: u8| [Counter { hash: vec![byte; 32], free: 5 }];
    let mut moment = now();
    let mut pauses = Vec::new();
    for _ in 0..16 {
        while let Some(until) = tries::begin(&school.db, &counter(7), moment).await.expect("an answer") {
            pauses.push((until - moment).num_seconds());
            moment = until;
        }
    }
    assert!(pauses.windows(2).all(|two| two[0] <= two[1]), "never shorter: {pauses:?}");
    assert_eq!((pauses.first(), pauses.last()), (Some(&1), Some(&60)));
    let other = tries::begin(&school.db, &counter(8), moment).await.expect("an answer");
    assert_eq!(other, None, "another address does not wait");
    tries::went_well(&school.db, &counter(7)).await.expect("forgotten");
    assert_eq!(tries::begin(&school.db, &counter(7), moment).await.expect("an answer"), None);
}

#[tokio::test]
async fn sessions_are_found_together_and_nobody_waits_for_another_process_to_note_their_use() {
    let school = school().await;
    let hashes: Vec<Vec<u8>> = (0..3_u8).map(|number| vec![number; 32]).collect();
    let begun = now() - Duration::hours(1);
    for hash in &hashes[..2] {
        let session = Kept {
            id: Uuid::now_v7(),
            account: None,
            device: "Tablet".to_owned(),
            data: serde_json::json!({ "of": hash[0] }),
            begun_at: begun,
            last_used_at: begun,
            expires_at: now() + Duration::hours(1),
        };
        sessions::add(&school.db, hash, &session).await.expect("added");
    }
    let load = async || sessions::load(&school.db, &hashes, now(), Duration::hours(2)).await.expect("an answer");
    // Another process is at the first one's row.
    let other = school.db.begin().await.expect("a transaction");
    other.execute_unprepared("update web_session set device = device where data ->> 'of' = '0'").await.expect("held");
    let found = load().await;
    assert_eq!(found.keys().collect::<Vec<_>>(), hashes[..2].iter().collect::<Vec<_>>());
    other.rollback().await.expect("let go");
    let used = |found: &std::collections::BTreeMap<Vec<u8>, Kept>| {
        hashes[..2].iter().map(|hash| found[hash].last_used_at == begun).collect::<Vec<_>>()
    };
    assert_eq!(used(&load().await), [true, false], "the second one's use was noted");
    assert_eq!(used(&load().await), [false, false], "the first one's with the next use");
    let quiet = sessions::load(&school.db, &hashes, now() + Duration::hours(3), Duration::hours(2)).await;
    assert!(quiet.expect("an answer").is_empty(), "over, and quiet for too long");
}
