//! Removing everything that is kept about a child: its own rows, and its name where somebody wrote it down elsewhere.

use crate::announced::announce;
use crate::classes::ClassKey;
use crate::entity::child;
use crate::error::StoreError;
use bright_row_core::ChildId;
use sea_orm::{ConnectionTrait, EntityTrait, Statement};

/// Every table that names a child, those that refer to others first.
const TABLES_OF_A_CHILD: [&str; 17] = [
    "round_event_child",
    "small_group_child",
    "roster_change",
    "setup_found",
    "measuring",
    "loan",
    "seat",
    "standing",
    "accommodation",
    "child_choice",
    "child_home",
    "stage_opened",
    "pain_answer",
    "family_answer",
    "observation",
    "played",
    "child",
];

/// Where people write in their own words: table and column, and whether it is JSON.
const OWN_WORDS: [(&str, &str, bool); 15] = [
    ("observation", "note", false),
    ("pain_answer", "done", false),
    ("family_answer", "done", false),
    ("accommodation", "look_for", false),
    ("accommodation", "reason", false),
    ("setup_found", "words", false),
    ("asset", "condition_note", false),
    ("asset", "support", false),
    ("asset", "pin_anchor", false),
    ("day_off", "reason", false),
    ("short_day", "reason", false),
    ("lesson", "plan", true),
    ("tape_event", "work", true),
    ("tape_record", "record", true),
    ("class", "checklist_edits", true),
];

/// What stands in the place of a name that was removed.
const INSTEAD: &str = "…";

/// Removes everything that is kept about a child, in every table; to be called in a transaction.
pub async fn remove(db: &impl ConnectionTrait, class: ClassKey, child: ChildId) -> Result<(), StoreError> {
    let named = child::Entity::find_by_id((class.program.uuid(), child.uuid())).one(db).await?;
    // Observations are append-only but for this: the trigger wants to hear whose are meant.
    announce(db, "bright_row.removing_child", child.uuid()).await?;
    let backend = db.get_database_backend();
    for table in TABLES_OF_A_CHILD {
        let sql = format!("delete from {table} where program_id = $1 and child_id = $2");
        let values = [class.program.uuid().into(), child.uuid().into()];
        db.execute_raw(Statement::from_sql_and_values(backend, sql, values)).await?;
    }
    if let Some(named) = named {
        announce(db, "bright_row.rewording", class.program.uuid()).await?;
        for (table, column, json) in OWN_WORDS {
            take_out(db, class, &named.name, (table, column, json)).await?;
        }
    }
    Ok(())
}

/// Takes a name out of a column of a program, where it stands as words of its own.
async fn take_out(
    db: &impl ConnectionTrait,
    class: ClassKey,
    name: &str,
    (table, column, json): (&str, &str, bool),
) -> Result<(), StoreError> {
    let written = if json {
        // As it stands between the quotes.
        let quoted = serde_json::Value::from(name).to_string();
        quoted.strip_prefix('"').and_then(|rest| rest.strip_suffix('"')).unwrap_or(name).to_owned()
    } else {
        name.to_owned()
    };
    let cast = if json { "::jsonb" } else { "" };
    // Letters and digits beside it would make it part of another word.
    let pattern = format!("(?<![[:alnum:]]){}(?![[:alnum:]])", escaped(&written));
    let sql = format!(
        "update {table} set {column} = regexp_replace({column}::text, $3, $4, 'gi'){cast}
         where program_id = $1 and position(lower($2) in lower({column}::text)) > 0"
    );
    let values = [class.program.uuid().into(), written.into(), pattern.into(), INSTEAD.into()];
    db.execute_raw(Statement::from_sql_and_values(db.get_database_backend(), sql, values)).await?;
    Ok(())
}

/// A text as a regular expression that means it.
fn escaped(text: &str) -> String {
    text.chars().flat_map(|c| if c.is_alphanumeric() || c == ' ' { vec![c] } else { vec!['\\', c] }).collect()
}
