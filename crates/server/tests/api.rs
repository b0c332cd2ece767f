//! Answers of the API as a whole: the room, a child's page, problems, headers, live updates, the description.

mod support;

use std::time::Duration;

use bright_row_core::craft::instrument::Instrument;
use futures::StreamExt;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::{browser, look, server};
use uuid::Uuid;

/// Ids and program names differ from run to run; everything else is fixed.
macro_rules! assert_answer {
    ($value:expr) => {
        insta::with_settings!({ filters => vec![
            (r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}", "[id]"),
        ]}, { insta::assert_json_snapshot!($value) });
    };
}

#[tokio::test]
async fn the_room_tells_seats_strings_and_what_is_due() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Viola, 1).await;
    let ben = server.child("Ben O.", Instrument::Bass, 2).await;
    server.child("Cleo M.", Instrument::Cello, 3).await;
    let mut slip = look(ben, "bow.pluck", 2, 0);
    slip["slips"] = json!(["pluck-nail"]);
    server
        .observe(&[
            look(ada, "hold.size", 4, 42),
            look(ada, "hold.rest", 3, 7),
            look(ada, "tape.measured", 3, 7),
            look(ada, "tape.placed", 3, 7),
            slip,
        ])
        .await;
    let room = server.get("/room").await;
    assert_answer!(room);
}

#[tokio::test]
async fn a_childs_page_tells_ladders_and_history() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Cello, 1).await;
    let mut noted = look(ada, "hold.rest", 3, 0);
    noted["note"] = json!("Chair one lower.");
    noted["says"] = json!("easy");
    server.observe(&[look(ada, "hold.size", 3, 28), noted]).await;
    let mut page = server.get(&format!("/children/{ada}")).await;
    // One ladder says it all; the others have the same shape.
    page["ladders"].as_array_mut().expect("ladders").truncate(1);
    // What rules in a page read is theirs alone: they are compared with the server's in page_and_server.rs.
    assert!(page.as_object_mut().expect("an object").remove("basis").is_some());
    assert_answer!(page);
}

#[tokio::test]
async fn every_error_is_a_problem_those_of_the_extractors_too() {
    let server = server().await;
    let request = |method: Method, path: &str, kind: &str, body: &'static str| {
        server.client.request(method, format!("{}{path}", server.url)).header("content-type", kind).body(body).send()
    };
    let class = format!("/api/classes/{}", server.key.class);
    let cases = [
        ("not JSON", request(Method::POST, "/api/session", "application/json", "{").await),
        ("another kind of body", request(Method::POST, "/api/session", "text/plain", "{}").await),
        ("a missing field", request(Method::POST, "/api/session", "application/json", "{}").await),
        ("no such path", request(Method::GET, "/api/nothing", "application/json", "").await),
        ("no such method", request(Method::PUT, "/api/session", "application/json", "").await),
        ("an id that is none", request(Method::GET, "/api/classes/nonsense/room", "application/json", "").await),
        ("a child that is none", request(Method::GET, &format!("{class}/children/x"), "application/json", "").await),
        ("a query that cannot be", {
            let child = server.child("Ada K.", Instrument::Viola, 1).await;
            let path = format!("{class}/children/{child}/observations?before=yesterday");
            request(Method::GET, &path, "application/json", "").await
        }),
    ];
    let mut lines = Vec::new();
    for (case, answer) in cases {
        let answer = answer.expect("an answer");
        assert_eq!(answer.headers()["content-type"], "application/problem+json", "{case}");
        let status = answer.status().as_u16();
        let problem: Value = answer.json().await.expect("JSON");
        assert_eq!(problem["status"], status, "{case}");
        lines.push(format!("{case}: {status} {} {}", problem["type"], problem["detail"]));
    }
    insta::assert_snapshot!(lines.join("\n"));
}

#[tokio::test]
async fn a_body_that_is_too_large_is_told_so() {
    let server = server().await;
    let body = json!({ "observations": ["x".repeat(2_000_000)] });
    let answer = server.client.post(server.path("/observations")).json(&body).send().await.expect("an answer");
    assert_eq!(answer.status(), StatusCode::PAYLOAD_TOO_LARGE);
    assert_eq!(answer.headers()["content-type"], "application/problem+json");
}

