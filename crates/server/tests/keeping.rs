//! Keeping: classes archived and deleted by hand and by themselves, notes cleared, programs ended, all of it noted.

mod support;

use bright_row_store::ConnectionTrait;
use chrono::TimeDelta;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::people::School;
use support::{browser, look};

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
        assert_eq!(school.rows(table).await, 1, "{table}");
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
    let wrong = json!({ "archiveAfterDays": 0, "deleteAfterDays": 1, "notesDays": 365, "auditDays": 365, "leftDays": 365, "secondFactor": false, "mirror": true });
    let refused = school.send(&owner, Method::PUT, &school.of_program("/keeping"), Some(&wrong)).await;
    assert_eq!(
        (refused.0, &refused.1["errors"][0]["field"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("deleteAfterDays"))
    );
    bright_row::serve::clear(&school.app).await;
    assert_eq!(school.rows("observation where note is not null").await, 1, "nothing is over yet");

    // The notes are a year old, and the term is over.
    school.later(TimeDelta::days(420));
    bright_row::serve::clear(&school.app).await;
    assert_eq!(school.rows("observation").await, 1, "what was seen stays");
    assert_eq!(school.rows("observation where note is not null").await, 0);
    assert_eq!(school.rows("class where archived_at is not null").await, 2);
    let owner = school.sign_in("owner@one.example").await;
    let done = deeds(&school, &owner).await;
    assert!(
        done.contains(&"notes-cleared".to_owned()) && done.iter().filter(|deed| *deed == "class-archived").count() == 2,
        "{done:?}"
    );

    school.later(TimeDelta::days(2 * 365 + 1));
    bright_row::serve::clear(&school.app).await;
    for table in ["class", "child", "observation", "standing"] {
        assert_eq!(school.rows(table).await, 0, "{table}");
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
    let other_before = school.rows(&format!("class where program_id = '{}'", elsewhere.program)).await;
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
        let left = school.rows(&format!("\"{}\" where program_id = '{}'", table.name, school.key.program)).await;
        assert_eq!(left, 0, "{}", table.name);
    }
    assert_eq!(school.rows(&format!("class where program_id = '{}'", elsewhere.program)).await, other_before);
    // Who belonged to nothing else is gone, signed out with it.
    assert_eq!(school.rows("account where email like '%one.example'").await, 0);
    assert_eq!(school.send(&owner, Method::GET, "/api/session", None).await.0, StatusCode::UNAUTHORIZED);
    let theirs = browser();
    assert_eq!(school.try_sign_in(&theirs, "owner@two.example", support::PASSWORD).await.0, StatusCode::OK);
}

#[tokio::test]
async fn what_cannot_be_noted_is_not_done() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let named = "class where name = 'Tuesday strings'";
    school
        .app
        .db
        .execute_unprepared("alter table audit add constraint full_up check (false) not valid")
        .await
        .expect("shut");
    for (method, rest, body) in [
        (Method::PUT, "", json!({ "name": "Other" })),
        (Method::POST, "/archive", json!({})),
        (Method::POST, "/end", json!({ "confirm": "Tuesday strings" })),
    ] {
        let (status, _) = school.send(&owner, method, &school.of_class(rest), Some(&body)).await;
        assert_eq!(status, StatusCode::INTERNAL_SERVER_ERROR, "{rest}");
        assert_eq!(school.rows(&format!("{named} and archived_at is null")).await, 1, "{rest}");
    }
    school.app.db.execute_unprepared("alter table audit drop constraint full_up").await.expect("open");
    let (status, _) = school.send(&owner, Method::PUT, &school.of_class(""), Some(&json!({ "name": "Other" }))).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(deeds(&school, &owner).await[..2], ["class-renamed", "signed-in"], "once, and not once more after it");
}

