//! The class's schools and its checklist through the API: shown before they are taken, and no observation is ever lost.

mod support;

use bright_row_core::craft::instrument::Instrument;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, look, server, standing};

#[tokio::test]
async fn a_change_is_shown_before_it_is_taken_and_no_observation_changes() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    server.observe(&[look(child, "hold.aim", 3, 1), look(child, "bow.pencil", 4, 1)]).await;
    let before = server.get(&format!("/children/{child}")).await;
    let nose = json!({ "choices": { "scroll": "nose", "bow-way": "frog", "first-fingers": "rest-first" } });
    let (status, preview) = server.send(Method::POST, "/approach/preview", Some(&nose)).await;
    assert_eq!(status, StatusCode::OK);
    insta::assert_json_snapshot!(preview);
    let still = server.get(&format!("/children/{child}")).await;
    assert_eq!(still["ladders"], before["ladders"], "a preview changes nothing");
    assert_eq!(server.send(Method::PUT, "/approach", Some(&nose)).await.0, StatusCode::NO_CONTENT);
    let after = server.get(&format!("/children/{child}")).await;
    assert_eq!(after["history"], before["history"]);
    assert_eq!(standing(&after, "hold.aim"), standing(&before, "hold.aim"));
    assert!(after["ladders"].to_string().contains("in line with the nose"));
    // Back again, and the pencil's observation is where it was.
    let back = json!({ "choices": { "scroll": "left", "bow-way": "pencil", "first-fingers": "playing-position" } });
    server.send(Method::PUT, "/approach", Some(&back)).await;
    assert_eq!(server.get(&format!("/children/{child}")).await["ladders"], before["ladders"]);
}

#[tokio::test]
async fn every_choice_says_what_it_means_and_why_its_default_is_one() {
    let server = server().await;
    let approach = server.get("/approach").await;
    let choices = approach["choices"].as_array().expect("choices");
    assert_eq!(choices.len(), 40);
    for choice in choices {
        let options = choice["options"].as_array().expect("options");
        assert_eq!(choice["chosen"], options[0]["id"], "{}", choice["key"]);
        for text in ["name", "group", "why", "changes"] {
            assert!(choice[text].as_str().is_some_and(|text| !text.is_empty()), "{} {text}", choice["key"]);
        }
    }
    let unknown = json!({ "choices": { "scroll": "up" } });
    let (status, problem) = server.send(Method::PUT, "/approach", Some(&unknown)).await;
    assert_eq!((status, &problem["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("scroll")));
}

fn edited<'a>(checklist: &'a Value, id: &str) -> Option<&'a Value> {
    let stages = checklist["stages"].as_array()?.iter();
    stages.flat_map(|stage| stage["checkpoints"].as_array().into_iter().flatten()).find(|found| found["id"] == id)
}

async fn put(server: &Server, id: &str, body: &Value) -> (StatusCode, Value) {
    server.send(Method::PUT, &format!("/checklist/{id}"), Some(body)).await
}

#[tokio::test]
async fn a_checkpoint_is_worded_switched_off_and_reset() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    server.observe(&[look(child, "bow.thumb", 3, 1)]).await;
    let checklist = server.get("/checklist").await;
    let thumb = edited(&checklist, "bow.thumb").expect("known");
    let mut texts = thumb["texts"][0].clone();
    assert_eq!(texts["instruments"], json!(["violin", "viola"]));
    texts["now"]["cue"] = json!("Thumb like a banana");
    let body = json!({ "off": false, "texts": [{ "instruments": texts["instruments"], "texts": texts["now"] }] });
    assert_eq!(put(&server, "bow.thumb", &body).await.0, StatusCode::NO_CONTENT);
    let changed = server.get("/checklist").await;
    let thumb = edited(&changed, "bow.thumb").expect("known");
    assert_eq!(thumb["texts"][0]["now"]["cue"], json!("Thumb like a banana"));
    assert_eq!(thumb["texts"][0]["shared"]["cue"], json!("Bumpy thumb"));
    assert_eq!(thumb["texts"][0]["now"]["lookFor"], thumb["texts"][0]["shared"]["lookFor"]);
    assert_eq!((&thumb["traits"], &changed["changed"]), (&json!(["required", "reworded"]), &json!(1)));
    let off = json!({ "off": true, "texts": [] });
    assert_eq!(put(&server, "bow.thumb", &off).await.0, StatusCode::NO_CONTENT);
    let page = server.get(&format!("/children/{child}")).await;
    assert_eq!(standing(&page, "bow.thumb"), None, "not asked any more");
    assert_eq!(page["history"]["observations"][0]["targetName"], json!("Bent thumb"), "and still named");
    let reset = json!({ "off": false, "texts": [] });
    assert_eq!(put(&server, "bow.thumb", &reset).await.0, StatusCode::NO_CONTENT);
    assert_eq!(server.get("/checklist").await, checklist);
    assert!(standing(&server.get(&format!("/children/{child}")).await, "bow.thumb").is_some());
    assert_eq!(put(&server, "bow.toe", &reset).await.0, StatusCode::NOT_FOUND);
}

