//! Random schedules on a real database: four clients at once observe, undo, set, move, lend, import and remove; whatever order
//! their requests meet in, what is kept follows from what was observed afterwards, and nothing that was answered is lost.
//!
//! `BRIGHT_ROW_SCHEDULES` says how many, `BRIGHT_ROW_SEED` with which seed they begin; a schedule that fails names its seed.

mod support;

use std::collections::BTreeSet;

use bright_row::{caches, content};
use bright_row_core::ChildId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::role::Role;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::{self, ClassKey, NewClass, RoundSettings};
use bright_row_store::{ConnectionTrait, accounts};
use chrono::{Duration, Weekday};
use rand::seq::IndexedRandom;
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use reqwest::{Method, StatusCode};
use sea_orm::Statement;
use serde_json::{Value, json};
use support::{Server, now, server};
use uuid::Uuid;

const SCHEDULES: u64 = 30;
const CLIENTS: u64 = 4;
/// Requests of one client.
const STEPS: usize = 12;

/// Checkpoints and a stage of several strands, tapes among them.
const TARGETS: [&str; 7] =
    ["hold.size", "hold.tall", "bow.pluck", "hold.1", "tape.placed", "tape.holding", "frame.space"];

/// A program of two classes for one schedule.
struct Program<'a> {
    server: &'a Server,
    classes: [ClassKey; 2],
    children: Vec<ChildId>,
    assets: Vec<Uuid>,
}

/// What one client was answered.
#[derive(Default)]
struct Answered {
    observations: Vec<(Uuid, ChildId)>,
    entries: Vec<Uuid>,
    removed: BTreeSet<ChildId>,
}

impl<'a> Program<'a> {
    async fn new(server: &'a Server) -> Self {
        let program = Uuid::now_v7().into();
        let db = &server.db;
        accounts::add_program(db, program, "Schedule").await.expect("a program");
        accounts::join(db, program, server.director, Role::Owner).await.expect("a membership");
        let day = |text: &str| text.parse().expect("a date");
        let mut classes = Vec::new();
        for (name, weekday) in [("One", Weekday::Tue), ("Two", Weekday::Wed)] {
            let key = ClassKey { program, class: Uuid::now_v7().into() };
            let new = NewClass {
                key,
                name: name.to_owned(),
                time_zone: chrono_tz::Europe::Dublin,
                first_day: day("2026-09-01"),
                last_day: day("2027-06-18"),
                weekdays: vec![weekday],
                days_off: Vec::new(),
                rhythm: Rhythm::default(),
                round: RoundSettings::default(),
            };
            classes::add(db, &new).await.expect("a class");
            classes.push(key);
        }
        let mut ids = Vec::new();
        for number in 0..6 {
            let id = ChildId::from(Uuid::now_v7());
            let child = Child::new(id, format!("Child {number}"), Instrument::Violin, day("2026-09-01"));
            children::add(db, classes[number % 2], &[child]).await.expect("a child");
            ids.push(id);
        }
        let made = Self { server, classes: [classes[0], classes[1]], children: ids, assets: Vec::new() };
        let mut assets = Vec::new();
        for number in 0..4 {
            let id = Uuid::now_v7();
            let (status, answer) =
                made.send(made.classes[0], Method::PUT, &format!("/instruments/{id}"), &violin(number, "")).await;
            assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
            assets.push(id);
        }
        Self { assets, ..made }
    }

    /// Sends; nothing may be answered that is the server's fault.
    async fn send(&self, class: ClassKey, method: Method, rest: &str, body: &Value) -> (StatusCode, Value) {
        let path = format!("{}/api/classes/{}{rest}", self.server.url, class.class);
        let answer = self.server.client.request(method, path).json(body).send().await.expect("an answer");
        let status = answer.status();
        let text = answer.text().await.expect("a text");
        assert!(!status.is_server_error(), "{rest}: {status} {text}");
        (status, serde_json::from_str(&text).unwrap_or(Value::Null))
    }

    async fn get(&self, class: ClassKey, rest: &str) -> Value {
        let path = format!("{}/api/classes/{}{rest}", self.server.url, class.class);
        self.server.client.get(path).send().await.expect("an answer").json().await.expect("JSON")
    }

    /// What one client does, one request after the other.
    async fn act(&self, chance: &mut ChaCha8Rng) -> Answered {
        let mut answered = Answered::default();
        let mut seen: Vec<Value> = Vec::new();
        for _ in 0..STEPS {
            let class = *self.classes.choose(chance).expect("two classes");
            match chance.random_range(0..100) {
                0..35 => self.observe(class, chance, &mut seen, &mut answered).await,
                35..45 => self.undo(class, chance, &seen, &mut answered).await,
                45..51 => self.set_rhythm(class, chance).await,
                51..56 => self.set_calendar(class, chance).await,
                56..61 => self.choose(class, chance).await,
                61..67 => self.change_checklist(class, chance).await,
                67..76 => self.move_child(class, chance).await,
                76..85 => self.lend(class, chance).await,
                85..89 => self.import(class, chance).await,
                89..91 => self.undo_import(class).await,
                91..93 => self.remove(class, chance, &mut answered).await,
                93..97 => self.work_on_tapes(class, chance, &mut answered).await,
                _ => self.keep_instrument(class, chance).await,
            }
        }
        answered
    }

