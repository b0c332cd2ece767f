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
async fn a_family_agrees_on_days_and_minutes_of_its_own_and_the_others_stay_as_they_are() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (child, other) = (school.child("Ada K.").await, school.child("Ben O.").await);
    let path = |child| school.of_class(&format!("/children/{child}/practice"));
    let put = async |body: Value| school.send(&owner, reqwest::Method::PUT, &path(child), Some(&body)).await;
    assert_eq!(school.get(&owner, &path(child)).await["agreed"], json!({ "large": false }));
    assert_eq!(put(json!({ "days": [3, 6], "minutes": 5, "large": true })).await.0, StatusCode::NO_CONTENT);
    let practice = school.get(&owner, &path(child)).await;
    assert_eq!(practice["agreed"], json!({ "days": [3, 6], "minutes": 5, "large": true }));
    assert_eq!((&practice["minutesPerDay"], practice["days"].as_array().expect("days").len()), (&json!(5), 2));
    let blocks = |day: &Value| -> u64 {
        day["blocks"].as_array().expect("blocks").iter().filter_map(|block| block["minutes"].as_u64()).sum()
    };
    assert!(practice["days"].as_array().expect("days").iter().all(|day| blocks(day) == 5));
    let others = school.get(&owner, &path(other)).await;
    assert_eq!((&others["minutesPerDay"], others["days"].as_array().expect("days").len()), (&json!(10), 5));
    let (_, calendar) = file(&school, &owner, &format!("/children/{child}/practice.ics")).await;
    assert!(String::from_utf8(calendar).expect("text").contains("5 minutes"));
    for (body, field) in [
        (json!({ "minutes": 2 }), "minutes"),
        (json!({ "minutes": 4_000_000_000_u32 }), "minutes"),
        (json!({ "days": [] }), "days"),
        (json!({ "days": [0, 1] }), "days"),
    ] {
        let (status, answer) = put(body).await;
        assert_eq!((status.as_u16(), &answer["errors"][0]["field"]), (422, &json!(field)), "{answer}");
    }
    assert_eq!(school.get(&owner, &path(child)).await["agreed"]["minutes"], json!(5), "what was kept stays");
    assert_eq!(put(json!({})).await.0, StatusCode::NO_CONTENT);
    assert_eq!(school.rows("child_home").await, 0);
}

#[tokio::test]
async fn a_card_says_its_lines_in_the_familys_language_too_where_the_class_worded_them() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (child, other) = (school.child("Ada K.").await, school.child("Ben O.").await);
    let put = async |path: &str, body: Value| {
        school.send(&owner, reqwest::Method::PUT, &school.of_class(path), Some(&body)).await
    };
    let words = json!({ "es": { "heading": " En casa esta semana ", "see": "Se ve:", "back": "Devuelve esta hoja." } });
    assert_eq!(put("/home/wording", json!({ "languages": words })).await.0, StatusCode::NO_CONTENT);
    let agreed = json!({ "large": false, "language": "ES" });
    assert_eq!(put(&format!("/children/{child}/practice"), agreed).await.0, StatusCode::NO_CONTENT);
    let card = async |child| {
        let (_, page) = file(&school, &owner, &format!("/children/{child}/family-card.html")).await;
        String::from_utf8(page).expect("text")
    };
    let (own, others) = (card(child).await, card(other).await);
    assert!(own.contains("At home this week / En casa esta semana") && own.contains("You see / Se ve:"), "{own}");
    assert!(own.contains(">Devuelve esta hoja.<") && own.contains("First sounds are small."), "{own}");
    assert!(others.contains("<p>At home this week</p>") && !others.contains("Se ve:"), "{others}");
    let read = school.get(&owner, &school.of_class("/home/wording")).await;
    assert_eq!(read["languages"]["es"]["heading"], "En casa esta semana");
    assert_eq!(read["lines"].as_array().map(Vec::len), Some(12));
    // It goes with the class's file, and a file without it takes nothing away.
    let (_, toml) = file(&school, &owner, "/checklist.toml").await;
    let toml = String::from_utf8(toml).expect("text");
    assert!(toml.contains("[[phrases]]\nlanguage = \"es\""), "{toml}");
    for (words, field) in [
        (json!({ "es": { "heading": "x".repeat(141) } }), "languages.es.heading"),
        (json!({ "es": { "heading": " " } }), "languages.es.heading"),
        (json!({ "vi": { "back": "one\ntwo" } }), "languages.vi.back"),
    ] {
        let (status, answer) = put("/home/wording", json!({ "languages": words })).await;
        assert_eq!(
            (status, &answer["errors"][0]["field"]),
            (StatusCode::UNPROCESSABLE_ENTITY, &json!(field)),
            "{answer}"
        );
    }
    for words in [json!({ "Spanish": {} }), json!({ "es": { "greeting": "Hola" } }), json!({ "../es": {} })] {
        assert!(put("/home/wording", json!({ "languages": words })).await.0.is_client_error(), "{words}");
    }
    assert_eq!(school.get(&owner, &school.of_class("/home/wording")).await["languages"], read["languages"]);
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

