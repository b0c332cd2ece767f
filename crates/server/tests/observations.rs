//! Observations through the API: each answered, each counted once, taken back by another observation, never changed.

mod support;

use bright_row_core::craft::instrument::Instrument;
use bright_row_store::ConnectionTrait;
use bright_row_store::observations::standings;
use reqwest::StatusCode;
use serde_json::{Value, json};
use support::{look, now, server, standing, undo};
use uuid::Uuid;

fn outcomes(results: &[Value]) -> Vec<&str> {
    results.iter().map(|result| result["outcome"].as_str().expect("an outcome")).collect()
}

#[tokio::test]
async fn a_observation_lights_the_string_and_is_still_there_for_another_process() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Viola, 1).await;
    assert_eq!(outcomes(&server.observe(&[look(child, "hold.size", 4, 0)]).await), ["stored"]);
    let glow = |room: &Value| room["children"][0]["strings"][0]["glow"].as_f64().expect("a glow");
    // Four of the 36 that nine required checkpoints hold.
    let lit = 0.111;
    assert!((glow(&server.get("/room").await) - lit).abs() < 1e-9);
    let (other, _stop) = support::serve(&server.db).await;
    let path = format!("{other}/api/classes/{}/room", server.key.class);
    let again: Value = server.client.get(path).send().await.expect("an answer").json().await.expect("JSON");
    assert!((glow(&again) - lit).abs() < 1e-9);
}

#[tokio::test]
async fn the_same_observation_sent_again_counts_once() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Cello, 1).await;
    let observation = look(child, "hold.rest", 3, 0);
    let results = server.observe(&[observation.clone(), observation.clone()]).await;
    assert_eq!(outcomes(&results), ["stored", "known"]);
    assert_eq!(outcomes(&server.observe(std::slice::from_ref(&observation)).await), ["known"]);
    let page = server.get(&format!("/children/{child}")).await;
    assert_eq!(page["history"]["observations"].as_array().map(Vec::len), Some(1));
    let mut other = observation;
    other["level"] = json!(4);
    let results = server.observe(&[other]).await;
    insta::assert_snapshot!(results[0]["reason"].as_str().expect("a reason"), @"Another observation has this id already. Record it again.");
}

#[tokio::test]
async fn an_undo_takes_a_observation_back_in_either_order_of_arrival() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let path = format!("/children/{child}");
    let good = look(child, "bow.pluck", 2, 7);
    let wrong = look(child, "bow.pluck", 0, 0);
    server.observe(&[good, wrong.clone()]).await;
    assert_eq!(standing(&server.get(&path).await, "bow.pluck").expect("a standing")["level"], 0);
    server.observe(&[undo(&wrong)]).await;
    assert_eq!(standing(&server.get(&path).await, "bow.pluck").expect("a standing")["level"], 2);
    let late = look(child, "hold.size", 3, 0);
    assert_eq!(outcomes(&server.observe(&[undo(&late)]).await), ["stored"]);
    assert_eq!(outcomes(&server.observe(&[late]).await), ["stored"]);
    assert_eq!(standing(&server.get(&path).await, "hold.size"), None);
}

#[tokio::test]
async fn every_observation_that_cannot_be_is_refused_with_its_reason_and_the_good_ones_are_kept() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Bass, 1).await;
    let stranger = Uuid::now_v7();
    let with = |changes: Value| {
        let mut observation = look(child, "hold.size", 3, 0);
        for (key, value) in changes.as_object().expect("changes") {
            observation[key] = value.clone();
        }
        observation
    };
    let first = look(child, "hold.rest", 3, 0);
    let undo_of_first = undo(&first);
    let batch = [
        first.clone(),
        with(json!({ "level": 7 })),
        with(json!({ "level": null })),
        with(json!({ "target": "hold.nonsense" })),
        with(json!({ "target": "hold.1" })),
        with(json!({ "target": "tape.placed", "level": 2 })),
        with(json!({ "slips": ["pluck-up"] })),
        with(json!({ "except": ["hold.rest"] })),
        with(json!({ "child": stranger })),
        with(json!({ "observedAt": now() + chrono::Duration::days(3) })),
        with(json!({ "note": "n".repeat(501) })),
        with(json!({ "surprise": true })),
        with(json!({ "id": "not an id" })),
        json!("not an observation"),
        json!({ "id": Uuid::now_v7(), "child": child, "target": "hold.1", "except": ["bow.pluck"], "observedAt": now() }),
        undo_of_first.clone(),
        with(json!({ "level": null, "retracts": first["id"] })),
        json!({ "id": Uuid::now_v7(), "child": child, "target": "hold.rest", "retracts": undo_of_first["id"], "observedAt": now() }),
        look(child, "hold.raise", 3, 0),
    ];
    let results = server.observe(&batch).await;
    let lines: Vec<String> = results
        .iter()
        .map(|result| {
            let reason = result["reason"].as_str().unwrap_or_default();
            format!("{} {reason}", result["outcome"].as_str().expect("an outcome")).trim().to_owned()
        })
        .collect();
    insta::assert_snapshot!(lines.join("\n"));
    let page = server.get(&format!("/children/{child}")).await;
    assert_eq!(standing(&page, "hold.raise").expect("kept")["level"], 3);
}

