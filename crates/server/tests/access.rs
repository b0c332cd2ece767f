//! Who may do what: nothing without a session, nothing of another program, an assistant reads and records.

mod support;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::role::Role;
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::people::School;
use support::{PASSWORD, browser, look, nobody_yet, school, server};
use uuid::Uuid;

/// What can be reached without a session, and why.
const OPEN: [(&str, &str); 13] = [
    ("get", "/healthz"),
    ("get", "/readyz"),
    ("get", "/api/openapi.json"),
    // Signing in and out.
    ("post", "/api/session"),
    ("delete", "/api/session"),
    // Whoever signs in is asked for a passkey once the password is right.
    ("post", "/api/session/passkey"),
    // The first run of an empty server; refused once somebody has an account.
    ("get", "/api/first-run"),
    ("post", "/api/first-run"),
    ("get", "/api/session"),
    // Whoever has a link has its secret.
    ("post", "/api/links/invitation/look"),
    ("post", "/api/links/invitation"),
    ("post", "/api/links/password"),
    // Whoever has the address of a calendar has its secret.
    ("get", "/api/calendars/{secret}/meetings.ics"),
];

/// What a substitute may of a class, below its path.
const OF_A_SUBSTITUTE: [(&str, &str); 17] = [
    ("get", "/room"),
    ("get", "/rules"),
    ("get", "/basis"),
    ("get", "/live"),
    ("get", "/children/{child}"),
    ("post", "/observations"),
    ("get", "/round"),
    ("post", "/round/events"),
    ("post", "/home/answers"),
    ("get", "/lesson"),
    ("post", "/lead"),
    ("get", "/overview"),
    ("get", "/drawings"),
    ("get", "/tapes"),
    ("get", "/tapes/{asset}"),
    ("post", "/tapes/log"),
    ("get", "/children/{child}/causes"),
];

/// What an assistant may write of a class, below its path.
const WRITTEN_BY_AN_ASSISTANT: [(&str, &str); 9] = [
    ("post", "/observations"),
    ("post", "/round/events"),
    ("post", "/tapes/log"),
    ("post", "/home/answers"),
    ("post", "/children/{child}/pain/{observation}"),
    // It passes on what is said and stores nothing.
    ("post", "/lead"),
    // These look at a proposal and store nothing.
    ("post", "/seats"),
    ("post", "/approach/preview"),
    // It reads a tune from a file.
    ("post", "/notes/file"),
];

/// What an assistant may not even read: files with more of the children than a lesson needs.
const KEPT_FROM_AN_ASSISTANT: [&str; 6] = [
    "/roster.csv",
    "/roster.xlsx",
    "/handover.zip",
    "/children/{child}/record.json",
    "/children/{child}/record.pdf",
    "/calendar/address",
];

fn operations() -> Vec<(String, String)> {
    let described: Value = serde_json::from_str(&bright_row::router::openapi_json()).expect("JSON");
    let paths = described["paths"].as_object().expect("paths").clone();
    paths
        .into_iter()
        .flat_map(|(path, methods)| {
            let methods: Vec<String> = methods.as_object().expect("methods").keys().cloned().collect();
            methods.into_iter().map(move |method| (method, path.clone()))
        })
        .collect()
}

/// A body that every route reads far enough to say whether somebody may.
fn any_body() -> Value {
    json!({ "observations": [], "children": [], "events": [], "entries": [], "answers": [] })
}

/// A request of an operation with everything that its path names.
async fn ask(school: &School, client: &Client, (method, path): &(String, String), ids: &Ids) -> (u16, String) {
    let filled = path
        .replace("{class}", &ids.class.to_string())
        .replace("{program}", &ids.program.to_string())
        .replace("{child}", &ids.child.to_string())
        .replace("{account}", &ids.account.to_string())
        .replace("{checkpoint}", "hold.tall")
        .replace("{day}", "2026-11-03")
        .replace("{stage}", "hold.2");
    // Whatever else it names is not there.
    let nothing = Uuid::now_v7().to_string();
    let filled = filled.split('/').map(|part| if part.starts_with('{') { nothing.as_str() } else { part });
    let url = format!("{}{}", school.url, filled.collect::<Vec<_>>().join("/"));
    let verb: Method = method.to_uppercase().parse().expect("a method");
    let mut request = client.request(verb.clone(), url);
    if verb != Method::GET {
        request = request.json(&any_body());
    }
    let answer = request.send().await.expect("an answer");
    let status = answer.status().as_u16();
    // A stream never ends: its beginning says enough.
    let kind = if answer.headers().get("content-type").is_some_and(|kind| kind == "application/problem+json") {
        answer.json::<Value>().await.expect("JSON")["type"].as_str().unwrap_or_default().to_owned()
    } else {
        String::new()
    };
    (status, kind)
}

