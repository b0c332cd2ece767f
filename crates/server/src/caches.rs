//! What is kept beside the observations and tape logs and follows from them: checked, and computed anew.

use bright_row_store::children::membership;
use std::collections::BTreeMap;

use bright_row_core::craft::loader::Content;
use bright_row_core::progress::standing::RULES_VERSION;
use bright_row_store::classes::{self, ClassKey};
use bright_row_store::instruments::tapes;
use bright_row_store::live::{Notice, Topic, tell};
use bright_row_store::locks::{Hold, hold};
use bright_row_store::observations::{renewing, standings};
use bright_row_store::{AccessMode, DatabaseConnection, IsolationLevel, StoreError, TransactionTrait};

use crate::content;

/// The rules and the content by which this build computes what is kept.
#[must_use]
pub fn rules() -> String {
    format!("{RULES_VERSION}-{}", content::content_digest())
}

/// What a check found.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Checked {
    /// How many standings were read.
    pub standings: usize,
    /// The names of classes in which something kept is not what follows from the observations or tape logs.
    pub other: Vec<String>,
}

/// Computes everything that is kept anew and compares; changes nothing.
///
/// # Errors
/// [`StoreError`].
pub async fn check(db: &DatabaseConnection, content: &Content) -> Result<Checked, StoreError> {
    let mut checked = Checked::default();
    for key in classes::every(db).await? {
        let class = check_class(db, content, key).await?;
        checked.standings += class.standings;
        checked.other.extend(class.other);
    }
    Ok(checked)
}

/// [`check`] of one class, and of the instruments of its program.
///
/// # Errors
/// [`StoreError`].
pub async fn check_class(db: &DatabaseConnection, content: &Content, key: ClassKey) -> Result<Checked, StoreError> {
    // One moment of the class, whatever is observed meanwhile.
    let moment = db.begin_with_config(Some(IsolationLevel::RepeatableRead), Some(AccessMode::ReadOnly)).await?;
    let (class, kept) = (classes::one(&moment, key).await?, standings::kept_of_class(&moment, key).await?);
    let checklist = content.checklist(&class.choices, &class.edits);
    let rebuilt = renewing::rebuild(&moment, &class, &checklist).await?;
    let records = tapes::records(&moment, key.program).await?;
    let follows = kept == rebuilt && records == tapes::rebuild(&moment, key.program).await?;
    let standings = kept.values().map(BTreeMap::len).sum();
    Ok(Checked { standings, other: if follows { Vec::new() } else { vec![class.name] } })
}

/// Computes anew what is kept of every class that was last computed by other rules or other content; answers how many.
///
/// # Errors
/// [`StoreError`]; classes before the one that failed are computed anew.
pub async fn rebuild_old(db: &DatabaseConnection, content: &Content) -> Result<usize, StoreError> {
    let old = classes::by_other_rules(db, &rules()).await?;
    for key in &old {
        rebuild_class(db, *key, content).await?;
    }
    Ok(old.len())
}

/// Computes anew what is kept of every class; answers how many.
///
/// # Errors
/// [`StoreError`]; classes before the one that failed are computed anew.
pub async fn rebuild(db: &DatabaseConnection, content: &Content) -> Result<usize, StoreError> {
    let all = classes::every(db).await?;
    for key in &all {
        rebuild_class(db, *key, content).await?;
    }
    Ok(all.len())
}

async fn rebuild_class(db: &DatabaseConnection, key: ClassKey, content: &Content) -> Result<(), StoreError> {
    let tx = db.begin().await?;
    hold(&tx, key.program, Hold::Alone).await?;
    let everybody = membership::ids_of_class(&tx, key).await?;
    renewing::renew(&tx, key.program, &everybody, content).await?;
    tapes::renew_all(&tx, key.program).await?;
    classes::set_rules(&tx, key, &rules()).await?;
    tx.commit().await?;
    tell(db, &[Notice::Changed(key.class, Topic::Class)]).await
}
