//! The balance point turns into the frog on its day, by itself: every page and list reads it so from then on.

mod support;

use chrono::TimeDelta;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::people::School;

const FROG: &str = "bow.frog";

async fn take(school: &School, owner: &Client, body: &Value) -> (StatusCode, Value) {
    school.send(owner, Method::PUT, &school.of_class("/approach"), Some(body)).await
}

/// The day on which the class's way into the bow hold turns, as it is shown.
async fn turns_on(school: &School, owner: &Client) -> Value {
    let approach = school.get(owner, &school.of_class("/approach")).await;
    let choices = approach["choices"].as_array().expect("choices");
    choices.iter().find(|choice| choice["key"] == "bow-way").expect("the choice")["turnsOn"].clone()
}

/// Whether a child is asked for the move to the frog.
async fn is_asked(school: &School, owner: &Client, child: &str) -> bool {
    let page = school.get(owner, &school.of_class(&format!("/children/{child}"))).await;
    page["ladders"].to_string().contains(FROG)
}

#[tokio::test]
async fn the_move_is_asked_for_from_its_day_and_the_day_can_be_set() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await.to_string();
    assert!(!is_asked(&school, &owner, &child).await, "no class but one at the balance point is asked");
    let (status, _) = take(&school, &owner, &json!({ "choices": { "bow-way": "balance-point" } })).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    let day = |days: i64| json!((school.now() + TimeDelta::days(days)).date_naive().to_string());
    assert_eq!(turns_on(&school, &owner).await, day(14), "two weeks, where no day was named");
    assert!(!is_asked(&school, &owner, &child).await);
    let set = json!({ "choices": {}, "turnsOn": { "bow-way": day(1) } });
    let (status, preview) = school.send(&owner, Method::POST, &school.of_class("/approach/preview"), Some(&set)).await;
    assert_eq!((status, &preview["changes"]), (StatusCode::OK, &json!([])), "nothing reads otherwise today");
    assert_eq!(take(&school, &owner, &set).await.0, StatusCode::NO_CONTENT);
    assert_eq!(turns_on(&school, &owner).await, day(1));
    let tomorrow = day(1);
    school.later(TimeDelta::days(1));
    let owner = school.sign_in("owner@one.example").await;
    assert!(is_asked(&school, &owner, &child).await);
    let lesson = school.get(&owner, &school.of_class("/lesson")).await.to_string();
    assert!(!lesson.contains("where it balances"), "the drills read it too");
    let approach = school.get(&owner, &school.of_class("/approach")).await.to_string();
    assert!(approach.contains(r#""chosen":"balance-point""#), "what was chosen stays what was chosen");
    assert_eq!(turns_on(&school, &owner).await, tomorrow);
    let pencil = json!({ "choices": { "bow-way": "pencil" } });
    assert_eq!(take(&school, &owner, &pencil).await.0, StatusCode::NO_CONTENT);
    assert_eq!(turns_on(&school, &owner).await, Value::Null);
    assert!(!is_asked(&school, &owner, &child).await);
}

#[tokio::test]
async fn a_day_that_cannot_be_is_refused_and_what_stood_is_kept() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    take(&school, &owner, &json!({ "choices": { "bow-way": "balance-point" } })).await;
    let before = turns_on(&school, &owner).await;
    for (key, day) in [
        ("bow-way", "1999-01-01"),
        ("bow-way", "2199-12-31"),
        ("scroll", "2026-12-01"),
        ("no-such-choice", "2026-12-01"),
    ] {
        let (status, problem) = take(&school, &owner, &json!({ "choices": {}, "turnsOn": { key: day } })).await;
        assert_eq!((status, &problem["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(key)), "{day}");
    }
    for day in [json!("12026-01-01"), json!("tomorrow"), json!(7), Value::Null] {
        let (status, _) = take(&school, &owner, &json!({ "choices": {}, "turnsOn": { "bow-way": day } })).await;
        assert!(status.is_client_error(), "{status} {day}");
    }
    assert_eq!(turns_on(&school, &owner).await, before);
}