/// What paths name.
struct Ids {
    program: Uuid,
    class: Uuid,
    child: Uuid,
    account: Uuid,
}

fn belongs_to(path: &str) -> bool {
    path.contains("{class}") || path.contains("{program}")
}

#[tokio::test]
async fn every_operation_is_walked_by_role_program_class_and_path() {
    let school = School::new().await;
    let (elsewhere, ..) = support::school(&school.app.db, "owner@two.example", "assistant@two.example").await;
    let child = school.child("Ada K.").await;
    let account = school.person("director@one.example", Role::Director).await;
    let owner = school.sign_in("owner@one.example").await;
    let (secret, _) = school
        .invite(&owner, &json!({ "role": "substitute", "name": "Ms Quill", "classes": [school.key.class] }))
        .await;
    let substitute = browser();
    let taken =
        school.send(&substitute, Method::POST, "/api/links/invitation", Some(&json!({ "secret": secret }))).await;
    assert_eq!(taken.0, StatusCode::CREATED);
    let director = school.sign_in("director@one.example").await;
    let assistant = school.sign_in("assistant@one.example").await;
    let here = Ids { program: school.key.program.uuid(), class: school.key.class.uuid(), child: child.uuid(), account };
    let not_given = Ids { class: school.other.class.uuid(), ..here };
    let other_program = Ids { program: elsewhere.program.uuid(), class: elsewhere.class.uuid(), ..here };
    let nowhere =
        Ids { program: Uuid::now_v7(), class: Uuid::now_v7(), child: Uuid::now_v7(), account: Uuid::now_v7() };

    let all = operations();
    let mut walked = 0;
    for operation in &all {
        let (method, path) = (operation.0.as_str(), operation.1.as_str());
        let (status, _) = ask(&school, &browser(), operation, &here).await;
        if OPEN.contains(&(method, path)) {
            assert!(status != 404, "{method} {path} is open");
        } else {
            assert_eq!(status, 401, "{method} {path} without a session");
        }
        walked += 1;
        if !belongs_to(path) {
            continue;
        }
        for (who, client) in
            [("owner", &owner), ("director", &director), ("assistant", &assistant), ("substitute", &substitute)]
        {
            for (place, ids) in [("another program", &other_program), ("nowhere", &nowhere)] {
                let (status, _) = ask(&school, client, operation, ids).await;
                assert_eq!(status, 404, "{who}: {method} {path} of {place}");
            }
        }
        if let Some(tail) = path.strip_prefix("/api/classes/{class}") {
            for (who, client) in [("director", &director), ("assistant", &assistant), ("substitute", &substitute)] {
                assert_eq!(
                    ask(&school, client, operation, &not_given).await.0,
                    404,
                    "{who}: {method} {path}, not given"
                );
            }
            let by_substitute = ask(&school, &substitute, operation, &here).await;
            let may = OF_A_SUBSTITUTE.contains(&(method, tail));
            assert_eq!(
                by_substitute != (403, "/problems/not-for-substitutes".to_owned()),
                may,
                "{method} {tail}: {by_substitute:?}"
            );
            let by_assistant = ask(&school, &assistant, operation, &here).await;
            let may = if method == "get" {
                !KEPT_FROM_AN_ASSISTANT.contains(&tail)
            } else {
                WRITTEN_BY_AN_ASSISTANT.contains(&(method, tail))
            };
            assert_eq!(by_assistant.0 != 403, may, "{method} {tail}: {by_assistant:?}");
        } else {
            for (who, client) in [("director", &director), ("assistant", &assistant), ("substitute", &substitute)] {
                let (status, kind) = ask(&school, client, operation, &here).await;
                assert_eq!((status, kind.as_str()), (403, "/problems/owners-only"), "{who}: {method} {path}");
            }
        }
    }
    assert_eq!(walked, all.len());
    // Of what only one person may, the owner may most: nothing above was refused for want of the path.
    let ended = all.iter().filter(|(_, path)| path.ends_with("/end")).count();
    assert_eq!((all.len() > 110, ended), (true, 3), "the description was read: {}", all.len());
}