    fn look(&self, chance: &mut ChaCha8Rng) -> Value {
        let target = *TARGETS.choose(chance).expect("targets");
        let observed_at = now() - Duration::minutes(chance.random_range(0..80_000));
        let child = self.children.choose(chance).expect("children");
        let mut look = json!({ "id": Uuid::now_v7(), "child": child, "target": target, "observedAt": observed_at });
        if target == "hold.1" {
            look["except"] = json!(if chance.random_bool(0.5) { vec!["hold.size"] } else { Vec::new() });
        } else if target.starts_with("tape") {
            look["level"] = json!(if chance.random_bool(0.7) { 3 } else { 0 });
        } else {
            look["level"] = json!(chance.random_range(0..=4));
        }
        look
    }

    async fn post_observations(&self, class: ClassKey, looks: &[Value], answered: &mut Answered) {
        let (_, answer) = self.send(class, Method::POST, "/observations", &json!({ "observations": looks })).await;
        for (look, result) in looks.iter().zip(answer["results"].as_array().into_iter().flatten()) {
            if result["outcome"] != "refused" {
                let read = |value: &Value| -> Uuid { value.as_str().and_then(|id| id.parse().ok()).expect("an id") };
                answered.observations.push((read(&look["id"]), read(&look["child"]).into()));
            }
        }
    }

    async fn observe(&self, class: ClassKey, chance: &mut ChaCha8Rng, seen: &mut Vec<Value>, answered: &mut Answered) {
        let looks: Vec<Value> = (0..chance.random_range(1..=4)).map(|_| self.look(chance)).collect();
        self.post_observations(class, &looks, answered).await;
        seen.extend(looks);
    }

    async fn undo(&self, class: ClassKey, chance: &mut ChaCha8Rng, seen: &[Value], answered: &mut Answered) {
        let Some(look) = seen.choose(chance) else { return };
        self.post_observations(class, &[support::undo(look)], answered).await;
    }

    async fn set_rhythm(&self, class: ClassKey, chance: &mut ChaCha8Rng) {
        let mut rhythm = self.get(class, "/rhythm").await["now"].clone();
        let alone = chance.random_range(1..=7);
        rhythm["alone"] = json!(alone);
        rhythm["lasting"] = json!(alone + chance.random_range(0..=2));
        rhythm["tapesFirst"] = json!(chance.random_range(1..=9));
        self.send(class, Method::PUT, "/rhythm", &rhythm).await;
    }

    async fn set_calendar(&self, class: ClassKey, chance: &mut ChaCha8Rng) {
        let mut calendar = self.get(class, "/calendar").await["set"].clone();
        let day = chance.random_range(1..=4);
        calendar["meetingDays"] = json!([day, day + 1]);
        calendar["daysOff"] = json!([{ "day": "2026-10-27", "reason": "" }]);
        self.send(class, Method::PUT, "/calendar", &calendar).await;
    }

    async fn choose(&self, class: ClassKey, chance: &mut ChaCha8Rng) {
        let approach = self.get(class, "/approach").await;
        let choice = approach["choices"].as_array().expect("choices").choose(chance).expect("one").clone();
        let option = choice["options"].as_array().expect("options").choose(chance).expect("one").clone();
        let key = choice["key"].as_str().expect("a key");
        self.send(class, Method::PUT, "/approach", &json!({ "choices": { key: option["id"] } })).await;
    }

    async fn change_checklist(&self, class: ClassKey, chance: &mut ChaCha8Rng) {
        let id = ["hold.size", "hold.tall", "bow.pluck"].choose(chance).expect("one");
        let body = json!({ "off": chance.random_bool(0.5), "texts": [] });
        self.send(class, Method::PUT, &format!("/checklist/{id}"), &body).await;
    }

    async fn move_child(&self, class: ClassKey, chance: &mut ChaCha8Rng) {
        let child = self.children.choose(chance).expect("children");
        let to = match chance.random_range(0..4) {
            0 => json!("left"),
            1 => json!("here"),
            _ => json!({ "class": self.classes.choose(chance).expect("two").class }),
        };
        self.send(class, Method::POST, &format!("/children/{child}/membership"), &to).await;
    }

    async fn lend(&self, class: ClassKey, chance: &mut ChaCha8Rng) {
        let pairs: Vec<Value> = self
            .children
            .sample(chance, 2)
            .zip(self.assets.sample(&mut chance.clone(), 2))
            .map(|(child, asset)| json!({ "child": child, "asset": chance.random_bool(0.8).then_some(asset) }))
            .collect();
        self.send(class, Method::POST, "/loans", &json!({ "pairs": pairs })).await;
    }

