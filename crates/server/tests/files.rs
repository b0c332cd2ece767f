//! Files out and in through the API: tunes, calendars that are subscribed to, attendance, workbooks, sheets of labels.

mod support;

use std::io::{Cursor, Read, Write};

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::role::Role;
use calamine::{Reader, Xlsx};
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::people::School;
use support::{Server, browser, look, now, server};
use uuid::Uuid;

/// A file of the class: its status, its media type, its bytes.
async fn file(client: &Client, url: &str) -> (StatusCode, String, Vec<u8>) {
    let answer = client.get(url).send().await.expect("an answer");
    let kind = answer.headers().get("content-type").and_then(|kind| kind.to_str().ok()).unwrap_or_default().to_owned();
    (answer.status(), kind, answer.bytes().await.expect("bytes").to_vec())
}

async fn of_class(server: &Server, rest: &str) -> (String, Vec<u8>) {
    let (status, kind, bytes) = file(&server.client, &server.path(rest)).await;
    assert_eq!(status, StatusCode::OK, "{rest}: {}", String::from_utf8_lossy(&bytes));
    (kind, bytes)
}

async fn send(server: &Server, rest: &str, bytes: impl Into<reqwest::Body>) -> (StatusCode, Value) {
    let request = server.client.post(server.path(rest)).header("content-type", "application/octet-stream").body(bytes);
    let answer = request.send().await.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

#[tokio::test]
async fn a_calendars_address_is_made_replaced_and_ended_and_names_no_child() {
    let school = School::new().await;
    school.child("Ada Kestrel").await;
    school.person("director@one.example", Role::Director).await;
    let director = school.sign_in("director@one.example").await;
    let assistant = school.sign_in("assistant@one.example").await;
    let address = school.of_class("/calendar/address");
    assert_eq!(school.get(&director, &address).await, json!({}));
    for (method, refused) in [(Method::GET, &assistant), (Method::POST, &assistant), (Method::DELETE, &assistant)] {
        let (status, _) = school.send(refused, method, &address, None).await;
        assert_eq!(status, StatusCode::FORBIDDEN);
    }
    let make = async || {
        let (status, made) = school.send(&director, Method::POST, &address, None).await;
        assert_eq!(status, StatusCode::CREATED, "{made}");
        made["path"].as_str().expect("a path").to_owned()
    };
    // Whoever subscribes is signed in nowhere.
    let stranger = browser();
    let subscribed = async |path: &str| {
        let answer = stranger.get(format!("{}{path}", school.url)).send().await.expect("an answer");
        (answer.status(), answer.text().await.expect("a text"))
    };
    let first = make().await;
    let (status, text) = subscribed(&first).await;
    assert_eq!(status, StatusCode::OK, "{text}");
    let (_, _, own) = file(&director, &format!("{}{}", school.url, school.of_class("/calendar.ics"))).await;
    let days =
        |text: &str| text.lines().filter(|line| line.starts_with("DTSTART")).map(str::to_owned).collect::<Vec<_>>();
    assert_eq!(days(&text), days(&String::from_utf8(own).expect("a text")));
    assert!(!days(&text).is_empty() && text.contains("REFRESH-INTERVAL") && !text.contains("Kestrel"), "{text}");
    let known = school.get(&director, &address).await;
    assert_eq!(known["madeBy"], "director");
    assert!(!known.to_string().contains(first.split('/').nth(3).expect("a secret")), "the secret is shown once");

    let second = make().await;
    assert_eq!(subscribed(&first).await.0, StatusCode::GONE);
    assert_eq!(subscribed(&second).await.0, StatusCode::OK);
    for wrong in ["/api/calendars//meetings.ics", "/api/calendars/%00/meetings.ics", "/api/calendars/%ff/meetings.ics"]
    {
        assert!(!subscribed(wrong).await.1.contains("VCALENDAR"), "{wrong}");
    }
    let (status, _) = school.send(&director, Method::DELETE, &address, None).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(subscribed(&second).await.0, StatusCode::GONE);
    assert_eq!(school.rows("calendar_address").await, 0);
    let deeds = school.texts("select deed as text from audit where deed like 'calendar%' order by at, entry_id").await;
    assert_eq!(deeds, ["calendar-address-made", "calendar-address-made", "calendar-address-ended"]);

    // An archived class has none, also once it is opened again.
    let third = make().await;
    let owner = school.sign_in("owner@one.example").await;
    for path in ["/archive", "/reopen"] {
        assert_eq!(subscribed(&third).await.0, if path == "/archive" { StatusCode::OK } else { StatusCode::GONE });
        let (status, answer) = school.send(&owner, Method::POST, &school.of_class(path), None).await;
        assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
    }
    assert_eq!(subscribed(&third).await.0, StatusCode::GONE);

    // It ends with its class.
    let third = make().await;
    let end = json!({ "confirm": "Tuesday strings" });
    let (status, answer) = school.send(&owner, Method::POST, &school.of_class("/end"), Some(&end)).await;
    assert_eq!(status, StatusCode::NO_CONTENT, "{answer}");
    assert_eq!(subscribed(&third).await.0, StatusCode::GONE);
}

#[tokio::test]
async fn a_tune_leaves_whole_or_as_one_part_in_every_form() {
    let server = server().await;
    let asked = "notes=A4+|+D5:4+C%235+B4+|+A4:4+D5:4&name=Fox&key=Bm&meter=4/4&tempo=120";
    let (kind, xml) = of_class(&server, &format!("/notes.musicxml?{asked}&part=cello")).await;
    let xml = String::from_utf8(xml).expect("a text");
    assert_eq!(kind, "application/vnd.recordare.musicxml+xml");
    assert_eq!((xml.matches("<score-part ").count(), xml.matches("Cello").count()), (1, 2), "{xml}");
    assert!(
        xml.contains("<mode>minor</mode>")
            && xml.contains("implicit=\"yes\"")
            && xml.contains("<sound tempo=\"120\"/>")
    );
    let (_, whole) = of_class(&server, &format!("/notes.mxl?{asked}")).await;
    let mut zip = zip::ZipArchive::new(Cursor::new(whole)).expect("a zip");
    let mut score = String::new();
    zip.by_name("score.musicxml").expect("the score").read_to_string(&mut score).expect("a text");
    assert_eq!(score.matches("<score-part ").count(), 4);
    let (kind, midi) = of_class(&server, &format!("/notes.mid?{asked}")).await;
    assert_eq!((kind.as_str(), &midi[..4], midi[11]), ("audio/midi", b"MThd".as_slice(), 5));
    let (kind, wav) = of_class(&server, &format!("/notes.wav?{asked}&part=viola")).await;
    let samples = hound::WavReader::new(wav.as_slice()).expect("WAV").len();
    // Nine quarters at 120 a minute, and a moment before them.
    assert_eq!((kind.as_str(), samples), ("audio/wav", 22_050 * 47 / 10));
    let (status, _, refused) = file(&server.client, &server.path("/notes.wav?notes=D4&tempo=20")).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(String::from_utf8_lossy(&refused).contains("30 to 240"));
    let (status, ..) = file(&server.client, &server.path("/notes.mid?part=harp")).await;
    assert!(status.is_client_error());
    let map = server.get(&format!("/notes?{asked}")).await;
    assert_eq!(map["notes"][2]["note"], "C#5");
}

#[tokio::test]
async fn a_tune_is_read_from_a_file_and_nothing_of_it_is_kept() {
    let server = server().await;
    let abc = "X:1\nT:The fox\nM:3/4\nL:1/4\nQ:90\nK:G\nD | G2 B | {c}A3 | G2 |]\n";
    let (status, read) = send(&server, "/notes/file", abc).await;
    assert_eq!(status, StatusCode::OK, "{read}");
    assert_eq!(
        read,
        json!({ "name": "The fox", "notes": "D4 | G4:4 B4 | A4:6 | G4:4", "key": "G", "meter": "3/4", "tempo": 90,
            "leftOut": ["grace"] })
    );
    let asked = "notes=D4+|+G4:4+B4+|+A4:6+|+G4:4&key=G&meter=3/4&tempo=90&name=The+fox";
    let (_, score) = of_class(&server, &format!("/notes.musicxml?{asked}")).await;
    let (status, again) = send(&server, "/notes/file", score).await;
    assert_eq!((status, &again["notes"], &again["tempo"]), (StatusCode::OK, &read["notes"], &json!(90)));
    assert_eq!(again["leftOut"], json!(["voices"]));
    let (status, refused) = send(&server, "/notes/file", "Dear all").await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.to_string().contains("Nothing was taken: This is neither MusicXML nor ABC."), "{refused}");
    let (status, _) = send(&server, "/notes/file", vec![b'a'; 3 * 1024 * 1024]).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn who_was_there_stands_in_a_table_by_meeting() {
    let server = server().await;
    let here = server.child("Ada K.", Instrument::Violin, 1).await;
    let away = server.child("Ben O.", Instrument::Cello, 2).await;
    server.child("Cy P.", Instrument::Bass, 3).await;
    server.observe(&[look(here, "hold.tall", 3, 0)]).await;
    let event = json!({ "id": Uuid::now_v7(), "round": Uuid::now_v7(), "kind": "absent", "device": "tablet",
        "at": now(), "children": [{ "child": away }] });
    let (status, answer) = server.send(Method::POST, "/round/events", Some(&json!({ "events": [event] }))).await;
    assert!(status.is_success(), "{answer}");
    let (_, csv) = of_class(&server, "/attendance.csv").await;
    let csv = String::from_utf8(csv).expect("a text");
    let rows: Vec<Vec<&str>> = csv.lines().map(|line| line.split(',').collect()).collect();
    assert_eq!(rows[0][..3], ["Name", "Here (meetings)", "Away (meetings)"]);
    let today = rows[0].len() - 1;
    assert!(today > 2, "{csv}");
    assert_eq!(rows[1][..3], ["Ada K.", "1", "0"]);
    assert_eq!((rows[1][today], rows[2][today], rows[3][today]), ("here", "away", ""));
    let (_, book) = of_class(&server, "/term.xlsx").await;
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(book)).expect("it opens");
    let sheet = book.worksheet_range("Attendance").expect("the sheet");
    assert_eq!(sheet.rows().count(), 4);
}

