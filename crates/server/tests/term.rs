//! How a class grew: the term's answer, small groups, reports, and what the forecast had said.

mod support;

use bright_row_store::ConnectionTrait;
use reqwest::{Client, Method, StatusCode};
use sea_orm::Statement;
use serde_json::{Value, json};
use support::look;
use support::people::School;
use uuid::Uuid;

async fn file(school: &School, client: &Client, path: &str) -> (StatusCode, Vec<u8>) {
    let answer = client.get(format!("{}{}", school.url, school.of_class(path))).send().await.expect("an answer");
    (answer.status(), answer.bytes().await.expect("a body").to_vec())
}

async fn observe(school: &School, client: &Client, observations: Vec<Value>) {
    let body = json!({ "observations": observations });
    let (status, answer) = school.send(client, Method::POST, &school.of_class("/observations"), Some(&body)).await;
    assert!(status.is_success(), "{answer}");
}

fn with_slip(mut look: Value, slip: &str) -> Value {
    look["slips"] = json!([slip]);
    look
}

#[tokio::test]
async fn a_class_grows_from_what_was_seen_and_an_undo_takes_its_part_back() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (ada, ben) = (school.child("Ada K.").await, school.child("Ben O.").await);
    let size = look(ada, "hold.size", 3, 14);
    observe(
        &school,
        &owner,
        vec![size.clone(), look(ada, "hold.tall", 3, 7), with_slip(look(ben, "bow.pluck", 2, 7), "pluck-up")],
    )
    .await;
    let term = school.get(&owner, &school.of_class("/term")).await;
    let meetings = term["meetings"].as_array().expect("meetings");
    let bright: Vec<f64> = meetings.iter().map(|then| then["strands"][0].as_f64().expect("a share")).collect();
    assert!(bright.windows(2).all(|two| two[0] <= two[1]) && bright.last() > bright.first(), "{bright:?}");
    assert_eq!(meetings.last().expect("one")["children"], 2);
    assert_eq!(term["slips"][0]["name"], "String pulled up");
    assert_eq!((&term["slips"][0]["children"], &term["slips"][0]["still"]), (&json!(1), &json!(1)));
    assert_eq!(term["children"][0]["child"]["name"], "Ada K.");
    assert_eq!(term["children"][0]["waits"]["looked"], 2);
    observe(&school, &owner, vec![support::undo(&size)]).await;
    let again = school.get(&owner, &school.of_class("/term")).await;
    assert!(
        again["meetings"].as_array().expect("meetings").last().expect("one")["strands"][0].as_f64()
            < bright.last().copied()
    );
    let assistant = school.sign_in("assistant@one.example").await;
    assert_eq!(school.get(&assistant, &school.of_class("/term")).await["children"].as_array().map(Vec::len), Some(2));
}