#[tokio::test]
async fn a_child_of_another_class_is_not_there_and_takes_no_observation() {
    let server = server().await;
    let (other, ..) = school(&server.db, "director@two.example", "assistant@two.example").await;
    let elsewhere = support::Server {
        url: server.url.clone(),
        db: server.db.clone(),
        key: other,
        director: server.director,
        assistant: server.assistant,
        client: browser(),
        stop: None,
    };
    let child = elsewhere.child("Ben O.", Instrument::Cello, 1).await;
    let path = server.path(&format!("/children/{child}"));
    assert_eq!(server.status(&server.client, Method::GET, &path, None).await, StatusCode::NOT_FOUND);
    let results = server.observe(&[look(child, "hold.size", 3, 0)]).await;
    assert_eq!(results[0]["outcome"], "refused");
}

#[tokio::test]
async fn an_assistant_reads_and_observes_and_changes_nothing_else() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let assistant = server.assistants_browser().await;
    let room = server.path("/room");
    assert_eq!(server.status(&assistant, Method::GET, &room, None).await, StatusCode::OK);
    let observations = json!({ "observations": [look(child, "hold.size", 3, 0)] });
    assert_eq!(
        server.status(&assistant, Method::POST, &server.path("/observations"), Some(&observations)).await,
        StatusCode::OK
    );
    let class = json!({
        "id": Uuid::now_v7(), "programId": server.key.program, "name": "Another", "timeZone": "Europe/Dublin",
        "firstDay": "2026-09-01", "lastDay": "2027-06-01", "meetingDays": [1],
    });
    let children = json!({ "children": [
        { "id": Uuid::now_v7(), "name": "Ben O.", "instrument": "cello", "row": 1, "seat": 2 },
    ]});
    let changes = [(format!("{}/api/classes", server.url), class), (server.path("/children"), children)];
    for (path, body) in &changes {
        assert_eq!(server.status(&assistant, Method::POST, path, Some(body)).await, StatusCode::FORBIDDEN, "{path}");
        let by_director = server.status(&server.client, Method::POST, path, Some(body)).await;
        assert_eq!(by_director, StatusCode::CREATED, "{path}");
    }
}

#[tokio::test]
async fn an_assistant_answers_a_pain_but_decides_nothing_about_a_child_or_the_checklist() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let assistant = server.assistants_browser().await;
    let of_child = |rest: &str| server.path(&format!("/children/{child}{rest}"));
    let choices = json!({ "choices": {} });
    let own = json!({ "lookFor": "", "reason": "x" });
    let checkpoint = json!({ "off": true, "texts": [] });
    let directors = [
        (Method::PUT, of_child("/accommodations/hold.tall"), Some(&own)),
        (Method::DELETE, of_child("/accommodations/hold.tall"), None),
        (Method::PUT, of_child("/overrides"), Some(&choices)),
        (Method::PUT, of_child("/stages/frame.1/opened"), None),
        (Method::DELETE, of_child("/stages/frame.1/opened"), None),
        (Method::PUT, server.path("/approach"), Some(&choices)),
        (Method::PUT, server.path("/checklist/hold.nails"), Some(&checkpoint)),
        (Method::POST, server.path("/checklist/import"), None),
    ];
    for (method, path, body) in directors {
        assert_eq!(server.status(&assistant, method, &path, body).await, StatusCode::FORBIDDEN, "{path}");
    }
    let mut sore = look(child, "hold.rest", 3, 0);
    sore["says"] = json!("hurts");
    server.observe(std::slice::from_ref(&sore)).await;
    let pain = of_child(&format!("/pain/{}", sore["id"].as_str().expect("an id")));
    let done = json!({ "done": "Rested, called the family" });
    assert_eq!(server.status(&assistant, Method::POST, &pain, Some(&done)).await, StatusCode::NO_CONTENT);
    for path in [server.path("/overview"), server.path("/approach"), of_child("/causes?symptoms=buzz")] {
        assert_eq!(server.status(&assistant, Method::GET, &path, None).await, StatusCode::OK, "{path}");
    }
}

