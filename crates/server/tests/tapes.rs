//! Markers on instruments through the API: computed, logged, assessed for the bench, printed; and who plays what where.

mod support;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::{AssetId, ChildId};
use bright_row_store::ConnectionTrait;
use bright_row_store::instruments::tapes;
use chrono::Duration;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, look, school, server};
use uuid::Uuid;

async fn calc(server: &Server, question: &Value) -> (StatusCode, Value) {
    let answer = server.client.post(format!("{}/api/calc/tapes", server.url)).json(question).send().await;
    let answer = answer.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

fn question(change: &Value) -> Value {
    let mut question = json!({
        "instrument": "violin", "stringLengthMm": 328, "temperament": "equal", "fingers": ["1", "2", "3"],
    });
    for (key, value) in change.as_object().expect("changes") {
        question[key] = value.clone();
    }
    question
}

#[tokio::test]
async fn markers_are_computed_without_a_database() {
    let server = server().await;
    let asked = question(&json!({
        "fingers": ["3", "1", "2"], "measured": [{ "finger": "2", "edgeMm": 68.4 }],
        "toleranceCents": { "true": 5, "close": 10 }, "a4Hz": 442,
    }));
    let (status, answer) = calc(&server, &asked).await;
    assert_eq!(status, StatusCode::OK);
    insta::assert_json_snapshot!(answer);
}

#[tokio::test]
async fn what_cannot_be_computed_is_told_by_its_field_with_what_was_probably_meant() {
    let server = server().await;
    let mut lines = Vec::new();
    for change in [
        json!({ "stringLengthMm": 0 }),
        json!({ "stringLengthMm": -328 }),
        json!({ "stringLengthMm": 12.9 }),
        json!({ "stringLengthMm": 32.8 }),
        json!({ "instrument": "viola", "stringLengthMm": 3690 }),
        json!({ "stripMm": 8 }),
        json!({ "offsetMm": -6 }),
        json!({ "toleranceCents": { "true": 0, "close": 12 } }),
        json!({ "a4Hz": 415 }),
        json!({ "fingers": ["1", "x4"] }),
        json!({ "fingers": ["1", "9"] }),
        json!({ "fingers": ["1", "1"] }),
        json!({ "measured": [{ "finger": "1", "edgeMm": 66.2 }, { "finger": "2", "edgeMm": 34.3 }] }),
        json!({ "measured": [{ "finger": "1", "edgeMm": 400 }] }),
        json!({ "measured": [{ "finger": "4", "edgeMm": 100 }] }),
        json!({ "measured": [{ "finger": "1", "edgeMm": 34 }, { "finger": "1", "edgeMm": 35 }] }),
    ] {
        let (status, answer) = calc(&server, &question(&change)).await;
        let error = &answer["errors"][0];
        lines.push(format!(
            "{} {}: {}",
            status.as_u16(),
            error["field"].as_str().unwrap_or("-"),
            error["detail"].as_str().unwrap_or("-")
        ));
    }
    insta::assert_snapshot!(lines.join("\n"));
    let (status, _) = calc(&server, &question(&json!({ "stringLengthMm": "long" }))).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
}

/// An instrument of the store room.
async fn asset(server: &Server, tag: &str, instrument: &str, size: &str, length: Option<f64>) -> Uuid {
    let id = Uuid::now_v7();
    let mut body =
        json!({ "tag": tag, "instrument": instrument, "size": size, "condition": "good", "bow": true, "case": true });
    if let Some(mm) = length {
        body["stringLengthMm"] = json!(mm);
    }
    let (status, answer) = server.send(Method::PUT, &format!("/instruments/{id}"), Some(&body)).await;
    assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
    id
}

async fn lend(server: &Server, child: ChildId, asset: Uuid) {
    let body = json!({ "pairs": [{ "child": child, "asset": asset }] });
    let (status, answer) = server.send(Method::POST, "/loans", Some(&body)).await;
    assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
}

/// An entry so many minutes ago.
fn entry(asset: Uuid, minutes_ago: i64, kind: &str, more: &Value) -> Value {
    let mut entry = json!({
        "id": Uuid::now_v7(), "asset": asset, "kind": kind, "at": support::now() - Duration::minutes(minutes_ago),
    });
    for (key, value) in more.as_object().expect("more") {
        entry[key] = value.clone();
    }
    entry
}

async fn log(server: &Server, entries: &[Value]) -> Vec<String> {
    let (status, answer) = server.send(Method::POST, "/tapes/log", Some(&json!({ "entries": entries }))).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let results = answer["results"].as_array().expect("results").clone();
    results
        .iter()
        .map(|result| {
            let reason = result["reason"].as_str().map(|reason| format!(": {reason}")).unwrap_or_default();
            format!("{}{reason}", result["outcome"].as_str().expect("an outcome"))
        })
        .collect()
}

fn set(asset: Uuid, minutes_ago: i64) -> Value {
    entry(asset, minutes_ago, "placed", &json!({ "spots": ["1", "2", "3"] }))
}

fn heard(asset: Uuid, minutes_ago: i64, finger: &str, proof: &str, heard: &str) -> Value {
    entry(asset, minutes_ago, "heard", &json!({ "finger": finger, "proof": proof, "heard": heard }))
}

/// Everything proved, some minutes ago.
fn proved(asset: Uuid, minutes_ago: i64) -> Vec<Value> {
    vec![
        set(asset, minutes_ago + 4),
        heard(asset, minutes_ago + 3, "3", "openString", "true"),
        heard(asset, minutes_ago + 2, "1", "openString", "true"),
        heard(asset, minutes_ago + 1, "2", "step", "true"),
    ]
}

#[tokio::test]
async fn an_evenings_work_lights_the_childs_fourth_string() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let violin = asset(&server, "V-1", "violin", "3/4", None).await;
    lend(&server, ada, violin).await;
    let tapes = async || {
        let page = server.get(&format!("/children/{ada}")).await;
        let string = page["child"]["strings"][3].clone();
        (page["tapes"]["state"].as_str().expect("a state").to_owned(), string["glow"].as_f64().expect("a glow"))
    };
    assert_eq!(tapes().await, ("notMeasured".to_owned(), 0.0));
    assert_eq!(log(&server, &[entry(violin, 9, "measured", &json!({ "lengthMm": 307.5 }))]).await, ["stored"]);
    assert_eq!(tapes().await, ("readyToPlace".to_owned(), 0.25));
    let inventory = server.get("/instruments").await;
    assert_eq!(inventory["assets"][0]["stringLengthMm"], 307.5, "the length on record is the one measured last");
    let work = proved(violin, 1);
    assert_eq!(log(&server, &work[..1]).await, ["stored"]);
    assert_eq!(tapes().await, ("placed".to_owned(), 0.5));
    assert_eq!(log(&server, &work).await, ["known", "stored", "stored", "stored"]);
    assert_eq!(tapes().await, ("heard".to_owned(), 0.75));
    log(&server, &[entry(violin, 0, "held", &json!({}))]).await;
    assert_eq!(tapes().await, ("holding".to_owned(), 1.0));
    let page = server.get(&format!("/tapes/{violin}")).await;
    let work: Vec<&Value> = page["log"].as_array().expect("a log").iter().map(|entry| &entry["work"]).collect();
    let heard =
        |finger: &str, proof: &str| json!({ "kind": "heard", "finger": finger, "proof": proof, "heard": "true" });
    let strips = json!({ "widthMm": 3.0, "align": "middle" });
    assert_eq!(
        json!(work),
        json!([
            { "kind": "held" },
            heard("2", "step"),
            heard("1", "openString"),
            heard("3", "openString"),
            { "kind": "placed", "spots": ["1", "2", "3"], "strips": strips },
            { "kind": "measured", "lengthMm": 307.5 },
        ])
    );
    assert_eq!((&page["need"], &page["placingOrder"]), (&json!("nothing"), &json!(["3", "1", "2"])));
    let kept = tapes::records(&server.db, server.key.program).await.expect("records");
    assert_eq!(kept, tapes::rebuild(&server.db, server.key.program).await.expect("a rebuild"));
}

