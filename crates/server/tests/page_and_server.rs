//! What a page says before the server has answered is what the server says: the core runs in both. Random children with random
//! histories get random observations, in any order, with mistakes among them; the page's core is asked first, then the server.

mod support;

use bright_row_core::ChildId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::new_observation::NewObservation;
use bright_row_store::children::membership;
use bright_row_store::children::{self, Child};
use bright_row_store::instruments::loans;
use bright_row_store::observations;
use chrono::{DateTime, Duration, Utc};
use rand::seq::{IndexedRandom, SliceRandom};
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, look, now, server};
use uuid::Uuid;

/// Of each device.
const CASES: usize = 250;
/// So many cases go by until somebody new comes in the place of a child.
const CASES_OF_CHILD: usize = 12;

/// Asks the core as a page does.
fn ask(call: &str, question: &Value) -> Value {
    let answer = bright_row_wasm::ask(json!([call, question]).to_string().as_bytes());
    let answer: Value = serde_json::from_slice(&answer).expect("JSON");
    assert_eq!(answer[0], true, "{call}: {answer}");
    answer[1].clone()
}

/// A page that has read a class.
struct Page {
    room: Value,
    basis: Value,
}

impl Page {
    async fn open(server: &Server) -> Self {
        Self { room: server.get("/room").await, basis: server.get("/basis").await }
    }

    /// Once whenever the class's settings or those who go their own way have changed.
    async fn learn_rules(server: &Server) {
        let rules = server.get("/rules").await;
        ask("learnRules", &json!({ "key": "class", "rules": rules["rules"] }));
    }

    fn moment(&self) -> Value {
        json!({ "rules": "class", "meeting": self.basis["meeting"], "now": now() })
    }

    fn with(&self, more: &Value) -> Value {
        let mut question = self.moment();
        question.as_object_mut().expect("an object").extend(more.as_object().expect("an object").clone());
        question
    }

    /// The child in the room with these on their way; null where the page does not know enough.
    fn room_child(&self, child: ChildId, pending: &[Value]) -> Value {
        let all = self.basis["children"].as_array().expect("children");
        let basis: Vec<&Value> = all.iter().filter(|one| one["who"]["id"] == json!(child)).collect();
        assert_eq!(basis.len(), 1);
        ask("roomNow", &self.with(&json!({ "basis": basis, "pending": pending })))["children"][0].clone()
    }

    /// What changes on the child's page with these on their way.
    fn child_page(&self, page: &Value, pending: &[Value]) -> Value {
        let more = json!({
            "me": "The director", "basis": page["basis"], "accommodations": page["accommodations"],
            "openedBy": page["openedBy"], "pain": page["pain"], "history": page["history"], "pending": pending,
        });
        ask("childNow", &self.with(&more))["progress"].clone()
    }
}

/// Observations out of nowhere.
struct Observing {
    random: ChaCha8Rng,
}