fn answer(child: &impl serde::Serialize, rest: &Value) -> Value {
    let mut answer = json!({ "id": uuid::Uuid::now_v7(), "child": child, "at": "2026-11-03T11:00:00Z" });
    answer.as_object_mut().expect("an object").extend(rest.as_object().expect("an object").clone());
    answer
}

async fn answered(school: &School, client: &Client, answers: &[Value]) -> Vec<Value> {
    let body = json!({ "answers": answers });
    let (status, said) =
        school.send(client, reqwest::Method::POST, &school.of_class("/home/answers"), Some(&body)).await;
    assert_eq!(status, StatusCode::OK, "{said}");
    said["results"].as_array().expect("results").clone()
}

#[tokio::test]
async fn what_came_back_is_taken_in_once_and_read_back_week_by_week() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (child, other) = (school.child("Ada K.").await, school.child("Ben O.").await);
    let days = answer(&child, &json!({ "days": 4 }));
    let more = answer(&child, &json!({ "days": 5, "at": "2026-11-03T11:01:00Z" }));
    let easy = answer(&child, &json!({ "says": "soreTips" }));
    let before = answer(&child, &json!({ "days": 1, "at": "2026-10-28T11:00:00Z" }));
    let results = answered(&school, &owner, &[days.clone(), more.clone(), easy, before, days.clone()]).await;
    let outcomes: Vec<&Value> = results.iter().map(|result| &result["outcome"]).collect();
    assert_eq!(outcomes, ["stored", "stored", "stored", "stored", "known"]);
    let home = school.get(&owner, &school.of_class("/home")).await;
    let back = |home: &Value| {
        let of = home["children"].as_array().expect("children").clone();
        of.into_iter().find(|one| one["child"]["id"] == json!(child)).expect("the child")["back"].clone()
    };
    assert_eq!((home["week"].clone(), back(&home)["days"].clone()), (json!("2026-11-02"), json!(5)));
    assert_eq!((back(&home)["says"].clone(), back(&home)["daysBy"].clone()), (json!("soreTips"), more["id"].clone()));
    assert!(home["children"].as_array().expect("children").iter().any(|one| one.get("back").is_none()));
    answered(&school, &owner, &[answer(&child, &json!({ "retracts": more["id"] }))]).await;
    assert_eq!(back(&school.get(&owner, &school.of_class("/home")).await)["days"], json!(4));
    let weeks = school.get(&owner, &school.of_class(&format!("/children/{child}/answers"))).await["weeks"].clone();
    let said: Vec<_> = weeks.as_array().expect("weeks").iter().map(|week| (&week["week"], &week["days"])).collect();
    assert_eq!(said, [(&json!("2026-11-02"), &json!(4)), (&json!("2026-10-26"), &json!(1))]);
    // An id that is another child's, and what cannot be, are refused and hold up nobody.
    let mut taken = answer(&other, &json!({ "days": 2 }));
    taken["id"] = days["id"].clone();
    let hostile = [
        taken,
        answer(&child, &json!({})),
        answer(&child, &json!({ "days": 8 })),
        answer(&child, &json!({ "days": 4_294_967_296_u64 })),
        answer(&child, &json!({ "days": 1, "says": "easy" })),
        answer(&child, &json!({ "says": "hurts" })),
        answer(&child, &json!({ "says": "hurts", "hurtsAt": "tape" })),
        answer(&child, &json!({ "days": 1, "at": "2026-12-24T11:00:00Z" })),
        answer(&child, &json!({ "days": 1, "at": "+12026-11-03T11:00:00Z" })),
        answer(&uuid::Uuid::now_v7(), &json!({ "days": 1 })),
        answer(&uuid::Uuid::now_v7(), &json!({ "says": "hurts", "hurtsAt": "bow" })),
        json!("what"),
        answer(&other, &json!({ "days": 0 })),
    ];
    let results = answered(&school, &owner, &hostile).await;
    let reasons: Vec<String> = results
        .iter()
        .map(|result| {
            format!(
                "{} {}",
                result["outcome"].as_str().unwrap_or_default(),
                result["reason"].as_str().unwrap_or_default()
            )
        })
        .collect();
    insta::assert_snapshot!(reasons.join("\n"));
    assert_eq!(school.rows("family_answer").await, 6);
}

