//! Documents that are written whole, and things made once: nobody overwrites unseen what somebody else kept, and the same sent
//! twice, also at once, is the same.

mod support;

use bright_row_core::craft::instrument::Instrument;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, browser, look, school, server};
use uuid::Uuid;

/// Sends a document that is based on a version, or on there being none.
async fn put(server: &Server, rest: &str, based_on: Option<&Value>, body: &Value) -> (StatusCode, Value) {
    let request = server.client.put(server.path(rest)).json(body);
    let request = match based_on {
        Some(version) => request.header("if-match", format!("\"{}\"", version.as_str().expect("a version"))),
        None => request.header("if-none-match", "*"),
    };
    let answer = request.send().await.expect("an answer");
    let status = answer.status();
    (status, serde_json::from_str(&answer.text().await.expect("a text")).unwrap_or(Value::Null))
}

/// A document: where it is read and found in what is read, its version there, and where it is written.
struct Document {
    read: String,
    at: String,
    version: String,
    write: String,
}

impl Document {
    fn new(read: &str, at: &str, version: &str, write: &str) -> Self {
        let [read, at, version, write] = [read, at, version, write].map(str::to_owned);
        Self { read, at, version, write }
    }

    async fn read(&self, server: &Server) -> (Value, Option<Value>) {
        let answer = server.get(&self.read).await;
        let found = answer.pointer(&self.at).cloned().unwrap_or_default();
        (found, answer.pointer(&self.version).cloned())
    }

    /// Two read the same; the one who writes later is shown what the first wrote, and may then write after all.
    async fn meets(&self, server: &Server, one: &Value, other: &Value, present: &Value) {
        let (_, seen) = self.read(server).await;
        let (status, answer) = put(server, &self.write, seen.as_ref(), one).await;
        assert!(status.is_success(), "{}: {answer}", self.write);
        let (status, answer) = put(server, &self.write, seen.as_ref(), one).await;
        assert!(status.is_success(), "{}: the same sent again: {answer}", self.write);
        let (status, answer) = put(server, &self.write, seen.as_ref(), other).await;
        assert_eq!(status, StatusCode::PRECONDITION_FAILED, "{}", self.write);
        assert_eq!(answer["type"], "/problems/changed-meanwhile");
        for (key, value) in present.as_object().expect("fields") {
            assert_eq!(answer["document"][key], *value, "{}: {key} of {answer}", self.write);
        }
        assert_eq!(Some(&answer["version"]), self.read(server).await.1.as_ref(), "{}", self.write);
        let (status, answer) = put(server, &self.write, Some(&answer["version"]), other).await;
        assert!(status.is_success(), "{}: {answer}", self.write);
    }
}

fn with(document: &Value, changes: &Value) -> Value {
    let mut changed = document.clone();
    for (key, value) in changes.as_object().expect("changes") {
        changed[key] = value.clone();
    }
    changed
}

#[tokio::test]
async fn whoever_writes_a_setting_later_is_shown_what_the_first_wrote() {
    let server = server().await;
    server.child("Ada K.", Instrument::Violin, 1).await;
    let documents = [
        (Document::new("/rhythm", "/now", "/version", "/rhythm"), json!({ "longest": 30 }), json!({ "longest": 31 })),
        (
            Document::new("/calendar", "/set", "/version", "/calendar"),
            json!({ "meetingDays": [1, 2] }),
            json!({ "meetingDays": [1, 3] }),
        ),
        (
            Document::new("/tapes", "/settings", "/settingsVersion", "/tapes/settings"),
            json!({ "a4Hz": 441.0 }),
            json!({ "a4Hz": 442.0 }),
        ),
        (Document::new("/home", "/set", "/version", "/home"), json!({ "minutes": 12 }), json!({ "taps": 25 })),
    ];
    for (document, one, other) in documents {
        let (read, _) = document.read(&server).await;
        document.meets(&server, &with(&read, &one), &with(&read, &other), &one).await;
        assert_eq!(document.read(&server).await.0, with(&read, &other));
    }
    let seats = Document::new("/seats", "", "/version", "/seats");
    let read = seats.read(&server).await.0;
    let plan =
        |width: u32| json!({ "room": with(&read["room"], &json!({ "widthMm": width })), "seats": read["seats"] });
    let wording = Document::new("/home/wording", "", "/version", "/home/wording");
    let words = |language: &str| json!({ "languages": { language: { "heading": "En casa" } } });
    wording.meets(&server, &words("es"), &words("pt"), &json!({ "es": { "heading": "En casa" } })).await;
    seats.meets(&server, &plan(9000), &plan(9500), &json!({ "room": plan(9000)["room"] })).await;
}

