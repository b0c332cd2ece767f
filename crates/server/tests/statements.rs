//! How many statements each route sends to the database. A class ten times as large takes as many: nothing is read child by
//! child. The counts stand in the snapshot, so that a route that reads more says so.

mod support;

use std::collections::BTreeMap;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use bright_row_core::ChildId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_store::children::{self, Child};
use bright_row_store::database::{connect, connect_for_sessions};
use bright_row_store::instruments::loans;
use chrono::Duration;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, browser, database, look, now, school, serve_with};
use uuid::Uuid;

/// A server whose statements are counted, those about sessions left out.
async fn counted() -> (Server, Arc<AtomicUsize>) {
    let address = database().await;
    let mut db = connect(&address).await.expect("the database answers");
    let sessions = connect_for_sessions(&address).await.expect("the database answers");
    let count = Arc::new(AtomicUsize::new(0));
    let counting = Arc::clone(&count);
    db.set_metric_callback(move |info| {
        // Notices go out after the answer, gathered: whose they are cannot be said.
        if !info.statement.sql.contains("pg_notify") {
            counting.fetch_add(1, Ordering::SeqCst);
        }
    });
    let (key, director, assistant) = school(&db, "director@one.example", "assistant@one.example").await;
    let (url, stop) = serve_with(&db, &sessions).await;
    let client = browser();
    let server = Server { url, db, key, director, assistant, client, stop: Some(stop) };
    server.sign_in(&server.client, "director@one.example").await;
    (server, count)
}

/// Children with instruments of their own, each looked at, each instrument measured.
async fn fill(server: &Server, how_many: usize) -> (ChildId, Uuid) {
    let mut first = None;
    for number in 0..how_many {
        let child = ChildId::from(Uuid::now_v7());
        let joined_on = "2026-09-01".parse().expect("a date");
        let new = Child::new(child, format!("Child {number}"), Instrument::Violin, joined_on);
        children::add(&server.db, server.key, &[new]).await.expect("a child");
        let asset = Uuid::now_v7();
        let body = json!({ "tag": format!("V-{number}"), "instrument": "violin", "size": "4/4", "condition": "good",
                           "bow": true, "case": true, "stringLengthMm": 325.0 });
        let kept = server.send(Method::PUT, &format!("/instruments/{asset}"), Some(&body)).await;
        assert_eq!(kept.0, StatusCode::NO_CONTENT, "{}", kept.1);
        let since = now() - Duration::days(20);
        loans::lend(&server.db, server.key.program, &[(child, Some(asset.into()))], since).await.expect("lent");
        server.observe(&[look(child, "hold.size", 3, 7), look(child, "tape.holding", 3, 7)]).await;
        first = first.or(Some((child, asset)));
    }
    first.expect("a child")
}

/// What a route that is read needs beside its path.
fn query(path: &str) -> &'static str {
    match path {
        "/children/{child}/sheet.pdf" => "?sheet=care",
        "/wall.pdf" => "?strand=bow&instrument=violin",
        "/notes" | "/notes.musicxml" | "/notes.mxl" | "/notes.mid" | "/notes.wav" | "/notes.pdf" => {
            "?tune=hot-cross-buns"
        }
        "/children/{child}/causes" => "?symptoms=open-strings-off",
        _ => "",
    }
}

/// Every route below a class that is read, from the description of the API; streams left out.
fn routes_read() -> Vec<String> {
    let described: Value = serde_json::from_str(&bright_row::router::openapi_json()).expect("JSON");
    let paths = described["paths"].as_object().expect("paths").iter();
    let read = paths.filter(|(_, methods)| methods.get("get").is_some());
    let below = read.filter_map(|(path, _)| path.strip_prefix("/api/classes/{class}"));
    below.filter(|path| *path != "/live").map(str::to_owned).collect()
}

/// What is written, by a name.
fn writes(child: ChildId, asset: Uuid) -> Vec<(&'static str, Method, String, Value)> {
    let looks = |many: i64| -> Value {
        json!({ "observations": (0..many).map(|days| look(child, "hold.tall", 2, days)).collect::<Vec<_>>() })
    };
    let tapes = json!({ "observations": [look(child, "tape.holding", 3, 1)] });
    let measured = json!({ "entries": [{ "id": Uuid::now_v7(), "asset": asset, "kind": "measured", "lengthMm": 326.0,
                                         "at": now() }] });
    let event = json!({ "events": [{ "id": Uuid::now_v7(), "round": Uuid::now_v7(), "kind": "start", "device": "tablet-1",
                                     "at": now(), "detail": { "minutes": 9 },
                                     "children": [{ "child": child, "checks": ["hold.2"] }] }] });
    let rhythm = json!({ "alone": 5, "lasting": 11, "longest": 40, "tapesFirst": 3, "tapesLater": 20,
                         "mustSeeAfter": 4, "visitSeconds": 8, "maxChecks": 3 });
    let entry = json!({ "name": "Child 0", "instrument": "violin", "grade": "5" });
    vec![
        ("one observation", Method::POST, "/observations".to_owned(), looks(1)),
        ("twenty observations", Method::POST, "/observations".to_owned(), looks(20)),
        ("a look at tapes", Method::POST, "/observations".to_owned(), tapes),
        ("work on tapes", Method::POST, "/tapes/log".to_owned(), measured),
        ("an event of a round", Method::POST, "/round/events".to_owned(), event),
        ("a rhythm", Method::PUT, "/rhythm".to_owned(), rhythm),
        ("an entry", Method::PUT, format!("/children/{child}"), entry),
        ("a loan", Method::POST, "/loans".to_owned(), json!({ "pairs": [{ "child": child, "asset": null }] })),
    ]
}

async fn count_all(how_many: usize) -> BTreeMap<String, usize> {
    let (server, count) = counted().await;
    let (child, asset) = fill(&server, how_many).await;
    let mut counts = BTreeMap::new();
    for path in routes_read() {
        let filled = path.replace("{child}", &child.to_string()).replace("{asset}", &asset.to_string());
        count.store(0, Ordering::SeqCst);
        let address = server.path(&format!("{filled}{}", query(&path)));
        let answer = server.client.get(address).send().await.expect("an answer");
        let status = answer.status();
        assert_eq!(status, StatusCode::OK, "{path}: {}", answer.text().await.expect("a text"));
        answer.bytes().await.expect("all of it");
        counts.insert(format!("GET {path}"), count.load(Ordering::SeqCst));
    }
    for (name, method, path, body) in writes(child, asset) {
        count.store(0, Ordering::SeqCst);
        let (status, answer) = server.send(method, &path, Some(&body)).await;
        let done = status.is_success() && !answer.to_string().contains("refused");
        assert!(done, "{name}: {answer}");
        counts.insert(name.to_owned(), count.load(Ordering::SeqCst));
    }
    counts
}

#[tokio::test]
async fn a_route_sends_as_many_statements_for_a_large_class_as_for_a_small_one() {
    let (small, large) = tokio::join!(count_all(3), count_all(30));
    assert_eq!(small, large);
    let lines: Vec<String> = small.iter().map(|(route, count)| format!("{count:3}  {route}")).collect();
    insta::assert_snapshot!(lines.join("\n"));
}