#[tokio::test]
async fn what_hurts_at_home_is_flagged_until_somebody_says_what_was_done_and_goes_with_the_child() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let sore = answer(&child, &json!({ "says": "hurts", "hurtsAt": "bow" }));
    let wrong = answer(&child, &json!({ "says": "hurts", "hurtsAt": "hold" }));
    answered(&school, &owner, &[sore.clone(), wrong.clone()]).await;
    let page = || async { school.get(&owner, &school.of_class(&format!("/children/{child}"))).await };
    let flagged = |page: &Value| -> Vec<String> {
        let strings = page["child"]["strings"].as_array().expect("strings").clone();
        let pain = strings.into_iter().filter(|one| one["flags"].as_array().expect("flags").contains(&json!("pain")));
        pain.map(|one| one["strand"].as_str().unwrap_or_default().to_owned()).collect()
    };
    let both = page().await;
    assert_eq!(flagged(&both), ["hold", "bow"], "{both}");
    assert_eq!((both["pain"][0]["atHome"].clone(), both["pain"].as_array().expect("pains").len()), (json!(true), 2));
    // A tap on the wrong one is taken back, and its flag with it.
    answered(&school, &owner, &[answer(&child, &json!({ "retracts": wrong["id"] }))]).await;
    assert_eq!(flagged(&page().await), ["bow"]);
    let home = school.get(&owner, &school.of_class("/home")).await;
    assert_eq!(home["children"][0]["sore"], true);
    let done = json!({ "done": "Called the family; Ada rests a week." });
    let path = school.of_class(&format!("/children/{child}/pain/{}", sore["id"].as_str().expect("an id")));
    for _ in 0..2 {
        let (status, _) = school.send(&owner, reqwest::Method::POST, &path, Some(&done)).await;
        assert_eq!(status, StatusCode::NO_CONTENT);
    }
    let after = page().await;
    assert_eq!((flagged(&after), after["pain"][0]["done"].clone()), (Vec::new(), done["done"].clone()));
    // What is kept of a child has it, and nothing is left when the child is removed.
    let record = school.get(&owner, &school.of_class(&format!("/children/{child}/record.json"))).await;
    assert_eq!(record["tables"]["family_answer"].as_array().expect("rows").len(), 3);
    let (status, said) = file(&school, &owner, &format!("/children/{child}/record.pdf")).await;
    assert_eq!((status, &said[..5]), (StatusCode::OK, &b"%PDF-"[..]));
    let removal = school.of_class(&format!("/children/{child}/removal"));
    let confirm = json!({ "confirm": "Ada K." });
    let (status, said) = school.send(&owner, reqwest::Method::POST, &removal, Some(&confirm)).await;
    assert!(status.is_success(), "{said}");
    assert_eq!(school.rows("family_answer").await, 0);
}

#[tokio::test]
async fn a_cards_code_leads_to_the_class_of_its_child_for_those_who_may_look_back_on_it() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let card = format!("/api/cards/{child}");
    assert_eq!(school.get(&owner, &card).await, json!({ "class": school.key.class }));
    let status = |client: Client, path: String| {
        let url = format!("{}{path}", school.url);
        async move { client.get(url).send().await.expect("an answer").status() }
    };
    support::school(&school.app.db, "owner@two.example", "assistant@two.example").await;
    let stranger = school.sign_in("owner@two.example").await;
    assert_eq!(status(stranger, card.clone()).await, StatusCode::NOT_FOUND);
    assert_eq!(status(support::browser(), card.clone()).await, StatusCode::UNAUTHORIZED);
    for nobody in [uuid::Uuid::now_v7().to_string(), "what".to_owned(), "%00".to_owned()] {
        assert_eq!(status(owner.clone(), format!("/api/cards/{nobody}")).await, StatusCode::NOT_FOUND, "{nobody}");
    }
}
