//! A roster file taken in: planned against the class as it is, and stored once the director agreed to exactly that.

use std::collections::BTreeMap;

use bright_row_core::ImportId;
use bright_row_core::setup::roster::{self, ImportPlan, KnownChild};
use bright_row_core::setup::roster_row::RosterRow;
use bright_row_store::children::{self, Child, imports};
use bright_row_store::headings::{self, FileKind};
use uuid::Uuid;

use super::{begin_alone, commit};
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::state::App;

/// A file read into rows.
pub struct RosterFile {
    /// The rows chosen, in the order of the file.
    pub rows: Vec<RosterRow>,
    /// What each heading was taken to mean, to be remembered.
    pub meant: BTreeMap<String, String>,
    /// Whether known children keep the names they have.
    pub keep_names: bool,
    /// The import that the page made when the file was chosen.
    pub import: Option<ImportId>,
}

/// Plans the import of a file and shows the plan to `agree`, with whether this import is there already; it makes the preview and
/// says whether this is to be stored. Answers the preview, and the import if it is stored.
///
/// # Errors
/// What `agree` fails with; [`ApiError::Store`]. Then nothing is stored.
pub async fn import_roster<T>(
    app: &App,
    member: &Member,
    file: &RosterFile,
    agree: impl FnOnce(&ImportPlan, &[Child], bool) -> Result<(T, bool), ApiError>,
) -> Result<(T, Option<ImportId>), ApiError> {
    let key = member.class.key;
    let tx = begin_alone(app, key.program).await?;
    let known = children::of_class(&tx, key).await?;
    let entries: Vec<KnownChild> =
        known.iter().map(|child| KnownChild { id: child.id, entry: child.entry() }).collect();
    let plan = roster::plan(&file.rows, &entries, file.keep_names);
    let there = match file.import {
        Some(import) => imports::is_there(&tx, key, import).await?,
        None => false,
    };
    let (preview, agreed) = agree(&plan, &known, there)?;
    if there {
        return Ok((preview, file.import));
    }
    if !agreed {
        return Ok((preview, None));
    }
    let import = file.import.unwrap_or_else(|| Uuid::now_v7().into());
    let when = (app.now(), member.class.calendar.day_of(app.now()));
    imports::store(&tx, key, &plan, &known, (import, member.account), when).await?;
    headings::remember(&tx, key.program, FileKind::Roster, &file.meant).await?;
    commit(app, tx, [key.class]).await?;
    Ok((preview, Some(import)))
}
