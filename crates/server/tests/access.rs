//! Who may do what: nothing without a session, nothing of another program, an assistant reads and records.

mod support;

use bright_row_core::craft::instrument::Instrument;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{PASSWORD, browser, look, nobody_yet, school, server};
use uuid::Uuid;

/// What can be reached without a session, and why.
const OPEN: [(&str, &str); 8] = [
    ("get", "/healthz"),
    ("get", "/readyz"),
    ("get", "/api/openapi.json"),
    // Signing in and out.
    ("post", "/api/session"),
    ("delete", "/api/session"),
    // The first run of an empty server; refused once somebody has an account.
    ("get", "/api/first-run"),
    ("post", "/api/first-run"),
    ("get", "/api/session"),
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

#[tokio::test]
async fn no_route_answers_without_a_session_and_no_class_of_another_program_is_there() {
    let server = server().await;
    let (other, ..) = school(&server.db, "director@two.example", "assistant@two.example").await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    let (mut walked, mut class_routes) = (0, 0);
    for (method, path) in operations() {
        let verb: Method = method.to_uppercase().parse().expect("a method");
        let body = (verb == Method::POST).then(|| json!({ "observations": [], "children": [] }));
        let fill = |class: &Uuid| {
            let path = path
                .replace("{class}", &class.to_string())
                .replace("{child}", &child.to_string())
                .replace("{asset}", &child.to_string())
                .replace("{import}", &child.to_string())
                .replace("{observation}", &child.to_string())
                .replace("{checkpoint}", "hold.tall")
                .replace("{day}", "2026-11-03")
                .replace("{stage}", "hold.2");
            format!("{}{path}", server.url)
        };
        if !OPEN.contains(&(method.as_str(), path.as_str())) {
            let status = server.status(&browser(), verb.clone(), &fill(&server.key.class.uuid()), body.as_ref()).await;
            assert_eq!(status, StatusCode::UNAUTHORIZED, "{method} {path} without a session");
            walked += 1;
        }
        if path.contains("{class}") {
            for class in [other.class.uuid(), Uuid::now_v7()] {
                let status = server.status(&server.client, verb.clone(), &fill(&class), body.as_ref()).await;
                assert_eq!(status, StatusCode::NOT_FOUND, "{method} {path} of another program");
            }
            class_routes += 1;
        }
    }
    let all = operations();
    let of_a_class = all.iter().filter(|(_, path)| path.contains("{class}")).count();
    assert!(all.len() > 80 && of_a_class > 70, "the description was read: {} and {of_a_class}", all.len());
    assert_eq!((walked, class_routes), (all.len() - OPEN.len(), of_a_class), "every route was walked");
    let who = server.status(&browser(), Method::GET, &format!("{}/api/session", server.url), None).await;
    assert_eq!(who, StatusCode::UNAUTHORIZED);
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
    assert_eq!((&who["displayName"], &who["programs"][0]["role"]), (&json!("The director"), &json!("director")));
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
