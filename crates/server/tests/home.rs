//! What goes home: the class's settings, a child's week, and cards that say the same.

mod support;

use reqwest::{Client, StatusCode};
use serde_json::{Value, json};
use support::people::School;

async fn file(school: &School, client: &Client, path: &str) -> (StatusCode, Vec<u8>) {
    let answer = client.get(format!("{}{}", school.url, school.of_class(path))).send().await.expect("an answer");
    (answer.status(), answer.bytes().await.expect("a body").to_vec())
}

#[tokio::test]
async fn a_week_follows_the_settings_and_minutes_add_up() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let home = school.get(&owner, &school.of_class("/home")).await;
    assert_eq!(home["set"], json!({ "days": [1, 2, 3, 4, 5], "minutes": 10, "taps": 20, "sitting": "one" }));
    assert_eq!(home["children"][0]["child"]["name"], "Ada K.");
    assert_eq!(home["children"][0]["sore"], false);
    let shows = home["children"][0]["shows"].as_array().expect("what it shows");
    assert!((1..=3).contains(&shows.len()), "{shows:?}");
    let settings = json!({ "days": [2, 7], "minutes": 8, "taps": 12, "sitting": "moments" });
    let (status, _) = school.send(&owner, reqwest::Method::PUT, &school.of_class("/home"), Some(&settings)).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    let practice = school.get(&owner, &school.of_class(&format!("/children/{child}/practice"))).await;
    assert_eq!(practice["minutesPerDay"], 8);
    let days = practice["days"].as_array().expect("days");
    assert_eq!(days.len(), 2);
    for day in days {
        let blocks = day["blocks"].as_array().expect("blocks");
        assert_eq!(blocks.iter().filter_map(|block| block["minutes"].as_u64()).sum::<u64>(), 8);
        for block in blocks {
            let taps = block["kind"] == "finger-strength";
            assert_eq!(block.get("count"), taps.then(|| json!(12)).as_ref());
            assert_eq!(block["presses"], json!(taps), "nothing else presses on the first day");
        }
    }
}

#[tokio::test]
async fn what_hurts_is_left_out_and_the_page_says_so() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let look = json!({ "observations": [{
        "id": uuid::Uuid::now_v7(), "child": child, "target": "hold.seat", "observedAt": "2026-11-02T10:00:00Z", "level": 1, "says": "hurts"
    }] });
    let (status, answer) =
        school.send(&owner, reqwest::Method::POST, &school.of_class("/observations"), Some(&look)).await;
    assert!(status.is_success(), "{answer}");
    let home = school.get(&owner, &school.of_class("/home")).await;
    assert_eq!(home["children"][0]["sore"], true, "{home}");
    let practice = school.get(&owner, &school.of_class(&format!("/children/{child}/practice"))).await;
    let kinds: Vec<&Value> =
        practice["days"][0]["blocks"].as_array().expect("blocks").iter().map(|one| &one["kind"]).collect();
    assert_eq!(kinds, ["sing"]);
}

#[tokio::test]
async fn a_week_is_a_calendar_and_a_card_is_a_page() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada <K>.").await;
    let (status, calendar) = file(&school, &owner, &format!("/children/{child}/practice.ics")).await;
    assert_eq!(status, StatusCode::OK);
    let calendar = String::from_utf8(calendar).expect("text");
    let unfolded = calendar.replace("\r\n ", "");
    assert_eq!(calendar.matches("BEGIN:VEVENT").count(), 5);
    assert!(
        unfolded.contains("Practise the violin\\, 10 minutes") && unfolded.contains("20 times each."),
        "{unfolded}"
    );
    assert!(!unfolded.contains("Ada"), "calendars travel");
    let (status, page) = file(&school, &owner, &format!("/children/{child}/family-card.html")).await;
    assert_eq!(status, StatusCode::OK);
    let page = String::from_utf8(page).expect("text");
    assert!(page.contains("<h1>Ada") && page.contains("Sore tips pass") && page.contains("<svg "));
    assert!(!page.contains("<K>") && !page.contains("<script"));
}