impl Observing {
    fn one_of<'a, T>(&mut self, all: &'a [T]) -> &'a T {
        all.choose(&mut self.random).expect("there are some")
    }

    fn chance(&mut self, of_hundred: u32) -> bool {
        self.random.random_range(0..100) < of_hundred
    }

    /// A moment within so many days, most of them in the last hours.
    fn moment(&mut self, days: i64) -> DateTime<Utc> {
        let recent = self.chance(60);
        let minutes = if recent { 20 * 60 } else { days * 24 * 60 };
        now() - Duration::minutes(self.random.random_range(0..minutes))
    }

    fn says(&mut self, observation: &mut Value) {
        if self.chance(12) {
            observation["says"] = json!(*self.one_of(&["easy", "tight", "soreTips", "hurts"]));
        }
        if self.chance(10) {
            observation["note"] = json!(*self.one_of(&["  longer bow  ", "シャツの襟", "", "it’s fine"]));
        }
        if self.chance(20) {
            observation["via"] = json!("scan");
        }
    }

    /// A look at something on the page, sometimes one that cannot be.
    fn look(&mut self, child: ChildId, page: &Value, days: i64) -> Value {
        let ladders = page["ladders"].as_array().expect("ladders");
        let stages: Vec<&Value> =
            ladders.iter().flat_map(|ladder| ladder["stages"].as_array().expect("stages")).collect();
        // The first stages again and again: that is where one look follows another.
        let near = stages.len().min(if self.chance(70) { 3 } else { 40 });
        let stage = (*self.one_of(&stages[..near])).clone();
        let checkpoints = stage["checkpoints"].as_array().expect("checkpoints").clone();
        let observed_at = self.moment(days);
        let mut look = json!({ "id": Uuid::now_v7(), "child": child, "observedAt": observed_at });
        if checkpoints.is_empty() || self.chance(30) {
            let except: Vec<Value> =
                checkpoints.iter().filter(|_| self.chance(25)).map(|one| one["id"].clone()).collect();
            look["target"] = stage["id"].clone();
            look["except"] = json!(except);
        } else {
            let checkpoint = self.one_of(&checkpoints).clone();
            let tape = checkpoint["id"].as_str().expect("an id").starts_with("tape.");
            look["target"] = checkpoint["id"].clone();
            look["level"] = json!(if tape { *self.one_of(&[0, 3]) } else { *self.one_of(&[0, 1, 2, 3, 3, 4, 4]) });
            let slips = checkpoint["slips"].as_array().expect("slips");
            if !tape && !slips.is_empty() && self.chance(20) {
                look["slips"] = json!([self.one_of(slips)["id"]]);
            }
        }
        if self.chance(4) {
            look["target"] = json!("hold.nowhere");
        }
        if self.chance(3) {
            look["observedAt"] = json!(now() + Duration::days(3));
        }
        self.says(&mut look);
        look
    }

    /// An undo of something that is known, sometimes of another target, of an undo, or of nothing.
    fn undo(&mut self, child: ChildId, known: &[Value], days: i64) -> Value {
        let of = self.one_of(known).clone();
        // Only of what is stored: an undo of something else that comes before what it names is taken for lack of knowledge.
        let wrong = of["stored"] == true && self.chance(8);
        let target = if wrong { json!("hold.tall") } else { of["target"].clone() };
        let retracts = if self.chance(5) { json!(Uuid::now_v7()) } else { of["id"].clone() };
        let observed_at = self.moment(days);
        json!({ "id": Uuid::now_v7(), "child": child, "target": target, "retracts": retracts, "observedAt": observed_at })
    }

    fn some(&mut self, child: ChildId, page: &Value, days: i64) -> Vec<Value> {
        let history = page["history"]["observations"].as_array().expect("observations");
        let mut known: Vec<Value> =
            history.iter().map(|one| json!({ "id": one["id"], "target": one["target"], "stored": true })).collect();
        let mut all = Vec::new();
        for _ in 0..self.random.random_range(1..=6) {
            let next = if !known.is_empty() && self.chance(25) {
                self.undo(child, &known, days)
            } else {
                self.look(child, page, days)
            };
            if next["retracts"].is_null() {
                known.push(json!({ "id": next["id"], "target": next["target"] }));
            }
            all.push(next);
        }
        all.shuffle(&mut self.random);
        all
    }
}

async fn must(server: &Server, method: Method, path: &str, body: Value) {
    let (status, answer) = server.send(method, path, Some(&body)).await;
    assert!(status.is_success(), "{path}: {status} {answer}");
}

/// A child with circumstances of its own: an accommodation, a stage opened anyway, a way of its own, an instrument with
/// markers, or none of these.
async fn somebody(server: &Server, number: usize, instrument: Instrument) -> ChildId {
    let child =
        server.child(&format!("Child {number}"), instrument, u8::try_from(number % 3 + 1).expect("small")).await;
    let path = |rest: &str| format!("/children/{child}/{rest}");
    if number.is_multiple_of(2) {
        let own =
            json!({ "lookFor": if number.is_multiple_of(4) { "" } else { "Sits on the stool" }, "reason": "a cast" });
        must(server, Method::PUT, &path("accommodations/hold.tall"), own).await;
        let (status, _) = server.send(Method::PUT, &path("stages/bow.2/opened"), None).await;
        assert_eq!(status, StatusCode::NO_CONTENT);
    }
    if number.is_multiple_of(3) {
        let page = server.get(&format!("/children/{child}")).await;
        let overrides = page["overrides"].as_array().expect("overrides");
        let choice = &overrides[number % overrides.len()]["choice"];
        let options = choice["options"].as_array().expect("options");
        let own =
            json!({ "choices": { choice["key"].as_str().expect("a key"): options[number % options.len()]["id"] } });
        must(server, Method::PUT, &path("overrides"), own).await;
    }
    if instrument == Instrument::Violin {
        let old = violin(server, &format!("Old {number}"), child, Duration::days(20)).await;
        let laid = json!({ "id": Uuid::now_v7(), "asset": old, "kind": "placed", "spots": ["1", "2", "3"],
                           "at": now() - Duration::days(15) });
        must(server, Method::POST, "/tapes/log", json!({ "entries": [laid] })).await;
        if number.is_multiple_of(8) {
            violin(server, &format!("New {number}"), child, Duration::hours(10)).await;
        }
    }
    child
}

