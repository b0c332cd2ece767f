//! A real server on a real database for each test: a database of its own cloned from a migrated template, a socket on
//! port 0, a clock that stands still.
#![allow(dead_code, missing_docs, unused_imports)]

use std::sync::Arc;

use bright_row::serve;
use bright_row::state::{App, Clock, Options};
use bright_row::{caches, content};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::role::Role;
use bright_row_core::setup::rows::Seat;
use bright_row_core::{AccountId, ChildId};
use bright_row_store::DatabaseConnection;
use bright_row_store::accounts::{self, Account, Credentials, people as people_of};
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, Class, ClassKey, NewClass, RoundSettings};
use bright_row_store::database::{connect, connect_for_sessions};
use chrono::{DateTime, NaiveDate, Utc, Weekday};
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use tokio::sync::oneshot;
use uuid::Uuid;

#[path = "../../../store/tests/support/mod.rs"]
mod cluster;
pub mod people;
pub use cluster::{database, empty_database, fresh_name};

pub const PASSWORD: &str = "a password for tests";

/// Tuesday of the tenth week of [`server`]'s class: meeting 19.
pub fn now() -> DateTime<Utc> {
    "2026-11-03T14:00:00Z".parse().expect("a moment")
}

/// A running server with a school in it.
pub struct Server {
    pub url: String,
    pub db: DatabaseConnection,
    pub key: ClassKey,
    pub director: AccountId,
    pub assistant: AccountId,
    /// Signed in as the director.
    pub client: Client,
    pub stop: Option<oneshot::Sender<()>>,
}

impl Drop for Server {
    fn drop(&mut self) {
        if let Some(stop) = self.stop.take() {
            let _ = stop.send(());
        }
    }
}

pub fn browser() -> Client {
    Client::builder().cookie_store(true).build().expect("a client")
}

/// Serves a database on a port of its own; answers the address and what stops it.
pub async fn serve(db: &DatabaseConnection) -> (String, oneshot::Sender<()>) {
    serve_with(db, db).await
}

/// [`serve`] with sessions on a pool of their own.
pub async fn serve_with(db: &DatabaseConnection, sessions: &DatabaseConnection) -> (String, oneshot::Sender<()>) {
    let options = Options { clock: Clock::new(now), ..Options::default() };
    let app = App::new(db.clone(), sessions.clone(), content::embedded(), options);
    let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.expect("a free port");
    let url = format!("http://{}", listener.local_addr().expect("an address"));
    let (stop, stopped) = oneshot::channel();
    tokio::spawn(serve::serve(app, listener, async move {
        let _ = stopped.await;
    }));
    (url, stop)
}

/// A server over an empty, migrated database: nobody has been there.
pub async fn nobody_yet() -> (String, oneshot::Sender<()>) {
    let db = connect(&database().await).await.expect("the database answers");
    serve(&db).await
}

/// A server with a program, a director, an assistant and a class without children.
pub async fn server() -> Server {
    let address = database().await;
    let db = connect(&address).await.expect("the database answers");
    let sessions = connect_for_sessions(&address).await.expect("the database answers");
    let (key, director, assistant) = school(&db, "director@one.example", "assistant@one.example").await;
    let (url, stop) = serve_with(&db, &sessions).await;
    let client = browser();
    let server = Server { url, db, key, director, assistant, client, stop: Some(stop) };
    server.sign_in(&server.client, "director@one.example").await;
    server
}

/// A program with two accounts and a class that has met eighteen times before [`now`].
pub async fn school(db: &DatabaseConnection, director: &str, assistant: &str) -> (ClassKey, AccountId, AccountId) {
    let key = ClassKey { program: Uuid::now_v7().into(), class: Uuid::now_v7().into() };
    accounts::add_program(db, key.program, "Test strings").await.expect("a program");
    let password_hash = bright_row::passwords::PasswordDesk::default().hash(PASSWORD.to_owned()).await;
    let mut people = Vec::new();
    for (email, role, name) in [(director, Role::Owner, "director"), (assistant, Role::Assistant, "assistant")] {
        let id = AccountId::from(Uuid::now_v7());
        let comes_back = Some(Credentials { email: email.to_owned(), password_hash: password_hash.clone() });
        let account = Account { id, display_name: format!("The {name}"), comes_back, demo: false };
        accounts::add(db, &account).await.expect("an account");
        accounts::join(db, key.program, id, role).await.expect("a membership");
        people.push(id);
    }
    let day = |text: &str| -> NaiveDate { text.parse().expect("a date") };
    let class = NewClass {
        key,
        name: "Tuesday strings".to_owned(),
        time_zone: chrono_tz::Europe::Dublin,
        first_day: day("2026-09-01"),
        last_day: day("2027-06-18"),
        weekdays: vec![Weekday::Tue, Weekday::Thu],
        days_off: vec![(day("2026-10-29"), String::new())],
        rhythm: Rhythm::default(),
        round: RoundSettings::default(),
    };
    classes::add(db, &class).await.expect("a class");
    people_of::give_class(db, key.program, people[1], key.class).await.expect("a class is given");
    (key, people[0], people[1])
}

