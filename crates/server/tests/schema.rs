//! The schema: keyed by program, refused when it is not this build's; the command line says so in one sentence.

mod support;

use std::process::{Command, Output};

use bright_row_store::ConnectionTrait;
use bright_row_store::database::{Schema, connect, schema};
use support::{database, empty_database};
use tokio::net::{TcpListener, TcpStream};

fn bright_row(arguments: &[&str], database_url: &str) -> Output {
    Command::new(env!("CARGO_BIN_EXE_bright-row"))
        .args(arguments)
        .env("DATABASE_URL", database_url)
        .env("RUST_LOG", "off")
        .output()
        .expect("the program runs")
}

fn sentence(output: &Output) -> String {
    assert!(!output.status.success());
    String::from_utf8_lossy(&output.stderr).trim().to_owned()
}

#[tokio::test]
async fn every_key_begins_with_the_program_but_those_of_people() {
    let db = connect(&database().await).await.expect("the database answers");
    let strays = "
        do $$ begin
          if exists (
            select from pg_constraint k
            join pg_attribute a on a.attrelid = k.conrelid and a.attnum = k.conkey[1]
            where k.contype in ('p', 'u', 'f') and k.connamespace = current_schema()::regnamespace
              and a.attname <> 'program_id'
              -- People belong to no school; whoever observed is one of them.
              and k.conrelid not in ('account'::regclass, 'web_session'::regclass, 'sign_in_pause'::regclass,
                                     'recovery_code'::regclass, 'password_link'::regclass, 'known_device'::regclass,
                                     'passkey'::regclass, 'backup_note'::regclass, 'seaql_migrations'::regclass)
              and k.confrelid <> 'account'::regclass
          ) then raise exception 'a key does not begin with program_id'; end if;
        end $$";
    db.execute_unprepared(strays).await.expect("every key begins with program_id");
}

/// An address of the database where the first who asks are turned away, as while it starts.
async fn that_starts_slowly(url: &str, turns_away: usize) -> String {
    let there =
        url.split_once('@').expect("an address with a password").1.split_once('/').expect("a database").0.to_owned();
    let here = TcpListener::bind("127.0.0.1:0").await.expect("a free port");
    let address = url.replace(&there, &here.local_addr().expect("an address").to_string());
    tokio::spawn(async move {
        for _ in 0..turns_away {
            drop(here.accept().await.expect("somebody asks"));
        }
        loop {
            let (mut asks, _) = here.accept().await.expect("somebody asks");
            let mut answers = TcpStream::connect(&there).await.expect("the database answers");
            tokio::spawn(async move { tokio::io::copy_bidirectional(&mut asks, &mut answers).await });
        }
    });
    address
}

#[tokio::test]
async fn a_server_waits_for_a_database_that_starts_beside_it() {
    let url = database().await;
    let db = connect(&that_starts_slowly(&url, 3).await).await.expect("the database answers in the end");
    assert_eq!(schema(&db).await.expect("a schema"), Schema::Current);
}

#[tokio::test]
async fn a_server_starts_on_its_own_schema_only() {
    let url = empty_database().await;
    let db = connect(&url).await.expect("the database answers");
    assert_eq!(schema(&db).await.expect("a schema"), Schema::Empty);
    let mut lines = vec![sentence(&bright_row(&["serve", "--port", "0"], &url))];
    assert!(bright_row(&["migrate"], &url).status.success());
    assert!(bright_row(&["migrate"], &url).status.success(), "once more changes nothing");
    assert_eq!(schema(&db).await.expect("a schema"), Schema::Current);
    db.execute_unprepared("alter table child drop column name").await.expect("a change by hand");
    lines.push(sentence(&bright_row(&["serve", "--port", "0"], &url)));
    db.execute_unprepared("insert into seaql_migrations values ('m20990101_tomorrow', 0)").await.expect("a row");
    lines.push(sentence(&bright_row(&["serve", "--port", "0"], &url)));
    lines.push(sentence(&bright_row(&["migrate"], &url)));
    let foreign = empty_database().await;
    let other = connect(&foreign).await.expect("the database answers");
    other.execute_unprepared("create table somebody_elses (id int)").await.expect("a table");
    lines.push(sentence(&bright_row(&["migrate"], &foreign)));
    insta::assert_snapshot!(lines.join("\n"));
}

#[tokio::test]
async fn what_fails_at_the_command_line_is_one_plain_sentence() {
    let url = database().await;
    let taken = std::net::TcpListener::bind("127.0.0.1:0").expect("a port");
    let port = taken.local_addr().expect("an address").port().to_string();
    let lines = [
        sentence(&bright_row(&["serve", "--port", &port], &url)).replace(&port, "[port]"),
        sentence(&bright_row(&["serve", "--port", "0"], "postgres://nobody:x@127.0.0.1:1/none")),
        sentence(&bright_row(&["check-content", "/no/such/folder"], &url)),
    ];
    insta::assert_snapshot!(lines.join("\n"));
}

#[tokio::test]
async fn content_is_checked_with_every_fault_and_its_line() {
    let folder = std::env::temp_dir().join(support::fresh_name());
    let copied = Command::new("cp").arg("-r").arg("../../content").arg(&folder).status().expect("cp runs");
    assert!(copied.success());
    let good = bright_row(&["check-content", folder.to_str().expect("a path")], "");
    insta::assert_snapshot!(String::from_utf8_lossy(&good.stdout).trim(), @"No fault: 50 checkpoints, 51 slips, 40 choices, 59 symptoms, 109 causes.");
    let file = folder.join("checklist/frame.toml");
    let text =
        std::fs::read_to_string(&file).expect("a file").replace("cue = \"One long", "cue = \"\"\nclue = \"One long");
    std::fs::write(&file, text.replace("needs = [\"frame.1\"]", "needs = [\"frame.7\"]")).expect("written");
    let bad = bright_row(&["check-content", folder.to_str().expect("a path")], "");
    let lines = format!("{}{}", String::from_utf8_lossy(&bad.stdout), sentence(&bad));
    insta::assert_snapshot!(lines);
    std::fs::remove_dir_all(&folder).expect("cleared away");
}