/// An instrument of the store room that a child has had for so long.
async fn violin(server: &Server, tag: &str, child: ChildId, since: Duration) -> Uuid {
    let asset = Uuid::now_v7();
    let body = json!({ "tag": tag, "instrument": "violin", "size": "1/2", "condition": "good", "bow": true, "case": true,
                       "stringLengthMm": 284 });
    must(server, Method::PUT, &format!("/instruments/{asset}"), body).await;
    let pairs = [(child, Some(asset.into()))];
    loans::lend(&server.db, server.key.program, &pairs, now() - since).await.expect("a loan");
    asset
}

/// The child's part of the room as the server answers it.
fn in_room(room: &Value, child: ChildId) -> Value {
    let children = room["children"].as_array().expect("children");
    children.iter().find(|one| one["id"] == json!(child)).expect("in the room").clone()
}

#[tokio::test]
async fn a_page_says_what_the_server_will_say_on_a_device_that_was_there_yesterday() {
    page_and_server(11, 1).await;
}

#[tokio::test]
async fn a_page_says_what_the_server_will_say_on_a_device_that_was_away_for_weeks() {
    page_and_server(12, 60).await;
}

/// Asks the page, then the server, about observations of so many days.
async fn page_and_server(seed: u64, days: i64) {
    let server = server().await;
    let mut observing = Observing { random: ChaCha8Rng::seed_from_u64(seed) };
    let mut known_in_room = 0;
    let mut child = None;
    for case in 0..CASES {
        if case % CASES_OF_CHILD == 0 {
            if let Some(gone) = child {
                let today = Some(now().date_naive());
                membership::set_left(&server.db, server.key, gone, today).await.expect("a child that leaves");
            }
            let number = case / CASES_OF_CHILD + 1;
            child = Some(somebody(&server, number, Instrument::ALL[number % 4]).await);
            Page::learn_rules(&server).await;
        }
        let child = child.expect("somebody");
        let path = format!("/children/{child}");
        let page = Page::open(&server).await;
        let read = server.get(&path).await;
        assert_eq!(in_room(&page.room, child), read["child"], "the room and the page agree");
        let pending = observing.some(child, &read, days);
        let here = page.room_child(child, &pending);
        let progress = page.child_page(&read, &pending);
        for batch in pending.chunks(if case % 2 == 0 { 1 } else { 6 }) {
            server.observe(batch).await;
        }
        let said = server.get(&path).await;
        let words = || format!("case {case}, on their way: {}", json!(pending));
        for part in ["child", "ladders", "tapes", "next", "firstLook", "pain", "history"] {
            assert_eq!(progress[part], said[part], "{part}, {}", words());
        }
        if !here.is_null() {
            known_in_room += 1;
            assert_eq!(here, said["child"], "{}", words());
        }
    }
    // Who was away for weeks takes back what the room does not know of; the page of the child does.
    assert!(known_in_room > CASES / if days > 1 { 8 } else { 2 }, "the room knew enough {known_in_room} times");
}

#[tokio::test]
async fn a_basis_that_is_asked_for_again_is_of_those_who_were_looked_at_since() {
    let server = server().await;
    let [ada, ben] =
        [server.child("Ada K.", Instrument::Violin, 1).await, server.child("Ben O.", Instrument::Cello, 2).await];
    let checklist = bright_row::content::embedded().standard();
    let seen = serde_json::from_value::<NewObservation>(look(ada, "hold.size", 3, 2)).expect("an observation");
    let an_hour_ago = now() - Duration::hours(1);
    let seen = seen.check(&checklist, server.director, an_hour_ago).expect("one that can be");
    observations::add(&server.db, server.key, &bright_row::content::embedded(), &[seen]).await.expect("stored");
    server.observe(&[look(ben, "hold.size", 2, 0)]).await;
    let ids = |basis: &Value| -> Vec<Value> {
        let children = basis["children"].as_array().expect("children");
        children.iter().map(|one| one["who"]["id"].clone()).collect()
    };
    let whole = server.get("/basis").await;
    assert_eq!(ids(&whole), [json!(ada), json!(ben)]);
    let since = (now() - Duration::minutes(5)).format("%Y-%m-%dT%H:%M:%SZ");
    let changed = server.get(&format!("/basis?since={since}")).await;
    assert_eq!(ids(&changed), [json!(ben)]);
    assert_eq!(changed["children"][0], whole["children"][1]);
    let path = server.path("/basis?since=yesterday");
    assert_eq!(server.status(&server.client, Method::GET, &path, None).await, StatusCode::BAD_REQUEST);
}