#[tokio::test]
async fn workbooks_come_back_as_they_left() {
    let server = server().await;
    server.child("=Ada K.", Instrument::Violin, 1).await;
    server.child("Ben O.", Instrument::Cello, 2).await;
    let cello =
        json!({ "tag": "007", "instrument": "cello", "size": "1/2", "condition": "good", "bow": true, "case": true });
    let kept = server.send(Method::PUT, &format!("/instruments/{}", Uuid::now_v7()), Some(&cello)).await;
    assert!(kept.0.is_success(), "{}", kept.1);
    let (_, roster) = of_class(&server, "/roster.xlsx").await;
    let (status, preview) = send(&server, "/roster/import", roster).await;
    assert_eq!((status, &preview["same"], &preview["new"]), (StatusCode::OK, &json!(2), &json!(0)), "{preview}");
    let (_, instruments) = of_class(&server, "/instruments.xlsx").await;
    let (status, preview) = send(&server, "/instruments/import", instruments).await;
    assert_eq!((status, &preview["same"], &preview["new"]), (StatusCode::OK, &json!(1), &json!(0)), "{preview}");
    let (_, supplies) = of_class(&server, "/supplies.xlsx").await;
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(supplies)).expect("it opens");
    assert!(book.worksheet_range("Supplies").expect("the sheet").rows().count() > 3);
}

