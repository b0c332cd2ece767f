//! People of a program: invited, let in, signed in and out, given classes, let go.

mod support;

use bright_row_core::role::Role;
use bright_row_store::ConnectionTrait;
use chrono::TimeDelta;
use futures::StreamExt;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::people::School;
use support::{PASSWORD, browser};

const GOOD_PASSWORD: &str = "copper lantern walks home";

#[tokio::test]
async fn an_invitation_lets_one_person_into_the_classes_it_gives_and_no_others() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let wanted = json!({ "role": "director", "name": "for Mr Brook", "classes": [school.key.class] });
    let (secret, shown) = school.invite(&owner, &wanted).await;
    assert_eq!(shown["expiresAt"], "2026-11-10T14:00:00Z");
    let newcomer = browser();
    let looked =
        school.send(&newcomer, Method::POST, "/api/links/invitation/look", Some(&json!({ "secret": secret }))).await;
    insta::assert_json_snapshot!(looked.1);
    let weak = json!({ "secret": secret, "displayName": "Mr Brook", "email": "brook@one.example", "password": "brook@one.example" });
    let (status, refused) = school.send(&newcomer, Method::POST, "/api/links/invitation", Some(&weak)).await;
    assert_eq!((status, &refused["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("password")));
    let mut body = weak;
    body["password"] = json!(GOOD_PASSWORD);
    let (status, session) = school.send(&newcomer, Method::POST, "/api/links/invitation", Some(&body)).await;
    assert_eq!((status, &session["programs"][0]["role"]), (StatusCode::CREATED, &json!("director")));
    let classes = school.get(&newcomer, "/api/classes").await;
    assert_eq!(
        classes.as_array().expect("classes").iter().map(|class| &class["name"]).collect::<Vec<_>>(),
        ["Tuesday strings"]
    );
    let other = format!("/api/classes/{}/room", school.other.class);
    assert_eq!(school.send(&newcomer, Method::GET, &other, None).await.0, StatusCode::NOT_FOUND);
    // Once is once, and its time is its time.
    for path in ["/api/links/invitation", "/api/links/invitation/look"] {
        let again = school.send(&browser(), Method::POST, path, Some(&body)).await;
        assert_eq!(again.0, StatusCode::GONE, "{path}");
    }
    let (late, _) = school.invite(&owner, &wanted).await;
    let (taken_back, view) = school.invite(&owner, &wanted).await;
    let one = school.of_program(&format!("/invitations/{}", view["id"].as_str().expect("an id")));
    assert_eq!(school.send(&owner, Method::DELETE, &one, None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(school.send(&owner, Method::DELETE, &one, None).await.0, StatusCode::NOT_FOUND);
    let people = school.get(&owner, &school.of_program("/people")).await;
    assert_eq!(people["invitations"].as_array().map(Vec::len), Some(1), "the one that was not taken back");
    school.later(TimeDelta::days(7));
    for secret in [late, taken_back, "0".repeat(64), "\0".to_owned()] {
        let look = school
            .send(&browser(), Method::POST, "/api/links/invitation/look", Some(&json!({ "secret": secret })))
            .await;
        assert_eq!(look.0, StatusCode::GONE);
    }
}

#[tokio::test]
async fn secrets_of_links_and_sessions_are_nowhere_in_the_database() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (secret, _) = school.invite(&owner, &json!({ "role": "owner" })).await;
    let assistant = school.get(&owner, &school.of_program("/people")).await["people"][1]["id"].clone();
    let link = school.of_program(&format!("/people/{}/password-link", assistant.as_str().expect("an id")));
    let (status, made) = school.send(&owner, Method::POST, &link, None).await;
    assert_eq!(status, StatusCode::CREATED);
    for secret in [secret.as_str(), made["secret"].as_str().expect("a secret")] {
        for table in ["invitation", "password_link", "audit", "account"] {
            let sql = format!("select 1 from {table} t where to_jsonb(t)::text like '%{secret}%'");
            let found =
                school.app.db.query_one_raw(sea_orm::Statement::from_string(school.app.db.get_database_backend(), sql));
            assert!(found.await.expect("an answer").is_none(), "{table}");
        }
    }
}

#[tokio::test]
async fn a_substitute_has_one_class_until_a_time_without_what_lies_behind_it() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let mut sore = support::look(child, "hold.rest", 2, 7);
    (sore["says"], sore["note"]) = (json!("hurts"), json!("said so twice"));
    let own = json!({ "lookFor": "Sits", "reason": "an old injury" });
    let accommodation = school.of_class(&format!("/children/{child}/accommodations/hold.tall"));
    school.send(&owner, Method::PUT, &accommodation, Some(&own)).await;
    school
        .send(&owner, Method::POST, &school.of_class("/observations"), Some(&json!({ "observations": [sore] })))
        .await;

    let wanted = json!({ "role": "substitute", "name": "Ms Quill", "classes": [school.key.class] });
    let (secret, shown) = school.invite(&owner, &wanted).await;
    // The end of today where the class meets.
    assert_eq!(shown["until"], "2026-11-04T00:00:00Z");
    let tablet = browser();
    let (status, session) =
        school.send(&tablet, Method::POST, "/api/links/invitation", Some(&json!({ "secret": secret }))).await;
    assert_eq!(
        (status, &session["displayName"], &session["email"]),
        (StatusCode::CREATED, &json!("Ms Quill"), &json!(""))
    );

    let page = school.get(&tablet, &school.of_class(&format!("/children/{child}"))).await;
    assert_eq!((&page["history"]["observations"], &page["looksBack"]), (&json!([]), &json!(false)));
    assert_eq!(page["pain"].as_array().map(Vec::len), Some(1), "that it hurts matters today");
    let all = page.to_string();
    assert!(!all.contains("said so twice") && !all.contains("an old injury"), "{all}");
    for rest in ["/room", "/rules", "/basis", "/round", "/lesson", "/overview", "/tapes"] {
        assert_eq!(school.send(&tablet, Method::GET, &school.of_class(rest), None).await.0, StatusCode::OK, "{rest}");
    }
    for rest in [
        "/roster",
        "/roster.csv",
        "/fit",
        "/instruments",
        "/approach",
        "/calendar",
        &format!("/children/{child}/observations"),
    ] {
        let (status, answer) = school.send(&tablet, Method::GET, &school.of_class(rest), None).await;
        assert_eq!(
            (status, &answer["type"]),
            (StatusCode::FORBIDDEN, &json!("/problems/not-for-substitutes")),
            "{rest}"
        );
    }
    for (path, status) in [("/api/account", 403), ("/api/programs", 404)] {
        assert_eq!(school.send(&tablet, Method::GET, path, None).await.0.as_u16(), status, "{path}");
    }
    assert_eq!(school.send(&tablet, Method::GET, &school.of_program("/people"), None).await.0, StatusCode::FORBIDDEN);
    let seen = json!({ "observations": [support::look(child, "hold.rest", 3, 0)] });
    let (status, answer) = school.send(&tablet, Method::POST, &school.of_class("/observations"), Some(&seen)).await;
    assert_eq!((status, &answer["results"][0]["outcome"]), (StatusCode::OK, &json!("stored")));

    school.later(TimeDelta::hours(10));
    for path in ["/api/session".to_owned(), school.of_class("/room")] {
        assert_eq!(school.send(&tablet, Method::GET, &path, None).await.0, StatusCode::UNAUTHORIZED, "{path}");
    }
    // What was seen in time arrives when the tablet has network again; what was seen later does not.
    let late = [support::look(child, "hold.size", 3, 0), support::look(child, "hold.tall", 3, 0)];
    let [mut in_time, mut too_late] = late;
    in_time["observedAt"] = json!("2026-11-03T14:30:00Z");
    too_late["observedAt"] = json!("2026-11-04T00:00:00Z");
    let both = json!({ "observations": [in_time, too_late] });
    let (status, answer) = school.send(&tablet, Method::POST, &school.of_class("/observations"), Some(&both)).await;
    let outcomes = [&answer["results"][0]["outcome"], &answer["results"][1]["outcome"]];
    assert_eq!((status, outcomes), (StatusCode::OK, [&json!("stored"), &json!("refused")]), "{answer}");
    let history = school.get(&owner, &school.of_class(&format!("/children/{child}/observations"))).await;
    assert_eq!(history["observations"][0]["observer"], "Ms Quill");
    school.later(TimeDelta::days(3));
    let (status, _) = school.send(&tablet, Method::POST, &school.of_class("/observations"), Some(&both)).await;
    assert_eq!(status, StatusCode::UNAUTHORIZED);
    let owner = school.sign_in("owner@one.example").await;
    bright_row::serve::clear(&school.app).await;
    let people = school.get(&owner, &school.of_program("/people")).await;
    assert!(people["people"].as_array().expect("people").iter().all(|person| person["role"] != "substitute"));
}

#[tokio::test]
async fn a_change_of_password_ends_every_other_device_and_its_streams_at_once() {
    let school = School::new().await;
    let tablet = school.sign_in("owner@one.example").await;
    let laptop = school.sign_in("owner@one.example").await;
    let stream = tablet.get(format!("{}{}", school.url, school.of_class("/live"))).send().await.expect("a stream");
    let mut events = stream.bytes_stream();
    events.next().await.expect("the first event").expect("bytes");
    let body = |current: &str, password: &str| json!({ "current": current, "password": password });
    for (wrong, field) in [
        (body("wrong", GOOD_PASSWORD), "current"),
        (body(PASSWORD, "1234567890"), "password"),
        (body(PASSWORD, "password1234"), "password"),
    ] {
        let (status, answer) = school.send(&laptop, Method::PUT, "/api/account/password", Some(&wrong)).await;
        assert_eq!((status, &answer["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(field)));
    }
    let changed =
        school.send(&laptop, Method::PUT, "/api/account/password", Some(&body(PASSWORD, GOOD_PASSWORD))).await;
    assert_eq!(changed.0, StatusCode::NO_CONTENT, "{}", changed.1);
    while events.next().await.is_some_and(|event| event.is_ok()) {}
    assert_eq!(school.send(&tablet, Method::GET, "/api/session", None).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(school.send(&laptop, Method::GET, "/api/session", None).await.0, StatusCode::OK, "under a new id");
    assert_eq!(school.try_sign_in(&browser(), "owner@one.example", PASSWORD).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(school.try_sign_in(&browser(), "owner@one.example", GOOD_PASSWORD).await.0, StatusCode::OK);
}

#[tokio::test]
async fn devices_are_listed_and_ended_one_or_all() {
    let school = School::new().await;
    let first = school.sign_in("owner@one.example").await;
    let second = school.sign_in("owner@one.example").await;
    let third = school.sign_in("owner@one.example").await;
    let devices = school.get(&third, "/api/account").await["devices"].as_array().expect("devices").clone();
    assert_eq!((devices.len(), devices.iter().filter(|device| device["this"] == true).count()), (3, 1));
    assert_eq!(devices[0]["device"], "Another program");
    let mine = school.get(&first, "/api/account").await["devices"].as_array().expect("devices").clone();
    let first_id =
        mine.iter().find(|device| device["this"] == true).expect("this one")["id"].as_str().expect("an id").to_owned();
    let one = format!("/api/account/devices/{first_id}");
    let stranger = school.sign_in("assistant@one.example").await;
    assert_eq!(school.send(&stranger, Method::DELETE, &one, None).await.0, StatusCode::NOT_FOUND, "another's device");
    assert_eq!(school.send(&third, Method::DELETE, &one, None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(school.send(&first, Method::GET, "/api/session", None).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(school.send(&third, Method::DELETE, "/api/account/devices", None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(school.send(&second, Method::GET, "/api/session", None).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(school.send(&third, Method::GET, "/api/session", None).await.0, StatusCode::OK);
}

#[tokio::test]
async fn a_session_ends_after_a_night_of_quiet_and_after_a_week_of_use() {
    let school = School::new().await;
    let quiet = school.sign_in("owner@one.example").await;
    school.later(TimeDelta::hours(12) + TimeDelta::minutes(1));
    assert_eq!(school.send(&quiet, Method::GET, "/api/session", None).await.0, StatusCode::UNAUTHORIZED);
    let busy = school.sign_in("owner@one.example").await;
    let mut hours = 0;
    while school.send(&busy, Method::GET, "/api/session", None).await.0 == StatusCode::OK {
        school.later(TimeDelta::hours(6));
        hours += 6;
    }
    assert_eq!(hours, 7 * 24);
}

#[tokio::test]
async fn a_program_always_has_an_owner_and_roles_count_at_once() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let people = school.get(&owner, &school.of_program("/people")).await;
    let [you, assistant] = [0, 1].map(|at| people["people"][at]["id"].as_str().expect("an id").to_owned());
    assert_eq!((&people["people"][0]["lastOwner"], &people["people"][0]["you"]), (&json!(true), &json!(true)));
    let person = |id: &str| school.of_program(&format!("/people/{id}"));
    let demoted = school.send(&owner, Method::PUT, &person(&you), Some(&json!({ "role": "director" }))).await;
    assert_eq!((demoted.0, &demoted.1["type"]), (StatusCode::CONFLICT, &json!("/problems/last-owner")));
    assert_eq!(school.send(&owner, Method::DELETE, &person(&you), None).await.0, StatusCode::CONFLICT);

    let theirs = school.sign_in("assistant@one.example").await;
    let name = json!({ "name": "Renamed" });
    assert_eq!(school.send(&theirs, Method::PUT, &school.of_class(""), Some(&name)).await.0, StatusCode::FORBIDDEN);
    let both = json!({ "role": "director", "classes": [school.other.class] });
    assert_eq!(school.send(&owner, Method::PUT, &person(&assistant), Some(&both)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(school.send(&theirs, Method::PUT, &school.of_class(""), Some(&name)).await.0, StatusCode::NOT_FOUND);
    let other = format!("/api/classes/{}", school.other.class);
    assert_eq!(school.send(&theirs, Method::PUT, &other, Some(&name)).await.0, StatusCode::NO_CONTENT);
    // Nobody makes themselves more than they are, nor somebody of elsewhere anything.
    for (method, path) in [(Method::PUT, person(&assistant)), (Method::DELETE, person(&you))] {
        assert_eq!(
            school.send(&theirs, method, &path, Some(&json!({ "role": "owner" }))).await.0,
            StatusCode::FORBIDDEN
        );
    }
    let nobody = person(&uuid::Uuid::now_v7().to_string());
    assert_eq!(
        school.send(&owner, Method::PUT, &nobody, Some(&json!({ "role": "owner" }))).await.0,
        StatusCode::NOT_FOUND
    );
    // Two owners: one may go, and is out.
    let second = json!({ "role": "owner" });
    assert_eq!(school.send(&owner, Method::PUT, &person(&assistant), Some(&second)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(school.send(&theirs, Method::DELETE, &person(&you), None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(school.send(&owner, Method::GET, "/api/session", None).await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test]
async fn a_forgotten_password_is_renewed_by_an_owners_link_once() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let tablet = school.sign_in("assistant@one.example").await;
    let people = school.get(&owner, &school.of_program("/people")).await;
    let link =
        school.of_program(&format!("/people/{}/password-link", people["people"][1]["id"].as_str().expect("an id")));
    assert_eq!(school.send(&tablet, Method::POST, &link, None).await.0, StatusCode::FORBIDDEN);
    let (_, old) = school.send(&owner, Method::POST, &link, None).await;
    let (_, made) = school.send(&owner, Method::POST, &link, None).await;
    let take = |secret: &Value, password: &str| json!({ "secret": secret, "password": password });
    for (body, status) in [
        (take(&old["secret"], GOOD_PASSWORD), StatusCode::GONE),
        (take(&made["secret"], "password1234"), StatusCode::UNPROCESSABLE_ENTITY),
        (take(&made["secret"], GOOD_PASSWORD), StatusCode::NO_CONTENT),
        (take(&made["secret"], GOOD_PASSWORD), StatusCode::GONE),
    ] {
        assert_eq!(school.send(&browser(), Method::POST, "/api/links/password", Some(&body)).await.0, status);
    }
    assert_eq!(school.send(&tablet, Method::GET, "/api/session", None).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(school.try_sign_in(&browser(), "assistant@one.example", GOOD_PASSWORD).await.0, StatusCode::OK);
    let (_, late) = school.send(&owner, Method::POST, &link, None).await;
    school.later(TimeDelta::hours(24));
    let body = take(&late["secret"], GOOD_PASSWORD);
    assert_eq!(school.send(&browser(), Method::POST, "/api/links/password", Some(&body)).await.0, StatusCode::GONE);
}

#[tokio::test]
async fn an_owner_of_one_program_cannot_come_into_another_by_a_new_password() {
    let school = School::new().await;
    let (elsewhere, ..) = support::school(&school.app.db, "owner@two.example", "assistant@two.example").await;
    let id = school.person("both@one.example", Role::Assistant).await;
    bright_row_store::accounts::join(&school.app.db, elsewhere.program, id.into(), Role::Owner)
        .await
        .expect("a membership");
    let owner = school.sign_in("owner@one.example").await;
    let link = school.of_program(&format!("/people/{id}/password-link"));
    assert_eq!(school.send(&owner, Method::POST, &link, None).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn a_second_factor_is_asked_for_and_each_code_is_good_once() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (_, proposed) = school.send(&owner, Method::POST, "/api/account/second-factor", None).await;
    let secret = proposed["secret"].as_str().expect("a secret").to_owned();
    assert!(
        proposed["address"]
            .as_str()
            .expect("an address")
            .starts_with("otpauth://totp/Bright%20Row:owner%40one.example?secret=")
    );
    let bytes = bright_row::use_cases::second_factor::read_secret(&secret).expect("base 32");
    let code = |school: &School| bright_row::use_cases::second_factor::code_at(&bytes, school.now().timestamp());
    let body = |code: &str, password: &str| json!({ "secret": secret, "code": code, "password": password });
    for (wrong, field) in [(body("000000", PASSWORD), "code"), (body(&code(&school), "wrong"), "password")] {
        let (status, answer) = school.send(&owner, Method::PUT, "/api/account/second-factor", Some(&wrong)).await;
        assert_eq!((status, &answer["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(field)));
    }
    let (status, codes) =
        school.send(&owner, Method::PUT, "/api/account/second-factor", Some(&body(&code(&school), PASSWORD))).await;
    assert_eq!((status, codes["codes"].as_array().map(Vec::len)), (StatusCode::OK, Some(8)));
    let sign_in = async |code: &str| {
        let body = json!({ "email": "owner@one.example", "password": PASSWORD, "code": code });
        let (status, answer) = school.send(&browser(), Method::POST, "/api/session", Some(&body)).await;
        (status.as_u16(), answer["type"].as_str().unwrap_or_default().to_owned())
    };
    assert_eq!(sign_in("").await, (401, "/problems/code-wanted".into()));
    assert_eq!(sign_in(&code(&school)).await, (401, "/problems/wrong-code".into()), "taken when it was set up");
    school.later(TimeDelta::seconds(30));
    assert_eq!(sign_in(&code(&school)).await.0, 200);
    assert_eq!(sign_in(&code(&school)).await, (401, "/problems/wrong-code".into()), "once");
    let recovery = codes["codes"][3].as_str().expect("a code").to_uppercase();
    assert_eq!(sign_in(&recovery).await.0, 200);
    school.later(TimeDelta::seconds(2));
    assert_eq!(sign_in(&recovery).await.0, 401);
    assert_eq!(school.get(&owner, "/api/account").await["recoveryCodes"], 7);
    // The owner demands it of everybody: what belongs to the program stays shut for whoever has none, and their account does not.
    let keeping = school.get(&owner, &school.of_program("/keeping")).await;
    let mut set = keeping["set"].clone();
    set["secondFactor"] = json!(true);
    let request = owner.put(format!("{}{}", school.url, school.of_program("/keeping")));
    let stored =
        request.header("If-Match", format!("\"{}\"", keeping["version"].as_str().expect("a version"))).json(&set);
    assert_eq!(stored.send().await.expect("an answer").status(), StatusCode::NO_CONTENT);
    let assistant = school.sign_in("assistant@one.example").await;
    let (status, answer) = school.send(&assistant, Method::GET, &school.of_class("/room"), None).await;
    assert_eq!((status, &answer["type"]), (StatusCode::FORBIDDEN, &json!("/problems/second-factor-first")));
    assert_eq!(school.get(&assistant, "/api/classes").await, json!([]));
    assert_eq!(school.get(&assistant, "/api/session").await["programs"][0]["wantsSecondFactor"], true);
    assert_eq!(school.send(&assistant, Method::GET, "/api/account", None).await.0, StatusCode::OK);
    let off =
        school.send(&owner, Method::DELETE, "/api/account/second-factor", Some(&json!({ "password": PASSWORD }))).await;
    assert_eq!(off.0, StatusCode::NO_CONTENT);
    assert_eq!(school.send(&owner, Method::GET, &school.of_class("/room"), None).await.0, StatusCode::FORBIDDEN);
}

#[tokio::test]
async fn guessing_is_slowed_by_address_and_network_and_keeps_nobody_out_who_is_known() {
    let school = School::with(|options| bright_row::state::Options { behind_tls: true, ..options }).await;
    let from = async |network: &str, email: &str, password: &str, cookie: Option<&str>| {
        let body = json!({ "email": email, "password": password });
        let mut request =
            browser().post(format!("{}/api/session", school.url)).header("x-forwarded-for", network).json(&body);
        if let Some(cookie) = cookie {
            request = request.header("cookie", cookie);
        }
        request.send().await.expect("an answer")
    };
    let first = from("198.51.100.7", "owner@one.example", PASSWORD, None).await;
    assert_eq!(first.status(), StatusCode::OK);
    let cookies: Vec<&str> =
        first.headers().get_all("set-cookie").iter().map(|cookie| cookie.to_str().expect("a text")).collect();
    let device = cookies.iter().find(|cookie| cookie.starts_with("bright_row_device=")).expect("a device");
    assert!(device.contains("HttpOnly") && device.contains("Secure") && device.contains("SameSite=Strict"), "{device}");
    let device = device.split(';').next().expect("a cookie").to_owned();
    // Somebody who knows the address guesses until it is slowed; the owner's own device is not.
    let mut last = StatusCode::OK;
    for _ in 0..8 {
        last = from("203.0.113.9", "owner@one.example", "wrong", None).await.status();
    }
    assert_eq!(last, StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(from("198.51.100.7", "owner@one.example", PASSWORD, None).await.status(), StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(from("198.51.100.7", "owner@one.example", PASSWORD, Some(&device)).await.status(), StatusCode::OK);
    // Many addresses from one network are slowed too, and another network is not.
    let mut statuses = Vec::new();
    for number in 0..40 {
        statuses
            .push(from("192.0.2.200", &format!("nobody{number}@one.example"), "wrong", None).await.status().as_u16());
    }
    assert!(statuses[..25].iter().all(|status| *status == 401) && statuses[39] == 429, "{statuses:?}");
    assert_eq!(from("198.51.100.9", "nobody41@one.example", "wrong", None).await.status(), StatusCode::UNAUTHORIZED);
    assert_eq!(
        from("192.0.2.201", "owner@one.example", PASSWORD, Some(&device)).await.status(),
        StatusCode::OK,
        "a known device"
    );
    // Neither for long, and what was counted is forgotten.
    school.later(TimeDelta::seconds(61));
    assert_eq!(from("198.51.100.7", "owner@one.example", PASSWORD, None).await.status(), StatusCode::OK);
    school.later(TimeDelta::hours(25));
    bright_row::serve::clear(&school.app).await;
    let left =
        sea_orm::Statement::from_string(school.app.db.get_database_backend(), "select count(*) from sign_in_pause");
    let left = school.app.db.query_one_raw(left).await.expect("an answer").expect("a row");
    assert_eq!(left.try_get_by_index::<i64>(0).expect("a number"), 0);
}

#[tokio::test]
async fn the_demos_people_sign_in_on_the_servers_own_machine_only_and_leave_the_first_run_open() {
    let address = support::database().await;
    let db = bright_row_store::database::connect(&address).await.expect("the database answers");
    bright_row::demo::load(&db, &bright_row::content::embedded(), support::now()).await.expect("the demo loads");
    for (behind_tls, status) in [(false, StatusCode::OK), (true, StatusCode::FORBIDDEN)] {
        let options = bright_row::state::Options { behind_tls, ..Default::default() };
        let app = bright_row::state::App::new(db.clone(), db.clone(), bright_row::content::embedded(), options);
        let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.expect("a free port");
        let url = format!("http://{}", listener.local_addr().expect("an address"));
        let (stop, stopped) = tokio::sync::oneshot::channel::<()>();
        tokio::spawn(bright_row::serve::serve(app, listener, async move {
            let _ = stopped.await;
        }));
        let demo = json!({ "email": "director@demo.example", "password": bright_row::demo::PASSWORD });
        let request =
            browser().post(format!("{url}/api/session")).header("x-forwarded-for", "198.51.100.7").json(&demo);
        assert_eq!(request.send().await.expect("an answer").status(), status, "behind TLS: {behind_tls}");
        let first = browser().get(format!("{url}/api/first-run")).send().await.expect("an answer");
        assert_eq!(first.json::<Value>().await.expect("JSON"), json!({ "wanted": true, "demo": !behind_tls }));
        drop(stop);
    }
}

#[tokio::test]
async fn what_people_do_is_noted_without_names_and_cannot_be_changed() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let (_, invitation) = school.invite(&owner, &json!({ "role": "owner", "name": "for Ada" })).await;
    let one = school.of_program(&format!("/invitations/{}", invitation["id"].as_str().expect("an id")));
    school.send(&owner, Method::DELETE, &one, None).await;
    school.send(&owner, Method::PUT, &school.of_class(""), Some(&json!({ "name": "Tuesday strings" }))).await;
    owner.get(format!("{}{}", school.url, school.of_class("/roster.csv"))).send().await.expect("an answer");
    let preview = school.of_class("/roster/import");
    let request = owner.post(format!("{}{preview}", school.url)).header("content-type", "application/octet-stream");
    request.body("Name,Instrument\nBen,viola\n").send().await.expect("an answer");
    school
        .send(
            &owner,
            Method::POST,
            &school.of_class(&format!("/children/{child}/removal")),
            Some(&json!({ "confirm": "nobody" })),
        )
        .await;
    let removal = school.of_class(&format!("/children/{child}/removal"));
    assert_eq!(
        school.send(&owner, Method::POST, &removal, Some(&json!({ "confirm": "Ada K." }))).await.0,
        StatusCode::NO_CONTENT
    );
    let audit = school.get(&owner, &school.of_program("/audit")).await;
    let deeds: Vec<&str> = audit["entries"]
        .as_array()
        .expect("entries")
        .iter()
        .map(|entry| entry["deed"].as_str().expect("a deed"))
        .collect();
    assert_eq!(
        deeds,
        ["child-removed", "taken-out", "class-renamed", "invitation-revoked", "invited", "signed-in"],
        "what was refused or only shown is not there"
    );
    assert_eq!(
        (&audit["entries"][0]["by"], &audit["entries"][0]["thingId"], &audit["entries"][0]["network"]),
        (&json!("The director"), &json!(child), &json!("127.0.0.0"))
    );
    assert!(!audit.to_string().contains("Ada"));
    let csv = owner.get(format!("{}{}", school.url, school.of_program("/audit.csv"))).send().await.expect("an answer");
    let csv = csv.text().await.expect("a text");
    assert_eq!((csv.lines().next(), csv.lines().count()), (Some("When,Who,Deed,Thing,Id,Network"), 7));
    let before = school.of_program(&format!("/audit?before={}", audit["entries"][3]["id"].as_str().expect("an id")));
    assert_eq!(school.get(&owner, &before).await["entries"].as_array().map(Vec::len), Some(2));
    for change in ["update audit set deed = 'nothing'", "delete from audit", "truncate audit"] {
        let refused = school.app.db.execute_unprepared(change).await.expect_err(change);
        assert!(refused.to_string().contains("append-only"), "{change}: {refused}");
    }
    let contacts =
        owner.get(format!("{}{}", school.url, school.of_program("/people.vcf"))).send().await.expect("cards");
    assert_eq!(contacts.headers()["content-disposition"], "attachment; filename=\"people.vcf\"");
    let contacts = contacts.text().await.expect("a text");
    let of = |key: &str| contacts.lines().filter_map(|line| line.strip_prefix(key)).collect::<Vec<_>>().join(" ");
    let everybody = school.get(&owner, &school.of_program("/people")).await;
    let addresses = everybody["people"].as_array().expect("people").iter().map(|person| person["email"].as_str());
    let mut addresses: Vec<&str> = addresses.flatten().filter(|address| !address.is_empty()).collect();
    addresses.sort_unstable();
    let mut cards: Vec<&str> = contacts.lines().filter_map(|line| line.strip_prefix("EMAIL;TYPE=INTERNET:")).collect();
    cards.sort_unstable();
    assert_eq!(cards, addresses);
    assert!(of("ROLE:").contains("assistant") && !contacts.contains("Ada"), "{contacts}");
    let theirs = school.sign_in("assistant@one.example").await;
    for rest in ["/audit", "/audit.csv", "/keeping", "/people", "/people.vcf"] {
        assert_eq!(
            school.send(&theirs, Method::GET, &school.of_program(rest), None).await.0,
            StatusCode::FORBIDDEN,
            "{rest}"
        );
    }
}

#[tokio::test]
async fn a_passkey_is_asked_for_once_by_name_and_no_made_up_answer_is_taken() {
    let school = School::new().await;
    // No browser makes a passkey for a number: the client reaches the server by its name.
    let by_name = school.url.replace("127.0.0.1", "localhost");
    let owner = school.sign_in("owner@one.example").await;
    let ask = async |method: Method, url: &str, path: &str, body: Value| {
        let answer = owner.request(method, format!("{url}{path}")).json(&body).send().await.expect("an answer");
        (answer.status().as_u16(), answer.json::<Value>().await.unwrap_or_default())
    };
    let start = |password: &str| json!({ "password": password });
    let path = "/api/account/passkeys";
    assert_eq!(ask(Method::POST, &school.url, path, start(PASSWORD)).await.0, 422, "by a number");
    let cookies = owner.post(format!("{by_name}/api/session"));
    let body = json!({ "email": "owner@one.example", "password": PASSWORD });
    assert_eq!(cookies.json(&body).send().await.expect("an answer").status(), StatusCode::OK);
    assert_eq!(ask(Method::POST, &by_name, path, start("wrong")).await.0, 422, "without the password");
    let unasked = json!({ "name": "Phone", "credential": { "id": "AA" } });
    assert_eq!(ask(Method::PUT, &by_name, path, unasked.clone()).await.0, 422, "nothing was asked");
    let (status, asked) = ask(Method::POST, &by_name, path, start(PASSWORD)).await;
    assert_eq!((status, &asked["publicKey"]["rp"]["id"]), (200, &json!("localhost")));
    let deep = (0..100).fold(json!(1), |inner, _| json!([inner]));
    for credential in [
        json!(null),
        json!({}),
        json!("x".repeat(100_000)),
        deep,
        json!({ "id": "AA", "rawId": "AA", "type": "public-key", "response": { "attestationObject": "AA", "clientDataJSON": "AA" } }),
    ] {
        let (status, answer) =
            ask(Method::PUT, &by_name, path, json!({ "name": "Phone", "credential": credential })).await;
        assert_eq!((status, &answer["errors"][0]["field"]), (422, &json!("credential")));
    }
    assert_eq!(school.rows("passkey").await, 0);
    // At the door: without one the code is wanted as before, and a made-up answer opens nothing.
    let mut body = json!({ "email": "owner@one.example", "password": PASSWORD });
    let (status, answer) = ask(Method::POST, &by_name, "/api/session/passkey", body.clone()).await;
    assert_eq!((status, &answer["type"]), (401, &json!("/problems/code-wanted")));
    body["passkey"] = json!({ "id": "AA", "rawId": "AA", "type": "public-key", "response": {} });
    let (status, answer) = ask(Method::POST, &by_name, "/api/session", body).await;
    assert_eq!((status, &answer["type"]), (401, &json!("/problems/wrong-code")));
    assert_eq!(
        ask(Method::DELETE, &by_name, &format!("{path}/{}", uuid::Uuid::now_v7()), start(PASSWORD)).await.0,
        404
    );
}