/// Everything that the tests of the pages lay observations over: what this server answers about a class of two.
#[tokio::test]
async fn the_answers_with_which_the_pages_are_tested_are_those_of_this_server() {
    let server = server().await;
    let [ada, ben] = [1, 2].map(|number| ChildId::from(Uuid::from_u128(number)));
    let joined_on = "2026-09-01".parse().expect("a date");
    let children = [(ada, "Ada K.", Instrument::Violin), (ben, "Ben O.", Instrument::Cello)];
    let children = children.map(|(id, name, instrument)| Child::new(id, name.to_owned(), instrument, joined_on));
    children::add(&server.db, server.key, &children).await.expect("two children");
    let mut id = 100;
    let mut seen = |target: &str, level: u8, days_ago: i64| {
        id += 1;
        let at = now() - Duration::days(days_ago);
        json!({ "id": Uuid::from_u128(id), "child": ada, "target": target, "level": level, "observedAt": at })
    };
    let history = [
        seen("hold.size", 4, 30),
        seen("hold.tall", 4, 28),
        seen("hold.rest", 2, 7),
        seen("hold.tall", 4, 7),
        seen("hold.rest", 3, 0),
    ];
    server.observe(&history).await;
    let violin = Uuid::from_u128(3);
    let body =
        json!({ "tag": "V-1", "instrument": "violin", "size": "4/4", "condition": "good", "bow": true, "case": true });
    must(&server, Method::PUT, &format!("/instruments/{violin}"), body).await;
    let measured = json!({ "id": Uuid::from_u128(49), "asset": violin, "kind": "measured", "lengthMm": 328,
                           "at": now() - Duration::days(4) });
    let laid = json!({ "id": Uuid::from_u128(50), "asset": violin, "kind": "placed", "spots": ["1", "2", "3"],
                       "at": now() - Duration::days(3) });
    must(&server, Method::POST, "/tapes/log", json!({ "entries": [measured, laid] })).await;
    let mut answers = json!({
        "bench": server.get(&format!("/tapes/{violin}")).await,
        "fit": server.get("/fit").await,
        "rules": server.get("/rules").await,
        "room": server.get("/room").await,
        "basis": server.get("/basis").await,
        "page": server.get(&format!("/children/{ada}")).await,
    });
    answers["room"]["classId"] = json!("c1");
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/src/testing/answers.json");
    if std::env::var_os("INSTA_UPDATE").is_some_and(|update| update == "always") {
        std::fs::write(path, format!("{answers}\n")).expect("written");
    }
    let kept = std::fs::read_to_string(path).expect("the answers");
    let kept = serde_json::from_str::<Value>(&kept).expect("JSON");
    let differs = first_difference("", &kept, &answers);
    assert_eq!(differs, None, "the answers of the pages' tests are not these: run this test with INSTA_UPDATE=always");
}

/// Where `now` says something else than `kept`, and what each says. Compared by value, because the order of fields
/// depends on what else is built with the tests; powers of two differ in the last digit from one processor to another.
fn first_difference(path: &str, kept: &Value, now: &Value) -> Option<String> {
    let differs = || Some(format!("{path}: kept {kept}, now {now}"));
    match (kept, now) {
        (Value::Object(one), Value::Object(other)) => {
            if one.len() != other.len() {
                return differs();
            }
            one.iter().find_map(|(key, value)| first_difference(&format!("{path}/{key}"), value, &other[key]))
        }
        (Value::Array(one), Value::Array(other)) => {
            if one.len() != other.len() {
                return differs();
            }
            let mut pairs = one.iter().zip(other).enumerate();
            pairs.find_map(|(at, (one, other))| first_difference(&format!("{path}/{at}"), one, other))
        }
        (Value::Number(one), Value::Number(other)) => {
            let (one, other) = (one.as_f64()?, other.as_f64()?);
            if (one - other).abs() > 1e-9 * one.abs().max(1.0) { differs() } else { None }
        }
        _ => {
            if kept == now {
                None
            } else {
                differs()
            }
        }
    }
}
