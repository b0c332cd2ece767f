//! Requests that meet in the database: whoever waited for another sees what that one changed.

mod support;

use bright_row_core::ChildId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, ClassKey, NewClass, RoundSettings};
use bright_row_store::database::{MAX_CONNECTIONS, Pool, pool};
use bright_row_store::instruments::loans;
use bright_row_store::live::{Heard, Listener, Notice};
use bright_row_store::{ConnectionTrait, DatabaseConnection, DatabaseTransaction, TransactionTrait};
use chrono::{Duration, Weekday};
use reqwest::{Method, StatusCode};
use sea_orm::Statement;
use serde_json::{Value, json};
use support::{Server, look, now, server};
use uuid::Uuid;

/// Everything that reads or writes observations waits until this is dropped.
async fn hold_observations(db: &DatabaseConnection) -> DatabaseTransaction {
    let held = db.begin().await.expect("a transaction");
    held.execute_unprepared("lock table observation in access exclusive mode").await.expect("held");
    held
}

/// Returns once so many statements of this database wait for a lock.
async fn until_waiting(held: &DatabaseTransaction, how_many: i64) {
    const SQL: &str =
        "select count(*) from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'";
    loop {
        // A transaction of its own is shown what was so at its first look.
        held.execute_unprepared("select pg_stat_clear_snapshot()").await.expect("a fresh look");
        let row =
            held.query_one_raw(Statement::from_string(held.get_database_backend(), SQL)).await.expect("an answer");
        let waiting: i64 = row.expect("a row").try_get_by_index(0).expect("a count");
        if waiting >= how_many {
            return;
        }
        tokio::task::yield_now().await;
    }
}

/// A second class of the program, which looks again much later.
async fn second_class(server: &Server) -> ClassKey {
    let key = ClassKey { program: server.key.program, class: Uuid::now_v7().into() };
    let day = |text: &str| text.parse().expect("a date");
    let new = NewClass {
        key,
        name: "Wednesday strings".to_owned(),
        time_zone: chrono_tz::Europe::Dublin,
        first_day: day("2026-09-01"),
        last_day: day("2027-06-18"),
        weekdays: vec![Weekday::Wed],
        days_off: Vec::new(),
        rhythm: Rhythm { alone: 12, lasting: 13, longest: 30, tapes_first: 14, tapes_later: 15 },
        round: RoundSettings::default(),
    };
    classes::add(&server.db, &new).await.expect("a class");
    key
}

#[tokio::test]
async fn an_observation_that_waited_for_a_change_of_rhythm_counts_by_the_new_one() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    server.observe(&[look(ada, "hold.size", 3, 7)]).await;
    let mut body = server.get("/rhythm").await["now"].clone();
    body["alone"] = json!(7);
    let held = hold_observations(&server.db).await;
    let change = async { server.send(Method::PUT, "/rhythm", Some(&body)).await };
    let seen = [look(ada, "hold.tall", 3, 0)];
    let observe = async {
        until_waiting(&held, 1).await;
        server.observe(&seen).await
    };
    let release = async {
        until_waiting(&held, 2).await;
        held.execute_unprepared("rollback").await.expect("released");
    };
    let ((status, answer), results, ()) = tokio::join!(change, observe, release);
    assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
    assert_eq!(results[0]["outcome"], "stored");
    server.assert_caches().await;
}

#[tokio::test]
async fn a_child_that_moved_while_an_observation_waited_is_not_in_the_class_any_more() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    server.observe(&[look(ada, "hold.size", 3, 7)]).await;
    let other = second_class(&server).await;
    let held = hold_observations(&server.db).await;
    let body = json!({ "class": other.class });
    let path = format!("/children/{ada}/membership");
    let change = async { server.send(Method::POST, &path, Some(&body)).await };
    let seen = [look(ada, "hold.tall", 3, 0)];
    let observe = async {
        until_waiting(&held, 1).await;
        server.observe(&seen).await
    };
    let release = async {
        until_waiting(&held, 2).await;
        held.execute_unprepared("rollback").await.expect("released");
    };
    let ((status, answer), results, ()) = tokio::join!(change, observe, release);
    assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
    assert_eq!(results[0]["outcome"], "refused", "{results:?}");
    server.assert_caches().await;
}

async fn an_instrument(server: &Server) -> Uuid {
    let violin = Uuid::now_v7();
    let body =
        json!({ "tag": "V-1", "instrument": "violin", "size": "4/4", "condition": "good", "bow": true, "case": true });
    let (status, answer) = server.send(Method::PUT, &format!("/instruments/{violin}"), Some(&body)).await;
    assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
    violin
}

async fn child_of(server: &Server, key: ClassKey, name: &str) -> ChildId {
    let id = ChildId::from(Uuid::now_v7());
    let child = Child::new(id, name.to_owned(), Instrument::Violin, "2026-09-01".parse().expect("a date"));
    children::add(&server.db, key, &[child]).await.expect("a child");
    id
}

