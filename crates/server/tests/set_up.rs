//! Fit, instruments, match, seats and supplies through the API.

mod support;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::{AssetId, ChildId};
use bright_row_store::instruments::loans;
use chrono::Duration;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, look, now, server, standing, undo};
use uuid::Uuid;

async fn send(server: &Server, method: Method, rest: &str, body: &Value) -> (StatusCode, Value) {
    let answer = server.client.request(method, server.path(rest)).json(body).send().await.expect("an answer");
    (answer.status(), answer.json().await.unwrap_or_default())
}

/// The problems of an answer, a line each.
fn errors(answer: &Value) -> String {
    let errors = answer["errors"].as_array().cloned().unwrap_or_default();
    let line = |error: &Value| {
        format!("{}: {}", error["field"].as_str().unwrap_or_default(), error["detail"].as_str().unwrap_or_default())
    };
    errors.iter().map(line).collect::<Vec<_>>().join("\n")
}

fn body(tag: &str, instrument: &str, size: &str) -> Value {
    json!({ "tag": tag, "instrument": instrument, "size": size, "condition": "good", "bow": true, "case": true })
}

async fn asset(server: &Server, tag: &str, instrument: &str, size: &str) -> AssetId {
    let id = Uuid::now_v7();
    let (status, answer) = send(server, Method::PUT, &format!("/instruments/{id}"), &body(tag, instrument, size)).await;
    assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
    id.into()
}