#[tokio::test]
async fn a_small_group_is_kept_once_judged_by_what_came_and_ends() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let children = [school.child("Ada K.").await, school.child("Ben O.").await];
    let start = children.iter().map(|child| with_slip(look(*child, "bow.pluck", 1, 14), "pluck-up")).collect();
    observe(&school, &owner, start).await;
    let overview = school.get(&owner, &school.of_class("/overview")).await;
    let proposal = &overview["groups"][0];
    assert_eq!((&proposal["checkpoint"], &proposal["slip"]), (&json!("bow.pluck"), &json!("pluck-up")));
    let group = json!({ "id": Uuid::now_v7(), "checkpoint": "bow.pluck", "slip": "pluck-up", "children": children });
    let path = school.of_class("/groups");
    for _ in 0..2 {
        let (status, answer) = school.send(&owner, Method::POST, &path, Some(&group)).await;
        assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
    }
    assert_eq!(school.rows("small_group").await, 1);
    let overview = school.get(&owner, &school.of_class("/overview")).await;
    assert_eq!(overview["groups"], json!([]), "who is in a group is not proposed for another");
    let groups = school.get(&owner, &school.of_class("/term")).await["groups"].clone();
    assert_eq!((&groups[0]["verdict"], &groups[0]["name"]), (&json!("tooEarly"), &json!("String pulled up")));
    assert_eq!(groups[0]["children"][0]["before"], 1);

    school.later(chrono::TimeDelta::days(8));
    let owner = school.sign_in("owner@one.example").await;
    observe(&school, &owner, children.iter().map(|child| look(*child, "bow.pluck", 3, -7)).collect()).await;
    let groups = school.get(&owner, &school.of_class("/term")).await["groups"].clone();
    assert_eq!((&groups[0]["verdict"], &groups[0]["children"][1]["after"]), (&json!("helped"), &json!(3)));
    let end = school.of_class(&format!("/groups/{}/end", group["id"].as_str().expect("an id")));
    for _ in 0..2 {
        assert_eq!(school.send(&owner, Method::POST, &end, None).await.0, StatusCode::NO_CONTENT);
    }
    assert!(school.get(&owner, &school.of_class("/term")).await["groups"][0]["ended"].is_string());
    let none = school.of_class(&format!("/groups/{}/end", Uuid::now_v7()));
    assert_eq!(school.send(&owner, Method::POST, &none, None).await.0, StatusCode::NOT_FOUND);
    // With the children goes what says that they were in it.
    let removal = school.of_class(&format!("/children/{}/removal", children[0]));
    let (status, answer) = school.send(&owner, Method::POST, &removal, Some(&json!({ "confirm": "Ada K." }))).await;
    assert!(status.is_success(), "{answer}");
    assert_eq!(school.rows("small_group_child").await, 1);
}

#[tokio::test]
async fn groups_that_cannot_be_are_refused_field_by_field_and_assistants_keep_none() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (ada, ben) = (school.child("Ada K.").await, school.child("Ben O.").await);
    let path = school.of_class("/groups");
    let try_it = async |body: Value| school.send(&owner, Method::POST, &path, Some(&body)).await;
    let id = Uuid::now_v7();
    let (status, problem) =
        try_it(json!({ "id": id, "checkpoint": "no.such", "slip": "pluck-up", "children": [ada, Uuid::now_v7()] }))
            .await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let fields: Vec<&Value> = problem["errors"].as_array().expect("faults").iter().map(|one| &one["field"]).collect();
    assert_eq!(fields, ["children", "checkpoint", "slip"]);
    let many: Vec<Uuid> = (0..5_000).map(|_| Uuid::now_v7()).collect();
    for hostile in [
        json!({ "id": id, "checkpoint": "bow.pluck", "children": [ada] }),
        json!({ "id": id, "checkpoint": "bow.pluck", "children": [ada, ada] }),
        json!({ "id": id, "checkpoint": "bow.pluck", "children": many }),
        json!({ "id": id, "checkpoint": "x".repeat(100_000), "children": [ada, ben] }),
        json!({ "id": id, "checkpoint": "bow.pluck\u{0}", "children": [ada, ben] }),
        json!({ "id": id, "checkpoint": "bow.pluck", "slip": "bow-squeeze", "children": [ada, ben] }),
        json!({ "id": id, "checkpoint": "bow.pluck", "children": [ada, ben], "more": 1 }),
        json!({ "id": "1", "checkpoint": "bow.pluck", "children": [ada, ben] }),
    ] {
        let brief = hostile.to_string().chars().take(80).collect::<String>();
        assert!(try_it(hostile).await.0.is_client_error(), "{brief}");
    }
    assert_eq!(school.rows("small_group").await, 0);
    let good = |id: Uuid| json!({ "id": id, "checkpoint": "bow.pluck", "children": [ada, ben] });
    let assistant = school.sign_in("assistant@one.example").await;
    assert_eq!(school.send(&assistant, Method::POST, &path, Some(&good(id))).await.0, StatusCode::FORBIDDEN);
    for _ in 0..12 {
        assert_eq!(try_it(good(Uuid::now_v7())).await.0, StatusCode::NO_CONTENT);
    }
    assert_eq!(try_it(good(Uuid::now_v7())).await.0, StatusCode::CONFLICT, "no more than can be kept in mind");
    let ended = school
        .send(&owner, Method::POST, &school.of_class("/end"), Some(&json!({ "confirm": "Tuesday strings" })))
        .await;
    assert_eq!(ended.0, StatusCode::NO_CONTENT, "{}", ended.1);
    assert_eq!((school.rows("small_group").await, school.rows("small_group_child").await), (0, 0));
}