fn own_body(look_for: &str) -> Value {
    json!({
        "stage": "hold.2", "name": "Music ready", "seconds": 4, "far": true,
        "texts": [{
            "instruments": ["violin", "cello"],
            "texts": { "lookFor": look_for, "proof": "", "cue": "Page open" },
        }],
    })
}

#[tokio::test]
async fn an_own_checkpoint_is_observed_like_any_other_and_with_observations_only_switched_off() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let (status, added) = server.send(Method::POST, "/checklist", Some(&own_body("The page is open"))).await;
    assert_eq!((status, &added["id"]), (StatusCode::CREATED, &json!("hold.own-music-ready")));
    let id = "hold.own-music-ready";
    let results = server.observe(&[look(child, id, 3, 0)]).await;
    assert_eq!(results[0]["outcome"], json!("stored"));
    let page = server.get(&format!("/children/{child}")).await;
    assert_eq!(standing(&page, id).expect("seen")["level"], json!(3));
    let path = format!("/checklist/{id}/own");
    let (status, problem) = server.send(Method::DELETE, &path, None).await;
    assert_eq!(status, StatusCode::CONFLICT);
    insta::assert_snapshot!(problem["detail"].as_str().expect("a detail"));
    assert_eq!(
        server.send(Method::PUT, &path, Some(&own_body("Today's page is open"))).await.0,
        StatusCode::NO_CONTENT
    );
    let page = server.get(&format!("/children/{child}")).await;
    assert!(page["ladders"].to_string().contains("Today's page is open"));
    // One without observations goes for good.
    let (_, second) = server.send(Method::POST, "/checklist", Some(&own_body("Again"))).await;
    let other = format!("/checklist/{}/own", second["id"].as_str().expect("an id"));
    assert_ne!(second["id"], added["id"]);
    assert_eq!(server.send(Method::DELETE, &other, None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(server.send(Method::DELETE, &other, None).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn what_cannot_be_is_told_by_its_field_and_changes_nothing() {
    let server = server().await;
    let before = server.get("/checklist").await;
    let mut body = own_body(&"x".repeat(91));
    body["stage"] = json!("tape.1");
    body["seconds"] = json!(0);
    let (status, problem) = server.send(Method::POST, "/checklist", Some(&body)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(problem["errors"]);
    assert_eq!(server.get("/checklist").await, before);
}

#[tokio::test]
async fn another_rhythm_makes_things_due_anew_and_says_what_cannot_be() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    // What the first stage requires passes: the second is open.
    let passes = ["hold.size", "hold.support", "hold.seat"].map(|id| look(child, id, 2, 0));
    server.observe(&passes).await;
    server.observe(&[look(child, "hold.rest", 3, 0)]).await;
    let recheck = |page: &Value| standing(page, "hold.rest").expect("seen")["recheck"].clone();
    assert_eq!(recheck(&server.get(&format!("/children/{child}")).await), json!({ "state": "fresh", "meetings": 4 }));
    let answer = server.get("/rhythm").await;
    assert_eq!(answer["now"], answer["usual"]);
    let mut rhythm = answer["now"].clone();
    rhythm["alone"] = json!(6);
    assert_eq!(server.send(Method::PUT, "/rhythm", Some(&rhythm)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(recheck(&server.get(&format!("/children/{child}")).await), json!({ "state": "fresh", "meetings": 6 }));
    assert_eq!(server.get("/rhythm").await["now"], rhythm);
    let bad = json!({
        "alone": 0, "lasting": 10, "longest": 4, "tapesFirst": 3, "tapesLater": 900, "mustSeeAfter": 0,
        "visitSeconds": 61, "maxChecks": 0,
    });
    let (status, problem) = server.send(Method::PUT, "/rhythm", Some(&bad)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(problem["errors"]);
    let mut falling = rhythm;
    falling["alone"] = json!(9);
    let (_, problem) = server.send(Method::PUT, "/rhythm", Some(&falling)).await;
    assert_eq!(problem["errors"][0]["field"], json!("lasting"));
    falling["after"] = json!([1, 1, 2, 5, 10]);
    let (status, _) = server.send(Method::PUT, "/rhythm", Some(&falling)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "what was below Alone is no setting any more");
}

async fn import(server: &Server, text: &str, digest: Option<&str>) -> (StatusCode, Value) {
    let query: Vec<(&str, &str)> = digest.map(|digest| ("digest", digest)).into_iter().collect();
    let request = server
        .client
        .post(server.path("/checklist/import"))
        .query(&query)
        .header("content-type", "application/octet-stream")
        .body(text.to_owned());
    let answer = request.send().await.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

#[tokio::test]
async fn a_checklist_travels_as_a_file_and_own_checkpoints_with_observations_stay() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    server.send(Method::PUT, "/approach", Some(&json!({ "choices": { "scroll": "nose" } }))).await;
    put(&server, "hold.nails", &json!({ "off": true, "texts": [] })).await;
    let file = server.client.get(server.path("/checklist.toml")).send().await.expect("an answer");
    let named = file.headers()["content-disposition"].to_str().expect("a text").to_owned();
    assert!(named.contains("checklist.toml"), "{named}");
    let file = file.text().await.expect("a text");
    insta::assert_snapshot!(file);
    // Meanwhile the class goes on: another way, an own checkpoint with an observation.
    server
        .send(Method::PUT, "/approach", Some(&json!({ "choices": { "scroll": "left", "press": "firm-first" } })))
        .await;
    server.send(Method::POST, "/checklist", Some(&own_body("The page is open"))).await;
    server.observe(&[look(child, "hold.own-music-ready", 3, 0)]).await;
    let (status, preview) = import(&server, &file, None).await;
    assert_eq!((status, &preview["done"], &preview["choices"]), (StatusCode::OK, &json!(false), &json!(2)));
    insta::assert_json_snapshot!(preview["changes"]);
    let digest = preview["digest"].as_str().expect("a digest").to_owned();
    assert_eq!(import(&server, &file, Some("0")).await.0, StatusCode::CONFLICT);
    let (status, done) = import(&server, &file, Some(&digest)).await;
    assert_eq!((status, &done["done"]), (StatusCode::OK, &json!(true)));
    let page = server.get(&format!("/children/{child}")).await;
    assert_eq!(page["history"]["observations"][0]["targetName"], json!("Music ready"));
    // What was agreed to is there; the same file again would change nothing.
    let (_, again) = import(&server, &file, None).await;
    assert_eq!((&again["changes"], &again["choices"]), (&json!([]), &json!(0)));
    let (status, problem) = import(&server, "format = 1\n[choices]\nscroll = \"up\"\n", None).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(problem["errors"]);
}

#[tokio::test]
async fn two_directors_who_change_different_checkpoints_lose_nothing() {
    let server = server().await;
    let ids = ["hold.nails", "bow.care", "bow.lean", "frame.lift"];
    let off = json!({ "off": true, "texts": [] });
    let [nails, care, lean, lift] = ids.map(|id| put(&server, id, &off));
    let answers = tokio::join!(nails, care, lean, lift);
    for (status, _) in [answers.0, answers.1, answers.2, answers.3] {
        assert_eq!(status, StatusCode::NO_CONTENT);
    }
    let checklist = server.get("/checklist").await;
    for id in ids {
        let traits = &edited(&checklist, id).expect("known")["traits"];
        assert!(traits.as_array().expect("traits").contains(&json!("off")), "{id}");
    }
}