async fn calc(server: &Server, question: Value) -> (StatusCode, Value) {
    let path = format!("{}/api/calc/fit", server.url);
    let answer = server.client.post(path).json(&question).send().await.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

#[tokio::test]
async fn the_size_is_calculated_as_specified() {
    let server = server().await;
    let (_, between) = calc(&server, json!({ "instrument": "violin", "armMm": 540 })).await;
    insta::assert_json_snapshot!(between, @r#"
    {
      "between": true,
      "fromMm": 508.0,
      "larger": "3/4",
      "largerFromMm": 546.0,
      "measure": "armMm",
      "proposed": "1/2",
      "reachesLargerInDays": 88,
      "reason": "between",
      "valueMm": 540.0
    }
    "#);
    let (_, by_span) = calc(&server, json!({ "instrument": "cello", "heightMm": 1360, "spanMm": 135 })).await;
    assert_eq!((&by_span["proposed"], &by_span["between"]), (&json!("3/4"), &json!(false)));
    let mut lines = Vec::new();
    for question in [
        json!({ "instrument": "bass", "armMm": 500 }),
        json!({ "instrument": "violin", "armMm": 21.5 }),
        json!({ "instrument": "cello", "heightMm": 15000 }),
    ] {
        let (status, answer) = calc(&server, question).await;
        lines.push(format!("{} {}", status.as_u16(), errors(&answer)));
    }
    insta::assert_snapshot!(lines.join("\n"), @r"
    422 heightMm: The bass needs this measure.
    422 armMm: 21.5 mm cannot be: an arm is 250 to 850 mm. In inches it would be 546 mm.
    422 heightMm: 15000 mm cannot be: a height is 800 to 2100 mm.
    ");
}

#[tokio::test]
async fn a_measured_child_has_a_size_a_set_up_card_and_a_day_for_the_next_measure() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Cello, 1).await;
    let of = |fit: &Value| fit["children"][0].clone();
    assert_eq!(of(&server.get("/fit").await)["measureAgain"], true);
    let path = format!("/children/{child}/measurings");
    let id = Uuid::now_v7();
    let measures = json!({ "id": id, "heightMm": 1400, "spanMm": 128, "kneeMm": 364 });
    for _ in 0..2 {
        let (status, _) = send(&server, Method::POST, &path, &measures).await;
        assert_eq!(status, StatusCode::CREATED, "sent twice it is one measuring");
    }
    let (_, answer) = send(&server, Method::POST, &path, &json!({ "id": Uuid::now_v7(), "heightMm": 55 })).await;
    assert_eq!(
        errors(&answer),
        "heightMm: 55 mm cannot be: a height is 800 to 2100 mm. In inches it would be 1397 mm."
    );
    send(&server, Method::PUT, "/choices", &json!({ "key": "pin", "option": "standing" })).await;
    let found = json!({ "id": Uuid::now_v7(), "part": "pin", "mm": 205 });
    send(&server, Method::POST, &format!("/children/{child}/findings"), &found).await;
    let mut seen = of(&server.get("/fit").await);
    seen["id"] = json!("(an id)");
    insta::assert_json_snapshot!(seen);
    let (status, _) = send(&server, Method::PUT, "/choices", &json!({ "key": "pin", "option": "glue" })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn an_instrument_that_cannot_be_is_told_field_by_field() {
    let server = server().await;
    asset(&server, "C-07", "cello", "1/2").await;
    let mut lines = Vec::new();
    for (change, value) in [
        ("tag", json!("c-07")),
        ("tag", json!(" ")),
        ("size", json!("15.5")),
        ("stringLengthMm", json!(22.75)),
        ("stringLengthMm", json!(400)),
        ("stringHeightMm", json!(0.2)),
        ("stringHeightMm", json!(1e300)),
        ("conditionNote", json!("x".repeat(201))),
    ] {
        let mut wrong = body("C-08", "cello", "1/2");
        wrong[change] = value;
        let (status, answer) = send(&server, Method::PUT, &format!("/instruments/{}", Uuid::now_v7()), &wrong).await;
        lines.push(format!("{} {}", status.as_u16(), errors(&answer)));
    }
    insta::assert_snapshot!(lines.join("\n"), @r"
    422 tag: Another instrument has this tag. Give each its own.
    422 tag: Type the tag on the instrument, such as C-07.
    422 size: A cello is 4/4, 7/8, 3/4, 1/2, 1/4, 1/8, 1/10.
    422 stringLengthMm: A cello 1/2 has some 578 mm from nut to bridge: measure again. In inches it would be 577.9 mm.
    422 stringLengthMm: A cello 1/2 has some 578 mm from nut to bridge: measure again. That is usual for a cello 1/10: is it the right instrument on record?
    422 stringHeightMm: Strings are 0.5 to 20 mm over the fingerboard: measure at the third finger.
    422 stringHeightMm: Strings are 0.5 to 20 mm over the fingerboard: measure at the third finger.
    422 conditionNote: At most 200 plain characters.
    ");
}

#[tokio::test]
async fn an_inventory_leaves_as_a_file_that_imports_to_the_same_inventory() {
    let server = server().await;
    let file = "Tag,Kind,Size,String length mm,Condition,Note,Bow,String height mm\n\
                V-1,violin,1/2,286,good,=1+1,yes,\"3,5\"\nV-2,violin,3/4,,fair,,no,\nX,tuba,1,,,,,\nV-3,violin,9/9,,,,,\n\
                v-1,violin,1/2,,,,,\nV-4,violin,1/2,11.25,,,,\nV-5,violin,1/2,,broken,,,\nV-6,violin,1/2,,,,,low\n\
                V-7,violin,1/2,,,,,-3\n";
    let import = async |file: String, query: &[(&str, &str)]| -> Value {
        let request = server
            .client
            .post(server.path("/instruments/import"))
            .query(query)
            .header("content-type", "application/octet-stream")
            .body(file);
        request.send().await.expect("an answer").json().await.expect("JSON")
    };
    let preview = import(file.to_owned(), &[]).await;
    let refused: Vec<&str> =
        preview["rows"].as_array().expect("rows").iter().filter_map(|row| row["reason"].as_str()).collect();
    insta::assert_snapshot!(refused.join("\n"), @r"
    “tuba” is none of violin, viola, cello and bass.
    A violin is 4/4, 7/8, 3/4, 1/2, 1/4, 1/8, 1/10, 1/16.
    This tag stands in the file twice: keep one.
    A violin 1/2 has some 286 mm from nut to bridge: measure again. In inches it would be 285.8 mm.
    A condition is good, fair or repair, not “broken”.
    “low” is no length in millimetres.
    Strings are 0.5 to 20 mm over the fingerboard: measure at the third finger.
    ");
    assert_eq!((&preview["new"], &preview["done"]), (&json!(2), &json!(false)));
    let digest = preview["digest"].as_str().expect("a digest");
    assert_eq!(import(file.to_owned(), &[("digest", digest)]).await["done"], true);
    let saved = server.client.get(server.path("/instruments.csv")).send().await.expect("an answer");
    let saved = saved.text().await.expect("text");
    assert!(saved.contains("286,3.5,good,"), "the height travels too: {saved}");
    assert!(saved.contains(",'=1+1,"), "it must not run in a spreadsheet: {saved}");
    let again = import(saved, &[]).await;
    assert_eq!((&again["same"], &again["new"], &again["changed"]), (&json!(2), &json!(0), &json!(0)), "{again}");
}

#[tokio::test]
async fn every_column_of_an_inventory_is_shown_with_what_it_is_taken_for_and_sizes_that_became_days_are_sizes() {
    let server = server().await;
    let file =
        "Strings 2026\nInv;Type;Instrument size;String mm;Colour\nV-1;violin;2026-03-04;307;red\nV-2;violin;1-Feb;;\n";
    let import = async |query: &[(&str, &str)]| -> Value {
        let request = server.client.post(server.path("/instruments/import")).query(query);
        let request = request.header("content-type", "application/octet-stream").body(file);
        request.send().await.expect("an answer").json().await.expect("JSON")
    };
    let preview = import(&[]).await;
    assert_eq!((&preview["needs"], &preview["rows"]), (&json!("Say which column holds: Tag."), &json!([])));
    let means = |preview: &Value| -> Vec<Value> {
        preview["columns"].as_array().expect("columns").iter().map(|column| column["means"].clone()).collect()
    };
    assert_eq!(means(&preview), [Value::Null, json!("Kind"), json!("Size"), json!("String length mm"), Value::Null]);
    assert_eq!(preview["columns"][4], json!({ "heading": "Colour", "example": "red" }));
    let said = [("mapping", r#"{"Inv":"Tag","Colour":"Note"}"#)];
    let preview = import(&said).await;
    assert_eq!(means(&preview)[4], "Note");
    assert_eq!(preview["rows"][0]["readAs"], "Size 2026-03-04 is read as 3/4.");
    let digest = preview["digest"].as_str().expect("a digest");
    assert_eq!(import(&[said[0], ("digest", digest)]).await["new"], 2);
    let saved = server.client.get(server.path("/instruments.csv")).send().await.expect("an answer");
    let saved = saved.text().await.expect("text");
    assert!(saved.contains("V-1,violin,3/4,307,,good,red,") && saved.contains("V-2,violin,1/2,,"), "{saved}");
    let left_out = import(&[("mapping", r#"{"Inv":"Tag","String mm":null}"#)]).await;
    assert_eq!(means(&left_out)[3], Value::Null);
    let answer = import(&[("mapping", r#"{"Inv":"Barcode"}"#)]).await;
    assert_eq!(answer["errors"][0]["field"], "mapping", "{answer}");
}

/// The names of what the first round would look at in a child, in order.
async fn list_of(server: &Server, child: ChildId) -> Vec<String> {
    let kit = server.get("/round").await;
    let mut children = kit["children"].as_array().expect("children").iter();
    let found = children.find(|found| found["id"] == json!(child)).expect("a child");
    let checks = found["checks"].as_array().expect("checks").iter();
    checks.filter_map(|check| Some(check["target"].as_str()?.to_owned())).collect()
}

#[tokio::test]
async fn what_is_measured_lent_and_found_right_is_an_observation_and_no_round_asks_for_it_again() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let [large, small] = [asset(&server, "V-1", "violin", "4/4").await, asset(&server, "V-2", "violin", "1/2").await];
    assert_eq!(list_of(&server, ada).await[..3], ["hold.size", "hold.support", "hold.seat"]);
    let measures = |arm: u32| json!({ "id": Uuid::now_v7(), "armMm": arm });
    let measuring = format!("/children/{ada}/measurings");
    let lend = async |asset: AssetId| {
        let body = json!({ "pairs": [{ "child": ada, "asset": asset }] });
        assert_eq!(send(&server, Method::POST, "/loans", &body).await.0, StatusCode::NO_CONTENT);
    };
    let page = async || server.get(&format!("/children/{ada}")).await;
    send(&server, Method::POST, &measuring, &measures(520)).await;
    assert_eq!(standing(&page().await, "hold.size"), None, "it has no instrument yet");
    lend(large).await;
    assert_eq!(standing(&page().await, "hold.size"), None, "it is another size than the measures propose");
    lend(small).await;
    assert_eq!(standing(&page().await, "hold.size").expect("seen")["level"], 3);
    send(&server, Method::POST, &measuring, &measures(522)).await;
    let found = json!({ "id": Uuid::now_v7(), "part": "support", "words": "the low one" });
    for _ in 0..2 {
        let path = format!("/children/{ada}/findings");
        assert_eq!(send(&server, Method::POST, &path, &found).await.0, StatusCode::CREATED);
    }
    let page = page().await;
    let seen = page["history"]["observations"].as_array().expect("observations").iter();
    let seen: Vec<_> = seen.map(|one| (one["target"].as_str(), one["level"].as_u64())).collect();
    assert_eq!(seen, [(Some("hold.support"), Some(3)), (Some("hold.size"), Some(3))], "each once");
    assert_eq!(
        list_of(&server, ada).await[..3],
        ["tape.measured", "hold.seat", "bow.pluck"],
        "a swap is measured first"
    );
    assert_eq!(page["child"]["visited"], false, "nobody was at the chair");
    server.assert_caches().await;
}

#[tokio::test]
async fn a_loan_sent_again_after_the_program_ended_in_between_leaves_its_observation() {
    let server = server().await;
    let ada = server.child("Ada K.", Instrument::Violin, 1).await;
    let small = asset(&server, "V-2", "violin", "1/2").await;
    let measuring = format!("/children/{ada}/measurings");
    send(&server, Method::POST, &measuring, &json!({ "id": Uuid::now_v7(), "armMm": 520 })).await;
    // The loan is stored, and no more.
    loans::lend(&server.db, server.key.program, &[(ada, Some(small))], now()).await.expect("lent");
    let body = json!({ "pairs": [{ "child": ada, "asset": small }] });
    for _ in 0..2 {
        assert_eq!(send(&server, Method::POST, "/loans", &body).await.0, StatusCode::NO_CONTENT);
    }
    let page = server.get(&format!("/children/{ada}")).await;
    assert_eq!(page["history"]["observations"].as_array().map(Vec::len), Some(1));
    assert_eq!(standing(&page, "hold.size").expect("seen")["level"], 3);
    server.assert_caches().await;
}

#[tokio::test]
async fn the_class_is_matched_to_the_store_and_instruments_are_given_out_together() {
    let server = server().await;
    let (ada, ben) =
        (server.child("Ada K.", Instrument::Violin, 1).await, server.child("Ben O.", Instrument::Violin, 2).await);
    let small = asset(&server, "V-2", "violin", "1/2").await;
    asset(&server, "V-1", "violin", "4/4").await;
    for (child, arm) in [(ada, 520), (ben, 530)] {
        let measures = json!({ "id": Uuid::now_v7(), "armMm": arm });
        send(&server, Method::POST, &format!("/children/{child}/measurings"), &measures).await;
    }
    let found = server.get("/match").await;
    let pair = |found: &Value| {
        let pair = &found["pairs"][0];
        json!([pair["name"], pair["fits"], pair["gap"], pair["present"], pair["fair"], pair["locked"]])
    };
    assert_eq!(pair(&found), json!(["Ada K.", "1/2", { "kind": "exact" }, false, false, false]));
    assert_eq!((&found["without"][0]["name"], &found["without"][0]["fits"]), (&json!("Ben O."), &json!("1/2")));
    assert_eq!(found["shortfall"], json!([{ "instrument": "violin", "size": "1/2", "count": 1 }]));
    let (status, _) =
        send(&server, Method::POST, "/loans", &json!({ "pairs": [{ "child": ada, "asset": small }] })).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    let path = format!("/children/{ada}/loan");
    assert_eq!(send(&server, Method::PUT, &path, &json!({ "locked": true })).await.0, StatusCode::NO_CONTENT);
    let found = server.get("/match").await;
    assert_eq!(pair(&found), json!(["Ada K.", "1/2", { "kind": "exact" }, true, false, true]));
    let history = server.get(&format!("/instruments/{small}/loans")).await;
    assert_eq!((&history[0]["name"], history[0].get("until")), (&json!("Ada K."), None));

    let cello = asset(&server, "C-1", "cello", "1/2").await;
    let stranger = Uuid::now_v7();
    let wrong = json!({ "pairs": [
        { "child": ben, "asset": cello }, { "child": stranger, "asset": null }, { "child": ben, "asset": stranger },
    ]});
    let (_, answer) = send(&server, Method::POST, "/loans", &wrong).await;
    insta::assert_snapshot!(errors(&answer), @r"
    pairs.0.asset: This instrument is of another kind than the child plays.
    pairs.1.child: This child is not in this class any more.
    pairs.2.asset: There is no such instrument any more.
    pairs.2.child: This child stands here twice.
    ");
    let mut other_kind = body("V-2", "viola", "13");
    other_kind["condition"] = json!("good");
    let (_, answer) = send(&server, Method::PUT, &format!("/instruments/{small}"), &other_kind).await;
    assert_eq!(errors(&answer), "instrument: Ada K. has this instrument: let it be given back first.");
}

/// How far the fourth string rings.
fn tapes(room: &Value, child: ChildId) -> f64 {
    let children = room["children"].as_array().expect("children");
    let found = children.iter().find(|found| found["id"] == json!(child)).expect("the child");
    found["strings"][3]["glow"].as_f64().expect("a glow")
}

#[tokio::test]
async fn a_swap_moves_the_tapes_with_the_instrument_and_never_with_the_child() {
    let server = server().await;
    let (ada, ben) =
        (server.child("Ada K.", Instrument::Violin, 1).await, server.child("Ben O.", Instrument::Violin, 2).await);
    let (one, two) = (asset(&server, "V-1", "violin", "1/2").await, asset(&server, "V-2", "violin", "1/2").await);
    let before = now() - Duration::days(10);
    loans::lend(&server.db, server.key.program, &[(ada, Some(one)), (ben, Some(two))], before).await.expect("lent");
    let laid = look(ada, "tape.placed", 3, 5);
    server.observe(&[look(ada, "tape.measured", 3, 5), laid.clone(), look(ada, "hold.size", 3, 5)]).await;
    let room = server.get("/room").await;
    assert_eq!((tapes(&room, ada), tapes(&room, ben)), (0.5, 0.0));

    let swap = json!({ "pairs": [{ "child": ada, "asset": two }, { "child": ben, "asset": one }] });
    assert_eq!(send(&server, Method::POST, "/loans", &swap).await.0, StatusCode::NO_CONTENT);
    let room = server.get("/room").await;
    assert_eq!((tapes(&room, ada), tapes(&room, ben)), (0.0, 0.5));
    assert!(room["children"][0]["strings"][0]["glow"].as_f64() > Some(0.0), "the hold is the child's own");

    // An undo of a look from before the swap takes it from the instrument, whoever has it now.
    server.observe(&[undo(&laid)]).await;
    let room = server.get("/room").await;
    assert_eq!((tapes(&room, ada), tapes(&room, ben)), (0.0, 0.25));
    server.assert_caches().await;
    let history = server.get(&format!("/instruments/{one}/loans")).await;
    let names: Vec<&str> = history.as_array().expect("loans").iter().filter_map(|loan| loan["name"].as_str()).collect();
    assert_eq!(names, ["Ben O.", "Ada K."]);
}

#[tokio::test]
async fn seats_are_proposed_without_being_stored_and_kept_when_told() {
    let server = server().await;
    let ids = [
        server.child("Ada K.", Instrument::Violin, 1).await,
        server.child("Ben O.", Instrument::Bass, 2).await,
        server.child("Cy P.", Instrument::Violin, 3).await,
    ];
    let seats = server.get("/seats").await;
    assert_eq!(seats["room"]["rows"], json!([3]), "the chairs that are taken");
    assert_eq!(seats["broken"], json!([{ "wish": "together", "children": [ids[2]] }]));
    let plan = json!({ "room": { "widthMm": 3000, "depthMm": 6000, "rows": [3] }, "seats": [
        { "child": ids[1], "row": 1, "seat": 1, "locked": true },
    ]});
    let (_, proposal) = send(&server, Method::POST, "/seats", &json!({ "plan": plan, "propose": true })).await;
    assert_eq!((&proposal["broken"], proposal["seats"].as_array().map(Vec::len)), (&json!([]), Some(3)));
    // 900 + 900 + 1200 and two aisles in 3 m: two chairs have to go.
    assert_eq!(
        proposal["needs"],
        json!({ "widthMm": 4800, "depthMm": 3000, "chairsTooMany": 2, "rowsThatFit": [1, 1, 1] })
    );
    assert_eq!(server.get("/seats").await["seats"], seats["seats"], "looking stores nothing");
    let kept = json!({ "room": proposal["room"], "seats": proposal["seats"] });
    assert_eq!(send(&server, Method::PUT, "/seats", &kept).await.0, StatusCode::NO_CONTENT);
    let now = server.get("/seats").await;
    assert_eq!((&now["seats"].as_array().map(Vec::len), &now["room"]["widthMm"]), (&Some(3), &json!(3000)));
    assert_eq!(now["walk"][0], json!(ids[1]));

    let wrong = json!({ "room": { "widthMm": 100, "depthMm": 6000, "rows": [0] }, "seats": [
        { "child": ids[0], "row": 1, "seat": 1 }, { "child": ids[2], "row": 1, "seat": 1 },
        { "child": ids[0], "row": 50, "seat": 2 }, { "child": Uuid::now_v7(), "row": 1, "seat": 3 },
    ]});
    let (_, answer) = send(&server, Method::PUT, "/seats", &wrong).await;
    insta::assert_snapshot!(errors(&answer), @r"
    room.widthMm: A room is 2 to 60 m wide and deep.
    room.rows: A room has 1 to 20 rows of 1 to 40 chairs.
    seats.1: This chair is taken twice.
    seats.2: There is no such chair.
    seats.2: This child has two chairs.
    seats.3: This child is not in this class any more.
    ");
}

#[tokio::test]
async fn supplies_follow_from_the_class_the_store_and_the_approach() {
    let server = server().await;
    for number in 1..=4 {
        server.child(&format!("Vio {number}"), Instrument::Violin, number).await;
    }
    server.child("Cel 5", Instrument::Cello, 5).await;
    asset(&server, "V-1", "violin", "1/2").await;
    let counted = json!({ "key": "sponges", "quantity": 1 });
    assert_eq!(send(&server, Method::PUT, "/supplies", &counted).await.0, StatusCode::NO_CONTENT);
    let csv = async || {
        let saved = server.client.get(server.path("/supplies.csv")).send().await.expect("an answer");
        saved.text().await.expect("text").replace('\r', "")
    };
    insta::assert_snapshot!(csv().await);
    send(&server, Method::PUT, "/choices", &json!({ "key": "support", "option": "bare" })).await;
    assert!(!csv().await.contains("Sponges for violins and violas,pieces,4"), "bare needs no sponge");
    for wrong in [json!({ "key": "bows-violin", "quantity": 1 }), json!({ "key": "tape", "quantity": -1 })] {
        assert_eq!(send(&server, Method::PUT, "/supplies", &wrong).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    }
}

#[tokio::test]
async fn what_is_printed_is_a_pdf_with_a_name() {
    let server = server().await;
    server.child("Ada K.", Instrument::Violin, 1).await;
    let one = asset(&server, "V-1", "violin", "1/2").await;
    for (rest, name) in [
        ("/labels.pdf?paper=letter".to_owned(), "tags.pdf"),
        (format!("/labels.pdf?asset={one}"), "tags.pdf"),
        ("/seats.pdf?side=class&paper=a4".to_owned(), "seats-Tuesday-strings.pdf"),
        ("/order-list.pdf".to_owned(), "order-list.pdf"),
    ] {
        let answer = server.client.get(server.path(&rest)).send().await.expect("an answer");
        assert_eq!(answer.headers()["content-type"], "application/pdf", "{rest}");
        assert!(answer.headers()["content-disposition"].to_str().expect("text").contains(name), "{rest}");
        assert!(answer.bytes().await.expect("bytes").starts_with(b"%PDF-"), "{rest}");
    }
    // Tags lead to this server, whatever address somebody would like on them.
    let labels = server.client.get(server.path("/labels.pdf"));
    let elsewhere = labels.header("host", "a b/c").send().await.expect("an answer");
    assert_eq!(elsewhere.status(), StatusCode::BAD_REQUEST);
}

#[tokio::test]
async fn a_tags_code_leads_to_its_instrument_in_a_class_of_whoever_reads_it() {
    let server = server().await;
    let one = asset(&server, "C/ 07", "violin", "1/2").await;
    let find = async |client: &reqwest::Client, tag: &str| {
        let answer = client.get(format!("{}/api/tags/{tag}", server.url)).send().await.expect("an answer");
        (answer.status(), answer.json::<Value>().await.expect("JSON"))
    };
    for tag in ["C%2F%2007", "c%2f%2007"] {
        let (status, found) = find(&server.client, tag).await;
        assert_eq!((status, &found[0]["asset"]), (StatusCode::OK, &json!(one)), "{found}");
        assert_eq!((&found[0]["class"], found.as_array().map(Vec::len)), (&json!(server.key.class), Some(1)));
    }
    let long = "x".repeat(21);
    for nobody in ["C-08", "%00", "%FF", long.as_str()] {
        assert_eq!(find(&server.client, nobody).await.0, StatusCode::NOT_FOUND, "{nobody}");
    }
    assert_eq!(find(&support::browser(), "C%2F%2007").await.0, StatusCode::UNAUTHORIZED);
    // Another school's people hear that there is no such tag.
    support::school(&server.db, "owner@two.example", "assistant@two.example").await;
    let stranger = support::browser();
    server.sign_in(&stranger, "owner@two.example").await;
    assert_eq!(find(&stranger, "C%2F%2007").await.0, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn an_assistant_reads_the_set_up_and_changes_none_of_it() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let assistant = server.assistants_browser().await;
    for rest in ["/roster", "/fit", "/instruments", "/match", "/seats", "/supplies"] {
        assert_eq!(server.status(&assistant, Method::GET, &server.path(rest), None).await, StatusCode::OK, "{rest}");
    }
    let numbered = json!({ "name": "Ada K.", "instrument": "violin", "number": "17" });
    let path = format!("/children/{child}");
    assert_eq!(send(&server, Method::PUT, &path, &numbered).await.0, StatusCode::NO_CONTENT);
    let seen =
        assistant.get(server.path("/roster")).send().await.expect("an answer").json::<Value>().await.expect("JSON");
    assert_eq!((&seen["children"][0]["name"], &seen["children"][0]["number"]), (&json!("Ada K."), &json!("")));
    assert_eq!(server.get("/roster").await["children"][0]["number"], "17");
    let entry = json!({ "name": "Ada K.", "instrument": "viola" });
    let plan = json!({ "room": { "widthMm": 9000, "depthMm": 9000, "rows": [1] }, "seats": [] });
    for (method, rest, body) in [
        (Method::PUT, format!("/children/{child}"), entry),
        (Method::POST, format!("/children/{child}/removal"), json!({ "confirm": "Ada K." })),
        (Method::POST, format!("/children/{child}/membership"), json!("left")),
        (Method::POST, format!("/children/{child}/measurings"), json!({ "id": Uuid::now_v7(), "armMm": 500 })),
        (
            Method::POST,
            format!("/children/{child}/findings"),
            json!({ "id": Uuid::now_v7(), "part": "seat", "mm": 300 }),
        ),
        (Method::PUT, format!("/children/{child}/loan"), json!({ "locked": true })),
        (Method::PUT, format!("/instruments/{}", Uuid::now_v7()), body("V-1", "violin", "1/2")),
        (Method::POST, "/loans".to_owned(), json!({ "pairs": [] })),
        (Method::PUT, "/seats".to_owned(), plan),
        (Method::PUT, "/supplies".to_owned(), json!({ "key": "tape", "quantity": 1 })),
        (Method::PUT, "/choices".to_owned(), json!({ "key": "pin", "option": "floor" })),
        (Method::POST, "/roster/import".to_owned(), json!({})),
        (Method::POST, "/instruments/import".to_owned(), json!({})),
        (Method::DELETE, format!("/roster/imports/{}", Uuid::now_v7()), json!({})),
        (Method::GET, "/roster.csv".to_owned(), json!({})),
    ] {
        let status = server.status(&assistant, method.clone(), &server.path(&rest), Some(&body)).await;
        assert_eq!(status, StatusCode::FORBIDDEN, "{method} {rest}");
    }
}
