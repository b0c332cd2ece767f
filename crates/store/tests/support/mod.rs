//! Databases for tests, in the cluster that `./test` starts: empty ones, and clones of a migrated template.
#![allow(dead_code, missing_docs)]

pub mod school;

use std::sync::atomic::{AtomicU32, Ordering};

use bright_row_store::database::{connect, migrate};
use bright_row_store::{ConnectionTrait, TransactionTrait};

fn admin_url() -> String {
    std::env::var("BRIGHT_ROW_TEST_DATABASE_URL")
        .expect("tests run against a PostgreSQL of their own: run ./test, which starts one")
}

fn on_database(name: &str) -> String {
    let admin = admin_url();
    let (server, _) = admin.rsplit_once('/').expect("the address ends with a database's name");
    format!("{server}/{name}")
}

static DATABASES: AtomicU32 = AtomicU32::new(0);

/// A fresh name in this run's cluster, which goes away as a whole.
pub fn fresh_name() -> String {
    format!("t{}_{}", std::process::id(), DATABASES.fetch_add(1, Ordering::Relaxed))
}

/// An empty database: its address.
pub async fn empty_database() -> String {
    let name = fresh_name();
    let admin = connect(&admin_url()).await.expect("the test cluster answers");
    admin.execute_unprepared(&format!("create database {name}")).await.expect("a new database");
    on_database(&name)
}

/// A migrated database of this test's own: its address.
pub async fn database() -> String {
    const TEMPLATE: &str = "bright_row_template";
    let name = fresh_name();
    let admin = connect(&admin_url()).await.expect("the test cluster answers");
    // Test programs run side by side; whoever comes first makes the template while the others wait.
    let turn = admin.begin().await.expect("a transaction");
    turn.execute_unprepared("select pg_advisory_xact_lock(8787)").await.expect("a turn");
    if admin.execute_unprepared(&format!("create database {TEMPLATE}")).await.is_ok() {
        let template = connect(&on_database(TEMPLATE)).await.expect("the template answers");
        migrate(&template).await.expect("the template migrates");
        template.close().await.expect("the template is left");
    }
    turn.commit().await.expect("the next turn");
    admin.execute_unprepared(&format!("create database {name} template {TEMPLATE}")).await.expect("a clone");
    admin.close().await.expect("the connections are given back");
    on_database(&name)
}