impl Server {
    pub async fn sign_in(&self, client: &Client, email: &str) {
        let body = json!({ "email": email, "password": PASSWORD });
        let answer = client.post(format!("{}/api/session", self.url)).json(&body).send().await.expect("an answer");
        assert_eq!(answer.status(), StatusCode::OK);
    }

    /// A second browser, signed in as the assistant.
    pub async fn assistants_browser(&self) -> Client {
        let client = browser();
        self.sign_in(&client, "assistant@one.example").await;
        client
    }

    pub async fn class(&self) -> Class {
        let found =
            classes::for_account(&self.db, self.director, self.key.class, now()).await.expect("the database answers");
        Arc::unwrap_or_clone(found.expect("the class").class)
    }

    /// Fails unless everything that is kept of every class is what follows from its observations and tape logs.
    pub async fn assert_caches(&self) {
        let checked = caches::check(&self.db, &content::embedded()).await.expect("the database answers");
        assert_eq!(checked.other, [""; 0], "what is kept does not follow");
    }

    /// A child with a seat in row 1.
    pub async fn child(&self, name: &str, instrument: Instrument, number: u8) -> ChildId {
        let id = ChildId::from(Uuid::now_v7());
        let joined_on = "2026-09-01".parse().expect("a date");
        let seat = Some(Seat { row: 1, number });
        let child = Child { seat, ..Child::new(id, name.to_owned(), instrument, joined_on) };
        children::add(&self.db, self.key, &[child]).await.expect("a child");
        id
    }

    /// Removes a child of the class, as the director.
    pub async fn remove(&self, child: impl std::fmt::Display, name: &str) -> StatusCode {
        let body = json!({ "confirm": name });
        self.send(Method::POST, &format!("/children/{child}/removal"), Some(&body)).await.0
    }

    /// A path below the class.
    pub fn path(&self, rest: &str) -> String {
        format!("{}/api/classes/{}{rest}", self.url, self.key.class)
    }

    pub async fn get(&self, rest: &str) -> Value {
        let answer = self.client.get(self.path(rest)).send().await.expect("an answer");
        assert_eq!(answer.status(), StatusCode::OK, "{rest}");
        answer.json().await.expect("JSON")
    }

    /// Sends observations and answers the outcome of each.
    pub async fn observe(&self, observations: &[Value]) -> Vec<Value> {
        let body = json!({ "observations": observations });
        let (status, answer) = self.send(Method::POST, "/observations", Some(&body)).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
        answer["results"].as_array().expect("results").clone()
    }

    /// Sends a body, or none, to a path of the class as the director; answers the status and what came back.
    pub async fn send(&self, method: Method, rest: &str, body: Option<&Value>) -> (StatusCode, Value) {
        let mut request = self.client.request(method, self.path(rest));
        if let Some(body) = body {
            request = request.json(body);
        }
        let answer = request.send().await.expect("an answer");
        let status = answer.status();
        let text = answer.text().await.expect("a text");
        (status, serde_json::from_str(&text).unwrap_or(Value::Null))
    }

    pub async fn status(&self, client: &Client, method: Method, path: &str, body: Option<&Value>) -> StatusCode {
        let mut request = client.request(method, path);
        if let Some(body) = body {
            request = request.json(body);
        }
        request.send().await.expect("an answer").status()
    }
}

/// A look at a checkpoint some days before [`now`].
pub fn look(child: ChildId, target: &str, level: u8, days_ago: i64) -> Value {
    let observed_at = now() - chrono::Duration::days(days_ago);
    json!({ "id": Uuid::now_v7(), "child": child, "target": target, "level": level, "observedAt": observed_at })
}

/// An undo of an observation made as JSON.
pub fn undo(observation: &Value) -> Value {
    json!({
        "id": Uuid::now_v7(), "child": observation["child"], "target": observation["target"], "retracts": observation["id"],
        "observedAt": now(),
    })
}

/// How a child stands at a checkpoint, from its page.
pub fn standing<'a>(page: &'a Value, checkpoint: &str) -> Option<&'a Value> {
    let ladders = page["ladders"].as_array().expect("ladders");
    let stages = ladders.iter().flat_map(|ladder| ladder["stages"].as_array().expect("stages"));
    let mut checkpoints = stages.flat_map(|stage| stage["checkpoints"].as_array().expect("checkpoints"));
    checkpoints.find(|found| found["id"] == checkpoint).and_then(|found| found.get("standing"))
}