#[tokio::test]
async fn a_look_at_an_instruments_tapes_counts_for_its_holder_by_the_settings_of_that_ones_class_which_is_told() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let other = second_class(&server).await;
    let ben = child_of(&server, other, "Ben O.").await;
    let violin = an_instrument(&server).await;
    let lend = async |key: ClassKey, child: ChildId, asset: Option<Uuid>| {
        let path = format!("{}/api/classes/{}/loans", server.url, key.class);
        let body = json!({ "pairs": [{ "child": child, "asset": asset }] });
        let status = server.status(&server.client, Method::POST, &path, Some(&body)).await;
        assert_eq!(status, StatusCode::NO_CONTENT);
    };
    let week_ago = now() - Duration::days(7);
    loans::lend(&server.db, server.key.program, &[(ada, Some(violin.into()))], week_ago).await.expect("lent");
    let seen = look(ada, "tape.holding", 3, 1);
    lend(server.key, ada, None).await;
    lend(other, ben, Some(violin)).await;
    let mut listener = Listener::begin(&server.db).await.expect("a listener");
    // It was seen while Ada had the instrument; it arrives when Ben has it.
    assert_eq!(server.observe(&[seen]).await[0]["outcome"], "stored");
    server.assert_caches().await;
    let mut notified = Vec::new();
    while !notified.contains(&other.class) {
        match listener.hear().await.expect("a notice") {
            Heard::Notice(Notice::Changed(class, _)) => notified.push(class),
            Heard::Notice(Notice::Ended(_) | Notice::Lead(..)) => {}
            Heard::Gap => panic!("the connection was lost"),
        }
        assert!(notified.len() < 2 || notified.contains(&other.class), "only {notified:?} was notified");
    }
}

#[tokio::test]
async fn whatever_is_changed_what_is_kept_follows() {
    let server = server().await;
    let [ada, ben] =
        [server.child("Ada K.", Instrument::Violin, 1).await, server.child("Ben O.", Instrument::Violin, 2).await];
    let holds = |child: ChildId, days_ago: i64| {
        let observed_at = now() - Duration::days(days_ago);
        json!({ "id": Uuid::now_v7(), "child": child, "target": "hold.1", "except": [], "observedAt": observed_at })
    };
    let seen: Vec<Value> = [ada, ben]
        .iter()
        .flat_map(|child| [holds(*child, 14), holds(*child, 7), look(*child, "hold.size", 3, 1)])
        .collect();
    for result in server.observe(&seen).await {
        assert_eq!(result["outcome"], "stored", "{result}");
    }
    let must = async |method: Method, rest: &str, body: &Value| {
        let (status, answer) = server.send(method, rest, Some(body)).await;
        assert!(status.is_success(), "{rest}: {answer}");
        server.assert_caches().await;
    };
    let membership = format!("/children/{ben}/membership");
    must(Method::POST, &membership, &json!("left")).await;
    let mut rhythm = server.get("/rhythm").await["now"].clone();
    rhythm["alone"] = json!(7);
    must(Method::PUT, "/rhythm", &rhythm).await;
    let mut calendar = server.get("/calendar").await["set"].clone();
    calendar["meetingDays"] = json!([1, 2, 3, 4, 5]);
    must(Method::PUT, "/calendar", &calendar).await;
    must(Method::POST, &membership, &json!("here")).await;
    must(Method::PUT, "/checklist/hold.size", &json!({ "off": true, "texts": [] })).await;
    must(Method::PUT, "/checklist/hold.size", &json!({ "off": false, "texts": [] })).await;
}

#[tokio::test]
async fn looks_at_tapes_that_go_with_a_removed_child_do_not_count_for_who_has_its_instrument_now() {
    let server = server().await;
    let [ada, ben] =
        [server.child("Ada K.", Instrument::Violin, 1).await, server.child("Ben O.", Instrument::Violin, 2).await];
    let violin = an_instrument(&server).await;
    let week_ago = now() - Duration::days(9);
    loans::lend(&server.db, server.key.program, &[(ada, Some(violin.into()))], week_ago).await.expect("lent");
    assert_eq!(server.observe(&[look(ada, "tape.holding", 3, 7)]).await[0]["outcome"], "stored");
    let body = json!({ "pairs": [{ "child": ada, "asset": null }, { "child": ben, "asset": violin }] });
    assert_eq!(server.send(Method::POST, "/loans", Some(&body)).await.0, StatusCode::NO_CONTENT);
    server.assert_caches().await;
    assert_eq!(server.remove(ada, "Ada K.").await, StatusCode::NO_CONTENT);
    server.assert_caches().await;
}

