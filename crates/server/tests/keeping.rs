//! Keeping: classes archived and deleted by hand and by themselves, notes cleared, programs ended, all of it noted.

mod support;

use bright_row_store::ConnectionTrait;
use chrono::TimeDelta;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::people::School;
use support::{browser, look};

/// How many rows of a table a condition finds.
async fn rows(school: &School, of: &str) -> i64 {
    let sql = format!("select count(*) from {of}");
    let row = school.app.db.query_one_raw(sea_orm::Statement::from_string(school.app.db.get_database_backend(), sql));
    row.await.expect("an answer").expect("a row").try_get_by_index(0).expect("a number")
}

async fn deeds(school: &School, owner: &Client) -> Vec<String> {
    let audit = school.get(owner, &school.of_program("/audit")).await;
    let entries = audit["entries"].as_array().expect("entries").clone();
    entries.iter().map(|entry| entry["word"].as_str().expect("a word").to_owned()).collect()
}

#[tokio::test]
async fn an_archived_class_is_read_and_takes_in_only_what_was_seen_before() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let archive = school.of_class("/archive");
    let assistant = school.sign_in("assistant@one.example").await;
    assert_eq!(school.send(&assistant, Method::POST, &archive, None).await.0, StatusCode::FORBIDDEN);
    assert_eq!(school.send(&owner, Method::POST, &archive, None).await.0, StatusCode::NO_CONTENT);
    let room = school.get(&owner, &school.of_class("/room")).await;
    assert_eq!((&room["archived"], &room["mayChange"]), (&json!(true), &json!(false)));
    let rename = school.send(&owner, Method::PUT, &school.of_class(""), Some(&json!({ "name": "Other" }))).await;
    assert_eq!((rename.0, &rename.1["type"]), (StatusCode::CONFLICT, &json!("/problems/class-archived")));
    let both = json!({ "observations": [look(child, "hold.size", 3, 1), look(child, "hold.tall", 3, 0)] });
    let (_, answer) = school.send(&owner, Method::POST, &school.of_class("/observations"), Some(&both)).await;
    assert_eq!(
        (&answer["results"][0]["outcome"], &answer["results"][1]["outcome"]),
        (&json!("stored"), &json!("refused"))
    );
    assert_eq!(school.send(&owner, Method::POST, &school.of_class("/reopen"), None).await.0, StatusCode::NO_CONTENT);
    let again = school.send(&owner, Method::PUT, &school.of_class(""), Some(&json!({ "name": "Other" }))).await;
    assert_eq!(again.0, StatusCode::NO_CONTENT);
    assert_eq!(deeds(&school, &owner).await[..3], ["class-renamed", "class-reopened", "class-archived"]);
}

#[tokio::test]
async fn a_class_ends_with_its_children_and_who_moved_away_keeps_everything() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (stays, moves) = (school.child("Ada K.").await, school.child("Ben O.").await);
    let seen = json!({ "observations": [look(stays, "hold.size", 3, 2), look(moves, "hold.size", 3, 2)] });
    school.send(&owner, Method::POST, &school.of_class("/observations"), Some(&seen)).await;
    let event = json!({ "events": [{ "id": uuid::Uuid::now_v7(), "round": uuid::Uuid::now_v7(), "kind": "visited", "device": "tablet",
        "at": support::now(), "children": [{ "child": stays }, { "child": moves }] }] });
    school.send(&owner, Method::POST, &school.of_class("/round/events"), Some(&event)).await;
    let away = json!({ "class": school.other.class });
    let moved = school
        .send(&owner, Method::POST, &school.of_class(&format!("/children/{moves}/membership")), Some(&away))
        .await;
    assert_eq!(moved.0, StatusCode::NO_CONTENT, "{}", moved.1);
    for (typed, status) in [("Tuesday", StatusCode::UNPROCESSABLE_ENTITY), ("Tuesday strings", StatusCode::NO_CONTENT)]
    {
        let ended =
            school.send(&owner, Method::POST, &school.of_class("/end"), Some(&json!({ "confirm": typed }))).await;
        assert_eq!(ended.0, status, "{}", ended.1);
    }
    assert_eq!(school.send(&owner, Method::GET, &school.of_class("/room"), None).await.0, StatusCode::NOT_FOUND);
    for table in ["class", "child", "observation"] {
        assert_eq!(rows(&school, table).await, 1, "{table}");
    }
    let page = school.get(&owner, &format!("/api/classes/{}/children/{moves}", school.other.class)).await;
    assert_eq!(page["history"]["observations"].as_array().map(Vec::len), Some(1));
}

