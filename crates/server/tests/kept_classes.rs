//! Classes are kept as they were read last, and believed only while nothing has been set since: whatever is changed is seen by the next
//! request.

mod support;

use bright_row_core::ChildId;
use bright_row_core::role::Role;
use bright_row_store::accounts::people;
use bright_row_store::classes;
use bright_row_store::database::connect;
use chrono::TimeDelta;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::people::School;
use support::{look, undo};
use uuid::Uuid;

/// What is kept of the class is either known to be old or what a new reading says; answers whether it was known to be old.
async fn is_old(school: &School, after: &str) -> bool {
    let (db, now) = (&school.app.db, school.now());
    let kept = school.app.kept_classes.get(&school.key.class).expect("the class was opened");
    let owner = school.texts("select account_id::text from membership where role = 'owner'").await;
    let owner = owner[0].parse::<Uuid>().expect("an id").into();
    let fresh = classes::for_account(db, owner, school.key.class, now).await.expect("an answer");
    let asks = classes::Asks { account: owner, class: school.key.class, settled: kept.settled, at: now };
    let admissions = classes::admissions(db, school.key.program, &[asks]).await.expect("an answer");
    match admissions[0].clone() {
        Some(admission) => {
            assert_eq!(Some(admission.opens(kept).class), fresh.map(|opened| opened.class), "after {after}");
            false
        }
        None => true,
    }
}

/// The room as it is answered is the one that a server answers which has kept nothing.
async fn assert_room(school: &School, client: &Client, after: &str) {
    let db = connect(&school.database).await.expect("the database answers");
    let (fresh, stop) = support::serve(&db).await;
    let path = school.of_class("/room");
    let answered = school.get(client, &path).await;
    let read =
        client.get(format!("{fresh}{path}")).send().await.expect("an answer").json::<Value>().await.expect("JSON");
    assert_eq!(answered, read, "after {after}");
    drop(stop);
}

fn filled(school: &School, path: &str, child: ChildId, asset: Uuid) -> String {
    path.replace("{class}", &school.key.class.to_string())
        .replace("{program}", &school.key.program.to_string())
        .replace("{child}", &child.to_string())
        .replace("{asset}", &asset.to_string())
        .replace("{day}", "2026-11-05")
}

#[tokio::test]
async fn after_every_example_of_the_description_what_is_kept_is_right_or_known_to_be_old() {
    let mut old = Vec::new();
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    // Signing in as the demo's director is not for this school.
    let examples = bright_row::router::examples().into_iter().filter(|(operation, _)| !operation.ends_with("/session"));
    for (operation, body) in examples {
        school.get(&owner, &school.of_class("/room")).await;
        let (method, path) = operation.split_once(' ').expect("a method and a path");
        let path = filled(&school, path, child, Uuid::now_v7());
        school.send(&owner, method.parse().expect("a method"), &path, Some(&body)).await;
        if is_old(&school, &operation).await {
            old.push(operation.clone());
        }
        assert_room(&school, &owner, &operation).await;
    }
    assert!(old.iter().any(|one| one.ends_with("/calendar")), "{old:?}");
    assert!(
        !old.iter().any(|one| one.starts_with("POST") && one.ends_with("/seats")),
        "{old:?}: a proposal sets nothing"
    );
}

#[tokio::test]
async fn whatever_changes_how_children_stand_is_in_the_next_room() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (child, asset) = (school.child("Ada K.").await, Uuid::now_v7());
    let instrument = json!({ "tag": "V-01", "instrument": "violin", "size": "4/4", "condition": "good", "bow": true, "case": true,
                             "stringLengthMm": 325.0 });
    let seen = look(child, "hold.size", 3, 2);
    let mut sore = look(child, "hold.seat", 1, 1);
    sore["says"] = json!("hurts");
    let answers = |what: Value| {
        let mut answer = json!({ "id": Uuid::now_v7(), "child": child, "at": school.now() });
        answer.as_object_mut().expect("an object").extend(what.as_object().expect("an object").clone());
        json!({ "answers": [answer] })
    };
    let at_home = Uuid::now_v7();
    let pain = format!("/api/classes/{{class}}/children/{{child}}/pain/{}", sore["id"].as_str().expect("an id"));
    let steps = [
        ("PUT", "/api/classes/{class}/instruments/{asset}", instrument),
        ("POST", "/api/classes/{class}/loans", json!({ "pairs": [{ "child": child, "asset": asset }] })),
        (
            "POST",
            "/api/classes/{class}/observations",
            json!({ "observations": [seen, look(child, "tape.holding", 3, 1)] }),
        ),
        ("POST", "/api/classes/{class}/observations", json!({ "observations": [undo(&seen), sore] })),
        ("POST", pain.as_str(), json!({ "done": "Rested." })),
        (
            "POST",
            "/api/classes/{class}/tapes/log",
            json!({ "entries": [{ "id": Uuid::now_v7(), "asset": asset, "kind": "measured",
                                                                         "lengthMm": 326.0, "at": school.now() }] }),
        ),
        (
            "POST",
            "/api/classes/{class}/home/answers",
            answers(json!({ "id": at_home, "says": "hurts", "hurtsAt": "bow" })),
        ),
        ("POST", "/api/classes/{class}/home/answers", answers(json!({ "retracts": at_home }))),
        ("PUT", "/api/classes/{class}/children/{child}/stages/frame.1/opened", json!({})),
        (
            "PUT",
            "/api/classes/{class}/children/{child}/accommodations/hold.tall",
            json!({ "lookFor": "", "reason": "A sore arm" }),
        ),
        ("PUT", "/api/programs/{program}", json!({ "name": "North" })),
        ("POST", "/api/classes/{class}/archive", json!({})),
    ];
    for (method, path, body) in steps {
        school.get(&owner, &school.of_class("/room")).await;
        let filled = filled(&school, path, child, asset);
        let (status, answer) = school.send(&owner, method.parse().expect("a method"), &filled, Some(&body)).await;
        assert!(status.is_success() && !answer.to_string().contains("refused"), "{method} {path}: {status} {answer}");
        assert_room(&school, &owner, path).await;
    }
    school.later(TimeDelta::days(3));
    let owner = school.sign_in("owner@one.example").await;
    let room = school.get(&owner, &school.of_class("/room")).await;
    assert_eq!(room["today"], json!(school.now().date_naive()), "another day is another room");
}