#[tokio::test]
async fn the_demo_school_loads_once() {
    let url = database().await;
    let first = bright_row(&["demo"], &url);
    let again = bright_row(&["demo"], &url);
    let lines = [first, again].map(|output| String::from_utf8_lossy(&output.stdout).trim().to_owned());
    insta::assert_snapshot!(lines.join("\n"));
}

/// A database as the build before left it, with a class that had set its intervals and a child that was looked at twice.
const EARLIER: &str = "
    create table seaql_migrations (version varchar primary key, applied_at bigint not null);
    insert into seaql_migrations values ('m20261127_initial', 0), ('m20261128_sore_tips', 0);
    insert into program (program_id, name) values ('00000000-0000-0000-0000-000000000001', 'Hazel Lane');
    insert into account (account_id, email, display_name, password_hash)
      values ('00000000-0000-0000-0000-000000000004', 'ines@school.example', 'Ines', 'none');
    insert into class (program_id, class_id, name, time_zone, first_day, last_day, weekdays, recheck_after, recheck_longest,
                       tapes_first, tapes_later, must_see_after, rules)
      values ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-000000000002', 'First-year strings',
              'Europe/Dublin', '2026-09-01', '2027-06-01', '{2,4}', '{1,2,3,7,14}', 30, 3, 20, 5, '1-earlier');
    insert into child (program_id, child_id, class_id, name, instrument, joined_on)
      values ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-000000000003',
              '00000000-0000-0000-0000-000000000002', 'Ada K.', 'violin', '2026-09-01');
    insert into observation (program_id, observation_id, class_id, child_id, target, level, via, observed_at, observer)
      select '00000000-0000-0000-0000-000000000001', id, '00000000-0000-0000-0000-000000000002',
             '00000000-0000-0000-0000-000000000003', target, level, 'visit',
             '2026-09-08T10:00Z', '00000000-0000-0000-0000-000000000004'
      from (values ('00000000-0000-0000-0000-000000000011'::uuid, 'hold.size', 3),
                   ('00000000-0000-0000-0000-000000000012'::uuid, 'hold.support', 1)) as looks (id, target, level);
    insert into standing (program_id, child_id, checkpoint_id, level, peak, looked_at, visited_at, interval_meetings, slipped, slips)
      values ('00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-000000000003', 'hold.size', 3, 3,
              '2026-09-08T10:00Z', '2026-09-08T10:00Z', 5, false, '{}');";

#[tokio::test]
async fn intervals_that_a_class_had_set_for_what_stands_stay_and_standings_follow_by_the_rules_of_now() {
    let url = empty_database().await;
    let db = connect(&url).await.expect("the database answers");
    for sql in [
        include_str!("../../store/src/migration/m20261127_initial.sql"),
        include_str!("../../store/src/migration/m20261128_sore_tips.sql"),
        EARLIER,
    ] {
        db.execute_unprepared(sql).await.expect("as the build before left it");
    }
    assert_eq!(schema(&db).await.expect("a schema"), Schema::Behind);
    assert!(bright_row(&["migrate"], &url).status.success());
    let now = "
        do $$ begin
          if not exists (select from class where (recheck_alone, recheck_lasting, recheck_longest) = (7, 14, 30)) then
            raise exception 'the intervals are others';
          end if;
          if (select array_agg((checkpoint_id, interval_meetings, tries)::text order by checkpoint_id) from standing)
             is distinct from array['(hold.size,7,0)', '(hold.support,,1)'] then
            raise exception 'standings: %', (select array_agg((checkpoint_id, interval_meetings, tries)) from standing);
          end if;
        end $$";
    db.execute_unprepared(now).await.expect("what follows now");
    assert!(bright_row(&["check-standings"], &url).status.success());
}

#[tokio::test]
async fn what_older_rules_left_is_computed_anew_by_migrate_and_everything_by_rebuild() {
    let url = database().await;
    let run = |command: &str| {
        let output = bright_row(&[command], &url);
        assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
        String::from_utf8_lossy(&output.stdout).trim().to_owned()
    };
    run("demo");
    let right = run("check-standings");
    let db = connect(&url).await.expect("the database answers");
    db.execute_unprepared("update standing set interval_meetings = 99").await.expect("older rules");
    let mut lines = vec![sentence(&bright_row(&["check-standings"], &url))];
    assert_eq!(run("migrate"), "", "by its own rules nothing is computed anew");
    lines.push(sentence(&bright_row(&["check-standings"], &url)));
    db.execute_unprepared("update class set rules = '0-older'").await.expect("older rules");
    lines.push(run("migrate"));
    assert_eq!(run("check-standings"), right);
    let stray =
        "insert into standing select program_id, child_id, 'hold.gone', level, peak, passed_at, looked_at, visited_at,
                 interval_meetings, slipped, slips, says, tries, lasting_run from standing limit 1";
    db.execute_unprepared(stray).await.expect("one of a checkpoint that is gone");
    db.execute_unprepared("delete from standing where checkpoint_id = 'hold.size'").await.expect("some lost");
    db.execute_unprepared("update tape_record set record = jsonb_set(record, '{data,lengthMm}', '1')")
        .await
        .expect("other");
    lines.push(sentence(&bright_row(&["check-standings"], &url)));
    lines.push(run("rebuild"));
    assert_eq!(run("check-standings"), right);
    insta::assert_snapshot!(lines.join("\n"));
}
