//! What is noted of backups: when one was made, and when one was last read back.

use chrono::{DateTime, Utc};
use sea_orm::ActiveValue::Set;
use sea_orm::sea_query::OnConflict;
use sea_orm::{ConnectionTrait, EntityTrait, QueryOrder};

use crate::entity::backup_note;
use crate::error::StoreError;

/// A backup that was made.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct BackupNote {
    /// When.
    pub made_at: DateTime<Utc>,
    /// The name of its file, without the folder.
    pub file: String,
    /// Its size.
    pub bytes: i64,
    /// When it was last read back and found whole.
    pub proved_at: Option<DateTime<Utc>>,
}

/// Notes a backup, or that one was proved.
pub async fn note(db: &impl ConnectionTrait, backup: &BackupNote) -> Result<(), StoreError> {
    let row = backup_note::ActiveModel {
        made_at: Set(backup.made_at),
        file: Set(backup.file.clone()),
        bytes: Set(backup.bytes),
        proved_at: Set(backup.proved_at),
    };
    let again = OnConflict::column(backup_note::Column::MadeAt)
        .update_columns([backup_note::Column::ProvedAt, backup_note::Column::Bytes])
        .to_owned();
    backup_note::Entity::insert(row).on_conflict(again).exec_without_returning(db).await?;
    Ok(())
}

/// The last backup that was made.
pub async fn last(db: &impl ConnectionTrait) -> Result<Option<BackupNote>, StoreError> {
    let row = backup_note::Entity::find().order_by_desc(backup_note::Column::MadeAt).one(db).await?;
    Ok(row.map(|row| BackupNote { made_at: row.made_at, file: row.file, bytes: row.bytes, proved_at: row.proved_at }))
}
