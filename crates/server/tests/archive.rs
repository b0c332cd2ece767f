//! What leaves whole: one child's record for a family, one program's archive for another server; and automatic backups.

mod support;

use std::collections::BTreeMap;
use std::io::{Cursor, Read, Write};
use std::path::{Path, PathBuf};

use bright_row::automatic_backup::{daily, in_folder};
use bright_row::state::Backups;
use bright_row_store::database::connect;
use bright_row_store::{accounts, archive, tables};
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use sha2::Digest;
use support::people::School;
use support::{database, fresh_name, look};
use uuid::Uuid;

/// The files of a zip, by name.
type Files = BTreeMap<String, Vec<u8>>;

async fn bytes(school: &School, client: &Client, path: &str) -> (StatusCode, Vec<u8>) {
    let answer = client.get(format!("{}{path}", school.url)).send().await.expect("an answer");
    (answer.status(), answer.bytes().await.expect("a body").to_vec())
}

/// A child of whom every kind of thing is kept.
async fn much_of_a_child(school: &School, owner: &Client) -> bright_row_core::ChildId {
    let child = school.child("Ada K.").await;
    let mut hurts = look(child, "hold.size", 1, 3);
    hurts["says"] = json!("hurts");
    hurts["note"] = json!("the left shoulder, after the third song");
    let observations = json!({ "observations": [hurts, look(child, "hold.tall", 3, 2)] });
    let of_child = |rest: &str| school.of_class(&format!("/children/{child}{rest}"));
    let pain = observations["observations"][0]["id"].as_str().expect("an id");
    for (method, path, body) in [
        (Method::POST, school.of_class("/observations"), observations.clone()),
        (Method::POST, of_child(&format!("/pain/{pain}")), json!({ "done": "Rested, and a smaller size." })),
        (Method::POST, of_child("/measurings"), json!({ "id": Uuid::now_v7(), "armMm": 480.0 })),
        (
            Method::PUT,
            of_child("/accommodations/bow.little"),
            json!({ "lookFor": "Rests straight", "reason": "A short finger" }),
        ),
    ] {
        let (status, answer) = school.send(owner, method, &path, Some(&body)).await;
        assert!(status.is_success(), "{path}: {status} {answer}");
    }
    child
}

#[tokio::test]
async fn a_familys_record_holds_every_row_that_names_the_child_and_no_grown_up() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let child = much_of_a_child(&school, &owner).await;
    school.child("Ben O.").await;
    let record = school.get(&owner, &school.of_class(&format!("/children/{child}/record.json"))).await;
    assert_eq!((&record["brightRowChildRecord"], &record["name"]), (&json!(1), &json!("Ada K.")));
    let mut named = 0;
    for table in tables::all(&school.app.db).await.expect("tables") {
        if !table.columns.iter().any(|column| column == "child_id") {
            continue;
        }
        let kept = school.rows(&format!("\"{}\" where child_id = '{child}'", table.name)).await;
        let listed = record["tables"][&table.name].as_array().map_or(0, Vec::len);
        assert_eq!(i64::try_from(listed).expect("a number"), kept, "{}", table.name);
        named += kept;
    }
    assert!(named >= 7, "{named} rows name the child");
    let text = record.to_string();
    let grown_up =
        accounts::by_email(&school.app.db, "owner@one.example").await.expect("an answer").expect("the owner");
    assert!(text.contains("the left shoulder") && !text.contains("Ben O.") && !text.contains(&grown_up.id.to_string()));

    let (status, pdf) = bytes(&school, &owner, &school.of_class(&format!("/children/{child}/record.pdf"))).await;
    assert!(status == StatusCode::OK && pdf.starts_with(b"%PDF"));
    let assistant = school.sign_in("assistant@one.example").await;
    for form in ["json", "pdf"] {
        let path = school.of_class(&format!("/children/{child}/record.{form}"));
        assert_eq!(bytes(&school, &assistant, &path).await.0, StatusCode::FORBIDDEN, "{form}");
    }
    // A family may also ask when the class is over.
    school.send(&owner, Method::POST, &school.of_class("/archive"), None).await;
    let path = school.of_class(&format!("/children/{child}/record.json"));
    assert_eq!(bytes(&school, &owner, &path).await.0, StatusCode::OK);
    let audit = school.get(&owner, &school.of_program("/audit")).await;
    let taken_out =
        audit["entries"].as_array().into_iter().flatten().filter(|entry| entry["word"] == "child-taken-out");
    assert_eq!(taken_out.count(), 3);
}