#[tokio::test]
async fn a_drift_is_told_with_its_marker_and_taken_back_like_any_entry() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let violin = asset(&server, "V-1", "violin", "4/4", Some(328.0)).await;
    lend(&server, ada, violin).await;
    log(&server, &proved(violin, 20)).await;
    let drift = entry(violin, 5, "heard", &json!({ "finger": "2", "proof": "tuner", "cents": 17, "microphone": true }));
    log(&server, std::slice::from_ref(&drift)).await;
    let bench = server.get("/tapes").await;
    let lines = &bench["instruments"][0];
    assert_eq!((&lines["need"], &lines["trouble"]), (&json!("moveMarkers"), &json!("drifted")));
    assert_eq!((&lines["spots"][1]["cents"], &lines["spots"][1]["verdict"]), (&json!(17.0), &json!("move")));
    assert_eq!(server.get("/room").await["children"][0]["strings"][3]["flags"], json!(["tape"]));
    assert_eq!(log(&server, &[entry(violin, 1, "undone", &json!({ "event": drift["id"] }))]).await, ["stored"]);
    assert_eq!(server.get("/tapes").await["instruments"][0]["trouble"], Value::Null);
    let page = server.get(&format!("/tapes/{violin}")).await;
    let entries = page["log"].as_array().expect("a log");
    let taken_back = entries.iter().find(|entry| entry["id"] == drift["id"]).expect("still legible");
    assert_eq!(
        (&taken_back["work"], &taken_back["undone"]),
        (
            &json!({ "kind": "heard", "finger": "2", "proof": "tuner", "heard": { "cents": 17.0 }, "microphone": true }),
            &json!(true)
        )
    );
}