#[tokio::test]
async fn signing_out_ends_the_session_for_good() {
    let server = server().await;
    let session = format!("{}/api/session", server.url);
    let answer = server.client.get(&session).send().await.expect("an answer");
    let who: Value = answer.json().await.expect("JSON");
    assert_eq!((&who["displayName"], &who["programs"][0]["role"]), (&json!("The director"), &json!("owner")));
    let signed_out = server.status(&server.client, Method::DELETE, &session, None).await;
    assert_eq!(signed_out, StatusCode::NO_CONTENT);
    assert_eq!(server.status(&server.client, Method::GET, &session, None).await, StatusCode::UNAUTHORIZED);
}

#[tokio::test]
async fn the_cookie_is_for_this_site_only_and_for_no_script() {
    let server = server().await;
    let body = json!({ "email": "Director@One.example ", "password": PASSWORD });
    let answer = browser().post(format!("{}/api/session", server.url)).json(&body).send().await.expect("an answer");
    let cookie = answer.headers()["set-cookie"].to_str().expect("text").to_owned();
    for part in ["HttpOnly", "SameSite=Strict", "Path=/"] {
        assert!(cookie.contains(part), "{cookie}");
    }
}

#[tokio::test]
async fn wrong_passwords_and_unknown_addresses_sound_the_same_and_are_slowed() {
    let server = server().await;
    let path = format!("{}/api/session", server.url);
    for email in ["director@one.example", "nobody@one.example"] {
        let body = json!({ "email": email, "password": "wrong" });
        let mut statuses = Vec::new();
        for _ in 0..6 {
            statuses.push(server.status(&browser(), Method::POST, &path, Some(&body)).await.as_u16());
        }
        assert_eq!(statuses, [401, 401, 401, 401, 401, 429], "{email}");
        let slowed = browser().post(&path).json(&body).send().await.expect("an answer");
        assert!(slowed.headers().contains_key("retry-after"));
    }
    let unreadable = json!({ "email": "not an address", "password": "wrong" });
    let answer = browser().post(&path).json(&unreadable).send().await.expect("an answer");
    insta::assert_json_snapshot!(answer.json::<Value>().await.expect("JSON"));
}

#[tokio::test]
async fn the_first_run_makes_the_directors_account_and_nobody_after() {
    let (url, _stop) = nobody_yet().await;
    let path = format!("{url}/api/first-run");
    let wanted =
        async || -> Value { browser().get(&path).send().await.expect("an answer").json().await.expect("JSON") };
    assert_eq!(wanted().await["wanted"], true);
    let short = json!({ "programName": "", "displayName": "Ms L", "email": "l@x.example", "password": "short" });
    let answer = browser().post(&path).json(&short).send().await.expect("an answer");
    insta::assert_json_snapshot!(answer.json::<Value>().await.expect("JSON"));
    let good = json!({
        "programName": "Hill School strings", "displayName": "Ms L", "email": "l@x.example", "password": PASSWORD,
    });
    let visitors =
        (0..4).map(|_| async { browser().post(&path).json(&good).send().await.expect("an answer").status() });
    let mut statuses = futures::future::join_all(visitors).await;
    statuses.sort();
    assert_eq!(statuses[0], StatusCode::CREATED);
    assert!(statuses[1..].iter().all(|status| *status == StatusCode::CONFLICT), "{statuses:?}");
    assert_eq!(wanted().await["wanted"], false);
}

#[tokio::test]
async fn the_room_is_asked_for_ahead_only_by_a_browser_that_has_a_session() {
    let server = server().await;
    let page = format!("{}/class/{}/room", server.url, server.key.class);
    let ahead = async |client: &reqwest::Client| {
        let answer = client.get(&page).send().await.expect("an answer");
        answer.headers().get("link").map(|link| link.to_str().expect("a text").to_owned())
    };
    let link = ahead(&server.client).await.expect("a header");
    assert!(link.contains(&format!("</api/classes/{}/room>; rel=preload", server.key.class)), "{link}");
    assert_eq!(ahead(&browser()).await, None);
}