#[tokio::test]
async fn more_than_500_observations_at_once_are_refused_as_a_whole_and_500_are_taken() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let observations: Vec<Value> = (0..501).map(|_| look(child, "hold.size", 3, 1)).collect();
    let answer = server
        .client
        .post(server.path("/observations"))
        .json(&json!({ "observations": observations }))
        .send()
        .await
        .expect("an answer");
    assert_eq!(answer.status(), StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(answer.json::<Value>().await.expect("JSON"));
    let results = server.observe(&observations[..500]).await;
    assert!(outcomes(&results).iter().all(|outcome| *outcome == "stored"));
}

#[tokio::test]
async fn observations_from_many_devices_at_once_leave_the_standings_that_a_rebuild_gives() {
    let server = server().await;
    let mut children = Vec::new();
    for number in 1..=4 {
        children.push(server.child(&format!("Child {number}"), Instrument::Cello, number).await);
    }
    let targets = ["hold.size", "hold.rest", "frame.ring", "frame.land", "tape.placed"];
    let devices = (0..8_usize).map(|device| {
        let (server, children) = (&server, &children);
        async move {
            for round in 0..6_usize {
                let child = children[(device + round) % children.len()];
                let target = targets[(device * 3 + round) % targets.len()];
                let level =
                    if target.starts_with("tape") { 3 } else { u8::try_from((device + round) % 5).expect("small") };
                let days = i64::try_from((device * 7 + round * 3) % 40).expect("small");
                let observation = look(child, target, level, days);
                let stage = json!({ "id": Uuid::now_v7(), "child": child, "target": "frame.4", "observedAt": now() });
                server.observe(&[observation.clone(), stage]).await;
                if round % 3 == 0 {
                    server.observe(&[undo(&observation)]).await;
                }
            }
        }
    });
    futures::future::join_all(devices).await;
    server.assert_caches().await;
    let kept = standings::of_class(&server.db, server.key).await.expect("the cache");
    assert_eq!(kept.len(), children.len());
}

#[tokio::test]
async fn a_observation_can_neither_be_changed_nor_deleted() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    server.observe(&[look(child, "hold.size", 3, 1)]).await;
    for sql in ["update observation set level = 4", "delete from observation", "truncate observation"] {
        assert!(server.db.execute_unprepared(sql).await.is_err(), "{sql}");
    }
}

#[tokio::test]
async fn history_is_read_page_by_page_without_a_gap() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let observations: Vec<Value> = (0..120).map(|days| look(child, "hold.size", 3, days / 3)).collect();
    server.observe(&observations).await;
    let mut page = server.get(&format!("/children/{child}/observations")).await;
    let mut ids: Vec<Value> = Vec::new();
    loop {
        let observations = page["observations"].as_array().expect("observations").clone();
        let last = observations.last().expect("an observation").clone();
        ids.extend(observations.into_iter().map(|observation| observation["id"].clone()));
        if page["older"] == false {
            break;
        }
        let before = last["observedAt"].as_str().expect("a moment").replace('+', "%2B");
        let id = last["id"].as_str().expect("an id");
        page = server.get(&format!("/children/{child}/observations?before={before}&beforeId={id}")).await;
    }
    let mut unique = ids.clone();
    unique.sort_by_key(ToString::to_string);
    unique.dedup();
    assert_eq!((ids.len(), unique.len()), (120, 120));
}