#[tokio::test]
async fn a_class_and_its_children_are_checked_field_by_field() {
    let server = server().await;
    let class = json!({
        "id": Uuid::now_v7(), "programId": server.key.program, "name": " ", "timeZone": "Nowhere/Here",
        "firstDay": "2026-09-01", "lastDay": "2026-08-01", "meetingDays": [1, 9],
    });
    let child = |name: &str, row: u8, seat: u8| json!({ "id": Uuid::now_v7(), "name": name, "instrument": "viola", "row": row, "seat": seat });
    let post = async |path: String, body: Value| -> Value {
        server.client.post(path).json(&body).send().await.expect("an answer").json().await.unwrap_or_default()
    };
    let wrong_class = post(format!("{}/api/classes", server.url), class).await;
    let wrong_children = post(server.path("/children"), json!({ "children": [child("", 0, 41)] })).await;
    post(server.path("/children"), json!({ "children": [child("Ada K.", 1, 1)] })).await;
    let taken =
        post(server.path("/children"), json!({ "children": [child("Ben O.", 1, 2), child("Cy P.", 1, 1)] })).await;
    insta::assert_json_snapshot!([wrong_class, wrong_children, taken]);
    let room = server.get("/room").await;
    assert_eq!(room["children"].as_array().map(Vec::len), Some(1), "all or none");
}

#[tokio::test]
async fn pages_and_answers_carry_the_security_headers() {
    let server = server().await;
    for path in ["/", "/class/anything/room", "/api/session", "/api/nothing"] {
        let answer = server.client.get(format!("{}{path}", server.url)).send().await.expect("an answer");
        let policy = answer.headers()["content-security-policy"].to_str().expect("text").to_owned();
        let scripts = policy.split(';').find(|part| part.trim().starts_with("script-src")).expect("a script policy");
        assert_eq!(scripts.trim(), "script-src 'self' 'wasm-unsafe-eval'", "{path}");
        assert_eq!(answer.headers()["x-content-type-options"], "nosniff");
        let cache = answer.headers().get("cache-control").expect("a cache policy");
        assert_eq!(cache, if path.starts_with("/api") { "no-store" } else { "no-cache" }, "{path}");
    }
}

/// Waits until a line with `text` has come in.
async fn hear(stream: &mut (impl StreamExt<Item = Result<impl AsRef<[u8]>, reqwest::Error>> + Unpin), text: &str) {
    let wait = async {
        let mut heard = String::new();
        while !heard.contains(text) {
            let part = stream.next().await.expect("the stream goes on").expect("a part");
            heard.push_str(&String::from_utf8_lossy(part.as_ref()));
        }
    };
    tokio::time::timeout(Duration::from_secs(10), wait).await.expect("an event within seconds");
}

#[tokio::test]
async fn an_observation_is_told_to_open_pages_of_that_class_through_any_process() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let (other_process, _stop) = support::serve(&server.db).await;
    let listener: Client = server.assistants_browser().await;
    let path = format!("{other_process}/api/classes/{}/live", server.key.class);
    let answer = listener.get(path).send().await.expect("an answer");
    assert_eq!(answer.headers()["content-type"], "text/event-stream");
    let mut events = answer.bytes_stream();
    hear(&mut events, "event: changed\ndata: class\n\n").await;
    // One of these may be the notice that the process has begun to listen; the others are the observations.
    for event in ["event: changed", "event: changed", "event: changed\ndata: observations\n\n"] {
        server.observe(&[look(child, "hold.size", 1, 0)]).await;
        hear(&mut events, event).await;
    }
}

#[test]
fn whoever_asks_for_something_by_its_id_reads_what_is_answered_where_it_is_missing() {
    let described: Value = serde_json::from_str(&bright_row::router::openapi_json()).expect("JSON");
    let paths = described["paths"].as_object().expect("paths").iter().filter(|(path, _)| path.contains('{'));
    let operations =
        paths.flat_map(|(path, methods)| methods.as_object().expect("methods").iter().map(move |of| (path, of)));
    // What a secret leads to is not missing but over.
    let said = |operation: &Value| ["404", "410"].iter().any(|status| operation["responses"].get(status).is_some());
    let silent = operations.filter(|(_, (_, operation))| !said(operation));
    let silent: Vec<String> = silent.map(|(path, (method, _))| format!("{method} {path}")).collect();
    assert_eq!(silent, [""; 0]);
}

/// Every operation of the description: method, path and what is said of it.
fn operations(described: &Value) -> impl Iterator<Item = (&String, &String, &Value)> {
    let paths = described["paths"].as_object().expect("paths").iter();
    paths.flat_map(|(path, methods)| {
        methods.as_object().expect("methods").iter().map(move |(method, operation)| (method, path, operation))
    })
}