#[tokio::test]
async fn reports_name_who_looked_only_when_asked_and_run_no_formula() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("=1+1").await;
    observe(&school, &owner, vec![look(child, "hold.size", 3, 7)]).await;
    let (status, plain) = file(&school, &owner, "/term.csv").await;
    assert_eq!(status, StatusCode::OK);
    let plain = String::from_utf8(plain).expect("text");
    assert!(plain.contains("'=1+1,violin") && !plain.contains("Seen last"), "{plain}");
    let seen = String::from_utf8(file(&school, &owner, "/term.csv?seen=true").await.1).expect("text");
    assert!(seen.lines().next().expect("headings").ends_with("Seen last on,Seen last by"), "{seen}");
    let (status, book) = file(&school, &owner, "/term.xlsx?seen=true").await;
    assert!(status == StatusCode::OK && book.starts_with(b"PK"));
    for page in ["/term.pdf", "/term.pdf?paper=letter", &format!("/children/{child}/term.pdf")] {
        let (status, bytes) = file(&school, &owner, page).await;
        assert!(status == StatusCode::OK && bytes.starts_with(b"%PDF"), "{page}");
    }
    for wrong in [
        "/term.csv?seen=maybe",
        "/term.pdf?paper=a0",
        "/term/forecast?meeting=0",
        "/term/forecast?meeting=4000000000",
        "/term/forecast?meeting=-1",
    ] {
        assert!(file(&school, &owner, wrong).await.0.is_client_error(), "{wrong}");
    }
    let audit = school.get(&owner, &school.of_program("/audit")).await;
    let taken =
        audit["entries"].as_array().expect("entries").iter().filter(|entry| entry["word"] == "taken-out").count();
    assert_eq!(taken, 6, "each file that leaves is noted");
}

#[tokio::test]
async fn a_forecast_made_anew_is_held_against_what_came() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (ada, ben) = (school.child("Ada K.").await, school.child("Ben O.").await);
    let looks = [ada, ben].into_iter().flat_map(|child| {
        ["hold.size", "hold.support", "hold.seat", "hold.tall"].map(|target| look(child, target, 3, 7))
    });
    observe(&school, &owner, looks.collect()).await;
    let came = school.get(&owner, &school.of_class("/term/forecast?meeting=2")).await;
    assert_eq!(came["meeting"], 2);
    assert!(came["plays"].as_u64() >= Some(20), "{came}");
    let stages = came["stages"].as_array().expect("stages");
    let judged = stages.iter().filter(|stage| stage["fit"] != "open").count();
    assert_eq!(came["judged"], json!(judged));
    assert_eq!(came["within"], json!(stages.iter().filter(|stage| stage["fit"] == "within").count()));
}

