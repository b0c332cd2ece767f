//! A program could stand on a machine of its own: whatever is a program's is keyed by it, and a statement asks one program. Proved over
//! the catalogue, and over what the server really sends: the database itself says how it would look each table up.

mod support;

use std::collections::{BTreeMap, BTreeSet};
use std::sync::{Arc, Mutex};

use bright_row_store::database::{connect, connect_for_sessions};
use bright_row_store::tables;
use bright_row_store::{ConnectionTrait, DatabaseConnection, TransactionTrait};
use reqwest::{Client, Method};
use sea_orm::Statement;
use serde_json::{Value, json};
use support::people::School;
use support::{database, look};
use uuid::Uuid;

/// Statements that ask more than one program, by something only they say; and why.
const ACROSS: [(&str, &str); 7] = [
    (
        "($2::uuid is null or c.class_id = $2)",
        "which classes somebody may open, and whose a class is: once a class and process",
    ),
    ("from membership m join program p using (program_id)", "which programs somebody is in, when signing in"),
    ("SELECT \"class\".\"program_id\"", "whether an id is free, when a class is made"),
    ("SELECT \"invitation\".\"program_id\"", "links made before links named their program"),
    ("SELECT \"calendar_address\".\"program_id\"", "addresses made before addresses named their program"),
    ("SELECT \"program\".\"program_id\"", "every program in turn, for what is due by its retention"),
    ("DELETE FROM \"membership\" WHERE \"membership\".\"until\"", "substitutes whose time is over, once an hour"),
];

type Heard = Arc<Mutex<BTreeSet<String>>>;

async fn heard(heard: &Heard, address: &str) -> DatabaseConnection {
    let mut db = connect(address).await.expect("the database answers");
    let heard = Arc::clone(heard);
    db.set_metric_callback(move |info| {
        heard.lock().expect("whole").insert(info.statement.sql.clone());
    });
    db
}

/// A school whose statements are written down from here on.
async fn overheard(log: &Heard) -> School {
    let address = database().await;
    let sessions = connect_for_sessions(&address).await.expect("the database answers");
    School::over(heard(log, &address).await, sessions, &address, |options| options).await
}

/// Every example of the description.
async fn send_examples(log: &Heard) {
    let school = overheard(log).await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    for (operation, body) in bright_row::router::examples() {
        let (method, path) = operation.split_once(' ').expect("a method and a path");
        let path = filled(&school, path, child.uuid());
        school.send(&owner, method.parse().expect("a method"), &path, Some(&body)).await;
    }
}

fn filled(school: &School, path: &str, child: Uuid) -> String {
    path.replace("{class}", &school.key.class.to_string())
        .replace("{program}", &school.key.program.to_string())
        .replace("{child}", &child.to_string())
        .replace("{asset}", &Uuid::now_v7().to_string())
        .replace("{day}", "2026-11-05")
        .replace("{checkpoint}", "hold.tall")
        .replace("{stage}", "hold.2")
}