#[tokio::test]
async fn a_swap_is_the_wrong_instrument_until_somebody_looked_and_its_own_log_comes_with_it() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let small = asset(&server, "V-1", "violin", "1/2", None).await;
    let large = asset(&server, "V-2", "violin", "3/4", None).await;
    lend(&server, ada, small).await;
    log(&server, &[proved(small, 10), proved(large, 30)].concat()).await;
    lend(&server, ada, large).await;
    let tapes = async || server.get(&format!("/children/{ada}")).await["tapes"].clone();
    let swapped = tapes().await;
    assert_eq!((&swapped["state"], &swapped["trouble"]), (&json!("heard"), &json!("wrongInstrument")));
    assert_eq!(server.get("/tapes").await["instruments"][0]["need"], "lookAtIt");
    log(&server, &[entry(large, -1, "held", &json!({}))]).await;
    let looked = tapes().await;
    assert_eq!((&looked["state"], &looked["trouble"]), (&json!("holding"), &Value::Null));
}

#[tokio::test]
async fn a_look_in_class_stands_in_the_instruments_log() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let violin = asset(&server, "V-1", "violin", "3/4", None).await;
    lend(&server, ada, violin).await;
    server.observe(&[look(ada, "tape.placed", 3, 0)]).await;
    let page = server.get(&format!("/tapes/{violin}")).await;
    assert_eq!(page["log"][0]["look"], json!({ "target": "tape.placed", "there": true }));
    assert_eq!(page["log"][0]["work"], Value::Null);
    assert_eq!(page["state"], "placed");
    let check = server.get("/round").await;
    assert!(check["children"][0]["closeUp"].is_array());
}