#[tokio::test]
async fn a_term_is_read_child_by_child_and_never_by_going_through_everything() {
    use bright_row_store::observations::attribution::OWN;
    let school = School::new().await;
    let mut children = Vec::new();
    for number in 0..25 {
        children.push(school.child(&format!("Child {number}")).await);
    }
    // The class's own children have all there is: even then each is found by the index.
    for child in &children {
        school
            .run(&format!(
                "insert into observation (program_id, observation_id, class_id, child_id, target, level, via, observed_at, observer)
                 select '{}', gen_random_uuid(), '{}', '{child}', 'hold.tall', 2, 'visit', now() - n * interval '1 minute',
                        (select account_id from account limit 1)
                 from generate_series(1, 800) n",
                school.key.program, school.key.class
            ))
            .await;
    }
    school.run("analyze observation").await;
    let these = children.iter().map(ToString::to_string).collect::<Vec<_>>().join(",");
    let asked = OWN
        .replace("$1", &format!("'{}'", school.key.program))
        .replace("$2::uuid[]", &format!("'{{{these}}}'::uuid[]"));
    let plan = school.texts(&format!("explain {asked}")).await.join("\n");
    assert!(plan.contains("Index") && !plan.contains("Seq Scan"), "{plan}");
}

#[tokio::test]
async fn a_class_whose_year_is_over_shows_those_too_who_have_moved_on_by_what_was_seen_there() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (ada, ben) = (school.child("Ada K.").await, school.child("Ben O.").await);
    observe(&school, &owner, vec![look(ada, "hold.size", 3, 7), look(ben, "hold.size", 3, 7)]).await;
    let membership = school.of_class(&format!("/children/{ada}/membership"));
    let away = json!({ "class": school.other.class });
    assert_eq!(school.send(&owner, Method::POST, &membership, Some(&away)).await.0, StatusCode::NO_CONTENT);
    let names = |term: &Value| -> Vec<(String, bool)> {
        let child =
            |one: &Value| (one["child"]["name"].as_str().unwrap_or_default().to_owned(), one["moved"] == json!(true));
        term["children"].as_array().expect("children").iter().map(child).collect()
    };
    let during = school.get(&owner, &school.of_class("/term")).await;
    assert_eq!(names(&during), [("Ben O.".to_owned(), false)], "while the year goes on the class is who is in it");
    let archived = school.send(&owner, Method::POST, &school.of_class("/archive"), None).await;
    assert!(archived.0.is_success(), "{}", archived.1);
    let before = school.get(&owner, &school.of_class("/term")).await;
    assert_eq!(names(&before), [("Ben O.".to_owned(), false), ("Ada K.".to_owned(), true)]);
    let brightness = |term: &Value, place: usize| term["children"][place]["strands"].clone();
    assert_eq!(brightness(&before, 1), brightness(&before, 0), "both were seen alike");
    // What the next class sees is not this one's.
    school.later(chrono::TimeDelta::hours(2));
    let there = format!("/api/classes/{}/observations", school.other.class);
    let mut next = look(ada, "hold.tall", 3, 0);
    next["observedAt"] = json!(school.now());
    let sent = school.send(&owner, Method::POST, &there, Some(&json!({ "observations": [next] }))).await;
    assert_eq!(sent.1["results"][0]["outcome"], "stored", "{}", sent.1);
    let after = school.get(&owner, &school.of_class("/term")).await;
    assert_eq!(brightness(&after, 1), brightness(&before, 1));
    let (status, csv) = file(&school, &owner, "/term.csv").await;
    assert!(status.is_success() && String::from_utf8_lossy(&csv).contains("Ada K."));
}

#[tokio::test]
async fn the_demo_has_a_group_that_helped_and_one_that_did_not_on_every_day_of_a_week() {
    let content = bright_row::content::embedded();
    for day in 23..28 {
        let address = support::database().await;
        let db = bright_row_store::database::connect(&address).await.expect("the database answers");
        let now = format!("2026-11-{day}T12:00:00Z").parse().expect("a moment");
        bright_row::demo::load(&db, &content, now).await.expect("the demo loads");
        let groups = Statement::from_string(db.get_database_backend(), "select count(*) from small_group");
        let row = db.query_one_raw(groups).await.expect("an answer").expect("a row");
        assert_eq!(row.try_get_by_index::<i64>(0).expect("a number"), 2, "on {day} November");
    }
}
