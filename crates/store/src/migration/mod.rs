//! Migrations, oldest first. One that has been released is never changed; the next one mends it.

use sea_orm_migration::async_trait::async_trait;
use sea_orm_migration::prelude::*;

/// Every migration this build knows.
pub struct Migrator;

impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![
            Box::new(Sql { name: "m20261127_initial", up: include_str!("m20261127_initial.sql") }),
            Box::new(Sql { name: "m20261128_sore_tips", up: include_str!("m20261128_sore_tips.sql") }),
            Box::new(Sql { name: "m20261128_in_work_and_due", up: include_str!("m20261128_in_work_and_due.sql") }),
            Box::new(Sql { name: "m20261129_doors", up: include_str!("m20261129_doors.sql") }),
            Box::new(Sql { name: "m20261129_passkeys", up: include_str!("m20261129_passkeys.sql") }),
            Box::new(Sql { name: "m20261129_string_height", up: include_str!("m20261129_string_height.sql") }),
            Box::new(Sql { name: "m20261129_mirror", up: include_str!("m20261129_mirror.sql") }),
            Box::new(Sql { name: "m20261130_home", up: include_str!("m20261130_home.sql") }),
            Box::new(Sql { name: "m20261130_small_groups", up: include_str!("m20261130_small_groups.sql") }),
            Box::new(Sql { name: "m20261201_at_home", up: include_str!("m20261201_at_home.sql") }),
            Box::new(Sql { name: "m20261202_files", up: include_str!("m20261202_files.sql") }),
            Box::new(Sql { name: "m20261203_fold", up: include_str!("m20261203_fold.sql") }),
            Box::new(Sql { name: "m20261204_settled", up: include_str!("m20261204_settled.sql") }),
            Box::new(Sql { name: "m20261205_link_secrets", up: include_str!("m20261205_link_secrets.sql") }),
            Box::new(Sql { name: "m20261206_child_touched", up: include_str!("m20261206_child_touched.sql") }),
        ]
    }
}

/// A migration written in SQL: constraints, checks and triggers read best as what they are.
struct Sql {
    name: &'static str,
    up: &'static str,
}

impl MigrationName for Sql {
    fn name(&self) -> &str {
        self.name
    }
}

#[async_trait]
impl MigrationTrait for Sql {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(self.up).await.map(drop)
    }
}