#[tokio::test]
async fn whoever_writes_about_a_child_later_is_shown_what_the_first_wrote() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let entry = |grade: &str| json!({ "name": "Ada K.", "instrument": "violin", "grade": grade });
    let roster = Document::new("/roster", "/children/0", "/children/0/version", &format!("/children/{ada}"));
    roster.meets(&server, &entry("5"), &entry("6"), &json!({ "name": "Ada K.", "grade": "5" })).await;

    let page = format!("/children/{ada}");
    let own = |reason: &str| json!({ "lookFor": "", "reason": reason });
    let there = "/accommodations/0";
    let write = format!("{page}/accommodations/hold.size");
    let accommodation = Document::new(&page, there, &format!("{there}/version"), &write);
    accommodation.meets(&server, &own("A sore arm"), &own("A cast"), &own("A sore arm")).await;
    let made = server.get(&page).await["accommodations"][0]["made"].clone();
    let (status, _) = put(&server, &write, None, &own("A cast")).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(server.get(&page).await["accommodations"][0]["made"], made, "what counts already stays as it was made");

    let choice = server.get(&page).await["overrides"][0]["choice"].clone();
    let (key, options) = (choice["key"].as_str().expect("a key"), choice["options"].as_array().expect("options"));
    let ways = |option: &Value| json!({ "choices": { key: option["id"] } });
    let overrides = Document::new(&page, "/overrides", "/overridesVersion", &format!("{page}/overrides"));
    let (one, other) = (ways(&options[0]), ways(&options[1]));
    overrides.meets(&server, &one, &other, &one["choices"]).await;
}

#[tokio::test]
async fn whoever_writes_an_instrument_a_checkpoint_or_a_lesson_later_is_shown_what_the_first_wrote() {
    let server = server().await;
    let id = Uuid::now_v7();
    let violin =
        json!({ "tag": "V-1", "instrument": "violin", "size": "4/4", "condition": "good", "bow": true, "case": true });
    let write = format!("/instruments/{id}");
    assert_eq!(put(&server, &write, None, &violin).await.0, StatusCode::NO_CONTENT);
    let asset = Document::new("/instruments", "/assets/0", "/assets/0/version", &write);
    let noted = |note: &str| with(&violin, &json!({ "conditionNote": note }));
    asset.meets(&server, &noted("A scratch"), &noted("A new string"), &json!({ "conditionNote": "A scratch" })).await;

    let at = "/stages/0/checkpoints/0";
    let first = server.get("/checklist").await.pointer(at).cloned().expect("a checkpoint");
    let write = format!("/checklist/{}", first["id"].as_str().expect("an id"));
    let checkpoint = Document::new("/checklist", at, &format!("{at}/version"), &write);
    let cue = |cue: &str| {
        let texts = with(&first["texts"][0]["now"], &json!({ "cue": cue }));
        json!({ "off": false, "texts": [{ "instruments": first["texts"][0]["instruments"], "texts": texts }] })
    };
    checkpoint.meets(&server, &cue("Tall as a tree"), &cue("Tall"), &json!({ "id": first["id"] })).await;

    let read = server.get("/lesson").await;
    let write = format!("/lessons/{}", read["day"].as_str().expect("a day"));
    let lesson = Document::new("/lesson", "/kept", "/version", &write);
    let shorter = |minutes: u32| {
        let mut plan = read["proposed"].clone();
        plan["blocks"][0]["minutes"] = json!(minutes);
        plan
    };
    let present = json!({ "blocks": shorter(4)["blocks"] });
    lesson.meets(&server, &shorter(4), &shorter(5), &present).await;
}