/// Makes the first so many inserts into a table fail as PostgreSQL fails a transaction that it undoes.
async fn undo_inserts(db: &DatabaseConnection, table: &str, how_many: u32) {
    let sql = format!(
        "create sequence tries;
         create function undo() returns trigger language plpgsql as $$ begin
           if nextval('tries') <= {how_many} then raise exception 'undone' using errcode = '40P01'; end if;
           return new;
         end $$;
         create trigger undo before insert on {table} for each statement execute function undo();"
    );
    db.execute_unprepared(&sql).await.expect("a trigger");
}

#[tokio::test]
async fn a_request_whose_transaction_the_database_undid_is_answered_anew() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    undo_inserts(&server.db, "observation", 3).await;
    assert_eq!(server.observe(&[look(ada, "hold.size", 3, 0)]).await[0]["outcome"], "stored");
    server.assert_caches().await;
}

#[tokio::test]
async fn one_that_is_undone_every_time_is_asked_to_come_again() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    undo_inserts(&server.db, "observation", 4).await;
    let seen = json!({ "observations": [look(ada, "hold.size", 3, 0)] });
    let answer = server.client.post(server.path("/observations")).json(&seen).send().await.expect("an answer");
    assert_eq!(answer.status(), StatusCode::SERVICE_UNAVAILABLE);
    assert_eq!(answer.headers()["retry-after"], "2");
    assert_eq!(answer.json::<Value>().await.expect("JSON")["type"], "/problems/too-busy");
    let answer = server.client.post(server.path("/observations")).json(&seen).send().await.expect("an answer");
    assert_eq!(answer.status(), StatusCode::OK, "the same again goes through");
}

#[tokio::test]
async fn while_every_connection_is_taken_requests_are_asked_to_come_again_and_sessions_are_still_read() {
    let server = server().await;
    let free = |pool: Pool| pool.open < MAX_CONNECTIONS || pool.idle > 0;
    let mut taken = Vec::new();
    // The listener of notices has one of them, or takes it meanwhile.
    while free(pool(&server.db)) {
        taken.extend(server.db.begin().await);
    }
    let answer = server.client.get(server.path("/room")).send().await.expect("an answer");
    assert_eq!(answer.status(), StatusCode::SERVICE_UNAVAILABLE);
    assert_eq!(answer.headers()["retry-after"], "2");
    let nobody = support::browser();
    let answer = nobody.get(server.path("/room")).send().await.expect("an answer");
    assert_eq!(answer.status(), StatusCode::UNAUTHORIZED);
    for transaction in taken {
        // On a busy machine PostgreSQL may have ended it for standing idle: its connection is free then too.
        let _ = transaction.rollback().await;
    }
    // On a busy machine another one may be asked to come again: it does.
    let mut again = StatusCode::SERVICE_UNAVAILABLE;
    for _ in 0..20 {
        again = server.client.get(server.path("/room")).send().await.expect("an answer").status();
        if again != StatusCode::SERVICE_UNAVAILABLE {
            break;
        }
    }
    assert_eq!(again, StatusCode::OK);
}

#[tokio::test]
async fn more_requests_than_can_be_are_asked_at_once_to_come_again() {
    use tokio::io::AsyncWriteExt;
    let server = server().await;
    let host = server.url.strip_prefix("http://").expect("an address");
    let mut slow = Vec::new();
    // A sign-in whose body does not come is under way until it does.
    for _ in 0..200 {
        let mut stream = tokio::net::TcpStream::connect(host).await.expect("a connection");
        let head = format!(
            "POST /api/session HTTP/1.1\r\nhost: {host}\r\ncontent-type: application/json\r\ncontent-length: 9\r\n\r\n"
        );
        stream.write_all(head.as_bytes()).await.expect("sent");
        slow.push(stream);
    }
    let alive = format!("{}/healthz", server.url);
    let refused = loop {
        let answer = server.client.get(&alive).send().await.expect("an answer");
        if answer.status() == StatusCode::SERVICE_UNAVAILABLE {
            break answer;
        }
    };
    assert_eq!(refused.headers()["retry-after"], "2");
    assert_eq!(refused.json::<Value>().await.expect("JSON")["type"], "/problems/too-busy");
    drop(slow);
    while !server.client.get(&alive).send().await.expect("an answer").status().is_success() {}
}

#[tokio::test]
async fn what_was_sent_whole_is_done_although_the_device_goes_away_before_the_answer() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let held = hold_observations(&server.db).await;
    let seen = json!({ "observations": [look(ada, "hold.size", 3, 0)] });
    let request = server.client.post(server.path("/observations")).json(&seen).send();
    tokio::select! {
        _ = request => panic!("it was answered"),
        () = until_waiting(&held, 1) => {}
    }
    // The connection is gone; what it asked for waits still.
    held.execute_unprepared("rollback").await.expect("released");
    loop {
        let page = server.get(&format!("/children/{ada}")).await;
        if page["history"]["observations"].as_array().is_some_and(|all| !all.is_empty()) {
            break;
        }
    }
}