    async fn import(&self, class: ClassKey, chance: &mut ChaCha8Rng) {
        let file = format!(
            "Name,Instrument\nNew {},cello\nChild {},viola\n",
            chance.random_range(0..3),
            chance.random_range(0..6)
        );
        let post = async |query: &[(&str, &str)]| -> Value {
            let path = format!("{}/api/classes/{}/roster/import", self.server.url, class.class);
            let request = self
                .server
                .client
                .post(path)
                .query(query)
                .header("content-type", "application/octet-stream")
                .body(file.clone());
            let answer = request.send().await.expect("an answer");
            assert!(!answer.status().is_server_error(), "{}", answer.status());
            answer.json().await.expect("JSON")
        };
        let preview = post(&[]).await;
        let import = Uuid::now_v7().to_string();
        let digest = preview["digest"].as_str().unwrap_or_default();
        let agreed = [("digest", digest), ("import", import.as_str())];
        tokio::join!(post(&agreed), post(&agreed));
    }

    async fn undo_import(&self, class: ClassKey) {
        let roster = self.get(class, "/roster").await;
        if let Some(import) = roster["lastImport"]["id"].as_str() {
            self.send(class, Method::DELETE, &format!("/roster/imports/{import}"), &json!({})).await;
        }
    }

    async fn remove(&self, class: ClassKey, chance: &mut ChaCha8Rng, answered: &mut Answered) {
        let child = self.children.choose(chance).expect("children");
        let roster = self.get(class, "/roster").await;
        let here = roster["children"].as_array().into_iter().chain(roster["left"].as_array()).flatten();
        let Some(name) = here.into_iter().find(|one| one["id"] == json!(child)).map(|one| one["name"].clone()) else {
            return;
        };
        let removal = format!("/children/{child}/removal");
        if self.send(class, Method::POST, &removal, &json!({ "confirm": name })).await.0.is_success() {
            answered.removed.insert(*child);
        }
    }

    async fn work_on_tapes(&self, class: ClassKey, chance: &mut ChaCha8Rng, answered: &mut Answered) {
        let (id, asset) = (Uuid::now_v7(), self.assets.choose(chance).expect("instruments"));
        let length = f64::from(chance.random_range(3200..3350)) / 10.0;
        let at = now() - Duration::minutes(chance.random_range(0..80_000));
        let entry = json!({ "id": id, "asset": asset, "kind": "measured", "lengthMm": length, "at": at });
        let (_, answer) = self.send(class, Method::POST, "/tapes/log", &json!({ "entries": [entry] })).await;
        if answer["results"][0]["outcome"] == "stored" {
            answered.entries.push(id);
        }
    }

    async fn keep_instrument(&self, class: ClassKey, chance: &mut ChaCha8Rng) {
        let number = chance.random_range(0..self.assets.len());
        let body = violin(number, ["", "A scratch"].choose(chance).expect("a note"));
        self.send(class, Method::PUT, &format!("/instruments/{}", self.assets[number]), &body).await;
    }

    /// Everything that was answered is there, and what is kept follows from what is there.
    async fn assert_true(&self, seed: u64, answered: &[Answered]) {
        let removed: BTreeSet<ChildId> =
            answered.iter().flat_map(|answered| answered.removed.iter().copied()).collect();
        let observations = self.ids("select observation_id from observation where program_id = $1").await;
        let entries = self.ids("select event_id from tape_event where program_id = $1").await;
        for answered in answered {
            for (id, child) in answered.observations.iter().filter(|(_, child)| !removed.contains(child)) {
                assert!(observations.contains(id), "seed {seed}: an observation of {child} was answered and is lost");
            }
            assert!(answered.entries.iter().all(|id| entries.contains(id)), "seed {seed}: an entry is lost");
        }
        for key in self.classes {
            let checked = caches::check_class(&self.server.db, &content::embedded(), key).await.expect("an answer");
            assert_eq!(checked.other, [""; 0], "seed {seed}: what is kept does not follow");
        }
    }

    async fn ids(&self, sql: &str) -> BTreeSet<Uuid> {
        let values = [self.classes[0].program.uuid().into()];
        let db = &self.server.db;
        let statement = Statement::from_sql_and_values(db.get_database_backend(), sql, values);
        let rows = db.query_all_raw(statement).await.expect("an answer");
        rows.iter().map(|row| row.try_get_by_index(0).expect("an id")).collect()
    }
}

fn violin(number: usize, note: &str) -> Value {
    json!({ "tag": format!("V-{number}"), "instrument": "violin", "size": "4/4", "condition": "good",
            "conditionNote": note, "bow": true, "case": true })
}

fn number(name: &str, usual: u64) -> u64 {
    std::env::var(name).ok().map_or(usual, |text| text.parse().expect("a number"))
}

#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn in_whatever_order_requests_meet_what_is_kept_follows_and_nothing_is_lost() {
    let (first, schedules) = (number("BRIGHT_ROW_SEED", 1), number("BRIGHT_ROW_SCHEDULES", SCHEDULES));
    let server = server().await;
    for seed in first..first + schedules {
        let program = Program::new(&server).await;
        let clients = (0..CLIENTS).map(|client| {
            let mut chance = ChaCha8Rng::seed_from_u64(seed * CLIENTS + client);
            let program = &program;
            async move { program.act(&mut chance).await }
        });
        let answered = futures::future::join_all(clients).await;
        program.assert_true(seed, &answered).await;
    }
}