#[tokio::test]
async fn sheets_are_printed_and_a_loan_is_about_an_instrument_that_the_child_has() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let sheet = |query: &str| format!("/children/{child}/sheet.pdf?{query}");
    for query in ["sheet=care", "sheet=size-change", "sheet=care&paper=letter&large=true"] {
        let (status, bytes) = file(&school, &owner, &sheet(query)).await;
        assert_eq!(status, StatusCode::OK, "{query}");
        assert!(bytes.starts_with(b"%PDF") && bytes.len() > 5_000, "{query}");
    }
    for query in ["sheet=loan", "sheet=luthier"] {
        assert_eq!(file(&school, &owner, &sheet(query)).await.0, StatusCode::NOT_FOUND, "{query}");
    }
    for wrong in ["", "sheet=report", "sheet=care&paper=a0"] {
        assert!(file(&school, &owner, &sheet(wrong)).await.0.is_client_error(), "{wrong}");
    }
    let asset = uuid::Uuid::now_v7();
    let body =
        json!({ "tag": "V-07", "instrument": "violin", "size": "1/2", "condition": "good", "bow": true, "case": true });
    let path = school.of_class(&format!("/instruments/{asset}"));
    let (status, answer) = school.send(&owner, reqwest::Method::PUT, &path, Some(&body)).await;
    assert!(status.is_success(), "{answer}");
    let pairs = json!({ "pairs": [{ "child": child, "asset": asset }] });
    let (status, answer) = school.send(&owner, reqwest::Method::POST, &school.of_class("/loans"), Some(&pairs)).await;
    assert!(status.is_success(), "{answer}");
    for query in ["sheet=loan", "sheet=luthier"] {
        assert_eq!(file(&school, &owner, &sheet(query)).await.0, StatusCode::OK, "{query}");
    }
}

#[tokio::test]
async fn settings_that_cannot_be_are_refused_field_by_field() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let put =
        async |body: Value| school.send(&owner, reqwest::Method::PUT, &school.of_class("/home"), Some(&body)).await;
    let (status, problem) = put(json!({ "days": [], "minutes": 2, "taps": 51, "sitting": "one" })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let fields: Vec<&Value> =
        problem["errors"].as_array().expect("faults").iter().map(|fault| &fault["field"]).collect();
    assert_eq!(fields, ["days", "minutes", "taps"]);
    let days: Vec<u32> = (0..100_000).collect();
    for hostile in [
        json!({ "days": days, "minutes": 10, "taps": 20, "sitting": "one" }),
        json!({ "days": [1], "minutes": -1, "taps": 20, "sitting": "one" }),
        json!({ "days": [1], "minutes": 10, "taps": 20, "sitting": "all night" }),
        json!({ "days": [1], "minutes": 10, "taps": 20, "sitting": "one", "more": 1 }),
        json!([]),
    ] {
        assert!(put(hostile).await.0.is_client_error());
    }
    assert_eq!(school.get(&owner, &school.of_class("/home")).await["set"]["minutes"], 10, "nothing was kept");
}

#[tokio::test]
async fn cards_are_printed_for_a_child_a_section_and_the_class() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    for query in ["", "?paper=letter", "?large=true", "?paper=letter&large=true"] {
        for path in [format!("/children/{child}/family-card.pdf"), "/home/cards.pdf".to_owned()] {
            let (status, bytes) = file(&school, &owner, &format!("{path}{query}")).await;
            assert_eq!(status, StatusCode::OK, "{path}{query}");
            assert!(bytes.starts_with(b"%PDF") && bytes.len() > 5_000, "{path}{query}");
        }
    }
    let (status, none) = file(&school, &owner, "/home/cards.pdf?section=bass").await;
    assert_eq!(status, StatusCode::OK);
    assert!(none.starts_with(b"%PDF"), "a section without children is an empty file, not a fault");
    for wrong in ["/home/cards.pdf?section=tuba", "/home/cards.pdf?paper=a0", "/home/cards.pdf?large=maybe"] {
        assert!(file(&school, &owner, wrong).await.0.is_client_error(), "{wrong}");
    }
}