#[tokio::test]
async fn a_stale_form_of_an_instrument_does_not_bring_its_old_length_back() {
    let server = server().await;
    let id = Uuid::now_v7();
    let violin = json!({ "tag": "V-1", "instrument": "violin", "size": "4/4", "condition": "good", "bow": true, "case": true,
                         "stringLengthMm": 328.0 });
    let write = format!("/instruments/{id}");
    assert_eq!(put(&server, &write, None, &violin).await.0, StatusCode::NO_CONTENT);
    let opened = server.get("/instruments").await["assets"][0].clone();
    let measured = json!({ "entries": [{ "id": Uuid::now_v7(), "asset": id, "kind": "measured", "lengthMm": 325.0,
                                         "at": support::now() }] });
    assert_eq!(server.send(Method::POST, "/tapes/log", Some(&measured)).await.0, StatusCode::OK);
    let mut form = opened.clone();
    for key in ["id", "loan", "version"] {
        form.as_object_mut().expect("a form").remove(key);
    }
    form["conditionNote"] = json!("A scratch");
    let (status, answer) = put(&server, &write, Some(&opened["version"]), &form).await;
    assert_eq!(status, StatusCode::PRECONDITION_FAILED, "{answer}");
    assert_eq!(answer["document"]["stringLengthMm"], 325.0);
    let entries = async || server.get(&format!("/tapes/{id}")).await["log"].as_array().expect("a log").len();
    assert_eq!(entries().await, 2, "the first length and the measured one");
    // Whoever names no version means it: the old length is on record again, as measured now.
    assert_eq!(server.send(Method::PUT, &write, Some(&form)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(entries().await, 3);
}

#[tokio::test]
async fn headers_that_cannot_be_are_refused_and_a_writer_who_names_no_version_overwrites() {
    let server = server().await;
    let rhythm = server.get("/rhythm").await["now"].clone();
    for wrong in ["x", "\"", "W/\"a\""] {
        let request = server.client.put(server.path("/rhythm")).json(&rhythm).header("if-match", wrong);
        assert_eq!(request.send().await.expect("an answer").status(), StatusCode::BAD_REQUEST, "{wrong}");
    }
    let longer = with(&rhythm, &json!({ "longest": 33 }));
    assert_eq!(server.send(Method::PUT, "/rhythm", Some(&longer)).await.0, StatusCode::NO_CONTENT);
    let answer = server.client.get(server.path("/rhythm")).send().await.expect("an answer");
    let tag = answer.headers()["etag"].to_str().expect("a tag").to_owned();
    let body: Value = answer.json().await.expect("JSON");
    assert_eq!(tag, format!("\"{}\"", body["version"].as_str().expect("a version")));
}

const ROSTER: &str = "Name,Instrument\nAda King,violin\nBen Otis,cello\n";

#[tokio::test]
async fn an_agreed_import_sent_twice_at_once_is_one() {
    let server = server().await;
    let send = async |path: &str, file: &str, query: &[(&str, &str)]| -> (StatusCode, Value) {
        let request = server
            .client
            .post(server.path(path))
            .query(query)
            .header("content-type", "application/octet-stream")
            .body(file.to_owned());
        let answer = request.send().await.expect("an answer");
        let status = answer.status();
        (status, answer.json().await.expect("JSON"))
    };
    let store = "Tag,Kind,Size\nV-1,violin,4/4\nV-2,violin,3/4\n";
    let checklist = server.client.get(server.path("/checklist.toml")).send().await.expect("an answer");
    let checklist = checklist.text().await.expect("a file");
    for (path, file, done) in [
        ("/roster/import", ROSTER, "import"),
        ("/instruments/import", store, "done"),
        ("/checklist/import", checklist.as_str(), "done"),
    ] {
        let (status, preview) = send(path, file, &[]).await;
        assert_eq!(status, StatusCode::OK, "{path}: {preview}");
        let import = Uuid::now_v7().to_string();
        let agreed = [("digest", preview["digest"].as_str().expect("a digest")), ("import", import.as_str())];
        let four = futures::future::join_all((0..4).map(|_| send(path, file, &agreed))).await;
        for (status, answer) in four {
            assert_eq!(status, StatusCode::OK, "{path}: {answer}");
            assert!(answer[done] == json!(true) || answer[done] == json!(import), "{path}: {answer}");
        }
    }
    assert_eq!(server.get("/roster").await["children"].as_array().map(Vec::len), Some(2));
    assert_eq!(server.get("/instruments").await["assets"].as_array().map(Vec::len), Some(2));
}

#[tokio::test]
async fn what_is_made_under_the_id_of_a_form_is_made_once_however_often_it_is_sent() {
    let server = server().await;
    let class = json!({ "id": Uuid::now_v7(), "programId": server.key.program, "name": "Friday strings",
                        "timeZone": "Europe/Dublin", "firstDay": "2026-09-04", "lastDay": "2027-06-18",
                        "meetingDays": [5] });
    let child = json!({ "children": [{ "id": Uuid::now_v7(), "name": "Ada K.", "instrument": "violin", "row": 1, "seat": 1 }] });
    let own = json!({ "stage": "hold.1", "name": "The page is open", "seconds": 3, "request": Uuid::now_v7(),
                      "texts": [{ "instruments": ["violin"],
                                  "texts": { "lookFor": "The page is open", "proof": "", "cue": "Page" } }] });
    let classes = format!("{}/api/classes", server.url);
    for (path, body) in [(classes, class), (server.path("/children"), child), (server.path("/checklist"), own)] {
        let sent = (0..3).map(|_| server.client.post(&path).json(&body).send());
        let mut answers = Vec::new();
        for answer in futures::future::join_all(sent).await {
            let answer = answer.expect("an answer");
            let status = answer.status();
            let text = answer.text().await.expect("a text");
            assert_eq!(status, StatusCode::CREATED, "{path}: {text}");
            answers.push(text);
        }
        answers.dedup();
        assert_eq!(answers.len(), 1, "{path}: the same answer");
    }
    let all = server.client.get(format!("{}/api/classes", server.url)).send().await.expect("an answer");
    assert_eq!(all.json::<Value>().await.expect("JSON").as_array().map(Vec::len), Some(2));
    let roster = server.get("/roster").await;
    assert_eq!(roster["children"].as_array().map(Vec::len), Some(1));
    assert_eq!(server.get("/checklist").await["changed"], 1);
    // A child that is in the class is observed under the same id as before.
    let ada = serde_json::from_value(roster["children"][0]["id"].clone()).expect("an id");
    assert_eq!(server.observe(&[look(ada, "hold.size", 3, 0)]).await[0]["outcome"], "stored");
}

#[tokio::test]
async fn a_class_does_not_take_the_id_of_a_class_of_another_program() {
    let server = server().await;
    let (other, ..) = school(&server.db, "director@two.example", "assistant@two.example").await;
    let client = browser();
    server.sign_in(&client, "director@two.example").await;
    let class = json!({ "id": server.key.class, "programId": other.program, "name": "Friday strings",
                        "timeZone": "Europe/Dublin", "firstDay": "2026-09-04", "lastDay": "2027-06-18",
                        "meetingDays": [5] });
    let classes = format!("{}/api/classes", server.url);
    assert_eq!(server.status(&client, Method::POST, &classes, Some(&class)).await, StatusCode::CONFLICT);
    assert_eq!(server.status(&client, Method::GET, &server.path("/room"), None).await, StatusCode::NOT_FOUND);
}
