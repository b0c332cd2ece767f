//! What somebody sends who means harm, or whose keyboard slipped: refused in words, and everybody else is answered meanwhile.

mod support;

use std::time::Duration;

use bright_row::state::Options;
use bright_row_store::ConnectionTrait;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::people::School;
use support::{browser, look, server};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;

#[tokio::test]
async fn whatever_files_are_sent_health_is_answered_and_so_is_everybody_else() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let nested = format!("BEGIN:VCALENDAR\n{}", "BEGIN:X\n".repeat(2_000));
    let wide = "x,".repeat(400_000);
    let long = format!("Name,Instrument\n{}", "Ada,violin\n".repeat(20_000));
    let uploads = [
        ("/calendar/days-off", &nested),
        ("/roster/import", &wide),
        ("/roster/import", &long),
        ("/instruments/import", &long),
    ];
    let sent = uploads.iter().cycle().take(24).map(|(path, body)| {
        let request = owner.post(format!("{}{}", school.url, school.of_class(path)));
        let request = request.header("content-type", "application/octet-stream").body((*body).clone());
        async move { request.send().await.expect("an answer").status().as_u16() }
    });
    let healthy = async {
        let mut answered = 0;
        for _ in 0..20 {
            let health = browser().get(format!("{}/healthz", school.url)).timeout(Duration::from_secs(5)).send().await;
            answered += usize::from(health.is_ok_and(|health| health.status() == StatusCode::OK));
        }
        answered
    };
    let (statuses, answered) = tokio::join!(futures::future::join_all(sent), healthy);
    assert_eq!(answered, 20);
    assert!(statuses.iter().all(|status| [200, 422, 503].contains(status)), "{statuses:?}");
    assert!(statuses[0] == 422 && statuses.contains(&200), "{statuses:?}");
}

#[tokio::test]
async fn a_file_is_sent_as_one_and_nothing_is_written_from_another_sites_page() {
    let server = server().await;
    let path = server.path("/roster/import");
    for kind in ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x"] {
        let sent =
            server.client.post(&path).header("content-type", kind).body("Name\nAda").send().await.expect("an answer");
        assert_eq!(sent.status(), StatusCode::UNSUPPORTED_MEDIA_TYPE, "{kind}");
    }
    let write = |header: (&'static str, &'static str)| {
        server
            .client
            .post(&path)
            .header("content-type", "application/octet-stream")
            .header(header.0, header.1)
            .body("Name\nAda")
    };
    for header in [
        ("origin", "https://other.example"),
        ("origin", "null"),
        ("sec-fetch-site", "cross-site"),
        ("sec-fetch-site", "same-site"),
    ] {
        let sent = write(header).send().await.expect("an answer");
        let (status, problem) = (sent.status(), sent.json::<Value>().await.expect("JSON"));
        assert_eq!((status, &problem["type"]), (StatusCode::FORBIDDEN, &json!("/problems/other-site")), "{header:?}");
    }
    assert_eq!(write(("sec-fetch-site", "same-origin")).send().await.expect("an answer").status(), StatusCode::OK);
}

#[tokio::test]
async fn a_day_of_another_millennium_is_refused_everywhere_and_hides_nothing() {
    let server = server().await;
    let child = server.child("Ada K.", bright_row_core::craft::instrument::Instrument::Violin, 1).await;
    let calendar = server.get("/calendar").await["set"].clone();
    for far in ["+10000-01-01", "-4713-01-01", "1899-12-31"] {
        let mut short = calendar.clone();
        short["shortDays"] = json!([{ "day": far, "minutes": 5 }]);
        let mut off = calendar.clone();
        off["daysOff"] = json!([{ "day": far }]);
        let mut first = calendar.clone();
        first["firstDay"] = json!(far);
        for body in [short, off, first] {
            let (status, answer) = server.send(Method::PUT, "/calendar", Some(&body)).await;
            assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{far}: {answer}");
        }
        let lesson = json!({ "blocks": [], "aims": [] });
        assert_eq!(server.send(Method::PUT, &format!("/lessons/{far}"), Some(&lesson)).await.0, StatusCode::NOT_FOUND);
        let mut look = support::look(child, "hold.size", 3, 0);
        look["observedAt"] = json!(format!("{far}T00:00:00Z"));
        let results = server.observe(&[look]).await;
        assert_eq!(results[0]["outcome"], "refused", "{far}: {}", results[0]);
    }
    // Nor does SQL bring one in.
    let sql = format!(
        "insert into short_day (program_id, class_id, day, minutes) values ('{}', '{}', '10000-01-01', 5)",
        server.key.program, server.key.class
    );
    assert!(server.db.execute_unprepared(&sql).await.is_err());
    // A class that cannot be read hides no other.
    let one = json!({ "id": uuid::Uuid::now_v7(), "programId": server.key.program, "name": "Broken", "timeZone": "Europe/Dublin",
        "firstDay": "2026-09-01", "lastDay": "2027-06-01", "meetingDays": [1] });
    let made = server.client.post(format!("{}/api/classes", server.url)).json(&one).send().await.expect("an answer");
    assert_eq!(made.status(), StatusCode::CREATED);
    server
        .db
        .execute_unprepared("update class set time_zone = 'Nowhere/None' where name = 'Broken'")
        .await
        .expect("done");
    let classes = server.client.get(format!("{}/api/classes", server.url)).send().await.expect("an answer");
    let classes = classes.json::<Value>().await.expect("JSON");
    assert_eq!(
        classes.as_array().expect("classes").iter().map(|class| &class["name"]).collect::<Vec<_>>(),
        ["Tuesday strings"]
    );
    server.get("/room").await;
}