#[tokio::test]
async fn a_child_that_moves_leaves_its_own_classs_checkpoints_behind() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let own = json!({ "stage": "hold.2", "name": "Music ready", "seconds": 5,
        "texts": [{ "instruments": ["violin"], "texts": { "lookFor": "The page is open", "proof": "Point at bar one", "cue": "Page open" } }] });
    let (_, added) = school.send(&owner, Method::POST, &school.of_class("/checklist"), Some(&own)).await;
    let seen = json!({ "observations": [look(child, added["id"].as_str().expect("an id"), 3, 1), look(child, "hold.size", 3, 1)] });
    school.send(&owner, Method::POST, &school.of_class("/observations"), Some(&seen)).await;
    let path = school.of_class(&format!("/children/{child}/membership"));
    let moved = school.send(&owner, Method::POST, &path, Some(&json!({ "class": school.other.class }))).await;
    assert_eq!(moved.0, StatusCode::NO_CONTENT, "{}", moved.1);
    let checked = bright_row::caches::check(&school.app.db, &bright_row::content::embedded()).await.expect("checked");
    assert!(checked.other.is_empty(), "{:?}", checked.other);
    assert_eq!(
        school.rows(&format!("observation where child_id = '{child}'")).await,
        2,
        "nothing that was seen is lost"
    );
}

#[tokio::test]
async fn who_has_an_instrument_in_a_class_that_was_not_given_has_no_name() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (asset, elsewhere) = (uuid::Uuid::now_v7(), school.child("Ada K.").await);
    let violin =
        json!({ "tag": "V-1", "instrument": "violin", "size": "1/2", "condition": "good", "bow": true, "case": true });
    school.send(&owner, Method::PUT, &school.of_class(&format!("/instruments/{asset}")), Some(&violin)).await;
    let lent = school.of_class(&format!("/children/{elsewhere}/membership"));
    school
        .send(
            &owner,
            Method::POST,
            &school.of_class("/loans"),
            Some(&json!({ "pairs": [{ "child": elsewhere, "asset": asset }] })),
        )
        .await;
    school.send(&owner, Method::POST, &lent, Some(&json!({ "class": school.other.class }))).await;
    school.person("director@one.example", bright_row_core::role::Role::Director).await;
    let director = school.sign_in("director@one.example").await;
    for (client, name) in [(&owner, "Ada K."), (&director, "A child")] {
        let store = school.get(client, &school.of_class("/instruments")).await;
        let loans = school.get(client, &school.of_class(&format!("/instruments/{asset}/loans"))).await;
        assert_eq!((&store["assets"][0]["loan"]["name"], &loans[0]["name"]), (&json!(name), &json!(name)));
    }
    let viola =
        json!({ "tag": "V-1", "instrument": "viola", "size": "13\"", "condition": "good", "bow": true, "case": true });
    let (_, refused) =
        school.send(&director, Method::PUT, &school.of_class(&format!("/instruments/{asset}")), Some(&viola)).await;
    assert!(
        refused.to_string().contains("A child has this instrument") && !refused.to_string().contains("Ada"),
        "{refused}"
    );
}

#[tokio::test]
async fn a_database_that_was_started_anew_while_nobody_asked_is_noticed_by_nobody() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    school.get(&owner, &school.of_class("/room")).await;
    let name = school.database.rsplit('/').next().expect("a name").to_owned();
    let admin = std::env::var("BRIGHT_ROW_TEST_DATABASE_URL").expect("a cluster");
    let admin = bright_row_store::database::connect(&admin).await.expect("the cluster answers");
    // Until each has stood idle for longer than connections are trusted.
    loop {
        let sql = format!(
            "select count(*), pg_sleep(0.1)::text from pg_stat_activity where datname = '{name}' and now() - state_change < interval '2200 ms' and query not like 'LISTEN%'"
        );
        let row = admin.query_one_raw(sea_orm::Statement::from_string(admin.get_database_backend(), sql)).await;
        let busy: i64 = row.expect("an answer").expect("a row").try_get_by_index(0).expect("a number");
        if busy == 0 {
            break;
        }
    }
    admin
        .execute_unprepared(&format!("select pg_terminate_backend(pid) from pg_stat_activity where datname = '{name}'"))
        .await
        .expect("cut");
    for _ in 0..4 {
        school.get(&owner, &school.of_class("/room")).await;
    }
}