/// Everything that is read, the changes of a day, a link that is taken, and a class that comes to its end.
async fn send_everything_else(log: &Heard) {
    let school = overheard(log).await;
    let owner = school.sign_in("owner@one.example").await;
    let child = school.child("Ada K.").await;
    let send = async |client: &Client, method: Method, path: String, body: Value| {
        school.send(client, method, &path, Some(&body)).await
    };
    let observations = json!({ "observations": [look(child, "hold.size", 3, 7), look(child, "tape.holding", 3, 7), look(child, "hold.size", 2, 9)] });
    send(&owner, Method::POST, school.of_class("/observations"), observations).await;
    let undone = look(child, "bow.pluck", 3, 1);
    let undo = support::undo(&undone);
    send(&owner, Method::POST, school.of_class("/observations"), json!({ "observations": [undone, undo] })).await;
    let event = json!({ "events": [{ "id": Uuid::now_v7(), "round": Uuid::now_v7(), "kind": "start", "device": "tablet-1",
                                     "at": school.now(), "detail": { "minutes": 9 },
                                     "children": [{ "child": child, "checks": ["hold.2"] }] }] });
    send(&owner, Method::POST, school.of_class("/round/events"), event).await;
    let invited = json!({ "role": "substitute", "name": "Ms Quill", "classes": [school.key.class] });
    let (secret, _) = school.invite(&owner, &invited).await;
    let substitute = support::browser();
    for path in ["/api/links/invitation/look", "/api/links/invitation"] {
        let answer = send(&substitute, Method::POST, path.to_owned(), json!({ "secret": secret })).await;
        assert!(answer.0.is_success(), "{answer:?}");
    }
    send(&substitute, Method::POST, "/api/links/invitation/look".to_owned(), json!({ "secret": "of before" })).await;
    let class = json!({ "id": Uuid::now_v7(), "programId": school.key.program, "name": "Friday strings", "timeZone": "Europe/Dublin",
                        "firstDay": "2026-09-01", "lastDay": "2027-06-18", "meetingDays": [5] });
    let added = send(&owner, Method::POST, "/api/classes".to_owned(), class).await;
    assert!(added.0.is_success(), "{added:?}");
    let (_, calendar) = send(&owner, Method::POST, school.of_class("/calendar/address"), json!({})).await;
    school.get(&substitute, calendar["path"].as_str().expect("a path")).await;

    let described: Value = serde_json::from_str(&bright_row::router::openapi_json()).expect("JSON");
    let paths = described["paths"].as_object().expect("paths");
    for method in [Method::GET, Method::POST, Method::PUT, Method::DELETE] {
        let verb = method.as_str().to_lowercase();
        // What ends a class or a session comes last, as the paths happen to come.
        for (path, _) in paths.iter().filter(|(path, of)| of.get(&verb).is_some() && !path.ends_with("/live")) {
            if method == Method::DELETE && path == "/api/session" {
                continue;
            }
            let path = filled(&school, path, child.uuid());
            let nothing = Uuid::now_v7().to_string();
            let path: Vec<&str> =
                path.split('/').map(|part| if part.starts_with('{') { &nothing } else { part }).collect();
            send(&owner, method.clone(), path.join("/"), json!({ "observations": [], "name": "Ada K." })).await;
        }
    }
}

/// Whether a step of a plan that reads a table asks for one program there, or for the one that another table gave it.
fn names_program(step: &Value, above: &[&Value]) -> bool {
    let condition = |step: &Value, key: &str| {
        step[key]
            .as_str()
            .is_some_and(|said| said.contains("program_id = ") || said.contains("program_id IS NOT DISTINCT"))
    };
    let own = ["Index Cond", "Recheck Cond", "Filter"].iter().any(|key| condition(step, key));
    let beside =
        above.iter().any(|step| ["Join Filter", "Hash Cond", "Merge Cond"].iter().any(|key| condition(step, key)));
    // A bitmap says its condition in the step below it.
    let below = step["Plans"].as_array().is_some_and(|steps| steps.iter().any(|step| condition(step, "Index Cond")));
    own || beside || below
}

/// The tables of programs that a plan reads without asking for one program.
fn strays<'a>(
    step: &'a Value,
    above: &mut Vec<&'a Value>,
    of_program: &BTreeSet<String>,
    found: &mut BTreeSet<String>,
) {
    if let Some(table) = step["Relation Name"].as_str() {
        let reads = step["Node Type"].as_str() != Some("ModifyTable");
        if reads && of_program.contains(table) && !names_program(step, above) {
            found.insert(table.to_owned());
        }
    }
    above.push(step);
    for below in step["Plans"].as_array().into_iter().flatten() {
        strays(below, above, of_program, found);
    }
    above.pop();
}

/// How the database would run a statement whatever its values are; `None` for what it has no plan for.
async fn plan(db: &DatabaseConnection, sql: &str) -> Option<Value> {
    let first = sql.split_whitespace().next().unwrap_or_default().to_lowercase();
    if !["select", "insert", "update", "delete", "with"].contains(&first.as_str()) {
        return None;
    }
    let values = (1..100).rev().find(|number| sql.contains(&format!("${number}"))).unwrap_or(0);
    let tx = db.begin().await.expect("a transaction");
    // By index wherever there is one: of a few rows the database would rather read all.
    let set = "set local plan_cache_mode = force_generic_plan; set local enable_seqscan = off;
               set local enable_hashjoin = off; set local enable_mergejoin = off";
    tx.execute_unprepared(set).await.expect("set");
    tx.execute_unprepared(&format!("prepare overheard as {sql}"))
        .await
        .unwrap_or_else(|error| panic!("{sql}: {error}"));
    let nulls = vec!["null"; values].join(", ");
    let given = if values == 0 { String::new() } else { format!("({nulls})") };
    let explain =
        Statement::from_string(tx.get_database_backend(), format!("explain (format json) execute overheard{given}"));
    let row = tx.query_one_raw(explain).await.unwrap_or_else(|error| panic!("{sql}: {error}")).expect("a plan");
    tx.execute_unprepared("deallocate overheard").await.expect("forgotten");
    Some(row.try_get_by_index::<Value>(0).expect("JSON")[0]["Plan"].clone())
}

