//! Migrations, oldest first. One that has been released is never changed; the next one mends it.

use sea_orm_migration::async_trait::async_trait;
use sea_orm_migration::prelude::*;

/// Every migration this build knows.
pub struct Migrator;

impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![
            Box::new(Sql { name: "m20261124_first_light", up: include_str!("m20261124_first_light.sql") }),
            Box::new(Sql { name: "m20261125_setting_up", up: include_str!("m20261125_setting_up.sql") }),
            Box::new(Sql { name: "m20261125_shared_checklist", up: include_str!("m20261125_shared_checklist.sql") }),
            Box::new(Sql { name: "m20261126_round", up: include_str!("m20261126_round.sql") }),
            Box::new(Sql { name: "m20261127_tapes", up: include_str!("m20261127_tapes.sql") }),
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