fn unpacked(zip: &[u8]) -> Files {
    let mut zip = zip::ZipArchive::new(Cursor::new(zip)).expect("a zip");
    let mut files = BTreeMap::new();
    for number in 0..zip.len() {
        let mut file = zip.by_index(number).expect("a file");
        let mut bytes = Vec::new();
        file.read_to_end(&mut bytes).expect("bytes");
        files.insert(file.name().expect("a name").into_owned(), bytes);
    }
    files
}

fn packed(files: &Files) -> Vec<u8> {
    let mut zip = zip::ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        zip.start_file(name, zip::write::SimpleFileOptions::default()).expect("a file");
        zip.write_all(bytes).expect("written");
    }
    zip.finish().expect("a zip").into_inner()
}

/// The same files with other words in one of them.
fn reworded(files: &mut Files, name: &str, from: &str, to: &str) {
    let text = String::from_utf8(files[name].clone()).expect("a text");
    assert!(text.contains(from), "{name} has {from}");
    files.insert(name.to_owned(), text.replace(from, to).into_bytes());
}

/// With the checksum that a file has now.
fn resigned(files: &mut Files, name: &str) {
    let sum = bright_row::digest::hex(&sha2::Sha256::digest(&files[name]));
    let mut contents: Value = serde_json::from_slice(&files["archive.json"]).expect("contents");
    let of = contents["files"].as_array_mut().expect("files").iter_mut().find(|file| file["name"] == name).expect("it");
    of["sha256"] = json!(sum);
    files.insert("archive.json".to_owned(), contents.to_string().into_bytes());
}

fn written(folder: &Path, bytes: &[u8]) -> PathBuf {
    let path = folder.join(fresh_name());
    std::fs::write(&path, bytes).expect("written");
    path
}

/// Every row of a program, people among them.
async fn rows_of(url: &str, program: bright_row_core::ProgramId) -> Vec<String> {
    let db = connect(url).await.expect("the database answers");
    let mut rows = Vec::new();
    let taken = archive::dump(&db, program, |table, row| {
        // What was noted of taking it out and bringing it in is each server's own.
        if table != "audit" {
            rows.push(format!("{table} {row}"));
        }
        Ok::<_, bright_row_store::StoreError>(())
    });
    taken.await.expect("every row");
    rows
}

#[tokio::test]
async fn a_program_comes_back_on_another_server_row_by_row() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    much_of_a_child(&school, &owner).await;
    support::school(&school.app.db, "owner@two.example", "assistant@two.example").await;
    bright_row::caches::rebuild_old(&school.app.db, &bright_row::content::embedded()).await.expect("by these rules");
    let (status, zip) = bytes(&school, &owner, &school.of_program("/archive.zip")).await;
    assert_eq!(status, StatusCode::OK);
    let files = unpacked(&zip);
    let all: String = files.values().map(|bytes| String::from_utf8_lossy(bytes)).collect();
    assert!(all.contains("Ada K.") && !all.contains("two.example") && !all.contains("argon2"));
    every_row_is_of_its_schema(&files);

    let folder = std::env::temp_dir().join(fresh_name());
    std::fs::create_dir(&folder).expect("a folder");
    let (here, there) = (school.database.clone(), database().await);
    let brought = bright_row::archive::bring_in(&there, &written(&folder, &zip)).await.expect("brought in");
    let mut without_password = brought.without_password;
    without_password.sort();
    assert_eq!(without_password, ["assistant@one.example", "owner@one.example"]);
    assert_eq!(rows_of(&there, school.key.program).await, rows_of(&here, school.key.program).await);
    let again = bright_row::archive::bring_in(&there, &written(&folder, &zip)).await.expect_err("it is there");
    insta::assert_snapshot!(again, @"Test strings is on this server already. Nothing was changed; an owner can delete it there first, with everything of it.");
    std::fs::remove_dir_all(&folder).expect("cleared away");
}

