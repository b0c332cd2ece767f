//! Rounds through the API: planned by the same rule without a database, everything a device needs to walk one, and what
//! happened in them.

mod support;

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::rows::Seat;
use bright_row_store::children::{self, Child};
use bright_row_store::classes::room;
use bright_row_store::{ConnectionTrait, TransactionTrait};
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, look, server};
use uuid::Uuid;

async fn calc(server: &Server, question: &Value) -> (StatusCode, Value) {
    let answer = server.client.post(format!("{}/api/calc/round", server.url)).json(question).send().await;
    let answer = answer.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

fn asked(seconds: u32) -> Value {
    let child = |id: &str, seat: u32, unseen: u32, checks: Value| {
        json!({ "id": id, "seatOrder": seat, "absent": id == "gone", "meetingsUnseen": unseen,
                "visitPoints": 3 * unseen, "checks": checks })
    };
    let check = |id: &str, seconds: u32, points: u32| json!({ "checkpoint": id, "seconds": seconds, "points": points });
    json!({
        "secondsAvailable": seconds, "visitSeconds": 8, "maxChecksPerChild": 2, "mustSeeAfterMeetings": 4,
        "children": [
            child("late", 3, 5, json!([check("hold.tall", 6, 12)])),
            child("first", 1, 1, json!([check("hold.rest", 8, 44), check("bow.shape", 10, 30), check("bow.1", 8, 30)])),
            child("gone", 2, 9, json!([check("hold.rest", 8, 44)])),
            child("done", 4, 0, json!([])),
        ],
    })
}

#[tokio::test]
async fn a_round_is_planned_without_a_database() {
    let server = server().await;
    let (status, plan) = calc(&server, &asked(40)).await;
    assert_eq!(status, StatusCode::OK);
    insta::assert_json_snapshot!(plan);
    let (_, short) = calc(&server, &asked(15)).await;
    assert_eq!(short["stops"][0]["child"], "late", "who must be seen comes first");
    assert_eq!(short["mustSeeVisited"], 1);
}

#[tokio::test]
async fn a_question_that_cannot_be_is_told_by_its_field() {
    let server = server().await;
    let mut bad = asked(20_000);
    bad["maxChecksPerChild"] = json!(0);
    bad["children"][1]["id"] = json!("late");
    bad["children"][1]["checks"][0]["seconds"] = json!(0);
    let (status, problem) = calc(&server, &bad).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(problem["errors"]);
}

/// A class of three in two rows, each with something to look at.
async fn class_of_three(server: &Server) -> [bright_row_core::ChildId; 3] {
    let children = [
        server.child("Ada K.", Instrument::Violin, 1).await,
        server.child("Ben O.", Instrument::Cello, 2).await,
        server.child("Cleo R.", Instrument::Violin, 3).await,
    ];
    let chosen = [Seat { row: 1, number: 1 }, Seat { row: 2, number: 1 }, Seat { row: 2, number: 2 }];
    let seats: Vec<_> = children.into_iter().zip(chosen).map(|(child, seat)| (child, seat, false)).collect();
    let tx = server.db.begin().await.expect("a transaction");
    let room = room::Room { width_mm: 8000, depth_mm: 8000, rows: vec![1, 2] };
    room::set(&tx, server.key, &room, &seats).await.expect("seats");
    tx.commit().await.expect("kept");
    let mut slipped = look(children[0], "hold.tall", 2, 14);
    slipped["slips"] = json!(["shoulder-up"]);
    server.observe(&[look(children[0], "hold.size", 3, 7), slipped, look(children[1], "hold.seat", 1, 21)]).await;
    children
}

#[tokio::test]
async fn everything_a_round_needs_is_told_at_once() {
    let server = server().await;
    let [ada, ben, cleo] = class_of_three(&server).await;
    let kit = server.get("/round").await;
    // A serpentine: the second row is walked back.
    let walk: Vec<&Value> = kit["children"].as_array().expect("children").iter().map(|child| &child["id"]).collect();
    assert_eq!(walk, [&json!(ada), &json!(cleo), &json!(ben)]);
    insta::with_settings!({ filters => vec![(r"[0-9a-f]{8}-[0-9a-f-]{27}", "[id]")] }, {
        insta::assert_json_snapshot!(json!({
            "minutes": kit["minutes"], "visitSeconds": kit["visitSeconds"], "parts": kit["parts"],
            "ada": kit["children"][0]["checks"], "ben": kit["children"][2]["checks"][0],
            "scan": kit["scans"].as_array().expect("scans").first(),
        }));
    });
}

#[tokio::test]
async fn who_has_no_seat_is_walked_to_by_section_and_name() {
    let server = server().await;
    let joined_on = "2026-09-01".parse().expect("a date");
    let children = [
        ("Zoe K.", Instrument::Violin),
        ("Ada B.", Instrument::Bass),
        ("Cleo C.", Instrument::Cello),
        ("Ben V.", Instrument::Violin),
    ]
    .map(|(name, instrument)| Child::new(Uuid::now_v7().into(), name.to_owned(), instrument, joined_on));
    children::add(&server.db, server.key, &children).await.expect("children");
    let kit = server.get("/round").await;
    let names: Vec<&Value> = kit["children"].as_array().expect("children").iter().map(|child| &child["name"]).collect();
    assert_eq!(names, ["Ben V.", "Zoe K.", "Cleo C.", "Ada B."]);
}

#[tokio::test]
async fn a_round_of_a_later_meeting_can_be_looked_at_and_changes_nothing() {
    let server = server().await;
    let [ada, ..] = class_of_three(&server).await;
    let unseen = |kit: &Value| {
        let children = kit["children"].as_array().expect("children").clone();
        children.into_iter().find(|child| child["id"] == json!(ada)).expect("there")["meetingsUnseen"].clone()
    };
    assert_eq!(unseen(&server.get("/round").await), 1);
    assert_eq!(unseen(&server.get("/round?ahead=1").await), 2);
    assert_eq!(server.get("/round?ahead=99").await["meeting"], 28);
}

fn event(round: Uuid, kind: &str, children: &[bright_row_core::ChildId], detail: impl Into<Value>) -> Value {
    let detail: Value = detail.into();
    let children: Vec<Value> = children.iter().map(|child| json!({ "child": child, "checks": ["hold.2"] })).collect();
    json!({ "id": Uuid::now_v7(), "round": round, "kind": kind, "device": "tablet-1",
            "at": support::now(), "children": children, "detail": detail })
}

async fn tell(server: &Server, events: &[Value]) -> Vec<Value> {
    let body = json!({ "events": events });
    let (status, answer) = server.send(Method::POST, "/round/events", Some(&body)).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    answer["results"].as_array().expect("results").clone()
}

#[tokio::test]
async fn what_happened_is_kept_once_in_any_order_and_remembers_the_minutes() {
    let server = server().await;
    let [ada, ben, _] = class_of_three(&server).await;
    let round = Uuid::now_v7();
    let start = event(round, "start", &[ada, ben], json!({ "minutes": 9, "seconds": 540 }));
    let visited = event(round, "visited", &[ada], json!({}));
    let outcomes = |results: Vec<Value>| results.iter().map(|one| one["outcome"].clone()).collect::<Vec<_>>();
    assert_eq!(
        outcomes(tell(&server, &[visited.clone(), visited.clone(), start.clone()]).await),
        ["stored", "known", "stored"]
    );
    assert_eq!(outcomes(tell(&server, &[start, visited]).await), ["known", "known"]);
    let mut observation = look(ada, "hold.raise", 3, 0);
    observation["round"] = json!(round);
    server.observe(&[observation, look(ben, "hold.raise", 3, 0)]).await;
    let kit = server.get("/round").await;
    let kinds: Vec<_> = kit["events"].as_array().expect("events").iter().map(|event| event["kind"].clone()).collect();
    assert_eq!(kinds.len(), 2);
    assert_eq!(kit["minutes"], 9);
    assert_eq!(kit["observations"].as_array().expect("observations").len(), 1, "only what was seen in the round");
    let start = kit["events"].as_array().expect("events").iter().find(|event| event["kind"] == "start");
    assert_eq!(start.expect("a start")["children"][1], json!({ "child": ben, "checks": ["hold.2"] }));
}

#[tokio::test]
async fn what_cannot_be_is_refused_by_itself_and_children_who_are_gone_are_left_out() {
    let server = server().await;
    let [ada, ..] = class_of_three(&server).await;
    let round = Uuid::now_v7();
    let good = event(round, "start", &[ada, Uuid::now_v7().into()], json!({}));
    let mut other_round = good.clone();
    other_round["round"] = json!(Uuid::now_v7());
    let mut unknown = event(round, "dance", &[], json!({}));
    unknown["id"] = json!(Uuid::nil());
    let mut tomorrow = event(round, "end", &[], json!({}));
    tomorrow["at"] = json!("2026-11-09T14:00:00Z");
    let mut nameless = event(round, "end", &[], json!({}));
    nameless["device"] = json!(" ");
    let long = event(round, "end", &[], json!({ "text": "x".repeat(5000) }));
    let results = tell(&server, &[good, other_round, unknown, tomorrow, nameless, long]).await;
    let said: Vec<String> =
        results.iter().map(|one| format!("{}: {}", one["outcome"], one["reason"].as_str().unwrap_or("kept"))).collect();
    // The second bears the id of the first: within one request it is the same event.
    insta::assert_snapshot!(said.join("\n"));
    let kit = server.get("/round").await;
    assert_eq!(kit["events"][0]["children"].as_array().expect("children").len(), 1);
    let too_many: Vec<Value> = (0..501).map(|_| event(round, "end", &[], json!({}))).collect();
    let body = json!({ "events": too_many });
    let (status, _) = server.send(Method::POST, "/round/events", Some(&body)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn what_happened_cannot_be_changed_and_a_removed_child_is_gone_from_it() {
    let server = server().await;
    let [ada, ben, _] = class_of_three(&server).await;
    tell(&server, &[event(Uuid::now_v7(), "start", &[ada, ben], json!({}))]).await;
    for change in ["update round_event set kind = 'end'", "delete from round_event_child", "delete from round_event"] {
        let refused = server.db.execute_unprepared(change).await.expect_err(change);
        assert!(refused.to_string().contains("append-only"), "{change}: {refused}");
    }
    assert_eq!(server.remove(ada, "Ada K.").await, StatusCode::NO_CONTENT);
    let kit = server.get("/round").await;
    assert_eq!(kit["events"][0]["children"], json!([{ "child": ben, "checks": ["hold.2"] }]));
}

#[tokio::test]
async fn an_assistant_walks_too() {
    let server = server().await;
    let [ada, ..] = class_of_three(&server).await;
    let assistant = server.assistants_browser().await;
    let body = json!({ "events": [event(Uuid::now_v7(), "start", &[ada], json!({}))] });
    let path = server.path("/round/events");
    assert_eq!(server.status(&assistant, Method::POST, &path, Some(&body)).await, StatusCode::OK);
    assert_eq!(server.status(&assistant, Method::GET, &server.path("/round"), None).await, StatusCode::OK);
}

#[tokio::test]
async fn the_term_ahead_is_played_with_so_many_minutes_and_few_enough_are_found() {
    let server = server().await;
    class_of_three(&server).await;
    let ahead = server.get("/forecast?minutes=1").await;
    assert_eq!(ahead["children"], 3);
    let meetings = ahead["meetings"].as_array().expect("meetings").clone();
    assert_eq!((meetings.len(), &meetings[0]["day"]), (40, &json!("2026-11-05")));
    let plenty = server.get("/forecast?minutes=60").await;
    let begun = |ahead: &Value| {
        let milestones = ahead["milestones"].as_array().expect("milestones").clone();
        milestones.iter().filter(|one| one["goal"] == "begun" && one["middle"].is_string()).count()
    };
    assert!(begun(&plenty) > begun(&ahead), "{plenty}");
    for one in plenty["milestones"].as_array().expect("milestones") {
        let days = ["low", "middle", "high"].map(|day| one[day].as_str().unwrap_or("9999"));
        assert!("2026-11-02" < days[0] && days.is_sorted(), "{one}");
    }
    let plays = plenty["plays"].as_u64().expect("a number");
    assert!((20..=200).contains(&plays));
    let fewest = server.get("/forecast/fewest").await["minutes"].as_u64().expect("few children are no trouble");
    let enough = server.get(&format!("/forecast/rhythm?minutes={fewest}")).await;
    assert_eq!(enough, json!({ "minutes": fewest, "keepsUp": true }));
    for path in ["/forecast?minutes=0", "/forecast?minutes=61", "/forecast/rhythm?minutes=99999999999"] {
        let status = server.status(&server.client, Method::GET, &server.path(path), None).await;
        assert!(status.is_client_error(), "{path}: {status}");
    }
}

#[tokio::test]
async fn a_rhythm_that_cannot_be_kept_is_stretched_or_no_stretch_is_enough() {
    let server = server().await;
    let children = class_of_three(&server).await;
    // Everything that stands is looked at at each meeting, and there is one minute.
    for child in children {
        let stands = ["hold.size", "hold.rest", "bow.shape", "bow.pluck"].map(|target| look(child, target, 3, 7));
        server.observe(&stands).await;
    }
    let mut rhythm = server.get("/rhythm").await["now"].clone();
    rhythm["alone"] = json!(1);
    rhythm["lasting"] = json!(1);
    rhythm["longest"] = json!(1);
    rhythm["maxChecks"] = json!(1);
    assert_eq!(server.send(Method::PUT, "/rhythm", Some(&rhythm)).await.0, StatusCode::NO_CONTENT);
    let kept = server.get("/forecast/rhythm?minutes=1").await;
    assert_eq!(kept["keepsUp"], false, "{kept}");
    let stretched = &kept["stretched"];
    assert!(stretched["alone"].as_u64() > Some(1) && stretched["lasting"] == stretched["alone"], "{kept}");
    for field in ["alone", "lasting", "longest"] {
        rhythm[field] = stretched[field].clone();
    }
    assert_eq!(server.send(Method::PUT, "/rhythm", Some(&rhythm)).await.0, StatusCode::NO_CONTENT);
    assert_eq!(server.get("/forecast/rhythm?minutes=1").await["keepsUp"], true);
}

#[tokio::test]
async fn a_calendar_is_set_whole_and_short_days_have_minutes_of_their_own() {
    let server = server().await;
    let [ada, ..] = class_of_three(&server).await;
    let before = server.get("/calendar").await;
    assert_eq!(before["set"]["daysOff"][0]["day"], "2026-10-29");
    let mut set = before["set"].clone();
    set["daysOff"] = json!([{ "day": "2026-10-29", "reason": "Autumn break" }, { "day": "2026-11-05", "reason": "" }]);
    set["shortDays"] = json!([{ "day": "2026-11-03", "minutes": 4, "reason": "Assembly" }]);
    assert_eq!(server.send(Method::PUT, "/calendar", Some(&set)).await.0, StatusCode::NO_CONTENT);
    let after = server.get("/calendar").await;
    assert_eq!(after["set"], set);
    let count = |answer: &Value| answer["meetings"].as_array().expect("meetings").len();
    assert_eq!(count(&after), count(&before) - 1);
    assert_eq!(server.get("/round").await["minutes"], 4, "today is short");
    assert_eq!(server.get("/forecast").await["meetings"][0]["day"], "2026-11-10");
    let page = server.get(&format!("/children/{ada}")).await;
    assert!(support::standing(&page, "hold.size").is_some(), "no observation changed");

    let mut bad = set;
    bad["meetingDays"] = json!([2, 2, 9]);
    bad["lastDay"] = json!("2026-01-01");
    bad["shortDays"][0]["minutes"] = json!(900);
    let (status, problem) = server.send(Method::PUT, "/calendar", Some(&bad)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    insta::assert_json_snapshot!(problem["errors"]);
    let assistant = server.assistants_browser().await;
    let path = server.path("/calendar");
    assert_eq!(server.status(&assistant, Method::PUT, &path, Some(&after["set"])).await, StatusCode::FORBIDDEN);
}

#[tokio::test]
async fn what_the_calendar_says_is_due_is_what_a_round_of_that_meeting_finds() {
    let server = server().await;
    class_of_three(&server).await;
    let file = server.client.get(server.path("/calendar.ics")).send().await.expect("an answer");
    let text = file.text().await.expect("a text").replace("\r\n ", "");
    let now = server.get("/round").await["meeting"].as_u64().expect("a number");
    let mut said = 0;
    for ahead in 1..=10 {
        let kit = server.get(&format!("/round?ahead={ahead}")).await;
        let mut due: BTreeMap<&str, usize> = BTreeMap::new();
        let children = kit["children"].as_array().expect("children").iter();
        for child in children {
            let checks = child["checks"].as_array().expect("checks").iter();
            let checks = checks.filter(|check| check["why"] == "due");
            let strands: BTreeSet<&str> = checks.filter_map(|check| check["strand"].as_str()).collect();
            for strand in strands {
                *due.entry(strand).or_default() += 1;
            }
        }
        let summary = format!("SUMMARY:Tuesday strings\\, meeting {}\r\n", now + ahead);
        let Some(entry) = text.split("BEGIN:VEVENT").find(|entry| entry.contains(&summary)) else { continue };
        let strands = kit["strands"].as_array().expect("strands").iter();
        let named = strands.filter_map(|strand| Some((due.get(strand["key"].as_str()?)?, strand["name"].as_str()?)));
        let parts: Vec<String> = named.map(|(count, name)| format!("{count} in {name}")).collect();
        let words = format!("DESCRIPTION:Due: {}\r\n", parts.join("\\, "));
        assert_eq!(entry.contains(&words), !parts.is_empty(), "{words}{entry}");
        said += parts.len();
    }
    assert!(said > 5, "the class has something due: {said}");
}

#[tokio::test]
async fn the_calendar_leaves_as_a_file_without_a_name_and_days_off_come_in_as_one() {
    let server = server().await;
    class_of_three(&server).await;
    let file = server.client.get(server.path("/calendar.ics")).send().await.expect("an answer");
    assert_eq!(file.headers()["content-type"], "text/calendar; charset=utf-8");
    let text = file.text().await.expect("a text");
    assert!(text.contains("SUMMARY:Tuesday strings\\, meeting 19"), "{text}");
    assert!(text.contains("DESCRIPTION:Due: "), "{text}");
    assert!(!text.contains("Ada"), "calendars travel");
    let school = "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:Long weekend\r\nDTSTART;VALUE=DATE:20261109\r\n\
                  DTEND;VALUE=DATE:20261113\r\nEND:VEVENT\r\nBEGIN:VEVENT\r\nSUMMARY:Concert\r\n\
                  DTSTART:20261110T180000Z\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
    let read = async |text: &str| {
        let sent = server
            .client
            .post(server.path("/calendar/days-off"))
            .header("content-type", "application/octet-stream")
            .body(text.to_owned())
            .send()
            .await;
        let answer = sent.expect("an answer");
        (answer.status(), answer.json::<Value>().await.expect("JSON"))
    };
    let (status, found) = read(school).await;
    assert_eq!(status, StatusCode::OK);
    let days = json!([
        { "day": "2026-11-10", "reason": "Long weekend" }, { "day": "2026-11-12", "reason": "Long weekend" },
    ]);
    assert_eq!(found, json!({ "days": days, "others": 2, "leftOut": [{ "name": "Concert", "why": "timed" }] }));
    assert_eq!(read("nothing of the kind").await.0, StatusCode::UNPROCESSABLE_ENTITY);
}
