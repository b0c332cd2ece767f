//! Rosters through the API: previewed, imported all or nothing, undone, exported, and a child's data removed for good.

mod support;

use bright_row_core::ChildId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_documents::xlsx::{self, Cell, Sheet};
use bright_row_store::ConnectionTrait;
use bright_row_store::classes::ClassKey;
use bright_row_store::observations::standings;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};
use support::{Server, look, server, standing};

const FILE: &str = "Pupil;Plays;Form\nKing, Ada;Viola;5\nOtis, Ben;cello;6\nPine, Cy;tuba;5\n";
/// What the headings of [`FILE`] mean, as the director says.
const MEANS: &str = r#"{"Pupil":"name","Plays":"instrument","Form":"grade"}"#;

async fn import(server: &Server, file: impl Into<reqwest::Body>, query: &[(&str, &str)]) -> (StatusCode, Value) {
    let request = server
        .client
        .post(server.path("/roster/import"))
        .query(query)
        .header("content-type", "application/octet-stream")
        .body(file);
    let answer = request.send().await.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

/// Looks at a file and agrees to what is seen.
async fn agree(server: &Server, file: &str, query: &[(&str, &str)]) -> Value {
    let (status, preview) = import(server, file.to_owned(), query).await;
    assert_eq!(status, StatusCode::OK, "{preview}");
    let digest = preview["digest"].as_str().expect("a digest");
    let (status, done) = import(server, file.to_owned(), &[query, &[("digest", digest)]].concat()).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    done
}

async fn names(server: &Server) -> Vec<String> {
    let roster = server.get("/roster").await;
    let children = roster["children"].as_array().expect("children").clone();
    children
        .iter()
        .map(|child| {
            let text = |key: &str| child[key].as_str().unwrap_or_default().to_owned();
            format!("{}, {}, {}", text("name"), text("instrument"), text("grade"))
        })
        .collect()
}

#[tokio::test]
async fn a_preview_shows_the_action_of_every_row_and_stores_nothing() {
    let server = server().await;
    server.child("Zed Q.", Instrument::Bass, 1).await;
    let (status, mut preview) = import(&server, FILE, &[("mapping", MEANS)]).await;
    assert_eq!(status, StatusCode::OK);
    preview["digest"] = json!("(a digest)");
    insta::assert_json_snapshot!(preview);
    assert_eq!(names(&server).await, ["Zed Q., bass, "]);
}

#[tokio::test]
async fn an_offices_export_of_changes_says_who_leaves_and_nobody_is_taken_out() {
    let server = server().await;
    for (name, number, chair) in [("Ben O.", "4712", 1), ("Cy P.", "4713", 2)] {
        let child = server.child(name, Instrument::Cello, chair).await;
        let numbered = json!({ "name": name, "instrument": "cello", "number": number });
        let (status, said) = server.send(Method::PUT, &format!("/children/{child}"), Some(&numbered)).await;
        assert!(status.is_success(), "{said}");
    }
    let users = "sourcedId,status,role,identifier,enabledUser,givenName,familyName\nu1,active,student,4711,true,Ada,King\n\
                 u2,tobedeleted,student,4712,true,Ben,Otis\nu3,active,student,4713,false,Cy,Pine\n";
    let mut zip = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, text) in [("manifest.csv", "propertyName,value\nfile.users,delta\n"), ("users.csv", users)] {
        zip.start_file(name, zip::write::SimpleFileOptions::default()).expect("a file begins");
        std::io::Write::write_all(&mut zip, text.as_bytes()).expect("written");
    }
    let file = zip.finish().expect("a zip").into_inner();
    let (status, preview) = import(&server, file, &[("instrument", "violin")]).await;
    assert_eq!(status, StatusCode::OK, "{preview}");
    assert_eq!((&preview["leaving"], &preview["untouched"]), (&json!(["Ben O."]), &json!(["Cy P."])));
    assert_eq!((&preview["disabled"], &preview["ended"], &preview["new"]), (&json!(1), &json!(0), &json!(1)));
    assert_eq!(preview["rows"][0]["name"], "Ada K.");
}