#[tokio::test]
async fn what_is_over_ends_by_itself_after_it_was_shown_for_a_month() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let mut noted = look(child, "hold.size", 3, 1);
    noted["note"] = json!("half a size up");
    school
        .send(&owner, Method::POST, &school.of_class("/observations"), Some(&json!({ "observations": [noted] })))
        .await;
    let keeping = school.get(&owner, &school.of_program("/keeping")).await;
    assert_eq!(keeping["set"]["notesDays"], 365);
    let ahead: Vec<&Value> = keeping["ahead"].as_array().expect("ends").iter().map(|end| &end["what"]).collect();
    assert_eq!(ahead, ["archive", "archive"]);
    let wrong = json!({ "archiveAfterDays": 0, "deleteAfterDays": 1, "notesDays": 365, "auditDays": 365, "leftDays": 365, "secondFactor": false });
    let refused = school.send(&owner, Method::PUT, &school.of_program("/keeping"), Some(&wrong)).await;
    assert_eq!(
        (refused.0, &refused.1["errors"][0]["field"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("deleteAfterDays"))
    );
    bright_row::serve::clear(&school.app).await;
    assert_eq!(rows(&school, "observation where note is not null").await, 1, "nothing is over yet");

    // The notes are a year old, and the term is over.
    school.later(TimeDelta::days(420));
    bright_row::serve::clear(&school.app).await;
    assert_eq!(rows(&school, "observation").await, 1, "what was seen stays");
    assert_eq!(rows(&school, "observation where note is not null").await, 0);
    assert_eq!(rows(&school, "class where archived_at is not null").await, 2);
    let owner = school.sign_in("owner@one.example").await;
    let done = deeds(&school, &owner).await;
    assert!(
        done.contains(&"notes-cleared".to_owned()) && done.iter().filter(|deed| *deed == "class-archived").count() == 2,
        "{done:?}"
    );

    school.later(TimeDelta::days(2 * 365 + 1));
    bright_row::serve::clear(&school.app).await;
    for table in ["class", "child", "observation", "standing"] {
        assert_eq!(rows(&school, table).await, 0, "{table}");
    }
}

#[tokio::test]
async fn a_program_ends_with_everything_and_nothing_of_another() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (elsewhere, ..) = support::school(&school.app.db, "owner@two.example", "assistant@two.example").await;
    let child = school.child("Ada K.").await;
    let asset = uuid::Uuid::now_v7();
    let violin =
        json!({ "tag": "V-1", "instrument": "violin", "size": "1/2", "condition": "good", "bow": true, "case": true });
    school.send(&owner, Method::PUT, &school.of_class(&format!("/instruments/{asset}")), Some(&violin)).await;
    let measured = json!({ "entries": [{ "id": uuid::Uuid::now_v7(), "asset": asset, "kind": "measured", "lengthMm": 326.0, "at": support::now() }] });
    school.send(&owner, Method::POST, &school.of_class("/tapes/log"), Some(&measured)).await;
    let seen = json!({ "observations": [look(child, "hold.size", 3, 2)] });
    school.send(&owner, Method::POST, &school.of_class("/observations"), Some(&seen)).await;
    let other_before = rows(&school, &format!("class where program_id = '{}'", elsewhere.program)).await;
    for (typed, status) in [("Test", StatusCode::UNPROCESSABLE_ENTITY), ("Test strings", StatusCode::NO_CONTENT)] {
        let ended =
            school.send(&owner, Method::POST, &school.of_program("/end"), Some(&json!({ "confirm": typed }))).await;
        assert_eq!(ended.0, status, "{}", ended.1);
    }
    for table in bright_row_store::tables::all(&school.app.db)
        .await
        .expect("tables")
        .into_iter()
        .filter(|table| table.of_program)
    {
        let left = rows(&school, &format!("\"{}\" where program_id = '{}'", table.name, school.key.program)).await;
        assert_eq!(left, 0, "{}", table.name);
    }
    assert_eq!(rows(&school, &format!("class where program_id = '{}'", elsewhere.program)).await, other_before);
    // Who belonged to nothing else is gone, signed out with it.
    assert_eq!(rows(&school, "account where email like '%one.example'").await, 0);
    assert_eq!(school.send(&owner, Method::GET, "/api/session", None).await.0, StatusCode::UNAUTHORIZED);
    let theirs = browser();
    assert_eq!(school.try_sign_in(&theirs, "owner@two.example", support::PASSWORD).await.0, StatusCode::OK);
}