#[tokio::test]
async fn entries_that_cannot_be_are_refused_one_by_one_and_the_good_ones_kept() {
    let server = server().await;
    let viola = asset(&server, "A-1", "viola", "14", Some(332.0)).await;
    let unmeasured = asset(&server, "A-2", "viola", "13", None).await;
    let good = entry(viola, -1, "measured", &json!({ "lengthMm": 333.0 }));
    let mut other = good.clone();
    other["lengthMm"] = json!(334.0);
    let lines = log(
        &server,
        &[
            good,
            entry(viola, 1, "measured", &json!({ "lengthMm": 690 })),
            entry(viola, 1, "measured", &json!({ "lengthMm": 13.1 })),
            entry(viola, 1, "measured", &json!({ "lengthMm": 0 })),
            entry(viola, 1, "measured", &json!({ "lengthMm": -5 })),
            entry(viola, 1, "measured", &json!({ "lengthMm": "long" })),
            entry(viola, 1, "positions", &json!({ "edges": { "1": 66.0, "2": 34.0 } })),
            entry(viola, 1, "positions", &json!({ "edges": { "1": 93.0 } })),
            entry(unmeasured, 1, "positions", &json!({ "edges": { "1": 34.0 } })),
            entry(viola, 1, "placed", &json!({ "spots": [] })),
            entry(viola, 1, "placed", &json!({ "spots": ["thumb"] })),
            entry(viola, 1, "heard", &json!({ "finger": "2", "proof": "openString", "heard": "true" })),
            entry(viola, 1, "heard", &json!({ "finger": "3", "heard": "true" })),
            entry(viola, 1, "heard", &json!({ "finger": "3", "proof": "tone" })),
            entry(viola, 1, "heard", &json!({ "finger": "3", "proof": "tuner", "cents": 90 })),
            entry(viola, 1, "heard", &json!({ "finger": "3", "proof": "tuner", "heard": "true", "microphone": true })),
            entry(viola, 1, "bridge", &json!({ "movedMm": 80 })),
            entry(viola, -60 * 48, "held", &json!({})),
            entry(Uuid::now_v7(), 1, "held", &json!({})),
        ],
    )
    .await;
    insta::assert_snapshot!(lines.join("\n"));
    assert_eq!(log(&server, &[other]).await, ["refused: Another entry has this id. Load the page again."]);
    assert_eq!(server.get(&format!("/tapes/{viola}")).await["stringLengthMm"], 333.0);
}