fn every_row_is_of_its_schema(files: &Files) {
    let schema: Value = serde_json::from_slice(&files["schema.json"]).expect("a schema");
    let mut rows = 0;
    for (name, bytes) in files.iter().filter(|(name, _)| name.starts_with("tables/")) {
        let table = name.trim_start_matches("tables/").trim_end_matches(".jsonl");
        let shape = schema["$defs"][table]["properties"].as_object().expect("a shape");
        for line in String::from_utf8_lossy(bytes).lines() {
            let row: Value = serde_json::from_str(line).expect("a row");
            let row = row.as_object().expect("an object");
            assert_eq!(row.keys().collect::<Vec<_>>(), shape.keys().collect::<Vec<_>>(), "{table}");
            for (column, value) in row {
                let types = shape[column]["type"].clone();
                let types = types.as_array().cloned().unwrap_or_else(|| vec![types.clone()]);
                let is = match value {
                    Value::Null => "null",
                    Value::Bool(_) => "boolean",
                    Value::Number(number) if number.is_f64() => "number",
                    Value::Number(_) => "integer",
                    Value::String(_) => "string",
                    Value::Array(_) => "array",
                    Value::Object(_) => "object",
                };
                let fits =
                    types.iter().any(|kind| kind.is_null() || kind == is || (kind == "number" && is == "integer"));
                assert!(fits, "{table}.{column}: {value} is not of {types:?}");
            }
            rows += 1;
        }
    }
    assert!(rows > 10, "{rows} rows");
}

#[tokio::test]
async fn an_archive_that_was_cut_changed_or_made_up_is_refused_and_nothing_is_kept_of_it() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    much_of_a_child(&school, &owner).await;
    let (_, zip) = bytes(&school, &owner, &school.of_program("/archive.zip")).await;
    let folder = std::env::temp_dir().join(fresh_name());
    std::fs::create_dir(&folder).expect("a folder");
    let there = database().await;
    let files = unpacked(&zip);
    let with = |change: &dyn Fn(&mut Files)| {
        let mut files = files.clone();
        change(&mut files);
        packed(&files)
    };
    let (program, other) = (school.key.program.to_string(), Uuid::now_v7().to_string());
    let mut said = Vec::new();
    for bytes in [
        b"nothing of ours".to_vec(),
        zip[..zip.len() / 2].to_vec(),
        with(&|files| drop(files.remove("archive.json"))),
        with(&|files| drop(files.remove("tables/child.jsonl"))),
        with(&|files| reworded(files, "tables/child.jsonl", "Ada K.", "Eve K.")),
        with(&|files| {
            reworded(files, "tables/child.jsonl", &program, &other);
            resigned(files, "tables/child.jsonl");
        }),
        with(&|files| {
            reworded(files, "tables/child.jsonl", "\"violin\"", "\"trumpet\"");
            resigned(files, "tables/child.jsonl");
        }),
        with(&|files| {
            files.insert("tables/account.jsonl".to_owned(), Vec::new());
            resigned(files, "tables/account.jsonl");
            reworded(files, "archive.json", "\"rows\":2", "\"rows\":0");
        }),
        with(&|files| reworded(files, "archive.json", "tables/child.jsonl", "tables/web_session.jsonl")),
        with(&|files| reworded(files, "archive.json", "brightRowArchive\": 1", "brightRowArchive\": 2")),
    ] {
        let refused = bright_row::archive::bring_in(&there, &written(&folder, &bytes)).await.expect_err("refused");
        said.push(refused.to_string());
    }
    insta::assert_snapshot!(said.join("\n"));
    let db = connect(&there).await.expect("the database answers");
    assert!(bright_row_store::copy::is_empty(&db).await.expect("an answer"));
    std::fs::remove_dir_all(&folder).expect("cleared away");
}