#[tokio::test]
async fn every_statement_asks_one_program_but_the_few_that_find_out_which() {
    let log = Heard::default();
    send_examples(&log).await;
    send_everything_else(&log).await;
    let statements = log.lock().expect("whole").clone();
    let db = connect(&database().await).await.expect("the database answers");
    let of_program: BTreeSet<String> = tables::all(&db)
        .await
        .expect("tables")
        .into_iter()
        .filter(|table| table.of_program)
        .map(|table| table.name)
        .collect();
    let (mut planned, mut used, mut across) = (0, BTreeSet::new(), Vec::new());
    for sql in &statements {
        let Some(plan) = plan(&db, sql).await else { continue };
        planned += 1;
        let mut found = BTreeSet::new();
        strays(&plan, &mut Vec::new(), &of_program, &mut found);
        if found.is_empty() {
            continue;
        }
        match ACROSS.iter().find(|(says, _)| sql.contains(says)) {
            Some((says, _)) => {
                used.insert(*says);
            }
            None => across.push(format!("{found:?}: {sql}")),
        }
    }
    assert!(across.is_empty(), "{} of {planned} ask more than one program:\n{}", across.len(), across.join("\n\n"));
    assert!(planned > 150, "{planned} of {}: the server was heard", statements.len());
    let all: BTreeSet<&str> = ACROSS.iter().map(|(says, _)| *says).collect();
    assert_eq!(used, all, "an exception that nothing needs goes");
}

#[tokio::test]
async fn every_unique_index_of_a_program_holds_it_and_refers_to_the_same_program() {
    let school = School::new().await;
    let strays = school
        .texts(
            "with of_program as (select attrelid as id, attnum as column from pg_attribute where attname = 'program_id')
             select format('%s is unique without its program', i.indexrelid::regclass)
             from pg_index i join of_program t on t.id = i.indrelid
             where i.indisunique and not t.column = any (i.indkey::int2[])
             union all
             select format('%s goes to another program', k.conname)
             from pg_constraint k join of_program here on here.id = k.conrelid join of_program there on there.id = k.confrelid
             where k.contype = 'f'
               and not exists (select from unnest(k.conkey, k.confkey) as pair (mine, other)
                               where mine = here.column and other = there.column)
             union all
             select format('%s refers to a program from outside', k.conname)
             from pg_constraint k join of_program there on there.id = k.confrelid
             where k.contype = 'f' and not exists (select from of_program here where here.id = k.conrelid)",
        )
        .await;
    assert_eq!(strays, Vec::<String>::new());
}

#[tokio::test]
async fn the_statements_for_citus_name_every_table_in_an_order_in_which_each_comes_after_those_it_refers_to() {
    let school = School::new().await;
    let text = include_str!("../../../deploy/citus.sql");
    let (_, listed) = text.split_once("from unnest(array[\n").expect("the list of tables");
    let (listed, _) = listed.split_once("])").expect("its end");
    let listed: Vec<&str> = listed.split('\'').skip(1).step_by(2).collect();
    let mut kinds: BTreeMap<bool, Vec<String>> = BTreeMap::new();
    for table in tables::all(&school.app.db).await.expect("tables") {
        kinds.entry(table.of_program).or_default().push(table.name);
    }
    let of_program: Vec<&str> = kinds[&true].iter().map(String::as_str).filter(|name| *name != "program").collect();
    assert_eq!(listed, of_program);
    for other in &kinds[&false] {
        assert!(text.contains(&format!("'{other}'")), "{other} is a person's: on every node, or by its key");
    }
}