#[tokio::test]
async fn what_was_agreed_to_is_stored_and_the_same_file_again_changes_nothing() {
    let server = server().await;
    let done = agree(&server, FILE, &[("mapping", MEANS)]).await;
    assert!(done["import"].is_string());
    assert_eq!(names(&server).await, ["Ada K., viola, 5", "Ben O., cello, 6"]);
    // What the headings mean is remembered.
    let (_, again) = import(&server, FILE, &[]).await;
    assert_eq!(
        (&again["new"], &again["changed"], &again["same"], &again["refused"]),
        (&json!(0), &json!(0), &json!(2), &json!(1))
    );
}

#[tokio::test]
async fn a_file_that_does_not_say_how_its_letters_are_written_is_shown_in_every_way_and_read_as_asked() {
    let server = server().await;
    // Šárka and Łukasz as Windows has them in Central Europe.
    let file = b"Name,Instrument\n\x8a\xe1rka B.,violin\n\xa3ukasz D.,cello\n";
    let (_, preview) = import(&server, file.to_vec(), &[]).await;
    let ways: Vec<&str> =
        preview["letters"].as_array().expect("ways").iter().filter_map(|way| way["letters"].as_str()).collect();
    assert!(ways.len() > 3 && ways.contains(&"central"), "{preview}");
    let (_, asked) = import(&server, file.to_vec(), &[("letters", "central")]).await;
    assert_eq!(asked["letters"][0], json!({ "letters": "central", "words": "Šárka B., Łukasz D." }));
    assert_eq!((&asked["rows"][0]["name"], &asked["rows"][1]["name"]), (&json!("Šárka B."), &json!("Łukasz D.")));
    let (status, answer) = import(&server, file.to_vec(), &[("letters", "runes")]).await;
    assert_eq!((status, &answer["errors"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("letters")));
    let (_, sure) = import(&server, "Name,Instrument\nŠárka B.,violin\n", &[]).await;
    assert_eq!(sure["letters"], json!([]), "nothing is asked where nothing is doubtful");
}

#[tokio::test]
async fn a_spreadsheet_with_titles_is_a_roster_like_its_csv() {
    let server = server().await;
    let rows = [["Name", "Instrument", "Grade"], ["Nguyễn An", "viola", "5"], ["Αθηνά Ξ.", "cello", "4"]];
    let cells = |row: [&str; 3]| row.map(|cell| Cell::Text(cell.to_owned())).to_vec();
    let sheet = Sheet {
        name: "Roster".to_owned(),
        headings: vec!["Strings, autumn term".to_owned()],
        rows: rows.map(cells).to_vec(),
    };
    let book = xlsx::write(&[sheet]).expect("a spreadsheet");
    let (status, preview) = import(&server, book.clone(), &[("keepNames", "true")]).await;
    assert_eq!((status, &preview["new"]), (StatusCode::OK, &json!(2)), "{preview}");
    assert_eq!(preview["rows"][0]["line"], 3);
    let digest = preview["digest"].as_str().expect("a digest");
    let (status, _) = import(&server, book, &[("keepNames", "true"), ("digest", digest)]).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(names(&server).await, ["Nguyễn An, viola, 5", "Αθηνά Ξ., cello, 4"]);
}

#[tokio::test]
async fn another_plan_than_the_one_agreed_to_is_not_stored() {
    let server = server().await;
    let (_, preview) = import(&server, FILE, &[("mapping", MEANS)]).await;
    server.child("Ada K.", Instrument::Viola, 1).await;
    let digest = preview["digest"].as_str().expect("a digest");
    let (status, problem) = import(&server, FILE, &[("mapping", MEANS), ("digest", digest)]).await;
    assert_eq!(status, StatusCode::CONFLICT);
    insta::assert_snapshot!(problem["detail"].as_str().expect("a detail"), @"The roster or the file changed since you looked. Look at the preview again; nothing was stored.");
    assert_eq!(names(&server).await, ["Ada K., viola, "]);
}

#[tokio::test]
async fn an_import_is_undone_as_one_step_and_nobody_who_was_observed_since_is_lost() {
    let server = server().await;
    let before = server.child("Ada K.", Instrument::Violin, 1).await;
    let done = agree(&server, FILE, &[("mapping", MEANS)]).await;
    assert_eq!(names(&server).await, ["Ada K., viola, 5", "Ben O., cello, 6"]);
    let roster = server.get("/roster").await;
    assert_eq!(roster["lastImport"]["id"], done["import"]);
    let path = server.path(&format!("/roster/imports/{}", done["import"].as_str().expect("an id")));
    let undone: Value = server.client.delete(&path).send().await.expect("an answer").json().await.expect("JSON");
    assert_eq!(undone, json!({ "removed": 1, "putBack": 1, "left": 0 }));
    assert_eq!(names(&server).await, ["Ada K., violin, "]);
    assert_eq!(server.client.delete(&path).send().await.expect("an answer").status(), StatusCode::NOT_FOUND);

    let again = agree(&server, FILE, &[("mapping", MEANS)]).await;
    let roster = server.get("/roster").await;
    let ben: ChildId = serde_json::from_value(roster["children"][1]["id"].clone()).expect("an id");
    server.observe(&[look(ben, "hold.size", 3, 0), look(before, "hold.size", 3, 0)]).await;
    let path = server.path(&format!("/roster/imports/{}", again["import"].as_str().expect("an id")));
    let undone: Value = server.client.delete(&path).send().await.expect("an answer").json().await.expect("JSON");
    assert_eq!(undone, json!({ "removed": 0, "putBack": 1, "left": 1 }));
    assert_eq!(server.get("/roster").await["left"][0]["name"], "Ben O.");
}

#[tokio::test]
async fn a_number_says_who_it_is_whatever_the_name_beside_it() {
    let server = server().await;
    let numbers = async || {
        let roster = server.get("/roster").await;
        let children = roster["children"].as_array().expect("children").clone();
        children.iter().map(|child| child["number"].as_str().unwrap_or_default().to_owned()).collect::<Vec<_>>()
    };
    agree(&server, "Name,Instrument,Number\nAda King,viola,1\nBen Otis,viola,\nCy Pine,viola,3\n", &[]).await;
    let done = agree(&server, "Name,Instrument,Number\nAda King,cello,3\nCy Pine,cello,1\n", &[]).await;
    // The names change hands, not the numbers.
    assert_eq!(numbers().await, ["3", "", "1"]);
    let path = server.path(&format!("/roster/imports/{}", done["import"].as_str().expect("an id")));
    assert_eq!(server.client.delete(path).send().await.expect("an answer").status(), StatusCode::OK);
    assert_eq!(numbers().await, ["1", "", "3"]);
    agree(&server, "Name,Instrument,Number\nBen Otis,viola,7\n", &[]).await;
    assert_eq!(numbers().await, ["1", "7", "3"]);
}

#[tokio::test]
async fn a_roster_leaves_as_a_file_that_imports_to_the_same_roster() {
    let server = server().await;
    let file = "First name,Last name,Instrument,Grade,School number,Near the front\n\
                Ada,Brook,violin,5,7,yes\nAda,Bell,viola,6,8,\n=cmd,Smith,bass,,9,no\n";
    agree(&server, file, &[]).await;
    let saved = server.client.get(server.path("/roster.csv")).send().await.expect("an answer");
    assert_eq!(saved.headers()["content-disposition"], "attachment; filename=\"roster-Tuesday-strings.csv\"");
    let saved = saved.text().await.expect("text");
    // Each child's own id is the last column.
    let without_ids = |saved: &str| -> String {
        let lines = saved.lines().map(|line| line.rsplit_once(',').map_or(line, |(rest, _)| rest).to_owned() + "\n");
        lines.collect()
    };
    insta::assert_snapshot!(without_ids(&saved));
    for keep_names in ["true", "false"] {
        let (_, again) = import(&server, saved.clone(), &[("keepNames", keep_names)]).await;
        assert_eq!((&again["same"], again["rows"].as_array().map(Vec::len)), (&json!(3), Some(3)), "{again}");
    }

    // Into an empty class it makes the same roster.
    let wanted = server.get("/roster").await;
    for child in wanted["children"].as_array().expect("children") {
        let (id, name) = (child["id"].as_str().expect("an id"), child["name"].as_str().expect("a name"));
        assert_eq!(server.remove(id, name).await, StatusCode::NO_CONTENT);
    }
    agree(&server, &saved, &[("keepNames", "true")]).await;
    let again = server.client.get(server.path("/roster.csv")).send().await.expect("an answer");
    assert_eq!(without_ids(&again.text().await.expect("text")), without_ids(&saved));
}

#[tokio::test]
async fn only_the_groups_that_were_chosen_come_in_and_a_class_that_would_burst_is_told() {
    let server = server().await;
    let two = "Name,Class\nAda King,FirstRunBody Violin\nBen Otis,Choir\n";
    let (_, all) = import(&server, two, &[]).await;
    assert_eq!(all["groups"].as_array().map(Vec::len), Some(2));
    let (_, some) = import(&server, two, &[("groups", r#"["FirstRunBody Violin"]"#)]).await;
    assert_eq!((&some["new"], &some["refused"]), (&json!(1), &json!(0)));
    let (_, helped) = import(&server, two, &[("instrument", "cello")]).await;
    assert_eq!(helped["new"], 2, "rows without an instrument take the one that was said");
    let mut whole_school = String::from("Name,Instrument\n");
    for number in 0..5000 {
        whole_school.push_str(&format!("Child{number} Family{number},violin\n"));
    }
    let (status, many) = import(&server, whole_school, &[]).await;
    assert_eq!((status, many["rows"].as_array().map(Vec::len)), (StatusCode::OK, Some(5000)));
    insta::assert_snapshot!(many["needs"].as_str().expect("words"), @"The class would have 5000 children; 200 is the most. Choose the groups that belong to it, or export fewer rows.");
}

/// A zip with so many children in each of these classes, each with a number.
fn district(classes: &[(&str, usize)]) -> Vec<u8> {
    let mut files =
        ["sourcedId,givenName,familyName", "sourcedId,title", "classSourcedId,userSourcedId,role"].map(str::to_owned);
    for (class, (title, children)) in classes.iter().enumerate() {
        files[1].push_str(&format!("\nc{class},{title}"));
        for child in 0..*children {
            files[0].push_str(&format!("\nu{class}-{child},Child{child},Family"));
            files[2].push_str(&format!("\nc{class},u{class}-{child},student"));
        }
    }
    let mut zip = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, text) in ["users.csv", "classes.csv", "enrollments.csv"].into_iter().zip(files) {
        zip.start_file(name, zip::write::SimpleFileOptions::default()).expect("a file begins");
        std::io::Write::write_all(&mut zip, text.as_bytes()).expect("written");
    }
    zip.finish().expect("a zip").into_inner()
}

#[tokio::test]
async fn of_a_districts_export_classes_are_chosen_and_only_their_children_come_in() {
    let server = server().await;
    server.child("Zed Q.", Instrument::Bass, 1).await;
    let file = district(&[("Choir", 6_000), ("Viola strings", 2), ("Band", 30)]);
    let (status, all) = import(&server, file.clone(), &[]).await;
    assert_eq!(status, StatusCode::OK, "{all}");
    assert_eq!((&all["rows"], &all["untouched"]), (&json!([]), &json!([])));
    insta::assert_snapshot!(all["needs"].as_str().expect("words"), @"There are 6032 rows in 3 groups of this file. Choose those that belong to this class.");
    let chosen: Vec<&Value> = all["groups"].as_array().expect("groups").iter().map(|group| &group["chosen"]).collect();
    assert_eq!(chosen, [false, false, false]);
    let how = [("groups", r#"["Viola strings"]"#)];
    let (_, preview) = import(&server, file.clone(), &how).await;
    assert_eq!((&preview["new"], &preview["untouched"]), (&json!(2), &json!(["Zed Q."])));
    let digest = preview["digest"].as_str().expect("a digest");
    let (status, done) = import(&server, file, &[how[0], ("digest", digest)]).await;
    assert_eq!((status, names(&server).await.len()), (StatusCode::OK, 3), "{done}");
    // Without classes to choose among the file has to be smaller.
    let long = format!("Name,Instrument\n{}", "Ada,violin\n".repeat(5_001));
    let (_, long) = import(&server, long, &[]).await;
    insta::assert_snapshot!(long["needs"].as_str().expect("words"), @"There are 5001 rows; 5000 can be shown. Export only the children of this class, or say which column holds their class or group.");
}

#[tokio::test]
async fn who_reads_lines_is_answered_in_lines_and_an_agreement_by_its_status() {
    let server = server().await;
    let ask = async |query: &[(&str, &str)]| {
        let request = server.client.post(server.path("/roster/import")).query(&[("mapping", MEANS)]).query(query);
        let request = request.header("content-type", "application/octet-stream");
        let request = request.header("accept", "application/x-ndjson, application/json").body(FILE);
        let answer = request.send().await.expect("an answer");
        let kind = answer.headers()["content-type"].to_str().expect("text").to_owned();
        (answer.status(), kind, answer.text().await.expect("text"))
    };
    let (status, kind, lines) = ask(&[]).await;
    assert_eq!((status, kind.as_str()), (StatusCode::OK, "application/x-ndjson"));
    let last: Value = serde_json::from_str(lines.lines().last().expect("a line")).expect("JSON");
    assert_eq!((&last["status"], &last["answer"]["new"]), (&json!(200), &json!(2)));
    let (status, _, refused) = ask(&[("groups", "[")]).await;
    assert_eq!(status, StatusCode::OK);
    assert!(refused.lines().last().is_some_and(|line| line.starts_with("{\"status\":422,")), "{refused}");
    // A file with another digest: nothing is stored, and the status says so.
    let (status, kind, _) = ask(&[("digest", "another")]).await;
    assert_eq!((status, kind.as_str()), (StatusCode::CONFLICT, "application/problem+json"));
    let digest = last["answer"]["digest"].as_str().expect("a digest");
    let (status, kind, _) = ask(&[("digest", digest)]).await;
    assert_eq!((status, kind.as_str()), (StatusCode::OK, "application/json"));
    assert_eq!(names(&server).await.len(), 2);
}

#[tokio::test]
async fn files_that_cannot_be_a_roster_are_told_beside_the_file() {
    let server = server().await;
    let mut lines = Vec::new();
    for bytes in [&b""[..], b"PK\x03\x04 broken", b"%PDF-1.4", b"Height\n140\n"] {
        let (status, answer) = import(&server, bytes.to_vec(), &[]).await;
        let words = answer["errors"][0]["detail"].as_str().or(answer["needs"].as_str());
        lines.push(format!("{} {}", status.as_u16(), words.unwrap_or_default()));
    }
    let (status, answer) = import(&server, vec![b'a'; 33 * 1024 * 1024], &[]).await;
    lines.push(format!("{} {}", status.as_u16(), answer["detail"].as_str().expect("a detail")));
    insta::assert_snapshot!(lines.join("\n"), @r"
    422 The file is empty. Save it again from the spreadsheet as CSV.
    422 The zip cannot be opened: it is broken or not a zip. Export it again; nothing was changed.
    422 This is not a text file but a PDF. In the spreadsheet choose Save as, CSV.
    200 Say which column holds the children's names.
    413 The file is larger than 32 MB: export only the rows and columns that matter. Nothing was changed.
    ");
}

#[tokio::test]
async fn a_child_that_leaves_keeps_its_history_and_comes_back_to_it() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    server.observe(&[look(child, "hold.size", 3, 7)]).await;
    let go = async |body: Value| {
        let path = server.path(&format!("/children/{child}/membership"));
        server.status(&server.client, Method::POST, &path, Some(&body)).await
    };
    assert_eq!(go(json!("left")).await, StatusCode::NO_CONTENT);
    assert_eq!(server.get("/room").await["children"], json!([]));
    assert_eq!(server.get("/roster").await["left"][0]["leftOn"], "2026-11-03");
    assert_eq!(go(json!("here")).await, StatusCode::NO_CONTENT);
    let room = server.get("/room").await;
    assert!(room["children"][0]["strings"][0]["glow"].as_f64() > Some(0.0));
    assert!(room["children"][0].get("seat").is_none(), "somebody else may sit there by now");
}

#[tokio::test]
async fn a_child_moves_to_another_class_with_everything_that_was_seen() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    server.observe(&[look(child, "hold.size", 3, 7)]).await;
    let class = json!({
        "id": uuid::Uuid::now_v7(), "programId": server.key.program, "name": "Friday strings", "timeZone": "Europe/Dublin",
        "firstDay": "2026-09-01", "lastDay": "2027-06-01", "meetingDays": [5],
    });
    let added = server.client.post(format!("{}/api/classes", server.url)).json(&class).send().await.expect("an answer");
    let other = added.json::<Value>().await.expect("JSON")["id"].as_str().expect("an id").to_owned();
    let rhythm = json!({
        "alone": 9, "lasting": 14, "longest": 30, "tapesFirst": 3, "tapesLater": 8, "mustSeeAfter": 5, "visitSeconds": 5,
        "maxChecks": 2,
    });
    let set = format!("{}/api/classes/{other}/rhythm", server.url);
    assert_eq!(server.status(&server.client, Method::PUT, &set, Some(&rhythm)).await, StatusCode::NO_CONTENT);
    let old = standings::of_class(&server.db, server.key).await.expect("standings");
    let before = old[&child].values().next().map(|standing| standing.interval);
    let path = server.path(&format!("/children/{child}/membership"));
    let moved = server.status(&server.client, Method::POST, &path, Some(&json!({ "class": other }))).await;
    assert_eq!(moved, StatusCode::NO_CONTENT);
    let room = format!("{}/api/classes/{other}/room", server.url);
    let room: Value = server.client.get(room).send().await.expect("an answer").json().await.expect("JSON");
    assert!(room["children"][0]["strings"][0]["glow"].as_f64() > Some(0.0));
    // Its standings follow from the settings of the new class, whose intervals are others.
    let id = uuid::Uuid::parse_str(&other).expect("an id").into();
    server.assert_caches().await;
    let kept = standings::of_class(&server.db, ClassKey { class: id, ..server.key }).await.expect("standings");
    let interval = |of: &standings::Standings| of[&child].values().next().map(|standing| standing.interval);
    assert_ne!(interval(&kept), before, "the interval is the new class's");
    let gone = server.status(&server.client, Method::GET, &server.path(&format!("/children/{child}")), None).await;
    assert_eq!(gone, StatusCode::NOT_FOUND);
    let nowhere = json!({ "class": uuid::Uuid::now_v7() });
    assert_eq!(server.status(&server.client, Method::POST, &path, Some(&nowhere)).await, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn another_instrument_asks_again_only_for_what_means_something_else_on_it() {
    let server = server().await;
    let child = server.child("Ada K.", Instrument::Violin, 1).await;
    // Worded alike for violin and viola, but not for the cello.
    server
        .observe(&[look(child, "hold.size", 4, 5), look(child, "hold.rest", 4, 5), look(child, "bow.alone", 4, 5)])
        .await;
    let change = async |instrument: &str| {
        let path = server.path(&format!("/children/{child}"));
        let body = json!({ "name": "Ada K.", "instrument": instrument });
        assert_eq!(server.status(&server.client, Method::PUT, &path, Some(&body)).await, StatusCode::NO_CONTENT);
        server.get(&format!("/children/{child}")).await
    };
    let page = change("viola").await;
    let state = |page: &Value, id: &str| standing(page, id).expect("a standing")["recheck"]["state"].clone();
    assert_eq!((state(&page, "hold.size"), state(&page, "hold.rest")), (json!("fresh"), json!("fresh")));
    let page = change("cello").await;
    assert_eq!((state(&page, "hold.size"), state(&page, "hold.rest")), (json!("due"), json!("due")));
    assert_eq!(standing(&page, "hold.size").expect("a standing")["level"], 4, "the standing stays");
    server.observe(&[look(child, "hold.size", 3, 0)]).await;
    let page = server.get(&format!("/children/{child}")).await;
    assert_eq!(state(&page, "hold.size"), json!("fresh"), "looked at on the new instrument");
}

#[tokio::test]
async fn removing_a_childs_data_leaves_nothing_of_it_in_any_table() {
    let server = server().await;
    agree(&server, FILE, &[("mapping", MEANS)]).await;
    let roster = server.get("/roster").await;
    let id = roster["children"][0]["id"].as_str().expect("an id").to_owned();
    let child: ChildId = serde_json::from_value(roster["children"][0]["id"].clone()).expect("an id");
    let kept = roster["children"][1]["id"].as_str().expect("an id").to_owned();
    let put = async |method: Method, rest: &str, body: Value| {
        let status = server.status(&server.client, method, &server.path(rest), Some(&body)).await;
        assert!(status.is_success(), "{rest} {status}");
    };
    let asset = uuid::Uuid::now_v7();
    let viola =
        json!({ "tag": "A-1", "instrument": "viola", "size": "13", "condition": "good", "bow": true, "case": true });
    put(Method::PUT, &format!("/instruments/{asset}"), viola).await;
    put(Method::POST, "/loans", json!({ "pairs": [{ "child": child, "asset": asset }] })).await;
    put(Method::POST, &format!("/children/{id}/measurings"), json!({ "id": uuid::Uuid::now_v7(), "armMm": 550 })).await;
    let found = json!({ "id": uuid::Uuid::now_v7(), "part": "support", "words": "sponge" });
    put(Method::POST, &format!("/children/{id}/findings"), found).await;
    put(Method::PUT, &format!("/children/{id}"), json!({ "name": "Ada K.", "instrument": "violin" })).await;
    let seats = json!({ "room": { "widthMm": 9000, "depthMm": 9000, "rows": [2] },
        "seats": [{ "child": id, "row": 1, "seat": 1 }, { "child": kept, "row": 1, "seat": 2 }] });
    put(Method::PUT, "/seats", seats).await;
    server.observe(&[look(child, "hold.size", 3, 0), look(child, "tape.measured", 3, 0)]).await;
    let event = json!({ "id": uuid::Uuid::now_v7(), "round": uuid::Uuid::now_v7(), "kind": "absent", "device": "tablet",
        "at": support::now(), "children": [{ "child": child }] });
    put(Method::POST, "/round/events", json!({ "events": [event] })).await;

    // People write names down where nobody asks for them.
    let other: bright_row_core::ChildId = kept.parse::<uuid::Uuid>().expect("an id").into();
    let mut beside = look(other, "hold.rest", 3, 0);
    (beside["says"], beside["note"]) = (json!("hurts"), json!("sat beside Ada K., who lent a pad"));
    server.observe(std::slice::from_ref(&beside)).await;
    let answered = format!("/children/{kept}/pain/{}", beside["id"].as_str().expect("an id"));
    put(Method::POST, &answered, json!({ "done": "swapped with ADA K." })).await;
    put(
        Method::PUT,
        &format!("/children/{kept}/accommodations/hold.tall"),
        json!({ "lookFor": "", "reason": "as Ada K. does" }),
    )
    .await;
    let lesson =
        json!({ "blocks": [{ "kind": "book", "minutes": 5, "line": "Ada K. leads" }], "aims": ["Ada K.: bow"] });
    put(Method::PUT, "/lessons/2026-11-05", lesson).await;
    let asset = uuid::Uuid::now_v7();
    let violin = json!({ "tag": "V-1", "instrument": "violin", "size": "1/2", "condition": "fair", "bow": true, "case": true,
        "conditionNote": "dropped by Ada K., not by Adam K" });
    put(Method::PUT, &format!("/instruments/{asset}"), violin).await;

    assert_eq!(server.remove(&id, "Ada").await, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(everywhere(&server, &id).await.len() >= 10, "it was in every table about children");
    assert_eq!(server.remove(&id, "Ada K.").await, StatusCode::NO_CONTENT);
    // That something was removed is noted, by an id that leads nowhere any more.
    assert_eq!(everywhere(&server, &id).await, ["audit"]);
    assert_eq!(everywhere(&server, "Ada K.").await, Vec::<String>::new());
    assert_eq!(names(&server).await, ["Ben O., cello, 6"]);
    assert!(!everywhere(&server, &kept).await.is_empty());
}

/// Every table in which some column of some row holds this text.
async fn everywhere(server: &Server, text: &str) -> Vec<String> {
    let rows = |sql: String| async move {
        let statement = sea_orm::Statement::from_string(server.db.get_database_backend(), sql);
        server.db.query_all_raw(statement).await.expect("rows")
    };
    let tables = "select table_name::text from information_schema.tables \
                  where table_schema = current_schema() and table_type = 'BASE TABLE' order by 1";
    let mut found = Vec::new();
    for table in rows(tables.to_owned()).await {
        let table: String = table.try_get_by_index(0).expect("a name");
        let sql = format!("select 1 from {table} as t where to_jsonb(t)::text ilike '%{text}%' limit 1");
        if !rows(sql).await.is_empty() {
            found.push(table);
        }
    }
    found
}