#[tokio::test]
async fn what_is_changed_is_read_by_the_next_request_and_whoever_is_let_go_is_out() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let director = school.person("director@one.example", Role::Director).await;
    let signed_in = school.sign_in("director@one.example").await;
    let name = async |client| -> Value { school.get(client, &school.of_class("/room")).await["name"].clone() };
    assert_eq!(name(&signed_in).await, "Tuesday strings");
    // By another process: it says nothing to this one.
    school.run("update class set name = 'Thursday strings'").await;
    assert_eq!(name(&signed_in).await, "Tuesday strings", "whoever writes past the application says so in settled");
    school.run("update program set settled = gen_random_uuid()").await;
    assert_eq!(name(&signed_in).await, "Thursday strings");
    let renamed = school.send(&owner, Method::PUT, &school.of_program(""), Some(&json!({ "name": "North" }))).await;
    assert!(renamed.0.is_success(), "{renamed:?}");
    assert!(is_old(&school, "another name of the program").await);
    assert_eq!(name(&signed_in).await, "Thursday strings");
    assert!(!is_old(&school, "a reading").await);

    let path = school.of_class("/overview");
    let answered = async || school.send(&signed_in, Method::GET, &path, None).await.0;
    school.run(&format!("delete from class_member where account_id = '{director}'")).await;
    assert_eq!(answered().await, StatusCode::NOT_FOUND);
    people::give_class(&school.app.db, school.key.program, director.into(), school.key.class).await.expect("given");
    assert_eq!(answered().await, StatusCode::OK);
    school.run(&format!("delete from membership where account_id = '{director}'")).await;
    assert_eq!(answered().await, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn whoever_recorded_a_moment_ago_is_let_in_by_the_transaction_that_records_or_not_at_all() {
    let school = School::new().await;
    school.sign_in("owner@one.example").await;
    let director = school.person("director@one.example", Role::Director).await;
    let signed_in = school.sign_in("director@one.example").await;
    let child = school.child("Ada K.").await;
    let path = school.of_class("/observations");
    let record = async || {
        let body = json!({ "observations": [look(child, "hold.size", 3, 0)] });
        let (status, answer) = school.send(&signed_in, Method::POST, &path, Some(&body)).await;
        (status, answer["results"][0]["outcome"].as_str().unwrap_or_default().to_owned())
    };
    let stored = (StatusCode::OK, "stored".to_owned());
    assert_eq!((record().await, record().await), (stored.clone(), stored.clone()));
    // By another process: it says nothing to this one. Each is put back and seen to be let in again.
    let of_director = format!("where account_id = '{director}'");
    let an_hour_ago = school.now() - TimeDelta::hours(1);
    let ways = [
        (format!("delete from class_member {of_director}"), StatusCode::NOT_FOUND),
        (
            format!(
                "update membership set role = 'substitute', until = '{}' {of_director}",
                school.now() - TimeDelta::days(4)
            ),
            StatusCode::NOT_FOUND,
        ),
        // What is on its way is still taken in from then, but this was seen now.
        (format!("update membership set role = 'substitute', until = '{an_hour_ago}' {of_director}"), StatusCode::OK),
    ];
    let mut so_many = 2;
    for (sql, expected) in ways {
        school.run(&sql).await;
        let (status, outcome) = record().await;
        assert_eq!((status, outcome == "stored"), (expected, false), "{sql}");
        assert_eq!(school.rows("observation").await, so_many, "{sql}");
        school.run(&format!("update membership set role = 'director', until = null {of_director}")).await;
        school
            .run(&format!(
                "insert into class_member (program_id, class_id, account_id) values ('{}', '{}', '{director}') on conflict do nothing",
                school.key.program, school.key.class
            ))
            .await;
        assert_eq!((record().await, record().await), (stored.clone(), stored.clone()), "{sql}");
        so_many += 2;
    }
    school.run("update program set settled = gen_random_uuid()").await;
    assert_eq!(record().await, stored, "what was set is read, and then it is stored");
    school.run(&format!("delete from web_session {of_director}")).await;
    assert_eq!(record().await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(school.rows("observation").await, so_many + 1);
}
