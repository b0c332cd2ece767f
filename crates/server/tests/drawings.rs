//! How a class's look-fors are drawn: by its options, a child's own way, and what counts for one child only; on paper too.

mod support;

use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::browser;
use support::people::School;

async fn drawings(school: &School, who: &Client) -> Value {
    school.get(who, &school.of_class("/drawings")).await
}

async fn bytes(school: &School, client: &Client, path: &str) -> (StatusCode, Vec<u8>) {
    let answer = client.get(format!("{}{path}", school.url)).send().await.expect("an answer");
    (answer.status(), answer.bytes().await.expect("a body").to_vec())
}

async fn put(school: &School, owner: &Client, path: &str, body: Value) -> StatusCode {
    school.send(owner, Method::PUT, &school.of_class(path), Some(&body)).await.0
}

#[tokio::test]
async fn the_class_chooses_a_child_may_differ_and_what_counts_for_it_alone_is_not_drawn() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await.to_string();
    let before = drawings(&school, &owner).await;
    let thumb =
        |read: &Value| read["class"]["checkpoints"]["bow.thumb"]["violin"]["look"]["set"]["thumb_place"].clone();
    assert_eq!((thumb(&before), &before["children"]), (json!(1.0), &json!({})));
    let clear = json!({ "choices": { "bow-thumb": "clear" } });
    assert_eq!(put(&school, &owner, "/approach", clear).await, StatusCode::NO_CONTENT);
    let after = drawings(&school, &owner).await;
    assert_eq!(thumb(&after), json!(14.0));
    assert_ne!(before["class"]["slips"]["bow-thumb-lock"], after["class"]["slips"]["bow-thumb-lock"]);
    let own = format!("/children/{child}/overrides");
    assert_eq!(
        put(&school, &owner, &own, json!({ "choices": { "bow-fingers": "fingers-first" } })).await,
        StatusCode::NO_CONTENT
    );
    assert_eq!(drawings(&school, &owner).await["children"][&child]["checkpoints"], json!({}), "order changes no shape");
    let look = json!({ "lookFor": "Little finger rests straight", "reason": "lax joint" });
    let path = format!("/children/{child}/accommodations/bow.little");
    assert!(put(&school, &owner, &path, look).await.is_success());
    assert_eq!(drawings(&school, &owner).await["children"][&child]["checkpoints"], json!({ "bow.little": {} }));
}

#[tokio::test]
async fn a_checkpoint_of_the_class_takes_a_view_and_numbers_that_it_has() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let texts = json!({ "lookFor": "Both thumbs soft", "proof": "", "cue": "Soft thumbs" });
    let body = |figure: Value| {
        json!({ "stage": "bow.2", "name": "Soft thumbs", "seconds": 5, "figure": figure,
            "texts": [{ "instruments": ["violin", "cello"], "texts": texts }] })
    };
    let add = async |figure: Value| {
        school.send(&owner, Method::POST, &school.of_class("/checklist"), Some(&body(figure))).await
    };
    for (figure, about) in [
        (json!({ "view": "bow-hand", "set": { "thumb_bend": 900 } }), "goes from -25 to 75 degrees"),
        (json!({ "view": "bow-hand", "set": { "wings": 2 } }), "has no `wings`"),
        (json!({ "view": "peg", "set": { "turn": "round" } }), "is one of still, up, down"),
        (json!({ "view": "peg", "set": { "turn": 3 } }), "is one of still, up, down"),
    ] {
        let (status, problem) = add(figure).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{problem}");
        assert!(problem["errors"].to_string().contains(about), "{problem}");
        assert!(problem["errors"].to_string().contains("figure"), "{problem}");
    }
    let unknown = add(json!({ "view": "moon" })).await;
    assert!(unknown.0.is_client_error());
    let (status, added) = add(json!({ "view": "bow-hand", "set": { "thumb_bend": 20, "seen": "end" } })).await;
    assert_eq!(status, StatusCode::CREATED, "{added}");
    let id = added["id"].as_str().expect("an id");
    let read = drawings(&school, &owner).await;
    let drawn = &read["class"]["checkpoints"][id];
    assert_eq!(drawn["cello"]["look"]["set"], json!({ "seen": "end", "thumb_bend": 20.0 }));
    assert_eq!(drawn["bass"], Value::Null);
    let checklist = school.get(&owner, &school.of_class("/checklist")).await.to_string();
    assert!(
        checklist.contains(r#""figure":{"set":{"seen":"end","thumb_bend":20.0},"view":"bow-hand"}"#),
        "{checklist}"
    );
}

#[tokio::test]
async fn walls_and_cards_are_printed_and_name_nobody_in_their_files() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let of = |path: &str| school.of_class(path);
    for paper in ["a4", "a3", "letter", "tabloid"] {
        for (strand, instrument) in [("hold", "violin"), ("bow", "bass"), ("frame", "cello")] {
            let path = of(&format!("/wall.pdf?strand={strand}&instrument={instrument}&paper={paper}"));
            let (status, bytes) = bytes(&school, &owner, &path).await;
            assert_eq!(status, StatusCode::OK);
            assert!(bytes.starts_with(b"%PDF") && bytes.len() > 5_000);
        }
    }
    for wrong in
        ["/wall.pdf", "/wall.pdf?strand=moon&instrument=violin", "/wall.pdf?strand=bow&instrument=violin&paper=a0"]
    {
        assert!(bytes(&school, &owner, &of(wrong)).await.0.is_client_error(), "{wrong}");
    }
    let (status, bytes) = bytes(&school, &owner, &of(&format!("/children/{child}/card.pdf"))).await;
    assert_eq!(status, StatusCode::OK);
    assert!(bytes.starts_with(b"%PDF"));
}

#[tokio::test]
async fn the_mirror_is_the_programs_to_switch_off_and_never_a_substitutes() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let mirror = async |who: &Client| {
        let classes = school.get(who, "/api/classes").await;
        classes.as_array().expect("classes").iter().map(|class| class["mirror"].clone()).collect::<Vec<_>>()
    };
    assert!(mirror(&owner).await.iter().all(|on| *on == json!(true)));
    let wanted = json!({ "role": "substitute", "name": "Ms Quill", "classes": [school.key.class] });
    let (secret, _) = school.invite(&owner, &wanted).await;
    let tablet = browser();
    let (status, _) =
        school.send(&tablet, Method::POST, "/api/links/invitation", Some(&json!({ "secret": secret }))).await;
    assert_eq!((status, mirror(&tablet).await), (StatusCode::CREATED, vec![json!(false)]));
    assert!(
        drawings(&school, &tablet).await["class"]["checkpoints"]["hold.tall"].is_object(),
        "they look all the same"
    );
    let keeping = school.of_program("/keeping");
    let mut set = school.get(&owner, &keeping).await["set"].clone();
    set["mirror"] = json!(false);
    assert_eq!(school.send(&owner, Method::PUT, &keeping, Some(&set)).await.0, StatusCode::NO_CONTENT);
    assert!(mirror(&owner).await.iter().all(|on| *on == json!(false)));
}
