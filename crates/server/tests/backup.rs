//! Backups: everything comes back byte for byte, and what was cut off or changed is refused in words.

mod support;

use std::path::Path;
use std::process::{Command, Output};

use bright_row_store::copy;
use bright_row_store::database::connect;
use support::{database, fresh_name, look, server};

const PASSPHRASE: &str = "copper lantern walks home";

fn bright_row(arguments: &[&str], database_url: &str, passphrase: &str) -> Output {
    let mut command = Command::new(env!("CARGO_BIN_EXE_bright-row"));
    command.args(arguments).env("DATABASE_URL", database_url).env("BRIGHT_ROW_BACKUP_PASSPHRASE", passphrase);
    command.env("RUST_LOG", "off").output().expect("the binary runs")
}

fn said(output: &Output) -> String {
    format!("{}{}", String::from_utf8_lossy(&output.stdout), String::from_utf8_lossy(&output.stderr)).trim().to_owned()
}

/// Everything in a database, row by row; what a restore notes of itself left out.
async fn everything(url: &str) -> Vec<String> {
    let db = connect(url).await.expect("the database answers");
    let mut rows = Vec::new();
    let taken = copy::dump(&db, |table, row| {
        if !row.contains("\"restored\"") {
            rows.push(format!("{table} {row}"));
        }
        Ok::<_, bright_row_store::StoreError>(())
    });
    taken.await.expect("every row");
    rows
}

#[tokio::test]
async fn a_backup_under_load_comes_back_as_it_was_at_one_moment() {
    let url = database().await;
    assert!(bright_row(&["demo"], &url, "").status.success());
    let folder = std::env::temp_dir().join(fresh_name());
    std::fs::create_dir(&folder).expect("a folder");
    let file = folder.join("school.backup");
    let path = file.to_str().expect("a path");
    let before = everything(&url).await;
    let made = bright_row(&["backup", path], &url, PASSPHRASE);
    assert!(made.status.success(), "{}", said(&made));
    assert!(said(&made).starts_with(&format!("{} rows are in ", before.len())), "{}", said(&made));
    // Nothing of a child can be read in the file.
    let bytes = std::fs::read(&file).expect("the file");
    assert!(bytes.starts_with(b"age-encryption.org/v1") && !contains(&bytes, b"Soren"));

    let other = database().await;
    let restored = bright_row(&["restore", path], &other, PASSPHRASE);
    assert!(restored.status.success(), "{}", said(&restored));
    assert_eq!(everything(&other).await, before);
    let standings = bright_row(&["check-standings"], &other, "");
    assert!(standings.status.success(), "{}", said(&standings));

    let refusals = refused(path, &folder, &bytes, &url);
    insta::assert_snapshot!(refusals.await.join("\n"));
    std::fs::remove_dir_all(&folder).expect("cleared away");
}

fn contains(bytes: &[u8], wanted: &[u8]) -> bool {
    bytes.windows(wanted.len()).any(|part| part == wanted)
}

/// What is said of backups that cannot be used.
async fn refused(path: &str, folder: &Path, bytes: &[u8], full: &str) -> Vec<String> {
    let cut = folder.join("cut.backup");
    let changed = folder.join("changed.backup");
    std::fs::write(&cut, &bytes[..bytes.len() - bytes.len() / 3]).expect("written");
    let mut other = bytes.to_vec();
    let middle = other.len() / 2;
    other[middle] ^= 1;
    std::fs::write(&changed, other).expect("written");
    let text = folder.join("text.backup");
    std::fs::write(&text, "nothing of ours").expect("written");
    let empty = database().await;
    let mut lines = Vec::new();
    for (arguments, url, passphrase) in [
        (vec!["restore", path], full, PASSPHRASE),
        (vec!["restore", "--check", path], full, "another passphrase"),
        (vec!["restore", "--check", path], full, "short"),
        (vec!["restore", cut.to_str().expect("a path")], &empty, PASSPHRASE),
        (vec!["restore", changed.to_str().expect("a path")], &empty, PASSPHRASE),
        (vec!["restore", text.to_str().expect("a path")], &empty, PASSPHRASE),
    ] {
        let output = bright_row(&arguments, url, passphrase);
        assert!(!output.status.success(), "{arguments:?}");
        lines.push(said(&output));
    }
    assert!(
        copy::is_empty(&connect(&empty).await.expect("the database answers")).await.expect("an answer"),
        "nothing was written"
    );
    lines
}

#[tokio::test]
async fn what_is_recorded_meanwhile_is_in_the_backup_whole_or_not_at_all() {
    let server = server().await;
    let child = server.child("Ada K.", bright_row_core::craft::instrument::Instrument::Violin, 1).await;
    let observing = async {
        for days in 0..30 {
            server.observe(&[look(child, "hold.size", 3, days), look(child, "hold.tall", 2, days)]).await;
        }
    };
    let file = std::env::temp_dir().join(fresh_name());
    let passphrase = || bright_row::backup::passphrase(Some(PASSPHRASE)).expect("long enough");
    let ((), written) = tokio::join!(observing, bright_row::backup::write(&server.db, &file, passphrase()));
    written.expect("a backup");
    let other = database().await;
    bright_row::backup::restore(&other, &file, passphrase()).await.expect("restored");
    // Standings are computed in the transaction that adds observations: both are there or neither.
    let checked = bright_row(&["check-standings"], &other, "");
    assert!(checked.status.success(), "{}", said(&checked));
    std::fs::remove_file(&file).expect("cleared away");
}