#[tokio::test]
async fn the_server_makes_one_backup_a_day_and_thins_the_old_ones_out() {
    let folder = std::env::temp_dir().join(fresh_name());
    std::fs::create_dir(&folder).expect("a folder");
    let (to, url) = (folder.clone(), database().await);
    let school = School::on(&url, |options| {
        let passphrase = bright_row::backup::passphrase(Some("copper lantern walks home")).expect("long enough");
        let backups = Backups { database_url: url.clone(), folder: to, passphrase };
        bright_row::state::Options { backups: Some(backups), ..options }
    });
    let school = school.await;
    std::fs::write(folder.join("of somebody else.txt"), "stays").expect("written");
    // Twenty days before this one; what is in them is nobody's business here.
    for day in 14..=31 {
        std::fs::write(folder.join(format!("bright-row-2026-10-{day}T030000Z.backup")), "").expect("written");
    }
    // A process ended while it made one, long ago; another one is at it.
    let begun = |moment: &str| folder.join(format!("bright-row-{moment}Z.{}.unfinished", Uuid::now_v7()));
    let (left, in_the_making) = (begun("2026-10-30T030000"), begun("2026-11-03T120000"));
    for file in [&left, &in_the_making] {
        std::fs::write(file, "half").expect("written");
    }
    // Two who clear at once, as the server's own hour may meet somebody's request: a day has one backup.
    tokio::join!(bright_row::serve::clear(&school.app), bright_row::serve::clear(&school.app));
    assert!(!left.exists() && in_the_making.exists());
    std::fs::remove_file(in_the_making).expect("a file");
    assert_eq!(daily(&school.app).await.expect("nothing to do"), None, "one a day");
    let days: Vec<String> = in_folder(&folder).expect("backups").keys().map(|at| at.date_naive().to_string()).collect();
    // Seven days, the last of each of the weeks before, the last of the month before.
    let kept = ["10-18", "10-25", "10-26", "10-27", "10-28", "10-29", "10-30", "10-31", "11-03"];
    assert_eq!(days, kept.map(|day| format!("2026-{day}")));
    let owner = school.sign_in("owner@one.example").await;
    let keeping = school.get(&owner, &school.of_program("/keeping")).await;
    assert_eq!(keeping["backup"]["provedAt"], keeping["backup"]["madeAt"]);
    assert_eq!(std::fs::read_dir(&folder).expect("a folder").count(), days.len() + 1, "nothing unfinished is left");
    std::fs::remove_dir_all(&folder).expect("cleared away");
}

/// A file sent as an import is, with whatever is agreed to in the query.
async fn taken(school: &School, owner: &reqwest::Client, query: &str, bytes: Vec<u8>) -> (StatusCode, Value) {
    let url = format!("{}{}{query}", school.url, school.of_program("/handover"));
    let sent = owner.post(url).header("content-type", "application/octet-stream").body(bytes).send();
    let answer = sent.await.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

#[tokio::test]
async fn a_class_is_handed_over_child_by_child_with_what_was_seen_and_nothing_of_anybody_else() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let (ada, ben) = (school.child("Ada K.").await, school.child("Ben O.").await);
    let mut sore = support::look(ada, "hold.rest", 3, 7);
    (sore["says"], sore["note"]) = (json!("hurts"), json!("Neck"));
    let looks =
        json!({ "observations": [sore, support::look(ada, "hold.size", 3, 7), support::look(ben, "hold.size", 2, 7)] });
    let observed = school.send(&owner, Method::POST, &school.of_class("/observations"), Some(&looks)).await;
    assert!(observed.0.is_success(), "{}", observed.1);
    let answers =
        json!({ "answers": [{ "id": Uuid::now_v7(), "child": ada, "days": 4, "at": "2026-11-03T11:00:00Z" }] });
    let answered = school.send(&owner, Method::POST, &school.of_class("/home/answers"), Some(&answers)).await;
    assert!(answered.0.is_success(), "{}", answered.1);
    let away = |rest: &str| format!("{}{}", school.url, school.of_class(rest));
    let out = owner.get(away(&format!("/handover.zip?children={ada}"))).send().await.expect("an answer");
    assert_eq!(out.status(), StatusCode::OK);
    let bytes = out.bytes().await.expect("bytes").to_vec();
    let plain = String::from_utf8_lossy(&unpacked(&bytes).into_values().flatten().collect::<Vec<u8>>()).into_owned();
    assert!(plain.contains("Ada K.") && plain.contains("Neck") && plain.contains("$schema"));
    for other in ["Ben O.", "owner@one.example", "assistant@one.example", "password_hash", "argon2"] {
        assert!(!plain.contains(other), "{other} is handed over");
    }

    // Another server, and another school on it.
    let there = School::new().await;
    let theirs = there.sign_in("owner@one.example").await;
    let (status, shown) = taken(&there, &theirs, "", bytes.clone()).await;
    assert_eq!(status, StatusCode::OK, "{shown}");
    assert_eq!((&shown["children"][0]["name"], &shown["children"][0]["observations"]), (&json!("Ada K."), &json!(2)));
    assert_eq!((shown["children"].as_array().map(Vec::len), shown.get("class")), (Some(1), None));
    assert_eq!(there.rows("child").await, 0, "it was only shown");
    let class = Uuid::now_v7();
    let agreed = format!("?digest={}&class={class}&children={ada}", shown["digest"].as_str().expect("a digest"));
    for _ in 0..2 {
        let (status, said) = taken(&there, &theirs, &agreed, bytes.clone()).await;
        assert_eq!((status, &said["class"]), (StatusCode::OK, &json!(class)), "{said}");
    }
    assert_eq!((there.rows("child").await, there.rows("observation").await), (1, 2), "once");
    let room = there.get(&theirs, &format!("/api/classes/{class}/room")).await;
    let here = &room["children"][0];
    assert_eq!((&here["name"], here["id"] != json!(ada)), (&json!("Ada K."), true));
    assert!(here["strings"][0]["flags"].as_array().expect("flags").contains(&json!("pain")), "{here}");
    let page =
        there.get(&theirs, &format!("/api/classes/{class}/children/{}", here["id"].as_str().expect("an id"))).await;
    assert_eq!((&page["pain"][0]["note"], &page["pain"][0]["seen"]["by"]), (&json!("Neck"), &json!("The director")));
    let checked = bright_row::caches::check(&there.app.db, &bright_row::content::embedded()).await.expect("checked");
    assert!(checked.other.is_empty(), "{:?}", checked.other);
    // The same children again, as another class.
    let again =
        format!("?digest={}&class={}&children={ada}", shown["digest"].as_str().expect("a digest"), Uuid::now_v7());
    assert_eq!(taken(&there, &theirs, &again, bytes.clone()).await.0, StatusCode::CONFLICT);
    assert_eq!(there.rows("class where name <> 'Wednesday strings'").await, 2, "nothing was changed");
    let assistant = there.sign_in("assistant@one.example").await;
    assert_eq!(taken(&there, &assistant, "", bytes).await.0, StatusCode::FORBIDDEN);
}