#[tokio::test]
async fn characters_that_no_database_keeps_are_refused_in_words() {
    let server = server().await;
    let child = server.child("Ada K.", bright_row_core::craft::instrument::Instrument::Violin, 1).await;
    let nul = "a\0b";
    let sign_in = json!({ "email": format!("{nul}@one.example"), "password": "wrong" });
    let own = json!({ "stage": "bow.1", "name": nul, "seconds": 5, "required": false, "far": true, "play": false, "texts": [] });
    let event = json!({ "events": [{ "id": uuid::Uuid::now_v7(), "round": uuid::Uuid::now_v7(), "kind": "start", "device": "tablet",
        "at": support::now(), "children": [{ "child": child, "checks": [nul] }], "detail": { "part": nul } }] });
    let (method, of) = (Method::POST, |rest: &str| server.path(rest));
    let mut statuses = Vec::new();
    for (method, path, body) in [
        (method.clone(), format!("{}/api/session", server.url), sign_in),
        (method.clone(), of("/checklist"), own),
        (method.clone(), of("/round/events"), event),
        (
            method,
            of("/children"),
            json!({ "children": [{ "id": uuid::Uuid::now_v7(), "name": nul, "instrument": "violin" }] }),
        ),
        (Method::DELETE, of("/checklist/hold.%00/own"), json!({})),
        (Method::PUT, of(&format!("/children/{child}/stages/%00/opened")), json!({})),
        (Method::DELETE, of(&format!("/children/{child}/accommodations/a%00b")), json!({})),
        (Method::GET, of("/notes?tune=%00"), json!({})),
    ] {
        statuses.push((server.status(&server.client, method.clone(), &path, Some(&body)).await.as_u16(), path));
    }
    assert!(statuses.iter().all(|(status, _)| *status < 500), "{statuses:?}");
}

/// A connection to a server that waits for nobody.
async fn impatient() -> (School, TcpStream) {
    let patience = Duration::from_millis(300);
    let school = School::with(|options| Options { head_patience: patience, drain_patience: patience, ..options }).await;
    let stream = TcpStream::connect(school.url.trim_start_matches("http://")).await.expect("a connection");
    (school, stream)
}

#[tokio::test]
async fn a_client_that_does_not_finish_its_head_is_let_go_and_so_is_an_idle_one() {
    let (school, mut half) = impatient().await;
    half.write_all(b"GET /healthz HTTP/1.1\r\nHost: x\r\nX-Slow: ").await.expect("written");
    let mut idle = TcpStream::connect(school.url.trim_start_matches("http://")).await.expect("a connection");
    let mut read = Vec::new();
    // Ends only because the server closes it.
    let _ = half.read_to_end(&mut read).await;
    let _ = idle.read_to_end(&mut read).await;
    assert!(!String::from_utf8_lossy(&read).contains("200 OK"));
}

#[tokio::test]
async fn a_server_that_is_to_stop_waits_for_no_unfinished_body() {
    let (school, mut slow) = impatient().await;
    slow.write_all(
        b"POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 900\r\n\r\n{",
    )
    .await
    .expect("written");
    let stopped = school.stopped();
    stopped.await;
    let mut read = Vec::new();
    let _ = slow.read_to_end(&mut read).await;
}

#[tokio::test]
async fn only_a_server_behind_tls_says_that_it_always_is() {
    for (behind_tls, said) in [(false, None), (true, Some("max-age=31536000"))] {
        let school = School::with(|options| Options { behind_tls, ..options }).await;
        let answer = browser().get(format!("{}/healthz", school.url)).send().await.expect("an answer");
        let header = answer.headers().get("strict-transport-security").map(|value| value.to_str().expect("a text"));
        assert_eq!(header, said);
    }
}

#[tokio::test]
async fn every_answer_has_an_id_of_its_own_and_is_counted_by_its_route() {
    let school = School::new().await;
    bright_row::telemetry::metrics::gathered();
    let owner = school.sign_in("owner@one.example").await;
    let mut ids = std::collections::BTreeSet::new();
    for path in [school.of_class("/room"), "/api/nothing".to_owned(), "/".to_owned(), "/healthz".to_owned()] {
        // An id that somebody makes up is not taken over into the log.
        let asked = owner.get(format!("{}{path}", school.url)).header("x-request-id", "made-up").send().await;
        let id = asked.expect("an answer").headers()["x-request-id"].to_str().expect("a text").to_owned();
        assert!(id.parse::<uuid::Uuid>().is_ok(), "{id}");
        ids.insert(id);
    }
    assert_eq!(ids.len(), 4);
    let seen = json!({ "observations": [look(school.child("Ada K.").await, "hold.size", 3, 1)] });
    let (status, _) = school.send(&owner, Method::POST, &school.of_class("/observations"), Some(&seen)).await;
    assert_eq!(status, StatusCode::OK);
    let page = bright_row::telemetry::metrics::page(&school.app).await;
    let lines = |wanted: &[&str]| page.lines().filter(|line| wanted.iter().all(|part| line.contains(part))).count();
    assert!(
        lines(&["bright_row_requests_total", "route=\"/api/classes/{class}/room\"", "status=\"200\""]) == 1,
        "{page}"
    );
    assert!(lines(&["bright_row_pool_connections", "pool=\"sessions\""]) == 2);
    assert!(lines(&["bright_row_rule_seconds_count", "rule=\"standings\""]) == 1, "{page}");
    assert!(!page.contains(&school.key.class.to_string()), "no id of anything");
}