#[tokio::test]
async fn the_log_is_append_only_in_the_database_and_belongs_to_its_school() {
    let server = server().await;
    let violin = asset(&server, "V-1", "violin", "4/4", Some(328.0)).await;
    for sql in ["update tape_event set kind = 'held'", "delete from tape_event", "truncate tape_event"] {
        let refused = server.db.execute_unprepared(sql).await.expect_err("append-only");
        assert!(refused.to_string().contains("append-only"), "{refused}");
    }
    let (key, ..) = school(&server.db, "director@two.example", "assistant@two.example").await;
    let elsewhere = format!("{}/api/classes/{}/tapes/log", server.url, key.class);
    let body = json!({ "entries": [entry(violin, 1, "held", &json!({}))] });
    assert_eq!(server.status(&server.client, Method::POST, &elsewhere, Some(&body)).await, StatusCode::NOT_FOUND);
    let other = server.url.clone();
    let two = support::browser();
    server.sign_in(&two, "director@two.example").await;
    let answer = two.post(format!("{other}/api/classes/{}/tapes/log", key.class)).json(&body).send().await;
    let answer: Value = answer.expect("an answer").json().await.expect("JSON");
    assert_eq!(answer["results"][0]["outcome"], "refused", "an instrument of another school is not there");
    let page = format!("{other}/api/classes/{}/tapes/{violin}", key.class);
    assert_eq!(server.status(&two, Method::GET, &page, None).await, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn an_assistant_works_at_the_bench_and_only_a_director_changes_how_markers_lie() {
    let server = server().await;
    let violin = asset(&server, "V-1", "violin", "4/4", Some(328.0)).await;
    let assistant = server.assistants_browser().await;
    let body = json!({ "entries": [set(violin, 1)] });
    assert_eq!(server.status(&assistant, Method::POST, &server.path("/tapes/log"), Some(&body)).await, StatusCode::OK);
    let mut settings = server.get("/tapes").await["settings"].clone();
    settings["offsetMm"] = json!(1.5);
    settings["align"] = json!("nutEdge");
    let path = server.path("/tapes/settings");
    assert_eq!(server.status(&assistant, Method::PUT, &path, Some(&settings)).await, StatusCode::FORBIDDEN);
    let (status, _) = server.send(Method::PUT, "/tapes/settings", Some(&settings)).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(server.get("/tapes").await["settings"], settings);
    // What was sent before the change is still the same entry.
    assert_eq!(log(&server, body["entries"].as_array().expect("entries")).await, ["known"]);
    let edge = server.get(&format!("/tapes/{violin}")).await["positions"][1]["edgeMm"].as_f64().expect("an edge");
    // 35.8 mm, its nut edge on the line, 1.5 mm towards the nut.
    assert!((edge - 34.285).abs() < 0.01, "{edge}");
    settings["stripMm"] = json!(9);
    let (status, answer) = server.send(Method::PUT, "/tapes/settings", Some(&settings)).await;
    assert_eq!((status, &answer["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("stripMm")));
}

#[tokio::test]
async fn markers_have_the_colours_that_a_director_names() {
    let server = server().await;
    let violin = asset(&server, "V-1", "violin", "4/4", Some(328.0)).await;
    let names = async || -> Vec<String> {
        let page = server.get(&format!("/tapes/{violin}")).await;
        let colours = page["markers"]["fingerColours"].as_array().expect("colours").iter();
        colours.map(|colour| colour["name"].as_str().expect("a name").to_owned()).collect()
    };
    assert_eq!(names().await, ["white"; 4], "all alike, where no finger has its own");
    let kept = server.get("/tapes").await["settings"].clone();
    let mut settings = kept.clone();
    settings["colours"] = json!({ "plain": "black", "fingers": ["red", "lightBlue", "yellow", "white"] });
    assert_eq!(server.send(Method::PUT, "/tapes/settings", Some(&settings)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(names().await, ["black"; 4]);
    server.send(Method::PUT, "/approach", Some(&json!({ "choices": { "marker-colours": "on" } }))).await;
    assert_eq!(names().await, ["red", "light blue", "yellow", "white"]);
    let strip = server.client.get(server.path(&format!("/tapes/templates.svg?assets={violin}&alone=true")));
    let strip = strip.send().await.expect("an answer").text().await.expect("a drawing");
    assert!(strip.contains(">light blue<") && strip.contains("#93c4e2"), "{strip}");
    for colours in [
        json!({ "plain": "mauve" }),
        json!({ "fingers": ["red", "red", "red"] }),
        json!({ "fingers": ["red", "red", "red", "red", "red"] }),
        json!({ "fingers": "red" }),
        json!({ "thumb": "red" }),
        json!(null),
    ] {
        settings["colours"] = colours.clone();
        let (status, _) = server.send(Method::PUT, "/tapes/settings", Some(&settings)).await;
        assert!(status.is_client_error(), "{status} {colours}");
    }
    assert_eq!(names().await, ["red", "light blue", "yellow", "white"], "what was kept stands");
}

#[tokio::test]
async fn five_instruments_heard_with_a_tuner_propose_the_classs_offset() {
    let server = server().await;
    for number in 1..=5 {
        let violin = asset(&server, &format!("V-{number}"), "violin", "4/4", Some(328.0)).await;
        assert_eq!(server.get("/tapes").await["offset"], Value::Null, "{number}");
        let tuned = |finger: &str, cents: f64| {
            entry(violin, 1, "heard", &json!({ "finger": finger, "proof": "tuner", "cents": cents }))
        };
        log(&server, &[set(violin, 2), tuned("1", 9.0), tuned("3", f64::from(number)), tuned("2", 9.0)]).await;
    }
    let offset = server.get("/tapes").await["offset"].clone();
    // Nine cents sharp are some 1.4 mm at the second marker.
    assert_eq!((&offset["instruments"], &offset["inUseMm"]), (&json!(5), &json!(0.0)));
    let proposed = offset["offsetMm"].as_f64().expect("an offset");
    assert!((1.2..1.6).contains(&proposed), "{offset}");
    assert!(offset["medianMoveMm"].as_f64().expect("a move") < 0.0);
}

#[tokio::test]
async fn templates_of_a_class_come_on_counted_sheets() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Cello, 1).await;
    let cello = asset(&server, "C-1", "cello", "1/2", Some(578.0)).await;
    let unmeasured = asset(&server, "C-2", "cello", "1/2", None).await;
    lend(&server, ada, cello).await;
    let counted = server.get("/tapes/sheets").await;
    assert_eq!((&counted["sheets"], &counted["strips"]), (&json!(1), &json!(1)));
    let both = server.get(&format!("/tapes/sheets?assets={cello},{unmeasured}&backs=true")).await;
    assert_eq!((&both["strips"], &both["leftOut"][0]["tag"]), (&json!(2), &json!("C-2")));
    assert_eq!(both["leftOut"][0]["why"], "notMeasured");
    let all = server.get(&format!("/tapes/sheets?assets={cello},{unmeasured}&unmeasured=true&paper=letter")).await;
    assert_eq!((&all["strips"], &all["leftOut"]), (&json!(2), &json!([])));
    let file = async |rest: &str| {
        let answer = server.client.get(server.path(rest)).send().await.expect("an answer");
        let status = answer.status();
        (status, answer.bytes().await.expect("bytes"))
    };
    let (status, svg) = file("/tapes/templates.svg?page=0").await;
    assert_eq!(status, StatusCode::OK);
    let svg = String::from_utf8(svg.to_vec()).expect("text");
    assert!(svg.contains("width=\"210mm\"") && svg.contains(">C-1<") && !svg.contains("Ada"), "no child's name on it");
    let (_, alone) = file(&format!("/tapes/templates.svg?assets={cello}&alone=true")).await;
    assert!(String::from_utf8_lossy(&alone).contains("width=\"31mm\""));
    assert!(file("/tapes/templates.pdf").await.1.starts_with(b"%PDF"));
    assert_eq!(file("/tapes/templates.svg?page=1").await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(file(&format!("/tapes/templates.pdf?assets={unmeasured}")).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(file("/tapes/sheets?assets=here").await.0, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn other_ways_of_marking_have_their_own_sets_and_none_has_nothing_to_print() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Bass, 1).await;
    let bass = asset(&server, "B-1", "bass", "1/4", Some(900.0)).await;
    lend(&server, ada, bass).await;
    let choose = async |key: &str, option: &str| {
        let (status, _) = server.send(Method::PUT, "/choices", Some(&json!({ "key": key, "option": option }))).await;
        assert_eq!(status, StatusCode::NO_CONTENT);
        let page = server.get(&format!("/tapes/{bass}")).await;
        let wanted = page["spots"].as_array().expect("spots").iter().filter(|spot| spot["wanted"] == true);
        let wanted: Vec<&str> = wanted.map(|spot| spot["spot"].as_str().expect("a spot")).collect();
        format!("{} {}", page["markers"]["kind"].as_str().expect("a kind"), wanted.join(" "))
    };
    assert_eq!(choose("markers", "dots").await, "dots 1 2 4");
    assert_eq!(choose("markers", "short-set").await, "tapes 1 4");
    assert_eq!(choose("thumb-pad", "on").await, "tapes 1 4 thumb");
    assert_eq!(server.get("/tapes/sheets").await["strips"], 2);
    assert_eq!(choose("finger-line", "on").await, "tapes 1 4 thumb");
    assert_eq!(choose("markers", "pencil").await, "pencil 1 2 4 thumb");
    assert_eq!(choose("markers", "overlay").await, "overlay 1 2 4 thumb");
    choose("markers", "none").await;
    assert_eq!(server.get(&format!("/children/{ada}")).await["tapes"]["state"], "noneByChoice");
    assert_eq!(server.get("/tapes").await["instruments"][0]["need"], "nothing");
    assert_eq!(server.get("/tapes/sheets").await["sheets"], 0);
}

#[tokio::test]
async fn a_note_is_shown_on_all_four_and_a_tune_says_who_is_ready() {
    let server = server().await;
    server.child("Ada K.", Instrument::Violin, 1).await;
    server.child("Ben O.", Instrument::Bass, 2).await;
    let map = server.get("/notes?notes=F%234").await;
    let places = map["voices"].as_array().expect("voices").iter().map(|voice| {
        let place = &voice["notes"][0]["position"];
        format!("{}{}", place["letter"].as_str().expect("a string"), place["finger"].as_str().expect("a finger"))
    });
    assert_eq!(places.collect::<Vec<_>>(), ["D2", "D2", "D3", "D4"]);
    assert_eq!(map["name"], "F sharp");
    assert_eq!(map["voices"][0]["everywhere"].as_array().map(Vec::len), Some(2), "2 on D, 1 on E");
    let child = &map["children"][0];
    assert_eq!((&child["ready"], &child["waits"][0]), (&json!(false), &json!("Left-hand frame 3, Fingers")));
    // Open strings need nothing.
    let open = server.get("/notes?notes=D4+D4:4").await;
    assert!(open["children"].as_array().expect("children").iter().all(|child| child["ready"] == true));
    assert_eq!(server.get("/notes?tune=hot-cross-buns").await["voices"][3]["instead"][0], "D");
    for (query, field) in [
        ("notes=H4", "notes"),
        ("notes=", "notes"),
        ("notes=D4&key=X", "key"),
        ("notes=D4&meter=5/4", "meter"),
        ("tune=no", "tune"),
    ] {
        let answer = server.client.get(server.path(&format!("/notes?{query}"))).send().await.expect("an answer");
        assert_eq!(answer.status(), StatusCode::UNPROCESSABLE_ENTITY, "{query}");
        let problem: Value = answer.json().await.expect("JSON");
        assert_eq!(problem["errors"][0]["field"], field);
    }
    let xml =
        server.client.get(server.path("/notes.musicxml?notes=D4:4+E4:4&name=Two")).send().await.expect("an answer");
    assert_eq!(xml.headers()["content-disposition"], "attachment; filename=\"Two.musicxml\"");
    assert!(xml.text().await.expect("text").contains("<score-partwise version=\"4.0\">"));
    let chart = server.client.get(server.path("/notes.pdf?tune=scale-g&paper=letter")).send().await.expect("an answer");
    assert!(chart.bytes().await.expect("bytes").starts_with(b"%PDF"));
}

#[tokio::test]
async fn a_marker_may_go_after_two_landings_at_different_meetings_and_a_true_ear() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let violin = asset(&server, "V-1", "violin", "4/4", Some(328.0)).await;
    lend(&server, ada, violin).await;
    log(&server, &[proved(violin, 10), vec![entry(violin, 5, "held", &json!({}))]].concat()).await;
    let thinning = async || server.get(&format!("/tapes/{violin}")).await["thinning"].clone();
    server.observe(&[look(ada, "frame.land", 3, 14)]).await;
    let waits = json!({ "wanting": "landing", "child": "Ada K.", "landedLooks": 1, "wantedLooks": 2 });
    assert_eq!(thinning().await, waits);
    server.observe(&[look(ada, "frame.land", 3, 7)]).await;
    let ready = thinning().await;
    assert_eq!(ready, json!({ "next": "2", "child": "Ada K.", "landedLooks": 2, "wantedLooks": 2 }));
    assert_eq!(server.get("/tapes").await["instruments"][0]["need"], "thin");
    log(&server, &[entry(violin, 2, "thinned", &json!({ "spots": ["2"] }))]).await;
    assert_eq!(server.get(&format!("/children/{ada}")).await["tapes"]["state"], "thinning");
    log(&server, &[entry(violin, 1, "back", &json!({ "spots": ["2"] }))]).await;
    let back = server.get(&format!("/children/{ada}")).await["tapes"].clone();
    assert_eq!((&back["state"], &back["trouble"]), (&json!("holding"), &Value::Null));
    let id = AssetId::from(violin);
    assert!(tapes::records(&server.db, server.key.program).await.expect("records").contains_key(&id));
}