#[test]
fn clients_can_be_made_of_the_description() {
    let described: Value = serde_json::from_str(&bright_row::router::openapi_json()).expect("JSON");
    assert_eq!(described["components"]["securitySchemes"]["session"]["name"], "bright_row");
    for (method, path, operation) in operations(&described) {
        let answers = operation["responses"].as_object().expect("answers");
        for (status, answer) in answers {
            let said = answer["description"].as_str().unwrap_or_default();
            assert!(!said.is_empty(), "{method} {path} {status} says nothing");
        }
        let bodies = answers.values().chain(operation.get("requestBody")).filter_map(|one| one["content"].as_object());
        for (kind, body) in bodies.flatten().filter(|(kind, _)| !kind.contains("json")) {
            assert_eq!(body["schema"]["type"], "string", "{method} {path}: {kind}");
        }
    }
    let open = operations(&described).filter(|(_, _, operation)| operation.get("security").is_none());
    let open: Vec<String> = open.map(|(method, path, _)| format!("{method} {path}")).collect();
    insta::assert_debug_snapshot!(open, @r#"
    [
        "get /api/calendars/{secret}/meetings.ics",
        "get /api/first-run",
        "post /api/first-run",
        "post /api/links/invitation",
        "post /api/links/invitation/look",
        "post /api/links/password",
        "get /api/openapi.json",
        "delete /api/session",
        "post /api/session",
        "post /api/session/passkey",
        "get /healthz",
        "get /readyz",
    ]
    "#);
}

#[tokio::test]
async fn the_committed_description_is_the_api() {
    let committed = include_str!("../../../docs/openapi.json");
    assert_eq!(
        committed.trim(),
        bright_row::router::openapi_json().trim(),
        "write it anew: cargo run -p bright-row -- openapi > docs/openapi.json",
    );
    let described: Value = serde_json::from_str(committed).expect("JSON");
    let mut names: Vec<String> = described["paths"]
        .as_object()
        .expect("paths")
        .values()
        .flat_map(|path| path.as_object().expect("methods").values().map(|o| o["operationId"].to_string()))
        .collect();
    let all = names.len();
    names.sort();
    names.dedup();
    assert_eq!(names.len(), all, "operation ids are unique");
}

#[tokio::test]
async fn an_unknown_asset_is_not_answered_with_the_page() {
    let server = server().await;
    let missing = browser().get(format!("{}/assets/missing.js", server.url)).send().await.expect("an answer");
    assert_eq!(missing.status(), StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn fonts_of_other_scripts_are_there_for_the_pages_and_nothing_else_is() {
    let server = server().await;
    let font = async |name: &str| {
        let answer = browser().get(format!("{}/fonts/{name}", server.url)).send().await.expect("an answer");
        (answer.status(), answer.headers().get("content-type").and_then(|kind| kind.to_str().ok()).map(str::to_owned))
    };
    assert_eq!(font("NotoSans_400Regular.ttf").await, (StatusCode::OK, Some("font/ttf".to_owned())));
    for name in ["LICENSE", "..%2fCargo.toml", "%00", ""] {
        assert_eq!(font(name).await.0, StatusCode::NOT_FOUND, "{name}");
    }
}

#[tokio::test]
async fn every_example_of_the_description_is_taken_as_it_stands() {
    let examples = bright_row::router::examples();
    assert!(examples.len() >= 14, "{}", examples.len());
    for (operation, body) in examples {
        // Each on a school of its own: one may change what another is about.
        let school = support::people::School::new().await;
        let owner = school.sign_in("owner@one.example").await;
        let child = school.child("Ada K.").await;
        let (method, path) = operation.split_once(' ').expect("a method and a path");
        let path = path
            .replace("{class}", &school.key.class.to_string())
            .replace("{program}", &school.key.program.to_string())
            .replace("{child}", &child.to_string())
            .replace("{asset}", &Uuid::now_v7().to_string())
            .replace("{day}", "2026-11-05");
        let method: Method = method.parse().expect("a method");
        let (status, answer) = school.send(&owner, method, &path, Some(&body)).await;
        // The demo's people are not at this school.
        let expected = if path == "/api/session" { status == StatusCode::UNAUTHORIZED } else { status.is_success() };
        assert!(expected, "{operation}: {status} {answer}");
    }
}
