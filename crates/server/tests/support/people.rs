//! A server whose clock can be set, with an owner, a director of one class, and a second class.
#![allow(dead_code, missing_docs)]

use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};

use bright_row::content;
use bright_row::serve;
use bright_row::state::{App, Clock, Options};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::role::Role;
use bright_row_store::accounts::{self, Account, Credentials, people};
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, ClassKey, NewClass};
use bright_row_store::database::{connect, connect_for_sessions};
use bright_row_store::{ConnectionTrait, DatabaseConnection};
use chrono::{DateTime, TimeDelta, Utc};
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use tokio::sync::oneshot;
use uuid::Uuid;

use super::{PASSWORD, browser, database, now, school};

/// A school with people, at a time that can be moved.
pub struct School {
    pub app: App,
    /// The address of its database.
    pub database: String,
    pub url: String,
    /// The class that the director and the assistant are given.
    pub key: ClassKey,
    /// A class that they are not given.
    pub other: ClassKey,
    seconds: Arc<AtomicI64>,
    stop: oneshot::Sender<()>,
    served: tokio::task::JoinHandle<()>,
}

impl School {
    pub async fn new() -> Self {
        Self::with(|options| options).await
    }

    pub async fn with(set: impl FnOnce(Options) -> Options) -> Self {
        Self::on(&database().await, set).await
    }

    /// In a database that was migrated and is empty.
    pub async fn on(address: &str, set: impl FnOnce(Options) -> Options) -> Self {
        let db = connect(address).await.expect("the database answers");
        let sessions = connect_for_sessions(address).await.expect("the database answers");
        Self::over(db, sessions, address, set).await
    }

    /// The same over connections that are there.
    pub async fn over(
        db: DatabaseConnection,
        sessions: DatabaseConnection,
        address: &str,
        set: impl FnOnce(Options) -> Options,
    ) -> Self {
        let (key, owner, _) = school(&db, "owner@one.example", "assistant@one.example").await;
        let other = ClassKey { class: Uuid::now_v7().into(), ..key };
        let first =
            classes::for_account(&db, owner, key.class, now()).await.expect("an answer").expect("the class").class;
        let new = NewClass {
            key: other,
            name: "Wednesday strings".to_owned(),
            time_zone: chrono_tz::Europe::Dublin,
            first_day: "2026-09-01".parse().expect("a date"),
            last_day: "2027-06-18".parse().expect("a date"),
            weekdays: vec![chrono::Weekday::Wed],
            days_off: Vec::new(),
            rhythm: first.rhythm,
            round: first.round,
        };
        classes::add(&db, &new).await.expect("a second class");
        let seconds = Arc::new(AtomicI64::new(0));
        let moved = seconds.clone();
        let clock = Clock::new(move || now() + TimeDelta::seconds(moved.load(Ordering::SeqCst)));
        let app = App::new(db, sessions, content::embedded(), set(Options { clock, ..Options::default() }));
        let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.expect("a free port");
        let url = format!("http://{}", listener.local_addr().expect("an address"));
        let (stop, stopped) = oneshot::channel();
        let serving = app.clone();
        let served = tokio::spawn(async move {
            let until = async move {
                let _ = stopped.await;
            };
            serve::serve(serving, listener, until).await.expect("served");
        });
        Self { app, database: address.to_owned(), url, key, other, seconds, stop, served }
    }

    /// Stops the server, and resolves when it has ended.
    pub async fn stopped(self) {
        let _ = self.stop.send(());
        self.served.await.expect("the server ends");
    }

    pub fn later(&self, by: TimeDelta) {
        self.seconds.fetch_add(by.num_seconds(), Ordering::SeqCst);
    }

    pub fn now(&self) -> DateTime<Utc> {
        self.app.now()
    }

    /// Somebody with a role and the first class.
    pub async fn person(&self, email: &str, role: Role) -> Uuid {
        let id = Uuid::now_v7();
        let password_hash = self.app.passwords.hash(PASSWORD.to_owned()).await;
        let comes_back = Some(Credentials { email: email.to_owned(), password_hash });
        let name = email.split('@').next().unwrap_or_default().to_owned();
        let account = Account { id: id.into(), display_name: name, comes_back, demo: false };
        accounts::add(&self.app.db, &account).await.expect("an account");
        accounts::join(&self.app.db, self.key.program, id.into(), role).await.expect("a membership");
        people::give_class(&self.app.db, self.key.program, id.into(), self.key.class).await.expect("a class");
        id
    }

    pub async fn sign_in(&self, email: &str) -> Client {
        let client = browser();
        let (status, answer) = self.try_sign_in(&client, email, PASSWORD).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
        client
    }

    pub async fn try_sign_in(&self, client: &Client, email: &str, password: &str) -> (StatusCode, Value) {
        self.send(client, Method::POST, "/api/session", Some(&json!({ "email": email, "password": password }))).await
    }

    pub async fn send(&self, client: &Client, method: Method, path: &str, body: Option<&Value>) -> (StatusCode, Value) {
        let mut request = client.request(method, format!("{}{path}", self.url));
        if let Some(body) = body {
            request = request.json(body);
        }
        let answer = request.send().await.expect("an answer");
        let status = answer.status();
        let text = answer.text().await.expect("a text");
        (status, serde_json::from_str(&text).unwrap_or(Value::String(text)))
    }

    pub async fn get(&self, client: &Client, path: &str) -> Value {
        let (status, answer) = self.send(client, Method::GET, path, None).await;
        assert_eq!(status, StatusCode::OK, "{path}: {answer}");
        answer
    }

    pub fn of_program(&self, rest: &str) -> String {
        format!("/api/programs/{}{rest}", self.key.program)
    }

    pub fn of_class(&self, rest: &str) -> String {
        format!("/api/classes/{}{rest}", self.key.class)
    }

    /// A child of the first class.
    pub async fn child(&self, name: &str) -> bright_row_core::ChildId {
        let id = bright_row_core::ChildId::from(Uuid::now_v7());
        let joined_on = "2026-09-01".parse().expect("a date");
        let child = Child::new(id, name.to_owned(), Instrument::Violin, joined_on);
        children::add(&self.app.db, self.key, &[child]).await.expect("a child");
        id
    }

    /// How many rows of a table a condition finds.
    pub async fn rows(&self, of: &str) -> i64 {
        let statement =
            sea_orm::Statement::from_string(self.app.db.get_database_backend(), format!("select count(*) from {of}"));
        let row = self.app.db.query_one_raw(statement).await.expect("an answer").expect("a row");
        row.try_get_by_index(0).expect("a number")
    }

    /// Runs a statement on its database.
    pub async fn run(&self, sql: &str) {
        self.app.db.execute_unprepared(sql).await.expect("it runs");
    }

    /// The first column of what a statement answers, as text.
    pub async fn texts(&self, sql: &str) -> Vec<String> {
        let statement = sea_orm::Statement::from_string(self.app.db.get_database_backend(), sql);
        let rows = self.app.db.query_all_raw(statement).await.expect("an answer");
        rows.iter().map(|row| row.try_get_by_index(0).expect("a text")).collect()
    }

    /// Invites somebody as the owner; answers the link's secret.
    pub async fn invite(&self, owner: &Client, body: &Value) -> (String, Value) {
        let (status, answer) = self.send(owner, Method::POST, &self.of_program("/invitations"), Some(body)).await;
        assert_eq!(status, StatusCode::CREATED, "{answer}");
        (answer["secret"].as_str().expect("a secret").to_owned(), answer)
    }
}
