//! Drills of a class's own over the API, and a phone that steers the page on the projector.
#![allow(missing_docs)]

mod support;

use std::time::Duration;

use futures::StreamExt;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, browser, server};
use uuid::Uuid;

fn drill(list: &Value, id: &str) -> Option<Value> {
    let drills = list["drills"].as_array().expect("drills");
    drills.iter().find(|one| one["drill"]["id"] == id).cloned()
}

fn rain() -> Value {
    json!({
        "id": "", "name": " Rain on open D ", "strand": "bow", "on": ["cello", "bass"], "aim": "I hear the rain",
        "tempo": 72, "rounds": 2,
        "steps": [
            { "beats": 8, "load": true, "say": ["rain", "driz-zle"], "text": { "cello": "Tap on D", "bass": "Tap on D" } },
            { "beats": 4, "text": { "cello": "Shake out", "bass": "Shake out" } },
        ],
    })
}

async fn put(server: &Server, id: &str, body: &Value) -> StatusCode {
    server.send(Method::PUT, &format!("/drills/{id}"), Some(body)).await.0
}

#[tokio::test]
async fn an_own_drill_is_added_once_led_reworded_and_taken_away() {
    let server = server().await;
    let body = json!({ "drill": rain(), "request": Uuid::from_u128(1) });
    let (status, added) = server.send(Method::POST, "/drills", Some(&body)).await;
    assert_eq!((status, &added["id"]), (StatusCode::CREATED, &json!("own-rain-on-open-d")));
    let again = server.send(Method::POST, "/drills", Some(&body)).await;
    assert_eq!(again.1, added, "the same request is the same drill");
    let own = drill(&server.get("/drills").await, "own-rain-on-open-d").expect("it");
    assert_eq!((&own["own"], &own["drill"]["name"]), (&json!(true), &json!("Rain on open D")));
    let lesson = server.get("/lesson").await;
    let led = drill(&lesson, "own-rain-on-open-d").expect("in the lesson");
    assert_eq!((&led["load"], &led["minutes"]), (&json!(true), &json!(2)));
    let mut reworded = own["drill"].clone();
    reworded["aim"] = json!("My bow is the rain");
    let changed = json!({ "off": false, "drill": reworded });
    assert_eq!(put(&server, "own-rain-on-open-d", &changed).await, StatusCode::NO_CONTENT);
    let old = server
        .client
        .put(server.path("/drills/own-rain-on-open-d"))
        .header("if-match", format!("\"{}\"", own["version"].as_str().expect("a version")))
        .json(&json!({ "off": true }))
        .send();
    assert_eq!(old.await.expect("an answer").status(), StatusCode::PRECONDITION_FAILED, "it was changed meanwhile");
    let file = server.client.get(server.path("/checklist.toml")).send().await.expect("an answer");
    let file = file.text().await.expect("a text");
    assert!(file.contains("[[drill]]\nid = \"own-rain-on-open-d\""), "{file}");
    let gone = server.send(Method::DELETE, "/drills/own-rain-on-open-d", None).await.0;
    assert_eq!(gone, StatusCode::NO_CONTENT);
    assert_eq!(drill(&server.get("/drills").await, "own-rain-on-open-d"), None);
    let gone = server.send(Method::DELETE, "/drills/own-rain-on-open-d", None).await.0;
    assert_eq!(gone, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn a_shared_drill_is_reworded_switched_off_and_comes_back_as_it_ships() {
    let server = server().await;
    let statue = drill(&server.get("/drills").await, "statue").expect("it");
    let mut mine = statue["drill"].clone();
    mine["name"] = json!("Trees");
    assert_eq!(put(&server, "statue", &json!({ "off": true, "drill": mine })).await, StatusCode::NO_CONTENT);
    let now = drill(&server.get("/drills").await, "statue").expect("it");
    assert_eq!((&now["drill"]["name"], &now["shared"]["name"]), (&json!("Trees"), &json!("Statue and rest")));
    assert_eq!(now["off"], json!(true));
    assert_eq!(drill(&server.get("/lesson").await, "statue"), None, "what is off is in no lesson");
    assert_eq!(server.send(Method::DELETE, "/drills/statue", None).await.0, StatusCode::NOT_FOUND);
    assert_eq!(
        put(&server, "statue", &json!({ "off": false, "drill": statue["drill"] })).await,
        StatusCode::NO_CONTENT
    );
    assert_eq!(drill(&server.get("/drills").await, "statue"), Some(statue), "nothing is left of it");
    assert_eq!(put(&server, "own-nothing", &json!({ "off": true })).await, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn what_cannot_be_a_drill_is_said_by_its_field_and_changes_nothing() {
    let server = server().await;
    let before = server.get("/drills").await;
    let mut bad = rain();
    bad["tempo"] = json!(4000);
    bad["steps"][0]["beats"] = json!(4_294_967_295_u32);
    bad["steps"][1]["text"]["cello"] = json!("x".repeat(5000));
    let (status, problem) = server.send(Method::POST, "/drills", Some(&json!({ "drill": bad }))).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(problem["errors"]);
    let mut many = rain();
    many["steps"] = json!(vec![rain()["steps"][0].clone(); 500]);
    let (status, _) = server.send(Method::POST, "/drills", Some(&json!({ "drill": many }))).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(server.get("/drills").await, before);
}

/// The next event of a name on a stream, as JSON.
async fn next_event(
    events: &mut (impl StreamExt<Item = Result<impl AsRef<[u8]>, reqwest::Error>> + Unpin),
    name: &str,
) -> Value {
    let mut text = String::new();
    loop {
        let chunk = tokio::time::timeout(Duration::from_secs(20), events.next()).await.expect("in time");
        let chunk = chunk.expect("a chunk").expect("bytes");
        text += std::str::from_utf8(chunk.as_ref()).expect("text");
        let event = text.split("\n\n").find(|event| event.starts_with(&format!("event: {name}\n")));
        if let Some(data) = event.and_then(|event| event.split("data: ").nth(1)) {
            return serde_json::from_str(data).expect("JSON");
        }
    }
}

#[tokio::test]
async fn what_the_phone_says_reaches_the_projector_of_the_same_account_in_order_and_nobody_else() {
    let server = server().await;
    let assistant = server.assistants_browser().await;
    let stream = |client: &reqwest::Client| client.get(server.path("/live")).send();
    let mut projector = stream(&server.client).await.expect("a stream").bytes_stream();
    let mut other = stream(&assistant).await.expect("a stream").bytes_stream();
    for events in [&mut projector, &mut other] {
        events.next().await.expect("the first event").expect("bytes");
    }
    let say = |page: u128, action: &str| json!({ "page": Uuid::from_u128(page), "action": action, "drill": "statue" });
    let (status, _) = server.send(Method::POST, "/lead", Some(&say(1, "next"))).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(next_event(&mut projector, "lead").await, say(1, "next"));
    for action in ["next", "next", "start"] {
        server.send(Method::POST, "/lead", Some(&say(1, action))).await;
        assert_eq!(next_event(&mut projector, "lead").await, say(1, action), "also the same once more");
    }
    // The assistant's own page hears the assistant's own phone first, and nothing of the director's before it.
    let path = server.path("/lead");
    let (own, status) = (say(2, "pause"), StatusCode::NO_CONTENT);
    assert_eq!(server.status(&assistant, Method::POST, &path, Some(&own)).await, status);
    assert_eq!(next_event(&mut other, "lead").await, own);
    assert_eq!(server.status(&browser(), Method::POST, &path, Some(&own)).await, StatusCode::UNAUTHORIZED);
    for (field, value) in [("tempo", json!(9000)), ("drill", json!("<script>")), ("beat", json!(4_000_000_000_u32))] {
        let mut bad = say(1, "tempo");
        bad[field] = value;
        let (status, problem) = server.send(Method::POST, "/lead", Some(&bad)).await;
        assert_eq!((status, &problem["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(field)));
    }
}