/// A spreadsheet as `OpenDocument`, of rows of words.
fn ods(rows: &[&[&str]]) -> Vec<u8> {
    let cell = |word: &&str| {
        format!("<table:table-cell office:value-type=\"string\"><text:p>{word}</text:p></table:table-cell>")
    };
    let row =
        |row: &&[&str]| format!("<table:table-row>{}</table:table-row>", row.iter().map(cell).collect::<String>());
    let content = format!(
        "<?xml version=\"1.0\"?><office:document-content><office:body><office:spreadsheet><table:table>{}</table:table>\
         </office:spreadsheet></office:body></office:document-content>",
        rows.iter().map(row).collect::<String>()
    );
    let mut zip = zip::ZipWriter::new(Cursor::new(Vec::new()));
    zip.start_file("content.xml", zip::write::SimpleFileOptions::default()).expect("a file begins");
    zip.write_all(content.as_bytes()).expect("bytes are written");
    zip.finish().expect("a zip").into_inner()
}

#[tokio::test]
async fn what_an_inventorys_columns_mean_is_remembered_and_agreed_to_only_when_it_is_said() {
    let server = server().await;
    let file = ods(&[&["Sticker", "Plays", "How big"], &["C-1", "cello", "1/2"], &["V-1", "violin", "3/4"]]);
    let (status, preview) = send(&server, "/instruments/import", file.clone()).await;
    assert_eq!(status, StatusCode::OK, "{preview}");
    assert!(preview["needs"].as_str().expect("words").contains("Tag, Kind, Size"), "{preview}");
    let digest = preview["digest"].as_str().expect("a digest");
    let (status, refused) = send(&server, &format!("/instruments/import?digest={digest}"), file.clone()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{refused}");
    let mapping = "mapping=%7B%22Sticker%22:%22Tag%22,%22Plays%22:%22Kind%22,%22How+big%22:%22Size%22%7D";
    let (_, preview) = send(&server, &format!("/instruments/import?{mapping}"), file.clone()).await;
    assert_eq!((&preview["new"], &preview["needs"]), (&json!(2), &Value::Null), "{preview}");
    let digest = preview["digest"].as_str().expect("a digest").to_owned();
    let (status, done) = send(&server, &format!("/instruments/import?{mapping}&digest={digest}"), file.clone()).await;
    assert_eq!((status, &done["done"]), (StatusCode::OK, &json!(true)), "{done}");
    let (_, again) = send(&server, "/instruments/import", file).await;
    assert_eq!((&again["same"], &again["needs"]), (&json!(2), &Value::Null), "{again}");
    // A roster's headings are its own: an inventory's say nothing of them.
    let (_, roster) = send(&server, "/roster/import", "Sticker,Name,Instrument\nx,Ada K.,viola\n").await;
    assert_eq!(roster["columns"][0]["means"], "nothing", "{roster}");
    let long = format!("{},Name,Instrument\nx,Ada K.,viola\n", "h".repeat(300));
    let (_, preview) = send(&server, "/roster/import", long.clone()).await;
    let digest = preview["digest"].as_str().expect("a digest").to_owned();
    let (status, done) = send(&server, &format!("/roster/import?digest={digest}"), long).await;
    assert_eq!(status, StatusCode::OK, "a heading too long to be remembered is no reason: {done}");
}

#[tokio::test]
async fn tags_are_printed_on_the_sheets_that_the_school_has() {
    let server = server().await;
    let cello =
        json!({ "tag": "C-1", "instrument": "cello", "size": "1/2", "condition": "good", "bow": true, "case": true });
    server.send(Method::PUT, &format!("/instruments/{}", Uuid::now_v7()), Some(&cello)).await;
    for (sheet, many) in [("twentyFour", 24), ("twentyOne", 21), ("thirty", 30)] {
        let (kind, bytes) = of_class(&server, &format!("/labels.pdf?sheet={sheet}&begun={}", many - 1)).await;
        assert_eq!((kind.as_str(), &bytes[..5]), ("application/pdf", b"%PDF-".as_slice()));
        let (status, _, refused) =
            file(&server.client, &server.path(&format!("/labels.pdf?sheet={sheet}&begun={many}"))).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(String::from_utf8_lossy(&refused).contains(&format!("A sheet has {many} labels")));
    }
    let (status, ..) = file(&server.client, &server.path("/labels.pdf?begun=-1")).await;
    assert!(status.is_client_error());
}
