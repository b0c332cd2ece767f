//! What counts for one child through the API: accommodations, own ways, stages opened anyway, pain, three things, causes.

mod support;

use bright_row_core::ChildId;
use bright_row_core::craft::instrument::Instrument;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, look, server, standing, undo};

fn checkpoint<'a>(page: &'a Value, id: &str) -> Option<&'a Value> {
    let ladders = page["ladders"].as_array()?.iter();
    let stages = ladders.flat_map(|ladder| ladder["stages"].as_array().into_iter().flatten());
    stages.flat_map(|stage| stage["checkpoints"].as_array().into_iter().flatten()).find(|found| found["id"] == id)
}

fn stage<'a>(page: &'a Value, id: &str) -> &'a Value {
    let ladders = page["ladders"].as_array().expect("ladders").iter();
    let mut stages = ladders.flat_map(|ladder| ladder["stages"].as_array().into_iter().flatten());
    stages.find(|stage| stage["id"] == id).expect("a stage")
}

async fn page(server: &Server, child: ChildId) -> Value {
    server.get(&format!("/children/{child}")).await
}

#[tokio::test]
async fn an_accommodation_counts_for_its_child_alone_and_ends_again() {
    let server = server().await;
    let (ada, ben) =
        (server.child("Ada K.", Instrument::Violin, 1).await, server.child("Ben O.", Instrument::Violin, 2).await);
    let path = format!("/children/{ada}/accommodations/bow.little");
    let own = json!({ "lookFor": "Little finger rests straight", "reason": "Lax joint" });
    assert_eq!(server.send(Method::PUT, &path, Some(&own)).await.0, StatusCode::NO_CONTENT);
    let of_ada = page(&server, ada).await;
    let little = checkpoint(&of_ada, "bow.little").expect("asked");
    assert_eq!(
        (&little["lookFor"], &little["accommodated"]),
        (&json!("Little finger rests straight"), &json!("Lax joint"))
    );
    assert_eq!(of_ada["accommodations"][0]["made"]["by"], json!("The director"));
    let of_ben = page(&server, ben).await;
    assert_ne!(checkpoint(&of_ben, "bow.little").expect("asked")["lookFor"], little["lookFor"]);
    // Another one takes its place.
    let exempt = json!({ "lookFor": "", "reason": "Not this year" });
    assert_eq!(server.send(Method::PUT, &path, Some(&exempt)).await.0, StatusCode::NO_CONTENT);
    let of_ada = page(&server, ada).await;
    assert_eq!(checkpoint(&of_ada, "bow.little").expect("shown")["applies"], json!(false));
    assert_eq!(of_ada["accommodations"].as_array().map(Vec::len), Some(1));
    assert_eq!(server.send(Method::DELETE, &path, None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(checkpoint(&page(&server, ada).await, "bow.little").expect("asked")["applies"], json!(true));
    assert_eq!(server.send(Method::DELETE, &path, None).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn what_does_not_apply_opens_the_next_stage_and_leaves_the_glow_to_the_rest() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Cello, 1).await;
    let all_but_seat = ["hold.size", "hold.support"].map(|id| look(child, id, 4, 0));
    server.observe(&all_but_seat).await;
    assert_eq!(stage(&page(&server, child).await, "hold.2")["state"], json!("shut"));
    let exempt = json!({ "lookFor": "", "reason": "Plays standing" });
    server.send(Method::PUT, &format!("/children/{child}/accommodations/hold.seat"), Some(&exempt)).await;
    assert_eq!(stage(&page(&server, child).await, "hold.2")["state"], json!("open"));
    let room = server.get("/room").await;
    assert_eq!(room["children"][0]["strings"][0]["glow"], json!(0.25), "8 of 32, not of 36");
}

#[tokio::test]
async fn an_accommodation_that_cannot_be_is_told_by_its_field() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let own = json!({ "lookFor": "x".repeat(91), "reason": "  " });
    let (status, problem) =
        server.send(Method::PUT, &format!("/children/{child}/accommodations/bow.little"), Some(&own)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(problem["errors"]);
    let (status, _) = server.send(Method::PUT, &format!("/children/{child}/accommodations/bow.toe"), Some(&own)).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn a_childs_own_way_words_its_cues_and_only_its_own() {
    let server = server().await;
    let (ada, ben) =
        (server.child("Ada K.", Instrument::Violin, 1).await, server.child("Ben O.", Instrument::Violin, 2).await);
    let overrides = json!({ "choices": { "bow-fingers": "fingers-first" } });
    assert_eq!(
        server.send(Method::PUT, &format!("/children/{ada}/overrides"), Some(&overrides)).await.0,
        StatusCode::NO_CONTENT
    );
    let cue = |page: &Value| checkpoint(page, "bow.shape").expect("asked")["cue"].clone();
    assert_eq!(cue(&page(&server, ada).await), json!("Hang the fingers, then the thumb"));
    assert_eq!(cue(&page(&server, ben).await), json!("Bumpy thumb, then the fingers"));
    assert_eq!(server.get("/approach").await["overrides"], json!({ "bow-fingers": 1 }));
    // Where the table gives a child no way of its own, it has none.
    let order = json!({ "choices": { "order": "bow-first" } });
    let (status, _) = server.send(Method::PUT, &format!("/children/{ada}/overrides"), Some(&order)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    server.send(Method::PUT, &format!("/children/{ada}/overrides"), Some(&json!({ "choices": {} }))).await;
    assert_eq!(cue(&page(&server, ada).await), json!("Bumpy thumb, then the fingers"));
}

#[tokio::test]
async fn a_stage_is_opened_anyway_recorded_and_left_again() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let path = format!("/children/{child}/stages/frame.1/opened");
    assert_eq!(stage(&page(&server, child).await, "frame.1")["state"], json!("shut"));
    for _ in 0..2 {
        assert_eq!(server.send(Method::PUT, &path, None).await.0, StatusCode::NO_CONTENT);
    }
    let opened = page(&server, child).await;
    assert_eq!(stage(&opened, "frame.1")["state"], json!("open"));
    assert_eq!(stage(&opened, "frame.1")["opened"]["by"], json!("The director"));
    assert_eq!(server.send(Method::DELETE, &path, None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(stage(&page(&server, child).await, "frame.1")["state"], json!("shut"));
    assert_eq!(server.send(Method::DELETE, &path, None).await.0, StatusCode::NOT_FOUND);
    let nowhere = format!("/children/{child}/stages/frame.9/opened");
    assert_eq!(server.send(Method::PUT, &nowhere, None).await.0, StatusCode::NOT_FOUND);
}

fn hold_flags(room: &Value) -> &Value {
    &room["children"][0]["strings"][0]["flags"]
}

#[tokio::test]
async fn pain_stays_flagged_through_later_looks_until_somebody_says_what_was_done() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let mut sore = look(child, "hold.rest", 3, 4);
    sore["says"] = json!("hurts");
    sore["note"] = json!("Neck");
    let mut easy = look(child, "hold.rest", 3, 1);
    easy["says"] = json!("easy");
    server.observe(&[sore.clone(), easy]).await;
    assert_eq!(hold_flags(&server.get("/room").await), &json!(["pain"]));
    let of_child = page(&server, child).await;
    assert_eq!(of_child["next"][0]["kind"], json!("pain"));
    assert_eq!((&of_child["pain"][0]["note"], &of_child["pain"][0]["done"]), (&json!("Neck"), &Value::Null));
    let path = format!("/children/{child}/pain/{}", sore["id"].as_str().expect("an id"));
    let (status, problem) = server.send(Method::POST, &path, Some(&json!({ "done": " " }))).await;
    assert_eq!((status, &problem["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("done")));
    let done = json!({ "done": "Rested, called the family" });
    assert_eq!(server.send(Method::POST, &path, Some(&done)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(hold_flags(&server.get("/room").await), &json!([]));
    let of_child = page(&server, child).await;
    assert_eq!(of_child["pain"][0]["done"], json!("Rested, called the family"));
    assert_eq!(of_child["pain"][0]["answered"]["by"], json!("The director"));
    // An observation without pain has nothing to answer.
    let other = look(child, "hold.rest", 4, 0);
    server.observe(std::slice::from_ref(&other)).await;
    let path = format!("/children/{child}/pain/{}", other["id"].as_str().expect("an id"));
    assert_eq!(server.send(Method::POST, &path, Some(&done)).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn a_pain_that_was_taken_back_is_flagged_no_more() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let mut sore = look(child, "hold.rest", 3, 0);
    sore["says"] = json!("hurts");
    server.observe(std::slice::from_ref(&sore)).await;
    server.observe(&[undo(&sore)]).await;
    assert_eq!(hold_flags(&server.get("/room").await), &json!([]));
    assert_eq!(page(&server, child).await["pain"], json!([]));
}

#[tokio::test]
async fn sore_tips_are_kept_and_flag_nothing() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let mut sore = look(child, "frame.tips", 2, 0);
    sore["says"] = json!("soreTips");
    server.observe(&[sore]).await;
    let page = page(&server, child).await;
    assert_eq!(standing(&page, "frame.tips").expect("seen")["says"], "soreTips");
    assert_eq!(page["pain"], json!([]));
    assert!(page["child"]["strings"].as_array().expect("strings").iter().all(|string| string["flags"] == json!([])));
}

#[tokio::test]
async fn the_next_items_of_a_child_come_with_their_help_and_reasons() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let mut observations: Vec<Value> =
        ["hold.support", "hold.seat", "hold.rest", "hold.raise", "bow.pluck", "bow.shape", "bow.pencil"]
            .map(|id| look(child, id, 3, 3))
            .into();
    observations.push(look(child, "hold.size", 2, 3));
    let mut tall = look(child, "hold.tall", 2, 2);
    tall["slips"] = json!(["shoulder-up"]);
    let mut thumb = look(child, "bow.thumb", 2, 1);
    thumb["slips"] = json!(["bow-thumb-lock"]);
    observations.extend([tall, thumb]);
    server.observe(&observations).await;
    insta::assert_json_snapshot!(page(&server, child).await["next"]);
}

#[tokio::test]
async fn causes_are_ranked_with_what_speaks_for_them() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Cello, 1).await;
    let mut clamp = look(child, "frame.thumb", 2, 5);
    clamp["slips"] = json!(["thumb-clamp"]);
    clamp["says"] = json!("tight");
    server
        .observe(&[
            clamp,
            look(child, "tape.placed", 3, 9),
            look(child, "tape.heard", 3, 8),
            look(child, "tape.heard", 0, 1),
        ])
        .await;
    let answer = server.get(&format!("/children/{child}/causes?symptoms=stuck-hand,one-off&facts=strings-high")).await;
    let causes: Vec<Value> = answer["causes"].as_array().expect("causes").iter().take(4).cloned().collect();
    insta::assert_json_snapshot!(causes);
    let symptoms = answer["symptoms"].as_array().expect("symptoms");
    assert!(
        symptoms.iter().any(|symptom| symptom["id"] == "arm-folded")
            && !symptoms.iter().any(|symptom| symptom["id"] == "first-flat")
    );
    // Recording it is an observation like any other.
    let mut observation = look(child, "frame.thumb", 2, 0);
    observation["slips"] = json!(["thumb-clamp"]);
    server.observe(&[observation]).await;
    let of_child = page(&server, child).await;
    assert_eq!(standing(&of_child, "frame.thumb").expect("seen")["slips"], json!(["thumb-clamp"]));
    let (status, problem) = server.send(Method::GET, &format!("/children/{child}/causes?symptoms=hum"), None).await;
    assert_eq!((status, &problem["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("symptoms")));
}

/// The same without the ids, which are new in every run.
fn without_ids(value: &mut Value) {
    match value {
        Value::Object(fields) => {
            fields.remove("id");
            fields.values_mut().for_each(without_ids);
        }
        Value::Array(items) => items.iter_mut().for_each(without_ids),
        _ => {}
    }
}

#[tokio::test]
async fn the_class_is_read_as_a_whole() {
    let server = server().await;
    let mut observations = Vec::new();
    for (number, instrument) in (1..).zip([Instrument::Violin, Instrument::Violin, Instrument::Cello]) {
        let child = server.child(&format!("Child {number}."), instrument, number).await;
        let mut pluck = look(child, "bow.pluck", 2, 1);
        pluck["slips"] = json!(["pluck-up"]);
        observations.extend([pluck, look(child, "hold.size", 1, 1)]);
    }
    server.observe(&observations).await;
    let mut snapshot = server.get("/overview").await;
    without_ids(&mut snapshot);
    insta::assert_json_snapshot!(snapshot["groups"]);
    insta::assert_json_snapshot!(snapshot["bottlenecks"][0]);
    assert_eq!(snapshot["sections"].as_array().map(Vec::len), Some(2));
    assert_eq!(snapshot["sections"][0]["strands"][0]["bottleneck"]["name"], json!("Size fits"));
}

#[tokio::test]
async fn the_next_lesson_is_proposed_kept_and_read_again() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    server.observe(&[look(child, "hold.size", 3, 0), look(child, "tape.placed", 3, 60)]).await;
    let lesson = server.get("/lesson?minutes=30").await;
    let minutes = |plan: &Value| {
        let blocks = plan["blocks"].as_array().expect("blocks").clone();
        blocks.iter().map(|block| block["minutes"].as_u64().expect("minutes")).sum::<u64>()
    };
    assert_eq!((lesson["day"].clone(), minutes(&lesson["proposed"])), (json!("2026-11-03"), 30));
    assert_eq!(lesson["tapes"][0]["name"], "Ada K.");
    assert!(lesson.get("kept").is_none());
    insta::assert_json_snapshot!(lesson["proposed"]);

    let plan = json!({
        "blocks": [
            { "kind": "drill", "minutes": 4, "drill": "pluck-across" },
            { "kind": "book", "minutes": 20, "line": "The green one, page 12" },
        ],
        "aims": ["I cross over without looking"],
    });
    let keep = "/lessons/2026-11-03";
    assert_eq!(server.send(Method::PUT, keep, Some(&plan)).await.0, StatusCode::NO_CONTENT);
    let again = server.get("/lesson").await;
    assert_eq!((&again["kept"], again["minutes"].clone()), (&plan, json!(24)));

    let bad = json!({
        "blocks": [{ "kind": "drill", "minutes": 0, "drill": "dance" }, { "kind": "look", "minutes": 3, "drill": "statue" }],
        "aims": ["a", "b", "c", "d"],
    });
    let (status, problem) = server.send(Method::PUT, keep, Some(&bad)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(problem["errors"]);
    assert_eq!(server.send(Method::PUT, "/lessons/someday", Some(&plan)).await.0, StatusCode::NOT_FOUND);
    let assistant = server.assistants_browser().await;
    let path = server.path(keep);
    assert_eq!(server.status(&assistant, Method::PUT, &path, Some(&plan)).await, StatusCode::FORBIDDEN);
}