#[tokio::test]
async fn an_archive_of_a_class_that_was_changed_is_refused_and_changes_nothing() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let ada = school.child("Ada K.").await;
    let looks = json!({ "observations": [support::look(ada, "hold.size", 3, 7)] });
    school.send(&owner, Method::POST, &school.of_class("/observations"), Some(&looks)).await;
    let out = owner.get(format!("{}{}", school.url, school.of_class("/handover.zip"))).send().await.expect("an answer");
    let bytes = out.bytes().await.expect("bytes").to_vec();
    let with = |change: &dyn Fn(&mut Files)| {
        let mut files = unpacked(&bytes);
        change(&mut files);
        packed(&files)
    };
    let whole =
        owner.get(format!("{}{}", school.url, school.of_program("/archive.zip"))).send().await.expect("an answer");
    let mut said = Vec::new();
    for bytes in [
        b"what".to_vec(),
        whole.bytes().await.expect("bytes").to_vec(),
        with(&|files| drop(files.remove("archive.json"))),
        with(&|files| drop(files.remove("tables/child.jsonl"))),
        with(&|files| reworded(files, "tables/child.jsonl", "Ada K.", "Eve K.")),
        with(&|files| {
            reworded(files, "tables/child.jsonl", "violin", "theremin");
            resigned(files, "tables/child.jsonl");
        }),
        with(&|files| {
            let (from, to) = ("\"checklist_edits\": {\"data\": ", "\"checklist_edits\": {\"data\": 7, \"then\": ");
            reworded(files, "tables/class.jsonl", from, to);
            resigned(files, "tables/class.jsonl");
        }),
        with(&|files| {
            reworded(files, "tables/observation.jsonl", &ada.to_string(), &Uuid::now_v7().to_string());
            resigned(files, "tables/observation.jsonl");
        }),
    ] {
        let (shown_status, shown) = taken(&school, &owner, "", bytes.clone()).await;
        let digest = shown["digest"].as_str().unwrap_or_default();
        let class = Uuid::now_v7();
        let (status, answer) =
            taken(&school, &owner, &format!("?digest={digest}&class={class}&children={ada}"), bytes).await;
        let why = answer["errors"][0]["detail"].as_str().or(answer["detail"].as_str()).unwrap_or_default().to_owned();
        said.push(format!("{} then {} {why}", shown_status.as_u16(), status.as_u16()));
        assert_eq!(school.rows(&format!("class where class_id = '{class}'")).await, i64::from(status.is_success()));
    }
    insta::assert_snapshot!(said.join("\n"));
}
